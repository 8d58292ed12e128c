"""Any void as cells from the floor up, of its layers, its wall and its floor: layers poured one on the other,
and their state.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from .body import Body
from .cast import FAR_FEWER, NEAR_FEWER, Cast, floor_steps, merged_rows, row_heights
from .grid import Array, Grid, Room
from .materials import Surround
from .quarter import quarter_grid
from .run import TOLERANCE_K, March, Stop, march
from .slab import slab_grid
from .turned import rounds_off, turned_grid

CURED = 0.9  # conversion from which a layer two below makes too little heat to need its own rows


@dataclass(frozen=True, kw_only=True)
class Stack:
    """Layers poured so far and their state. heights: middle of each row above the bottom [m], floor below 0.
    merges: cured layers further down keep a few rows. Never changed in place.
    """

    body: Body
    surround: Surround
    room: Room
    casts: tuple[Cast, ...] = ()
    at_s: float = 0.0
    t: Array = field(default_factory=lambda: np.empty(0))
    a: Array = field(default_factory=lambda: np.empty(0))
    grid: Grid | None = None
    step_s: float = 1.0
    tolerance_k: float = TOLERANCE_K
    merges: bool = True

    def pour(self, cast: Cast) -> Stack:
        """The next layer on top, now."""
        if self.casts and abs(cast.from_m - self.casts[-1].to_m) > 1e-6:
            raise DomainError(
                argument="layer",
                value=f"from {plainly(cast.from_m * 1000)} mm",
                allowed=f"it starts where the last one ends, {plainly(self.casts[-1].to_m * 1000)} mm",
                way_out="Correct its height.",
                code="out-of-order",
            )
        below, before = self._merged()
        casts = (*below, replace(cast, is_wide=self.body.is_wide))
        grid = column_grid(self.body, self.surround, casts)
        t, a = np.full(grid.cells, self.room.at(self.at_s)), np.zeros(grid.cells)
        # Rows of earlier layers come first.
        t[: before[0].size], a[: before[1].size] = before
        poured = grid.layer == len(self.casts)
        if cast.poured_k is not None:
            t[poured] = cast.poured_k
        a[poured] = cast.conversion
        return replace(self, casts=casts, grid=grid, t=t, a=a, step_s=1.0)

    def _merged(self) -> tuple[tuple[Cast, ...], tuple[Array, Array]]:
        """Earlier layers and their state, once more are poured on them: cured ones that have another between
        themselves and it keep a few rows, so that a column of many layers costs no more a layer than one of
        few. Not in a bowl, whose rows are unlike.
        """
        if self.grid is None or not self.merges or self._is_bowl:
            return self.casts, (self.t, self.a)
        cured = [self.a[self.grid.layer == i].min() >= CURED for i in range(len(self.casts) - 1)]
        far = len(self.casts) - 2
        casts = tuple(
            replace(one, fewer=FAR_FEWER if i < far else NEAR_FEWER) if done else one
            for i, (one, done) in enumerate(zip(self.casts, [*cured, False], strict=True))
        )
        if casts == self.casts:
            return self.casts, (self.t, self.a)
        floor = len(floor_steps(self.surround, is_coarse=casts[0].is_coarse))
        rows = merged_rows(self.casts, casts, floor)
        t, a = ((rows @ one.reshape(self.grid.shape[0], -1)).ravel() for one in (self.t, self.a))
        return casts, (t, a)

    @property
    def _is_bowl(self) -> bool:
        body, top_m = self.body, self.casts[-1].to_m
        return body.is_round(self.casts[0].to_m) and rounds_off(body, body.tall_m or top_m)

    def wait(self, to_s: float, stop: Stop | None = None, *, keep: bool = False) -> tuple[Stack, March]:
        """Time goes by to to_s, or to where `stop` is met."""
        assert self.grid is not None
        done = march(
            self.grid,
            self.t,
            self.a,
            self.room,
            self.at_s,
            to_s,
            stop,
            keep=keep,
            first_step_s=self.step_s,
            tolerance_k=self.tolerance_k,
            tolerance_a=self.tolerance_k / 100,
        )
        return replace(self, at_s=done.at_s, t=done.t, a=done.a, step_s=done.next_step_s), done

    @property
    def heights(self) -> Array:
        return row_heights(self.surround, self.casts)


def column_grid(body: Body, surround: Surround, casts: tuple[Cast, ...]) -> Grid:
    """Rows, floor first, then layers; across them nothing where the body is wide, rings where it is round,
    the cells of a quarter of a rectangle elsewhere.

    body  by height [m];  surround  walls, floor and air;  casts  from and to [m], each with its resin
    Raises nothing. Valid as the one that is taken. Source: slab.py, turned.py, quarter.py.
    """
    if body.is_wide:
        return slab_grid(surround, casts)
    made = turned_grid if body.is_round(casts[0].to_m) else quarter_grid
    return made(body, surround, casts)
