"""What the survey calls for before the first pour: steps with their waits. Rules
1.1 to 1.8.

Times are common practice without a source unless said. wait: until the next step may follow, least and most.
"""

from __future__ import annotations

from datetime import date, timedelta

from ..common.working import Data
from ..piece.coats import Board, Coat, Disc, Drawn, Staked
from ..piece.document import Piece, Void
from ..piece.survey_findings import POROUS, WOODS, Survey
from ..practice.preparing import DAY, TABLE, PrepRow
from ..practice.substrates import SUBSTRATES

HANDS_S = 15 * 60.0  # own judgement: hands for one step of a way back


class PrepStep(Data):
    """One thing to do before mixing. wait: least until what it holds may follow, most until mixing.
    over_on: a
    wait that goes on by itself is over on this day; done when its code stands in survey.done.
    """

    code: str
    title: str
    text: str
    why: str
    rule: str
    wait_from_s: float
    wait_to_s: float | None = None
    hands_s: float = HANDS_S
    holds: list[str] = []
    over_on: date | None = None
    is_done: bool = False


def steps_of(
    piece: Piece,
    *,
    fast: bool,
    under_pressure: bool,
    today: date | None = None,
    room_is_right: bool = False,
) -> list[PrepStep]:
    """The steps that this survey calls for, in working order. fast: a resin worked in under an hour; without
    a survey none but those
    of a way back, which come first, and what coats need at their edges. room_is_right: within what the sheets
    ask for, day and night: it needs no day to get warm."""
    before = (
        [
            PrepStep(
                code=one.code,
                title=one.title,
                text=f"{one.text} {one.caution}".strip(),
                why=one.why,
                rule="10",
                wait_from_s=one.wait_s,
                holds=[*(later.code for later in piece.mend.steps[place + 1 :]), *TABLE],
                is_done=one.code in piece.mend.done,
            )
            for place, one in enumerate(piece.mend.steps)
        ]
        if piece.mend
        else []
    )
    codes = _coat_codes(piece)
    done: set[str] = set()
    if piece.survey is not None:
        codes += [
            *_substrate_codes(piece.survey, today),
            *_wood_codes(piece, fast, under_pressure),
            *_form_codes(piece),
        ]
        done = set(piece.survey.done)
    if room_is_right:
        codes = [code for code in codes if code != "warm-room"]
    steps = [_step(TABLE[code], code in done) for code in TABLE if code in codes]
    return before + [_since_painted(one, piece.survey, today) for one in steps]


def _since_painted(step: PrepStep, survey: Survey | None, today: date | None) -> PrepStep:
    """Paint dries from the day it was laid on, not from today."""
    if step.code != "paint-dry" or survey is None or survey.painted_on is None or today is None:
        return step
    over_on = survey.painted_on + timedelta(seconds=step.wait_from_s)
    return step.model_copy(
        update={"wait_from_s": max((over_on - today).days, 0) * DAY, "over_on": over_on, "hands_s": 0.0}
    )


def _step(row: PrepRow, is_done: bool) -> PrepStep:
    return PrepStep(
        code=row.code,
        title=row.title,
        text=row.text,
        why=row.why,
        rule=row.rule,
        wait_from_s=row.wait_s[0],
        wait_to_s=row.wait_s[1],
        hands_s=row.hands_s,
        holds=list(row.holds),
        is_done=is_done,
    )


def _is_dry(survey: Survey, today: date | None) -> bool:
    """Acrylic paint whose weeks are over."""
    if survey.painted_on is None or today is None:
        return False
    return (today - survey.painted_on).days * DAY >= TABLE["paint-dry"].wait_s[0]


def _substrate_codes(survey: Survey, today: date | None) -> list[str]:
    found, defects = set(survey.found), survey.defects
    wanted = {
        "warm-room": True,
        "warm-bottles": True,
        "bark": "loose bark" in found or any(one.kind == "bark" for one in defects),
        "crevices": "dust in crevices" in found or bool(defects),
        "paint-dry": survey.finish == "fresh acrylic paint" and not _is_dry(survey, today),
        "ink-dry": survey.finish == "ink",
        "dry-after-water": "washed with water" in found,
        "wipe": bool({"silicone", "skin grease", "polish"} & found),
        "patch": any(one.treat == "patch" or one.is_through for one in defects),
    }
    own = SUBSTRATES.get(survey.material)
    return [code for code, is_wanted in wanted.items() if is_wanted] + list(own.prep if own else ())


def _wood_codes(piece: Piece, fast: bool, under_pressure: bool) -> list[str]:
    survey = piece.survey
    assert survey is not None
    things = [thing for void in piece.voids for thing in void.inclusions]
    wanted = {
        "seal": _drinks(survey),
        "warm-wood": survey.material in WOODS and fast and under_pressure,
        "cool-wood": "warm-wood" in survey.done and not fast,
        "vent": under_pressure and any(thing.is_hollow for thing in things),
    }
    return [code for code, is_wanted in wanted.items() if is_wanted]


def _drinks(survey: Survey) -> bool:
    """Bare and porous: it takes resin in and gives air out."""
    bare = survey.finish in ("bare", "not said")
    return bare and survey.material in WOODS | POROUS and survey.grain != "not porous"


def _form_codes(piece: Piece) -> list[str]:
    forms = [void for void in piece.voids if void.wall in ("board", "plastic", "wood", "metal", "glass")]
    untested = any(not (void.form and void.form.leak_tested) for void in forms) and not _holds(piece)
    wanted = {
        "leak-test": untested,
        "leak-dry": untested,
        "release": any(_may_stick(void) for void in forms),
        "scuff-resin": any(void.there_m for void in piece.voids),
        "dam": any(void.overfill_m and void.overfill_m.value > 0 for void in piece.voids),
    }
    return [code for code, is_wanted in wanted.items() if is_wanted]


def _holds(piece: Piece) -> bool:
    """What is mended held its resin before, unless a leak is what is mended: no water goes into it, least
    of all
    onto wood that was just opened.
    """
    return piece.mend is not None and not any(one.code == "close" for one in piece.mend.steps)


def _may_stick(void: Void) -> bool:
    """A form of something else than the piece's own wood, of which no release was said."""
    return void.wall != "wood" and (void.form is None or void.form.release == "not said")


def underside_school(piece: Piece) -> str:
    """What is done against drips: tape unless the survey says otherwise."""
    return (piece.survey or Survey()).underside_school


def has_edges(coat: Coat) -> bool:
    """Whether what is coated has an edge that resin can run over."""
    return isinstance(coat.surface, (Board, Disc, Drawn, Staked))


def coats_edges(coat: Coat) -> bool:
    return has_edges(coat) and coat.edges == "all"


def tapes_edges(coat: Coat) -> bool:
    """Whether tape is laid round the face: where the edge stays bare and nothing else was said."""
    return has_edges(coat) and coat.edges == "none" and coat.edge_way in ("not said", "taped")


def lays_tape(piece: Piece) -> bool:
    """Whether any tape is laid that has to be peeled again."""
    below = underside_school(piece) == "tape"
    return any(tapes_edges(coat) or (below and coats_edges(coat)) for coat in piece.coats)


def _coat_codes(piece: Piece) -> list[str]:
    """What coats need before mixing, surveyed or not."""
    wanted = {
        "edge-tape": any(tapes_edges(coat) for coat in piece.coats),
        "underside-tape": underside_school(piece) == "tape"
        and any(coats_edges(coat) for coat in piece.coats),
        "coat-dam": any(coat.edge_way == "dam" for coat in piece.coats),
        "raise": any(coats_edges(coat) for coat in piece.coats),
    }
    return [code for code, is_wanted in wanted.items() if is_wanted]


def longest_chain(steps: list[PrepStep]) -> list[PrepStep]:
    """The open steps that keep mixing waiting longest: each holds the next, all others go on beside them."""
    ways: dict[str, list[PrepStep]] = {}
    for step in (one for one in steps if not one.is_done):
        before = [way for way in ways.values() if step.code in way[-1].holds]
        ways[step.code] = [*max(before, key=_waits_s, default=[]), step]
    return max(ways.values(), key=_waits_s, default=[])


def _waits_s(way: list[PrepStep]) -> float:
    return sum(one.wait_from_s + one.hands_s for one in way)
