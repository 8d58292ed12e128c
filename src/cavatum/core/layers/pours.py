"""Layers of several voids joined into pours: the n-th layers of all voids are poured in one go."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import zip_longest

from ..common.readings import Fraction
from ..measure.cavity import Cavity
from ..piece.colour import Recipe
from ..piece.lays import Join, Lay
from ..piece.parts import Filled, Portion, Void
from ..resin.ratio import MixRatio
from ..resin.system import System
from .split import Layer


@dataclass(frozen=True, kw_only=True)
class Fill:
    """One layer of one void (of all its equal cavities) with what it is filled with; lay: of a coat, which
    one."""

    void: Filled
    portion: Portion
    cavity: Cavity
    system: System
    ratio: MixRatio
    layer: Layer
    reserve: Fraction | None = None
    recipe: Recipe | None = None
    lay: Lay | None = None

    @cached_property
    def volume_m3(self) -> float:
        """Resin in one cavity's layer, net."""
        return self.cavity.volume(self.layer.to_m) - self.cavity.volume(self.layer.from_m)

    @property
    def mass_kg(self) -> float:
        """Mass of one connected body: what the depth rules ask for."""
        return self.volume_m3 * self.ratio.mixed_density


@dataclass(frozen=True, kw_only=True)
class Pour:
    """The n-th layers of all voids, poured in one go; coat: 0, or which coat it is. after_cut: what was
    cast has to be
    out of its form and cut flush before; of a void, it is a pocket that is cut into what is hard.
    """

    number: int
    fills: list[Fill]
    coat: int = 0
    after_cut: bool = False

    @property
    def is_new_pocket(self) -> bool:
        """Its hollow is cut once all before it is hard."""
        return self.after_cut and not self.coat

    @property
    def join(self) -> Join:
        """How it holds to what is below: sanded where one of its coats is."""
        joins = {fill.lay.join for fill in self.fills if fill.lay}
        return next((one for one in ("sanded", "in the window") if one in joins), "as the workshop does")

    @property
    def grit(self) -> int | None:
        """That it is sanded with before: the coarsest that one of its coats wants."""
        return min((fill.lay.grit for fill in self.fills if fill.lay and fill.lay.grit), default=None)

    @property
    def is_wiped(self) -> bool:
        """Wiped with solvent after sanding."""
        return all(fill.lay.wiped for fill in self.fills if fill.lay)

    @property
    def called(self) -> str:
        return f"coat {self.coat}" if self.coat else f"pour {self.number}"

    @property
    def layer_called(self) -> str:
        return f"coat {self.coat}" if self.coat else f"layer {self.number}"

    @property
    def heats(self) -> list[tuple[str, float, float, str]]:
        """(void, from, to, system) of each layer, as the heat run takes it."""
        return [(fill.void.id, fill.layer.from_m, fill.layer.to_m, fill.system.id) for fill in self.fills]


def pours_of(voids: list[list[Fill]], coats: list[list[Fill]], *, one_visit: bool = False) -> list[Pour]:
    """The first layers of all voids of a turn are a pour, the second ones the next, and so on; the voids
    of the
    next turn are cut and poured after that; coats follow the last of them. What was cast above its rim is
    cut flush before any coat.

    one_visit  the first coats are laid with the last pour, where that is of the same resin and nothing is cut
    """
    poured = _by_turns(voids)
    laid = [_those(row) for row in zip_longest(*coats)]
    is_cut = any(_is_cut_flush(fill) for pour in poured for fill in pour.fills)
    joins = one_visit and not is_cut and _same_resin(poured[-1:], laid[:1])
    skipped = 1 if joins else 0
    if joins:
        poured[-1] = replace(poured[-1], fills=[*poured[-1].fills, *laid[0]])
    return poured + [
        Pour(
            number=len(poured) + place,
            fills=row,
            coat=place + skipped,
            after_cut=is_cut and place == 1,
        )
        for place, row in enumerate(laid[skipped:], start=1)
    ]


def _by_turns(voids: Sequence[list[Fill]]) -> list[Pour]:
    """The voids of each turn together, one turn after the other."""
    poured: list[Pour] = []
    for turn in sorted({_turn(column) for column in voids}):
        rows = zip_longest(*(column for column in voids if _turn(column) == turn))
        before = len(poured)
        poured += [
            Pour(number=before + place, fills=_those(row), after_cut=before > 0 and place == 1)
            for place, row in enumerate(rows, start=1)
        ]
    return poured


def _turn(column: Sequence[Fill]) -> int:
    return column[0].void.turn if column and isinstance(column[0].void, Void) else 1


def _those(row: Sequence[Fill | None]) -> list[Fill]:
    return [fill for fill in row if fill is not None]


def _is_cut_flush(fill: Fill) -> bool:
    return fill.void.overfill is not None and fill.void.overfill.value > 0


def _same_resin(poured: Sequence[Pour], laid: Sequence[Sequence[Fill]]) -> bool:
    """Whether there is a pour and a coat, and both are of one resin."""
    if not poured or not laid:
        return False
    return len({fill.system.id for fill in (*poured[0].fills, *laid[0])}) == 1


def deepest_fills(pours: Sequence[Pour]) -> dict[str, Fill]:
    """The deepest layer of each void, by the void's id."""
    deepest: dict[str, Fill] = {}
    for fill in (fill for pour in pours for fill in pour.fills):
        known = deepest.get(fill.void.id)
        if known is None or fill.layer.depth_m > known.layer.depth_m:
            deepest[fill.void.id] = fill
    return deepest


def last_of_voids(pours: Sequence[Pour]) -> set[int]:
    """Places of the pours that are the last one of some void or coat."""
    return set({fill.void.id: place for place, pour in enumerate(pours) for fill in pour.fills}.values())
