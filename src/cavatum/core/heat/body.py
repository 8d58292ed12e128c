"""A void's measures by height, as the heat asks for them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np

from .grid import Array

TABLE_ROWS, TABLE_BEYOND = 193, 1.1
ROUNDER = 0.9  # of its width squared: a circle has pi/4, a square 1
WIDE_M = 1e3  # stands for "no wall near"


@dataclass(frozen=True, kw_only=True)
class Body:
    """The void's measures by height [m]: least width, horizontal area [m2], wall wetted up to there [m2].

    tall_m  how high it is filled at most; None: nobody tabulates it
    """

    width: Callable[[Any], Any]
    area: Callable[[Any], Any]
    wetted: Callable[[Any], Any]
    is_wide: bool = False
    tall_m: float | None = None
    is_table: bool = False

    def is_round(self, height_m: float) -> bool:
        """Rounder at a height than a square of its width."""
        return not self.is_wide and self.area(height_m) < ROUNDER * self.width(height_m) ** 2

    def of(self, measure: Callable[[Any], Any], heights: Array) -> Array:
        """One of its measures at many heights."""
        if self.is_table:
            return np.asarray(measure(heights))
        return np.array([measure(float(one)) for one in heights])

    @cached_property
    def tabulated(self) -> Body:
        """The same from tables of TABLE_ROWS heights, linear between: for ensembles, which ask it a thousand
        times.
        """
        if self.is_wide or self.tall_m is None:
            return self
        at = np.linspace(0.0, self.tall_m * TABLE_BEYOND, TABLE_ROWS)

        def table(measure: Callable[[Any], Any]) -> Callable[[Any], Any]:
            values = np.array([measure(float(one)) for one in at])
            return lambda height: np.interp(height, at, values)

        return Body(
            width=table(self.width),
            area=table(self.area),
            wetted=table(self.wetted),
            tall_m=self.tall_m,
            is_table=True,
        )

    @classmethod
    def wide(cls) -> Body:
        """A slab so wide that no wall matters: one shell, per square metre."""
        return cls(width=lambda h: WIDE_M, area=lambda h: 1.0, wetted=lambda h: 1.0, is_wide=True)
