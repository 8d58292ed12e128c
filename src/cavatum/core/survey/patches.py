"""Patches that close a defect before it is filled: how wide the tape, how many layers. Rule 1.5."""

from __future__ import annotations

from ..common.working import Data
from ..piece.survey_findings import Defect

TAPE_TIMES = (3.0, 4.0)  # common practice, no source: tape 3 to 4 times the hole's width
BOARD_FROM_M = 0.025  # own judgement: over this width tape sags under the resin and a board goes below


class Patch(Data):
    """tape_from_m to tape_to_m: width of tape over the hole; layers; length_m: as long as the hole and one
    width beyond each end.
    """

    defect_id: str
    tape_from_m: float
    tape_to_m: float
    length_m: float
    layers: int
    with_board: bool
    words: str


def patch_of(defect: Defect) -> Patch:
    width, length = defect.width_m.value, defect.length_m.value
    board = width > BOARD_FROM_M
    words = (
        "a board with glossy tape, a ring of sealant inside and a bead outside"
        if board
        else "tape pressed down hard, two or three layers, each wider than the one before"
    )
    return Patch(
        defect_id=defect.id,
        tape_from_m=TAPE_TIMES[0] * width,
        tape_to_m=TAPE_TIMES[1] * width,
        length_m=length + 2 * width,
        layers=1 if board else 3 if width > 0.01 else 2,
        with_board=board,
        words=words,
    )
