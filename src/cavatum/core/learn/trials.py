"""Two or three small trials side by side, with the least resin that still tells them apart; the better one
becomes the workshop's own rule. Rule 9.2.

Least resin: enough that the scale's step puts the ratio off by at most RATIO_OFF, and enough to cover each
sample.

    mass in all >= step (1 + r) (1 + 1 / r) / (2 RATIO_OFF), r = A:B by weight: both readings off by half a
    step the bad way
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.readings import Id, Label
from ..common.working import Data, Figure, Input, Workbook
from ..common.workshop import Workshop

RATIO_OFF = 0.01


class Variant(Data):
    """One of the things that are tried; result: stars once judged."""

    called: Label
    stars: int | None = Field(default=None, ge=1, le=5)
    seen: Label = ""


class Trial(Data):
    """what: of the table. kept: the variant that became the rule, None while it is open."""

    what: Id
    question: Label
    system_id: Id
    variants: Annotated[list[Variant], Field(min_length=2, max_length=4)]
    sample: Literal["film", "cup"] = "film"
    kept: int | None = Field(default=None, ge=0, le=3)


class TrialRow(Data):
    """A trial to choose: looked at after look_s."""

    code: str
    question: str
    variants: list[str]
    sample: Literal["film", "cup"]
    steps: list[str]
    look_s: float
    judged_by: str


TABLE: tuple[TrialRow, ...] = (
    TrialRow(
        code="glitter-rest",
        question="How long to rest before glitter?",
        variants=["no rest", "10 min", "15 min"],
        sample="cup",
        steps=[
            "Weigh one batch, stir, part it into equal cups.",
            "Glitter into each after its rest, ten strokes.",
            "Pour each into a small mould of the depth you plan.",
        ],
        look_s=24 * 3600.0,
        judged_by="Glitter even from top to bottom, seen from the side.",
    ),
    TrialRow(
        code="swirl-heat",
        question="How warm to pour two colours?",
        variants=["35 °C", "40 °C"],
        sample="cup",
        steps=[
            "One batch, two colours, parted into two pairs of cups.",
            "Pour each pair when the infrared reads its temperature.",
            "Same height, same mould.",
        ],
        look_s=4 * 3600.0,
        judged_by="Colours apart with clean edges, no bubbles caught.",
    ),
    TrialRow(
        code="flame",
        question="Flame or not?",
        variants=["flame", "heat gun", "nothing"],
        sample="film",
        steps=[
            "One batch over equal boards, the same film.",
            "Each as its name says, short and moving; no solvent near a flame.",
            "Cover all alike.",
        ],
        look_s=24 * 3600.0,
        judged_by="Along the light: bubbles, ripples, scorch.",
    ),
    TrialRow(
        code="seal-coats",
        question="One seal coat or two?",
        variants=["one", "two"],
        sample="film",
        steps=[
            "Two offcuts of the same board.",
            "Seal, let it go tacky, seal the second once more.",
            "Flood both alike.",
        ],
        look_s=24 * 3600.0,
        judged_by="Bubbles along the pores.",
    ),
    TrialRow(
        code="defoam-stir",
        question="Stir by hand or by drill?",
        variants=["by hand", "drill, slow"],
        sample="cup",
        steps=["Two equal batches, the same time.", "Let both rest alike, pour into equal moulds."],
        look_s=24 * 3600.0,
        judged_by="Fine bubbles, against a dark ground.",
    ),
)


def least_mass_kg(step_kg: float, by_weight: float) -> float:
    """Smallest batch [kg] at which the scale's step may put the ratio off by RATIO_OFF. step_kg > 0;
    by_weight A:B > 0.
    """
    if step_kg <= 0 or by_weight <= 0:
        raise DomainError(
            argument="scale",
            value=f"{plainly(step_kg)} kg, {plainly(by_weight)}",
            allowed="both are more than 0",
            way_out="Correct the scale's step.",
            code="scale",
        )
    return step_kg * (1 + by_weight) * (1 + 1 / by_weight) / (2 * RATIO_OFF)


def row_of(code: str) -> TrialRow:
    """Raises DomainError for a trial that the table does not hold."""
    row = next((one for one in TABLE if one.code == code), None)
    if row is None:
        raise DomainError(
            argument="trial",
            value=code,
            allowed="it is one of the table",
            way_out="Choose one.",
            code="no-trial",
        )
    return row


def plan_trial(
    code: str,
    by_weight: float,
    density_kg_m3: float,
    workshop: Workshop,
    sample_m2: float = 0.01,
    film_m: float = 0.001,
    cup_m3: float = 2e-5,
) -> tuple[TrialRow, Figure, Figure, Workbook]:
    """Row, mass each, mass in all, and the workings.

    sample_m2, film_m  of one board; cup_m3  of one small mould (own judgement: a decimetre square at 1 mm; 20
                       mL)
    Raises DomainError for a trial that the table does not hold.
    """
    row, book = row_of(code), Workbook()
    volume = sample_m2 * film_m if row.sample == "film" else cup_m3
    need = volume * density_kg_m3
    many = len(row.variants)
    each = book.figure(
        "trial/each",
        "Resin for one sample",
        need,
        "mass",
        "volume of the sample × density of the mix",
        [
            Input(name="volume of one sample", value=volume, quantity="volume", origin="typical"),
            Input(name="density of the mix", value=density_kg_m3, quantity="density", origin="computed"),
        ],
        "by definition",
    )
    least = least_mass_kg(workshop.scale.step_kg.value, by_weight)
    share, fixed = workshop.stays
    usual = share * need * many + fixed * density_kg_m3 * many
    total = max(need * many + usual, least)
    in_all = book.figure(
        "trial/all",
        "To mix for all of them",
        total,
        "mass",
        "larger of (samples + what stays in the cups) and what the scale can do",
        [
            book.computed("samples, each", each),
            Input(name="how many", value=many, quantity="count", origin="computed"),
            Input(name="what stays in the cups", value=usual, quantity="mass", origin="computed"),
            Input(
                name="least for this scale, ratio within 1 %", value=least, quantity="mass", origin="computed"
            ),
        ],
        "both readings off by half the scale's step the bad way",
        ["One clear batch, parted: the trials then differ in nothing else."],
    )
    return row, each, in_all, book
