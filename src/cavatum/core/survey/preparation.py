"""What the survey calls for before the first pour: steps with their waits, as a table a maker can read. Rules
1.1 to 1.8.

Times are common practice without a source unless said. wait: until the next step may follow, least and most.
"""

from __future__ import annotations

from dataclasses import dataclass

from ..common.working import Data
from ..piece.coats import Board, Coat, Disc, Drawn, Staked
from ..piece.document import Piece, Void
from ..piece.survey_findings import POROUS, WOODS, Survey

MIN, H, DAY = 60.0, 3600.0, 86400.0


class PrepStep(Data):
    """One thing to do before mixing. wait_s: least and most time until the next; done when its code stands in
    survey.done.
    """

    code: str
    title: str
    text: str
    why: str
    rule: str
    wait_from_s: float
    wait_to_s: float | None = None
    is_done: bool = False


@dataclass(frozen=True, kw_only=True)
class _Row:
    code: str
    title: str
    text: str
    why: str
    rule: str
    wait_s: tuple[float, float | None]


TABLE: dict[str, _Row] = {
    row.code: row
    for row in (
        _Row(
            code="bark",
            title="Loose bark off",
            text="Take off all bark that moves, down to firm wood.",
            why="Bark that lets go later takes the resin with it.",
            rule="1.1",
            wait_s=(0, None),
        ),
        _Row(
            code="crevices",
            title="Clean the crevices",
            text="Air, pick and brush, then look with a lamp along the grain.",
            why="What is left in shows through clear resin for good.",
            rule="1.1",
            wait_s=(0, None),
        ),
        _Row(
            code="paint-dry",
            title="Let the paint dry through",
            text="Thick acrylic takes about three weeks.",
            why="Paint that still gives off water or softener lifts or wrinkles.",
            rule="1.2",
            wait_s=(21 * DAY, None),
        ),
        _Row(
            code="dry-after-water",
            title="Dry after washing",
            text="Air on all sides.",
            why="Water in the pores turns resin milky and foams.",
            rule="1.2",
            wait_s=(24 * H, None),
        ),
        _Row(
            code="ink-dry",
            title="Let the ink dry",
            text="One to two hours, longer in a cold room.",
            why="Wet ink bleeds into the coat.",
            rule="1.2",
            wait_s=(1 * H, 2 * H),
        ),
        _Row(
            code="wipe",
            title="Wipe and alcohol",
            text="Wipe dry, then alcohol with a clean cloth in both directions, edges too. No flame near it.",
            why="Silicone, skin grease and polish make craters (fish eyes).",
            rule="1.2",
            wait_s=(10 * MIN, 15 * MIN),
        ),
        _Row(
            code="warm-wood",
            title="Warm the wood",
            text="⟦65 to 70 °C⟧ for half an hour, shortly before a fast casting under pressure.",
            why="Dries the wood: fast resin foams on damp wood.",
            rule="1.3",
            wait_s=(30 * MIN, 30 * MIN),
        ),
        _Row(
            code="cool-wood",
            title="Let the wood cool",
            text="Back to the room's temperature before a slow resin.",
            why="Warm wood breathes out and blows bubbles for hours.",
            rule="1.3",
            wait_s=(4 * H, None),
        ),
        _Row(
            code="seal",
            title="Seal porous wood",
            text="A thin sealing coat on all that is porous and will be touched; again where it goes dull.",
            why="Open pores breathe bubbles into the pour.",
            rule="1.3",
            wait_s=(4.5 * H, 9 * H),
        ),
        _Row(
            code="patch",
            title="Close what goes through",
            text="Tape three to four times as wide as the hole in two or three layers, or board with glossy "
            "tape and a ring of sealant inside, a bead outside.",
            why="Resin finds every hole for hours.",
            rule="1.5",
            wait_s=(0, None),
        ),
        _Row(
            code="dam",
            title="Set the dam",
            text="Above every void that is overfilled; sealant cured before the leak test.",
            why="Overfill needs something to stand against.",
            rule="1.5",
            wait_s=(1 * H, None),
        ),
        _Row(
            code="leak-test",
            title="Leak test with water",
            text="Fill, mark the level, wait half an hour, empty.",
            why="A leak found now costs water, not resin.",
            rule="2.8",
            wait_s=(30 * MIN, None),
        ),
        _Row(
            code="leak-dry",
            title="Dry after the leak test",
            text="Wipe out, air on all sides, overnight for wood.",
            why="What stays wet turns milky.",
            rule="2.8",
            wait_s=(12 * H, None),
        ),
        _Row(
            code="release",
            title="Release tape or agent",
            text="All of the form that touches resin; wood that stays is left free.",
            why="Resin is a glue.",
            rule="2.8",
            wait_s=(0, None),
        ),
        _Row(
            code="warm-room",
            title="Bring the room to temperature",
            text="Room and piece the day before, ⟦22 to 24 °C⟧, and steady.",
            why="A cold piece cools the resin from below.",
            rule="1.6",
            wait_s=(24 * H, None),
        ),
        _Row(
            code="warm-bottles",
            title="Warm the bottles",
            text="Closed, 10 to 15 min in warm water; dry them before you open them.",
            why="Cold resin holds its bubbles.",
            rule="1.6",
            wait_s=(10 * MIN, 15 * MIN),
        ),
        _Row(
            code="underside-tape",
            title="Tape the underside",
            text="Along the lower edge where drips will hang.",
            why="Drips come off with the tape.",
            rule="1.8",
            wait_s=(0, None),
        ),
        _Row(
            code="edge-tape",
            title="Tape the edge",
            text="Round the face, pressed down all along, a little above the film that is wanted.",
            why="What is left bare stays clean, and the film has a straight end.",
            rule="1.8",
            wait_s=(0, None),
        ),
        _Row(
            code="coat-dam",
            title="Build the dam round it",
            text="Higher than the film, sealed along its foot; look for gaps with a lamp.",
            why="Over what an edge holds, resin runs off for an hour.",
            rule="2.9",
            wait_s=(30 * MIN, None),
        ),
        _Row(
            code="raise",
            title="Raise it off the bench",
            text="At least ⟦5 cm⟧ on cones, pins or cups, level, a catch sheet below.",
            why="Drips that hang together with the bench tear the edge.",
            rule="1.8",
            wait_s=(0, None),
        ),
        _Row(
            code="vent",
            title="Vent or fill what is hollow",
            text="A hole into every closed hollow, or fill it, or leave it out.",
            why="Under pressure it collapses, and on release it erupts.",
            rule="1.4",
            wait_s=(0, None),
        ),
    )
}


def steps_of(piece: Piece, *, fast: bool, under_pressure: bool) -> list[PrepStep]:
    """The steps that this survey calls for, in working order. fast: a resin worked in under an hour; without
    a survey none but those
    of a way back, which come first, and what coats need at their edges."""
    before = (
        [
            PrepStep(
                code=one.code,
                title=one.title,
                text=f"{one.text} {one.caution}".strip(),
                why=one.why,
                rule="10",
                wait_from_s=one.wait_s,
                is_done=one.code in piece.mend.done,
            )
            for one in piece.mend.steps
        ]
        if piece.mend
        else []
    )
    codes = _coat_codes(piece)
    done: set[str] = set()
    if piece.survey is not None:
        codes += [
            *_substrate_codes(piece.survey),
            *_wood_codes(piece, fast, under_pressure),
            *_form_codes(piece),
        ]
        done = set(piece.survey.done)
    return before + [_step(TABLE[code], code in done) for code in TABLE if code in codes]


def _step(row: _Row, is_done: bool) -> PrepStep:
    return PrepStep(
        code=row.code,
        title=row.title,
        text=row.text,
        why=row.why,
        rule=row.rule,
        wait_from_s=row.wait_s[0],
        wait_to_s=row.wait_s[1],
        is_done=is_done,
    )


def _substrate_codes(survey: Survey) -> list[str]:
    found, defects = set(survey.found), survey.defects
    wanted = {
        "warm-room": True,
        "warm-bottles": True,
        "bark": "loose bark" in found or any(one.kind == "bark" for one in defects),
        "crevices": "dust in crevices" in found or bool(defects),
        "paint-dry": survey.finish == "fresh acrylic paint",
        "ink-dry": survey.finish == "ink",
        "dry-after-water": "washed with water" in found,
        "wipe": bool({"silicone", "skin grease", "polish"} & found),
        "patch": any(one.treat == "patch" or one.is_through for one in defects),
    }
    return [code for code, is_wanted in wanted.items() if is_wanted]


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
    untested = any(not (void.form and void.form.leak_tested) for void in forms)
    wanted = {
        "leak-test": untested,
        "leak-dry": untested,
        "release": any(_may_stick(void) for void in forms),
        "dam": any(void.overfill_m and void.overfill_m.value > 0 for void in piece.voids),
    }
    return [code for code, is_wanted in wanted.items() if is_wanted]


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


def lead_time_s(steps: list[PrepStep]) -> float:
    """Least time [s] from the first open step to mixing, one after another; warming the room runs beside the
    others.
    """
    waits = [step.wait_from_s for step in steps if not step.is_done and step.code != "warm-room"]
    beside = max(
        (step.wait_from_s for step in steps if not step.is_done and step.code == "warm-room"), default=0.0
    )
    return max(sum(waits), beside)
