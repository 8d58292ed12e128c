"""The oven's program with the working of its top temperature. Rule 8.5."""

from __future__ import annotations

from ..calibration.of_system import Cure
from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.verdict import Verdict
from ..common.wording import Wording
from ..common.working import Figure, Input, Workbook
from ..piece.document import Piece
from ..piece.finish_wishes import Finish
from ..plan_model import Plan
from ..survey.substrates import refuses
from .oven import AHEAD_K, INSIDE_C, STANDS_C, USUAL_C, OvenProgram, oven_program
from .verdicts import finish_verdict


def oven_of(
    piece: Piece, plan: Plan, cures: dict[str, Cure], wishes: Finish, wording: Wording
) -> tuple[OvenProgram | None, list[Verdict]]:
    if not wishes.post_cure or not plan.pours:
        return None, []
    if piece.survey is not None and refuses(piece, "oven"):
        return None, [
            finish_verdict(
                "blocker",
                "ground-refuses",
                "8.5",
                f"No oven for {piece.survey.material}",
                "It melts, warps or lets go of its ink before the resin is warm.",
                "Leave the oven out; wait for the full cure in the room.",
                "/finish/post_cure",
            )
        ]
    cure = cures.get(plan.pours[-1].layers[-1].system_id)
    if cure is None:
        return None, [
            finish_verdict(
                "warning",
                "no-cure",
                "8.5",
                "No oven program",
                "The cure of this resin is not known.",
                "Say which class it cures like, on the Shelf.",
            )
        ]
    try:
        made = oven_program(
            cure.kinetics,
            cure.gates.demould,
            wording.workshop.room_c.value,
            wish_c=wishes.oven_c.value if wishes.oven_c else USUAL_C,
            mould=wishes.mould,
            inside=tuple(wishes.inside),
        )
    except DomainError as error:
        return None, [
            finish_verdict(
                "warning", error.code, "8.5", "No oven program", str(error), where="/finish/oven_c"
            )
        ]
    doubts = []
    if not wishes.inside and any(void.inclusions for void in piece.voids):
        doubts.append(
            finish_verdict(
                "warning",
                "inside-not-said",
                "8.5",
                "What is inside?",
                "Something is embedded and nobody said what; the program does not spare it.",
                "Say what is inside.",
                "/finish/inside",
            )
        )
    if not made.reached:
        doubts.append(
            finish_verdict(
                "note",
                "oven-short",
                "8.5",
                "The oven does not finish it",
                f"After {wording.duration(made.total_s)}, at most {wording.temperature(made.top_c)}, "
                "it is at "
                f"{made.conversion:.0%} of its cure.",
            )
        )
    return made, doubts


def oven_top(book: Workbook, oven: OvenProgram, wishes: Finish) -> Figure:
    wish = (
        wishes.oven_c.as_input("wished for")
        if wishes.oven_c
        else Input(name="usual", value=USUAL_C, quantity="temperature", origin="typical")
    )
    stands = [
        Input(
            name=f"the mould stands ({wishes.mould})",
            value=STANDS_C[wishes.mould],
            quantity="temperature",
            origin="typical",
        ),
        *(
            Input(name=f"{one} stands", value=INSIDE_C[one], quantity="temperature", origin="typical")
            for one in wishes.inside
        ),
    ]
    softens = Input(
        name="softens at first, by the cure model",
        value=oven.tg_before_c,
        quantity="temperature",
        origin="computed",
    )
    formula = (
        f"the least of what is wished for and what stands it, never more than {plainly(AHEAD_K)} K "
        "over where "
        "the resin softens on the way"
    )
    return book.figure(
        "oven/top",
        "The oven at its warmest",
        oven.top_c,
        "temperature",
        formula,
        [wish, *stands, softens],
        "common practice; materials from memory; the head start: own judgement",
        ["The mould's and the thing's own data sheets go before these."],
    )
