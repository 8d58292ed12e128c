"""What a bench says while a run goes on. Append-only: a mistake is corrected by a further event, the old one
stays.

Each carries an id made by the device, the device's own number, and the device's estimate of the server's
moment; the server keeps it once.
"""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import AwareDatetime, Field

from ..common.readings import Label
from ..common.working import Data

StepId = Annotated[str, Field(max_length=80)]
NOTE_MOST = 2000
OF_THE_CAMERA = frozenset({"covered", "moved", "blind", "silent"})  # and not of the piece
LATER_MOST_S = 86_400.0


class BeginStep(Data):
    """A step is begun: its timer runs from here."""

    kind: Literal["begin"] = "begin"
    step: StepId


class DoneStep(Data):
    """unticked: checks of a last walk round the bench that were not ticked. knowing: a batch off its ratio
    was
    ended all the same, by somebody who was told.
    """

    kind: Literal["done"] = "done"
    step: StepId
    unticked: int = Field(default=0, ge=0, le=100)
    knowing: bool = False


class WeighedByHand(Data):
    """A part as it came out, typed: the other part follows it. The newest word for a part counts."""

    kind: Literal["weighed"] = "weighed"
    step: StepId
    part: Literal["A", "B"]
    kg: float = Field(gt=0, le=1000)


class SkipStep(Data):
    kind: Literal["skip"] = "skip"
    step: StepId
    why: Label = ""


class Tested(Data):
    """Readiness by test. Not passed or not sure: the step stays, and is due again; an inspection that
    decides is
    over when it is not passed. found: what was seen, such as dimples or dust.
    """

    kind: Literal["test"] = "test"
    step: StepId
    result: Literal["passed", "not passed", "not sure"]
    found: Annotated[list[Label], Field(max_length=8)] = []

    __test__ = False  # not one of pytest's


class UndoEvent(Data):
    """The event with this id counts no more; it stays in the record."""

    kind: Literal["undo"] = "undo"
    event_id: UUID


class LaterStep(Data):
    kind: Literal["later"] = "later"
    step: StepId
    seconds: float = Field(gt=0, le=LATER_MOST_S)


class Heard(Data):
    """An alarm was heard, on whichever device."""

    kind: Literal["heard"] = "heard"
    alarm: Annotated[str, Field(max_length=120)]


class ReadOff(Data):
    """By hand or from an instrument. surface_c, room_c, cup_c of the batch in its cup [degC], humidity
    [share],
    level_mm_m [mm per m, along and across], probe_c [degC]. step: of a cup, its batch's step.
    """

    kind: Literal["reading"] = "reading"
    what: Literal["surface_c", "room_c", "humidity", "level_along", "level_across", "probe_c", "cup_c"]
    value: float = Field(ge=-1000, le=5000)
    pour: int | None = Field(default=None, ge=1, le=500)
    by: Literal["hand", "instrument", "stand-in"] = "hand"
    step: StepId = ""


class Noted(Data):
    kind: Literal["note"] = "note"
    text: str = Field(min_length=1, max_length=NOTE_MOST)
    step: StepId = ""


class Pictured(Data):
    kind: Literal["photo"] = "photo"
    sha256: str = Field(pattern=r"^[0-9a-f]{64}$")
    step: StepId = ""


class Saw(Data):
    """What a camera over the piece saw, or a photo in low side light shows. words: as they were told; rings:
    somebody has to hear of it; urgent: it burns or runs out. marks: in the picture, each a circle
    (x, y, radius) or a line (x, y, x, y) [px of it].
    """

    kind: Literal["saw"] = "saw"
    what: Label
    words: str = Field(min_length=1, max_length=400)
    rings: bool = True
    urgent: bool = False
    sure: bool = True
    sha256: str = Field(default="", pattern=r"^([0-9a-f]{64})?$")
    marks: Annotated[
        list[Annotated[list[float], Field(min_length=3, max_length=4)]], Field(max_length=60)
    ] = []
    size: tuple[int, int] | None = None


class MishapBegun(Data):
    kind: Literal["mishap"] = "mishap"
    code: Label


class MishapOver(Data):
    kind: Literal["mishap-over"] = "mishap-over"
    event_id: UUID


class Pace(Data):
    """The cure of this pour runs so many times as long as predicted: its later windows move."""

    kind: Literal["pace"] = "pace"
    pour: int = Field(ge=1, le=500)
    times: float = Field(gt=0.2, lt=5)
    why: str = Field(default="", max_length=400)


class Attach(Data):
    """The probe logger lies in this piece from now on; pour None: it was taken out."""

    kind: Literal["attach"] = "attach"
    pour: int | None = Field(default=None, ge=1, le=500)


class Amount(Data):
    """What was weighed or measured besides the plan [SI]. of: the batch's step, the cup, the wood or the part
    it belongs to.

    residue_kg: left in the cup; leftover_kg: mixed and not needed; film_m: as it came out; soak_m3_m2: drunk
    by the wood; scale_ratio: shown over true of
    a known weight; pump_a_kg, pump_b_kg: one stroke; hours_s: hands at the bench in all; wall_m: thickness
    left after turning
    """

    kind: Literal["amount"] = "amount"
    what: Literal[
        "residue_kg",
        "leftover_kg",
        "film_m",
        "soak_m3_m2",
        "scale_ratio",
        "pump_a_kg",
        "pump_b_kg",
        "hours_s",
        "wall_m",
    ]
    value: float = Field(ge=0, le=1e6)
    of: Label = ""
    as_typed: Label = ""


class GateTested(Data):
    """Readiness for a step of finishing, by its own test."""

    kind: Literal["gate"] = "gate"
    gate: Label
    pour: int = Field(ge=1, le=500)
    result: Literal["passed", "not passed", "not sure"]


class Rated(Data):
    """What the maker thinks of it, and what they would change."""

    kind: Literal["rating"] = "rating"
    stars: int = Field(ge=1, le=5)
    text: str = Field(default="", max_length=NOTE_MOST)


class Troubled(Data):
    """What went wrong, what it came from as far as anybody knows, and the way back that was taken."""

    kind: Literal["trouble"] = "trouble"
    code: Label
    cause: Label = ""
    back: Label = ""


class EndRun(Data):
    kind: Literal["end"] = "end"
    how: Literal["finished", "given up"]


RunEvent = Annotated[
    BeginStep
    | DoneStep
    | WeighedByHand
    | SkipStep
    | Tested
    | UndoEvent
    | LaterStep
    | Heard
    | ReadOff
    | Noted
    | Pictured
    | Saw
    | MishapBegun
    | MishapOver
    | Pace
    | Attach
    | Amount
    | GateTested
    | Rated
    | Troubled
    | EndRun,
    Field(discriminator="kind"),
]


class Sent(Data):
    """An event as a device sends it. entered: its moment was typed by a person, for what was done before.
    seq: the
    device's own count. at: its estimate of the server's moment.
    device_at: its own clock, kept, never used.
    """

    event_id: UUID
    device: UUID
    seq: int = Field(ge=1, le=2**53)
    at: AwareDatetime
    device_at: AwareDatetime
    who: Label = ""
    entered: bool = False
    event: RunEvent


class Kept(Data):
    """An event of the record, in the order it counts. doubted: the device's moment could not be right, the
    server's receipt stands.
    """

    number: int
    event_id: UUID
    device: UUID
    seq: int
    at: datetime
    received_at: datetime
    who: str
    doubted: bool
    entered: bool = False
    event: RunEvent


AHEAD_S = 5.0  # a device's estimate may run this far ahead of the receipt before it is doubted


def _to_ms(moment: datetime) -> datetime:
    """Browsers know milliseconds; both folds have to see the same moment."""
    return moment.replace(microsecond=moment.microsecond // 1000 * 1000)


def typed_moment(said: datetime, received: datetime) -> datetime:
    """The moment of what was entered afterwards: as it was typed, never later than now."""
    return min(_to_ms(said), _to_ms(received))


def settled(
    said: datetime,
    received: datetime,
    before: datetime | None,
    not_before: datetime,
    ahead_s: float = AHEAD_S,
) -> tuple[datetime, bool]:
    """The moment an event counts at, and whether the device's own was put aside.

    before      the settled moment of the same device's event before it, which it cannot precede
    not_before  when the run began
    An estimate from the future or from before the run is no moment at all: the server's receipt counts. One
    that runs back within its device's order
    is set to the one before.
    """
    said, received = _to_ms(said), _to_ms(received)
    if (said - received).total_seconds() > ahead_s or said < _to_ms(not_before):
        return max(received, before or received), True
    if before is not None and said < before:
        return before, True
    return min(said, received), False
