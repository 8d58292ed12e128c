"""A closed mesh as area, volume and wetted surface by height, exact for its flat triangles. NumPy only.

Volume below a height h, by the divergence theorem with the field (0, 0, z - h), whose flux through the cut at
h is nothing:

    V(h) = - sum P_t E_t[(h - z)+],   A(h) = dV/dh = - sum P_t F_t(h),   wetted(h) = sum S_t F_t(h)

P_t is the triangle's area seen from above (signed, up positive), S_t its true area, F_t the share of it below
h and
E_t[(h - z)+] its mean height below h. With z1 <= z2 <= z3 its corners:

    h <= z2:  F = (h - z1)^2 / (d21 d31)           E = (h - z1)^3 / (3 d21 d31)
    h >= z2:  F = 1 - (z3 - h)^2 / (d31 d32)       E = h - zmean + (z3 - h)^3 / (3 d31 d32)
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..common.errors import DomainError
from ..common.plain_numbers import plainly

Floats = NDArray[np.float64]
PAIRS_AT_ONCE = 2_000_000
SCANS = 48  # lines across a cut along which is counted how often a place lies inside
FLAT = 1e-9  # of the mesh's height: a triangle flatter than this lies level


@dataclass(frozen=True)
class Solid:
    """Corners [m], shape (n, 3), and triangles as indices into them, shape (m, 3), seen anticlockwise from
    outside.
    """

    corners: Floats
    triangles: NDArray[np.int64]

    @property
    def low_high(self) -> tuple[Floats, Floats]:
        return self.corners.min(axis=0), self.corners.max(axis=0)


@dataclass(frozen=True, kw_only=True)
class ByHeight:
    """Arrays of one length: height above the lowest corner [m], area [m2], volume [m3] and surface [m2] below
    it.
    """

    heights: Floats
    area: Floats
    volume: Floats
    wetted: Floats


def check_solid(solid: Solid) -> None:
    """Refuses, in words, what encloses no volume: numbers that are none, nothing in it, open edges, faces
    turned both ways.

    Raises DomainError. Overlapping bodies and surfaces through themselves are not looked for here, as what
    lies
    in two counts twice: formats/solids_in.py joins or refuses them (level_areas).
    """
    if len(solid.triangles) == 0:
        raise DomainError(
            argument="mesh",
            value="empty",
            allowed="it holds triangles",
            way_out="Export the body itself, not only its sketch.",
            code="empty",
        )
    if not np.isfinite(solid.corners).all():
        bad = int((~np.isfinite(solid.corners).all(axis=1)).sum())
        raise DomainError(
            argument="mesh",
            value=f"broken: {bad} corners are no numbers",
            allowed="every corner has three numbers",
            way_out="Export it again.",
            code="not-a-number",
        )
    if np.ptp(solid.corners, axis=0).min() == 0:
        raise DomainError(
            argument="mesh",
            value="flat",
            allowed="it encloses a space",
            way_out="Export the body itself, not its outline.",
            code="flat",
        )
    sides = np.sort(solid.triangles[:, [[0, 1], [1, 2], [2, 0]]].reshape(-1, 2), axis=1)
    keys = sides[:, 0] * np.int64(len(solid.corners)) + sides[:, 1]
    names, counts = np.unique(keys, return_counts=True)
    if (counts == 1).any():
        raise _open_mesh(solid, names[counts == 1])
    if (counts != 2).any():
        raise DomainError(
            argument="mesh",
            value=f"joined badly: {int((counts != 2).sum())} edges belong to more than two triangles",
            allowed="each edge joins two",
            way_out="Unite overlapping bodies in your modelling program and export again.",
            code="not-manifold",
        )
    flat = solid.triangles[:, [[0, 1], [1, 2], [2, 0]]].reshape(-1, 2)
    forward = flat[:, 0] < flat[:, 1]
    balance = np.bincount(np.searchsorted(names, keys), weights=np.where(forward, 1.0, -1.0))
    if (balance != 0).any():
        raise DomainError(
            argument="mesh",
            value=f"turned inside out in places ({int((balance != 0).sum())} edges)",
            allowed="all triangles face outwards",
            way_out="Recalculate the normals in your modelling program and export again.",
            code="winding",
        )


def _open_mesh(solid: Solid, keys: NDArray[np.int64]) -> DomainError:
    ends = np.stack([keys // len(solid.corners), keys % len(solid.corners)], axis=1)
    places = solid.corners[ends].mean(axis=1)
    spot = places[0]
    near = " ".join(f"{axis} {plainly(value, 4)}" for axis, value in zip("xyz", spot, strict=True))
    return DomainError(
        argument="mesh",
        value=f"open: {len(keys)} edges belong to one triangle only, the first near {near} (in the "
        "file's unit)",
        allowed="a closed surface is needed to know what it holds",
        way_out="Fill the holes in your modelling program and export again, or measure it by a fill test.",
        code="open-mesh",
    )


def signed_volume(solid: Solid) -> float:
    """Volume [m3] enclosed by a mesh; negative when all its triangles face inwards.

        sum over triangles of (a x b) . c / 6, corners counted from the middle of the mesh

    solid  corners (n, 3) [m] and triangles (m, 3)
    Raises nothing. Exact for a closed mesh; valid for no other. Source: divergence theorem.
    """
    low, high = solid.low_high
    a, b, c = (solid.corners[solid.triangles[:, i]] - (low + high) / 2 for i in range(3))
    return float(np.einsum("ij,ij->i", a, np.cross(b, c)).sum() / 6)


def turned(solid: Solid, up: str) -> Solid:
    """The mesh with the named axis ("x", "-x", "y" ...) upwards, turned, never mirrored."""
    x, y, z = np.eye(3)
    rows = {
        "z": (x, y, z),
        "-z": (x, -y, -z),
        "x": (y, z, x),
        "-x": (z, y, -x),
        "y": (z, x, y),
        "-y": (x, z, -y),
    }[up]
    return Solid(solid.corners @ np.array(rows).T, solid.triangles)


def level_areas(solid: Solid, height: float) -> tuple[float, float]:
    """Area of a level cut that lies inside more than once, and the whole of it as the volume counts it
    [unit of the corners, squared].

        along each of SCANS lines: the number of times inside is the sum of -sign(n_x) of the faces passed

    solid   sound (check_solid), faces outwards;  height  of the cut, same unit
    Raises nothing. Valid to a share of about 1 / SCANS. Source: winding number along a line.
    """
    corners = solid.corners[solid.triangles]
    side = corners[:, :, 2] - height
    side[side == 0] = 1e-12 * max(float(np.ptp(solid.corners[:, 2])), 1e-300)
    cut = np.flatnonzero((side.min(axis=1) < 0) & (side.max(axis=1) > 0))
    if not len(cut):
        return 0.0, 0.0
    tri, d = corners[cut], side[cut]
    alone = np.where((d > 0).sum(axis=1)[:, None] == 1, d > 0, d < 0).argmax(
        axis=1
    )  # the corner on its own side
    rows = np.arange(len(cut))
    ends = []
    for step in (1, 2):
        other = (alone + step) % 3
        share = d[rows, alone] / (d[rows, alone] - d[rows, other])
        ends.append(tri[rows, alone] + (tri[rows, other] - tri[rows, alone]) * share[:, None])
    one, two = ends
    inwards = -np.sign(np.cross(tri[:, 1] - tri[:, 0], tri[:, 2] - tri[:, 0])[:, 0])
    low, high = min(one[:, 1].min(), two[:, 1].min()), max(one[:, 1].max(), two[:, 1].max())
    step_m = (high - low) / SCANS
    twice = whole = 0.0
    for y in low + step_m * (np.arange(SCANS) + 0.4371):
        met = np.flatnonzero((np.minimum(one[:, 1], two[:, 1]) < y) & (np.maximum(one[:, 1], two[:, 1]) >= y))
        if len(met) < 2:
            continue
        a, b = one[met], two[met]
        x = a[:, 0] + (b[:, 0] - a[:, 0]) * (y - a[:, 1]) / (b[:, 1] - a[:, 1])
        order = np.argsort(x, kind="stable")
        inside, spans = np.cumsum(inwards[met][order])[:-1], np.diff(x[order])
        whole += float((spans * inside).sum())
        twice += float((spans * np.maximum(inside - 1, 0)).sum())
    return twice * step_m, whole * step_m


def by_height(solid: Solid, heights: Floats, *, open_top: bool) -> ByHeight:
    """Area, volume and surface below each height.

    heights   above the lowest corner [m], growing, shape (n,)
    open_top  True where level triangles at the very top are the opening: no surface, and the area just below
              it counts
    The mesh must be sound (check_solid) and face outwards. Error: rounding only, about 1e-12 of the whole
    volume.
    Source: divergence theorem; see the top of this file.
    """
    low, high = solid.low_high
    z = solid.corners[:, 2] - low[2]
    span = float(high[2] - low[2])
    a, b, c = (solid.corners[solid.triangles[:, i]] for i in range(3))
    cross = np.cross(b - a, c - a)
    plan, surface = cross[:, 2] / 2, np.linalg.norm(cross, axis=1) / 2
    del a, b, c, cross
    levels = np.sort(z[solid.triangles], axis=1)
    if open_top:
        keep = levels[:, 0] < span * (1 - FLAT)
        plan, surface, levels = plan[keep], surface[keep], levels[keep]
    first = np.searchsorted(heights, levels[:, 0], side="right")
    last = np.searchsorted(heights, levels[:, 2], side="left")
    area, volume, wetted = _whole(heights, last, plan, surface, levels.mean(axis=1))
    _add_cut(heights, (first, last), plan, surface, levels, (area, volume, wetted))
    return ByHeight(heights=heights, area=area, volume=volume, wetted=wetted)


def _whole(
    heights: Floats, last: NDArray[np.int64], plan: Floats, surface: Floats, middle: Floats
) -> tuple[Floats, Floats, Floats]:
    """Triangles wholly below each height, as running sums."""
    count = len(heights)

    def running(weights: Floats) -> Floats:
        return np.cumsum(np.bincount(last, weights=weights, minlength=count + 1)[:count])

    seen, lifted = running(plan), running(plan * middle)
    return -seen, lifted - heights * seen, running(surface)


def _add_cut(
    heights: Floats,
    reach: tuple[NDArray[np.int64], NDArray[np.int64]],
    plan: Floats,
    surface: Floats,
    levels: Floats,
    sums: tuple[Floats, Floats, Floats],
) -> None:
    """Triangles that a height cuts, in portions so that memory stays bounded however tall they are."""
    first, last = reach
    counts = np.maximum(last - first, 0)
    cut = np.flatnonzero(counts)
    ends = np.cumsum(counts[cut])
    begin = 0
    while begin < len(cut):
        done = ends[begin - 1] if begin else 0
        stop = max(int(np.searchsorted(ends, done + PAIRS_AT_ONCE, side="right")), begin + 1)
        chosen = cut[begin:stop]
        _add_portion(
            heights, first[chosen], counts[chosen], (plan[chosen], surface[chosen], levels[chosen]), sums
        )
        begin = stop


def _add_portion(
    heights: Floats,
    first: NDArray[np.int64],
    counts: NDArray[np.int64],
    parts: tuple[Floats, Floats, Floats],
    sums: tuple[Floats, Floats, Floats],
) -> None:
    which = np.repeat(np.arange(len(first)), counts)
    start = np.concatenate([[0], np.cumsum(counts)[:-1]])
    at = np.arange(len(which)) - start[which] + first[which]
    plan, surface, levels = parts[0][which], parts[1][which], parts[2][which]
    h = heights[at]
    share, below = _cut_share(h, levels)
    n = len(heights)
    sums[0][:] -= np.bincount(at, weights=plan * share, minlength=n)
    sums[1][:] -= np.bincount(at, weights=plan * below, minlength=n)
    sums[2][:] += np.bincount(at, weights=surface * share, minlength=n)


def _cut_share(h: Floats, levels: Floats) -> tuple[Floats, Floats]:
    """F and E of cut triangles (z1 < h < z3)."""
    z1, z2, z3 = levels.T
    lower = h <= z2
    up, down = h - z1, z3 - h
    wide = (z3 - z1) * np.where(lower, z2 - z1, z3 - z2)
    edge = np.where(lower, up, down)
    square = edge * edge / wide
    cube = square * edge / 3
    return np.where(lower, square, 1 - square), np.where(lower, cube, h - (z1 + z2 + z3) / 3 + cube)
