"""One layer to be poured, and the rows of cells that a void's grid gives to it, to its wall and its floor."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache

import numpy as np

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..cure.parameters import Kinetics
from .body import Body
from .grid import COLDEST_K, Array, kinetics_row
from .materials import Surround, WallKind

# Rows of a layer: where it is so wide that nothing is across, where it is cut across too, and of an ensemble.
WIDE_CELLS, LAYER_CELLS, COARSE_CELLS = 20, 10, 8
THIN_CELLS, THIN_M = 10, 0.008
# Of so many of its own rows one is left: of a cured layer with one other between it and what is being poured,
# and of one further down.
NEAR_FEWER, FAR_FEWER = 2, 10
# Shares of a wall's thickness outwards, of a floor's downwards: finest at the resin; then an ensemble's.
WALL_SHARES, WOOD_SHARES, FLOOR_SHARES = (1, 2), (1, 1, 2, 3), (1, 2, 4)
COARSE_WALL, COARSE_WOOD, COARSE_FLOOR = (1,), (1, 2, 4), (1, 2)
STORES_FROM_M = 0.0005  # a thinner wall is a resistance only
ONE_CELL_TO_M = 0.006  # a thinner wall, and metal of any thickness, is one cell
DEEPEST_M = 2.0
LAW_TO_K = 573.0  # where the rate law ends: a batch that goes off in its cup is poured hotter than any room


@dataclass(frozen=True, kw_only=True)
class Cast:
    """One layer to be poured: from and to [m] above the bottom, its resin, its temperature when poured (None:
    the room's), how far it is cured by then.

    is_coarse: fewer cells, for ensembles;  is_wide: of a body that has nothing across, as Stack.pour says;
    fewer: of so many of its rows one is left, as it is cured and so far below that they tell it;  stirs: by
    its own warmth while it is liquid, at so many times its Rayleigh number; 0: it is at rest
    """

    from_m: float
    to_m: float
    kinetics: Kinetics
    poured_k: float | None = None
    conversion: float = 0.0
    is_coarse: bool = False
    is_wide: bool = False
    fewer: int = 1
    stirs: float = 0.0

    def __post_init__(self) -> None:
        if not 0 < self.to_m - self.from_m <= DEEPEST_M:
            raise DomainError(
                argument="layer",
                value=f"{plainly((self.to_m - self.from_m) * 1000)} mm deep",
                allowed=f"it is deeper than 0 and at most {plainly(DEEPEST_M * 1000)} mm",
                way_out="Correct it.",
                code="out-of-range",
            )
        if self.poured_k is not None and not COLDEST_K <= self.poured_k <= LAW_TO_K:
            raise DomainError(
                argument="pour temperature",
                value=f"{self.poured_k - 273.15:.0f} °C",
                allowed="it lies between -40 and 300 °C",
                way_out="Check the unit.",
                code="out-of-range",
            )
        if not 0 <= self.conversion < 1:
            raise DomainError(
                argument="conversion when poured",
                value=f"{self.conversion:.2f}",
                allowed="it lies between 0 and 1",
                way_out="Pour it sooner.",
                code="out-of-range",
            )

    @cached_property
    def row(self) -> Array:
        """Its resin, as the kernel's table has it."""
        return kinetics_row(self.kinetics)

    @cached_property
    def cells(self) -> int:
        if self.is_wide:
            own = THIN_CELLS if self.is_coarse or self.to_m - self.from_m < THIN_M else WIDE_CELLS
        else:
            own = COARSE_CELLS if self.is_coarse else LAYER_CELLS
        return max(own // self.fewer, 1)


def floor_steps(surround: Surround, *, is_coarse: bool = False) -> Array:
    """Thickness [m] of each row of the floor from below; none where it only resists.

    surround  with the floor's thickness [m];  is_coarse  of an ensemble
    Raises nothing. Valid for column_grid. Source: by definition of the grid.
    """
    own = COARSE_FLOOR if is_coarse else FLOOR_SHARES
    return _steps(surround.floor_m, surround.floor, own, is_coarse=is_coarse)[::-1]


def wall_steps(body: Body, surround: Surround, *, is_coarse: bool = False) -> Array:
    """Thickness [m] of each cell of the wall outwards; none where it only resists.

    body, surround  with the wall's thickness [m];  is_coarse  of an ensemble
    Raises nothing. Valid for column_grid. Source: by definition of the grid.
    """
    own = COARSE_WALL if is_coarse else WALL_SHARES
    return np.zeros(0) if body.is_wide else _steps(surround.wall_m, surround.wall, own, is_coarse=is_coarse)


@lru_cache(maxsize=256)
def _steps(thick_m: float, kind: WallKind, own: tuple[int, ...], *, is_coarse: bool) -> Array:
    """own: its shares where it is no wood."""
    if thick_m < STORES_FROM_M:
        found = np.zeros(0)
    elif thick_m < ONE_CELL_TO_M or kind == "metal":
        found = np.array([thick_m])
    else:
        shares = (COARSE_WOOD if is_coarse else WOOD_SHARES) if kind == "wood" else own
        found = thick_m * np.array(shares) / sum(shares)
    found.setflags(write=False)  # remembered
    return found


def reach_of(body: Body, casts: tuple[Cast, ...]) -> Array:
    """Depth and half width [m] in which each layer stirs itself while it is liquid, and at how many times its
    Rayleigh number, shape (n, 3).

    body  by height [m];  casts  from and to [m]
    Raises nothing; 0 for what does not. Exact where its width is one. Source: by definition.
    """
    found = np.zeros((len(casts), 3))
    found[:, 0] = [one.to_m - one.from_m for one in casts]
    found[:, 2] = [one.stirs for one in casts]
    if not body.is_wide:
        middle = np.array([(one.from_m + one.to_m) / 2 for one in casts])
        wide = np.minimum(body.of(body.width, middle), np.sqrt(body.of(body.area, middle)))
        found[:, 1] = wide / 2
    found[found[:, 2] <= 0] = 0.0
    return found


def row_heights(surround: Surround, casts: tuple[Cast, ...]) -> Array:
    """Heights [m] of the middles of all rows of a column, floor first, shape (n,); 0 is the void's floor.

    casts  layers with from_m and to_m [m] and their number of cells
    Raises nothing. Exact. Source: by definition of the grid.
    """
    below = floor_steps(surround, is_coarse=casts[0].is_coarse)
    return np.concatenate([np.cumsum(below) - below / 2 - below.sum(), rows_of(casts).middle])


def layer_by_row(casts: tuple[Cast, ...], floor: int) -> Array:
    """The number of the layer that each row belongs to, -1 the floor, shape (n,).

    casts  from below;  floor  how many rows it has
    Raises nothing. Exact. Source: by definition of the grid.
    """
    return np.repeat(np.arange(-1, len(casts)), [floor, *[one.cells for one in casts]])


def tops_of(casts: tuple[Cast, ...], floor: int, row: int) -> Array:
    """The first cell of each layer's highest row, shape (n,).

    casts  from below, with from_m and to_m [m];  floor  how many rows it has;  row  cells of a row
    Raises nothing. Exact. Source: by definition of the grid.
    """
    return (floor + np.cumsum([one.cells for one in casts]) - 1) * row


def by_row(casts: tuple[Cast, ...], floor: int, pick: Callable[[Kinetics], float], below: float) -> Array:
    """A property of the stuff in each row, in its own unit, shape (n,).

    casts  from below;  floor  how many rows it has;  pick  the property of a resin;  below  that of the floor
    Raises nothing. Exact. Source: by definition of the grid.
    """
    return np.repeat(
        [below, *[pick(one.kinetics) for one in casts]], [floor, *[one.cells for one in casts]]
    ).astype(float)


@dataclass(frozen=True, kw_only=True)
class Rows:
    """The rows of some layers, from below: lower edge and thickness [m]; first: how many the lowest has;
    lowest: all the rows it has had, where it has fewer by now.
    """

    low: Array
    depth: Array
    first: int
    lowest: Rows | None = None

    @property
    def middle(self) -> Array:
        return self.low + self.depth / 2

    @property
    def edges(self) -> Array:
        return np.append(self.low, self.low[-1] + self.depth[-1])


def rows_of(casts: tuple[Cast, ...]) -> Rows:
    """Rows of the layers, each layer's alike.

    casts  from below, with from_m and to_m [m]
    Raises nothing. Exact. Source: by definition of the grid.
    """
    cells = [one.cells for one in casts]
    depth = np.repeat([(one.to_m - one.from_m) / one.cells for one in casts], cells)
    begins = np.repeat(np.cumsum([0, *cells[:-1]]), cells)
    low = np.repeat([one.from_m for one in casts], cells) + (np.arange(len(depth)) - begins) * depth
    lowest = rows_of((replace(casts[0], fewer=1),)) if casts[0].fewer > 1 else None
    return Rows(low=low, depth=depth, first=cells[0], lowest=lowest)


def merged_rows(casts: tuple[Cast, ...], merged: tuple[Cast, ...], floor: int) -> Array:
    """What each row of the merged layers takes of the rows before, shape (rows after, rows before).

        w_ij = length of row j within row i / length of row i

    casts, merged  the same layers before and after, with from_m and to_m [m];  floor  how many rows it has
    Raises nothing. Exact for layers as wide below as above: heat and conversion stay what they were. Source:
    averages over the rows.
    """
    return _merging(tuple(one.cells for one in casts), tuple(one.cells for one in merged), floor)


@lru_cache(maxsize=256)
def _merging(cells: tuple[int, ...], merged: tuple[int, ...], floor: int) -> Array:
    blocks = [np.eye(floor)]
    for before, after in zip(cells, merged, strict=True):
        rows, share = np.arange(after)[:, None], before / after
        fine = np.arange(before)[None, :]
        blocks.append(
            (np.minimum((rows + 1) * share, fine + 1) - np.maximum(rows * share, fine)).clip(0) / share
        )
    found = np.zeros((sum(len(one) for one in blocks), sum(one.shape[1] for one in blocks)))
    i = j = 0
    for one in blocks:
        found[i : i + one.shape[0], j : j + one.shape[1]] = one
        i, j = i + one.shape[0], j + one.shape[1]
    found.setflags(write=False)  # remembered
    return found
