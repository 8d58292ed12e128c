"""What a workshop can learn of itself: each factor with what is typical, how far people differ, and how much
one run wobbles.

Centres are the typical values the plan would use; the spreads are own judgement (common practice gives no
figure): about two of three people lie
within `people` of the centre, about two of three runs of one person within `wobble` of their own. Both are
shares (natural logarithm) unless
`is_share` says that the value itself is a small share, counted as it is.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ..common.errors import DomainError

FactorCode = Literal["film", "waste", "soak", "scale", "pump", "pace", "leftover"]


@dataclass(frozen=True)
class Factor:
    """least, most: outside, a run says nothing (a slip of the unit or of the hand), and is left out and told.

    goes: into the next plan by itself, to a piece when the person takes it, or only shown (why: in words)
    """

    code: FactorCode
    title: str
    of: str
    quantity: str
    people: float
    wobble: float
    least: float
    most: float
    goes: Literal["plan", "piece", "shown"]
    why_shown: str = ""
    is_share: bool = False


FACTORS: dict[str, Factor] = {
    one.code: one
    for one in (
        Factor("film", "Film as it comes out", "of the film planned", "ratio", 0.15, 0.12, 0.3, 3.0, "piece"),
        Factor(
            "waste", "What stays in the cup", "of what usually stays", "ratio", 0.5, 0.35, 0.05, 10.0, "plan"
        ),
        Factor(
            "soak", "What wood drinks", "each square metre", "areal_volume", 0.6, 0.3, 5e-6, 2e-3, "piece"
        ),
        Factor(
            "scale",
            "What the scale shows",
            "of a known weight",
            "ratio",
            0.01,
            0.003,
            0.8,
            1.25,
            "shown",
            "both parts stand on the same scale, so the ratio does not change",
        ),
        Factor("pump", "One stroke of the pump", "each stroke", "mass", 0.05, 0.03, 1e-4, 1.0, "plan"),
        Factor("pace", "Time the cure takes", "of the time predicted", "ratio", 0.2, 0.12, 0.2, 5.0, "plan"),
        Factor(
            "leftover",
            "Mixed and left over",
            "of what was mixed",
            "fraction",
            0.05,
            0.04,
            0.0,
            0.9,
            "shown",
            "it is what your reserves come to: lower them",
            is_share=True,
        ),
    )
}

# Soak each square metre and first coat, common practice: the middle of dense 40-80, open-pored 80-150, end
# grain or punky 200-500 mL.
SOAK_TYPICAL_M3_M2 = {"dense": 60e-6, "open": 115e-6, "end or punky": 350e-6}
LEFTOVER_TYPICAL = 0.04  # own judgement


def factor_of(code: str) -> Factor:
    """Raises DomainError for what is not learned."""
    if code not in FACTORS:
        raise DomainError(
            "factor", code, "it is one of " + ", ".join(FACTORS), "Choose one of them.", "no-factor"
        )
    return FACTORS[code]
