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


@dataclass(frozen=True, kw_only=True)
class Factor:
    """least, most: outside, a run says nothing (a slip of the unit or of the hand), and is left out and told.

    between: how far what belongs to one resin, cup or habit lies from the person's general value; 0: it
    has no
          groups
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
    between: float = 0.0


FACTORS: dict[str, Factor] = {
    one.code: one
    for one in (
        Factor(
            code="film",
            title="Film as it comes out",
            of="of the film planned",
            quantity="ratio",
            people=0.15,
            wobble=0.12,
            least=0.3,
            most=3.0,
            goes="piece",
        ),
        Factor(
            code="waste",
            title="What stays in the cup",
            of="of what usually stays",
            quantity="ratio",
            people=0.5,
            wobble=0.35,
            least=0.05,
            most=10.0,
            goes="plan",
            between=0.45,
        ),
        Factor(
            code="soak",
            title="What wood drinks",
            of="each square metre",
            quantity="areal_volume",
            people=0.6,
            wobble=0.3,
            least=5e-6,
            most=2e-3,
            goes="piece",
        ),
        Factor(
            code="scale",
            title="What the scale shows",
            of="of a known weight",
            quantity="ratio",
            people=0.01,
            wobble=0.003,
            least=0.8,
            most=1.25,
            goes="shown",
            why_shown="both parts stand on the same scale, so the ratio does not change",
        ),
        Factor(
            code="pump",
            title="One stroke of the pump",
            of="each stroke",
            quantity="mass",
            people=0.05,
            wobble=0.03,
            least=1e-4,
            most=1.0,
            goes="plan",
        ),
        Factor(
            code="pace",
            title="How slowly it cures",
            of="of its sheet's rate, through the model",
            quantity="ratio",
            people=0.2,
            wobble=0.12,
            least=0.2,
            most=5.0,
            goes="plan",
        ),
        Factor(
            code="leftover",
            title="Mixed and left over",
            of="of what was mixed",
            quantity="fraction",
            people=0.05,
            wobble=0.04,
            least=0.0,
            most=0.9,
            goes="shown",
            why_shown="it is what your reserves come to: lower them",
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
            argument="factor",
            value=code,
            allowed="it is one of " + ", ".join(FACTORS),
            way_out="Choose one of them.",
            code="no-factor",
        )
    return FACTORS[code]


def can_be(factor: Factor, value: float) -> bool:
    """Within what the factor can come to at all; only a share can be nothing or less."""
    return factor.least <= value <= factor.most and (value > 0 or factor.is_share)
