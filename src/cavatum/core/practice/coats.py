"""Coats in the trade's own figures, as tables a maker can read and correct: how thick a film is called
what, what each
way of spreading lays, from where on a film closes. Common practice, no source, unless said. Rules 2.5,
2.9, 2.10.
"""

from __future__ import annotations

from dataclasses import dataclass

CLOSES_M = 0.15e-3  # own judgement: a thinner film draws back into drops on most surfaces
SEAL_M, FLOOD_M = 0.6e-3, 2e-3  # up to here one thin coat, one flood

# From where on a first coat closes over this grain [m]; own judgement: open pores take a film's own
# thickness in.
WETS_M = {"not porous": CLOSES_M, "dense": CLOSES_M, "open": 0.25e-3, "end or punky": 0.35e-3}


@dataclass(frozen=True, kw_only=True)
class RoleRow:
    """What a coat is for: its usual films [m], least, aimed at and most."""

    least_m: float
    aim_m: float
    most_m: float
    words: str


ROLES: dict[str, RoleRow] = {
    "seal": RoleRow(least_m=0.15e-3, aim_m=0.3e-3, most_m=0.6e-3, words="a seal"),
    "nicks": RoleRow(least_m=0.15e-3, aim_m=0.3e-3, most_m=1.0e-3, words="a coat that fills nicks"),
    "flood": RoleRow(least_m=0.9e-3, aim_m=1.25e-3, most_m=2.0e-3, words="a flood"),
}


@dataclass(frozen=True, kw_only=True)
class SpreadRow:
    """A way of laying down a film: the films [m] that one pass of it leaves, and how it is done."""

    least_m: float
    most_m: float
    says: str


SPREADS: dict[str, SpreadRow] = {
    "flat spreader": SpreadRow(
        least_m=0.1e-3, most_m=0.6e-3, says="Held flat it scrapes a film off; held up it leaves more."
    ),
    "roller": SpreadRow(
        least_m=0.08e-3,
        most_m=0.25e-3,
        says="A foam roller lays thin and even, and whips air in: tip it off.",
    ),
    "hand": SpreadRow(
        least_m=0.3e-3,
        most_m=2.0e-3,
        says="A gloved hand pushes out what was poured: the amount sets the film.",
    ),
    "brush": SpreadRow(
        least_m=0.08e-3, most_m=0.3e-3, says="A brush leaves thin coats and its own bristles."
    ),
}


def called(film_m: float) -> str:
    """What a film is called: too thin to close, a thin coat, a flood, more than one flood."""
    if film_m < CLOSES_M:
        return "too thin to close: it draws back into drops"
    if film_m < SEAL_M:
        return "a thin coat: it seals, and shows the grain or the brush"
    if film_m <= FLOOD_M:
        return "a flood: it levels by itself, and runs over the edges"
    return "more than one flood: lay it as two coats, or build a dam"
