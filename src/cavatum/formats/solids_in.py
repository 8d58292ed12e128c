"""A mesh of several bodies as one: what overlaps is joined and counts once. Run in the child process only."""

from __future__ import annotations

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from ..core.common.errors import DomainError
from ..core.common.plain_numbers import plainly
from ..core.measure.triangles import Solid, check_solid, level_areas, signed_volume

MOST_BODIES = 2000
SAME = 1e-6  # of the volume: what joining may change by rounding
LEVELS = np.linspace(0.04, 0.96, 12)  # of the height, where a body is looked at for a surface through itself
THROUGH = 1e-4  # of a cut's area


def joined(solid: Solid) -> tuple[Solid, list[str]]:
    """The mesh as one body in which nothing counts twice, and in words what was joined.

    solid  corners and triangles as read, any unit; checked here (check_solid)
    Bodies that touch nothing are left as they are, to the last digit. A body that faces inwards is a
    hollow in
    the one around it.
    Raises DomainError for a surface that runs through itself, a hollow that lies in nothing, and over
    MOST_BODIES bodies.
    Valid to the joining's own tolerance, about 1e-9 of the size. Source: Boolean union by manifold3d.
    """
    check_solid(solid)
    if signed_volume(solid) < 0:  # the whole of it faces inwards
        solid = Solid(solid.corners, solid.triangles[:, ::-1])
    bodies = _bodies(solid)
    if len(bodies) > MOST_BODIES:
        raise DomainError(
            argument="mesh",
            value=f"{len(bodies)} bodies",
            allowed=f"at most {MOST_BODIES} are read",
            way_out="Unite them in your modelling program and export again.",
            code="too-heavy",
        )
    if len(bodies) > 1 and _may_meet(bodies):
        solid, words = _united(solid, bodies)
    else:
        words = []
    _check_through(solid)
    return solid, words


def _bodies(solid: Solid) -> list[Solid]:
    """Its parts that hang together by corners, the largest box first."""
    count, (a, b, c) = len(solid.corners), solid.triangles.T
    links = coo_matrix(
        (np.ones(2 * len(a), np.int8), (np.tile(a, 2), np.concatenate([b, c]))), (count, count)
    )
    _, names = connected_components(links, directed=False)
    of = names[a]
    order = np.argsort(of, kind="stable")
    cuts = np.flatnonzero(np.diff(of[order])) + 1
    found = []
    for part in np.split(order, cuts):
        used, where = np.unique(solid.triangles[part], return_inverse=True)
        found.append(Solid(solid.corners[used], where.reshape(-1, 3)))
    return found


def _may_meet(bodies: list[Solid]) -> bool:
    """Whether the boxes of any two touch."""
    low = np.array([one.low_high[0] for one in bodies])
    high = np.array([one.low_high[1] for one in bodies])
    meet = (low[:, None] <= high[None]).all(axis=2) & (low[None] <= high[:, None]).all(axis=2)
    return bool(meet.sum() > len(bodies))


def _united(solid: Solid, bodies: list[Solid]) -> tuple[Solid, list[str]]:
    """Bodies added and hollows taken out, the largest first, so that a body in a hollow stays."""
    from manifold3d import Manifold, Mesh64

    whole, hollows = Manifold(), 0
    sized = sorted(((signed_volume(one), one) for one in bodies), key=lambda one: -abs(one[0]))
    for volume, body in sized:
        faces = body.triangles if volume > 0 else body.triangles[:, ::-1]
        one = Manifold(Mesh64(body.corners, np.ascontiguousarray(faces, np.uint64)))
        if volume < 0:
            hollows += 1
            if (whole ^ one).volume() < abs(volume) * (1 - SAME):
                raise DomainError(
                    argument="mesh",
                    value="turned inside out: a body that faces inwards lies in no other",
                    allowed="a hollow lies wholly inside a body",
                    way_out="Recalculate the normals in your modelling program and export again.",
                    code="winding",
                )
            whole = whole - one
        else:
            whole = whole + one
    before, after = signed_volume(solid), whole.volume()
    if abs(after - before) <= SAME * before:
        return solid, []
    made = whole.to_mesh64()
    united = Solid(
        np.asarray(made.vert_properties, float)[:, :3], np.asarray(made.tri_verts, np.int64).reshape(-1, 3)
    )
    check_solid(united)
    share = f"{plainly(100 * (before - after) / before, 2)} % less"
    return united, [
        f"{len(bodies) - hollows} bodies overlap: joined, so that what lies in two counts once, {share}."
    ]


def _check_through(solid: Solid) -> None:
    """Refuses a surface that runs through itself: cuts in which something lies inside twice."""
    low, high = solid.low_high
    for share in LEVELS:
        twice, area = level_areas(solid, float(low[2] + share * (high[2] - low[2])))
        if twice > THROUGH * max(area, 1e-300):
            counted = plainly(100 * twice / area, 2)
            raise DomainError(
                argument="mesh",
                value=f"a surface that runs through itself: {counted} % of a cut counts twice",
                allowed="each place lies inside once",
                way_out="Unite it in your modelling program (union, or make solid) and export again.",
                code="through-itself",
            )
