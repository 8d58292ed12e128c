"""What the record of a run shows that speaks for one cause or another: facts of practice/troubles.py, each
with the figure it rests on. Rule 10.
"""

from __future__ import annotations

from collections.abc import Mapping

from ..common.wording import Wording
from ..common.working import Data
from ..learn.record_model import BatchRecord, RunRecord
from ..measure.holddown import floats
from ..piece.document import Piece, Void
from ..piece.survey_findings import WOODS
from ..resin.ratio import ratio_of
from ..resin.system import System

OFF = 0.02  # as on the mixing card: what shows in the cure
STIR_SHORT = 0.8
WET = 0.12


class Shown(Data):
    """fact: of the table; says: the figure it rests on."""

    fact: str
    says: str


def shown_by(
    record: RunRecord, piece: Piece | None, sheets: Mapping[str, System], wording: Wording
) -> list[Shown]:
    """Facts in the order of the job. Nothing is claimed of what nobody wrote down, save that no weighing is
    in the record.
    """
    used = [sheets[one] for one in sorted({batch.system_id for batch in record.batches} & set(sheets))]
    found = [
        *_mixing(record, wording),
        *_room(record, used, wording),
        *_layers(record, wording),
        *_steps(record),
        *_seen(record),
    ]
    if piece is not None:
        found += _piece(piece, used, wording)
    once = {one.fact: one for one in reversed(found)}
    return list(reversed(once.values()))


def _batch(batch: BatchRecord, wording: Wording) -> list[Shown]:
    found: list[Shown] = []
    called = f"batch {batch.batch} of pour {batch.pour}"
    if batch.ratio_off is not None and abs(batch.ratio_off) > OFF:
        found.append(Shown(fact="ratio-off", says=f"{called}: {batch.ratio_off:+.1%}"))
    if batch.stir_s is not None and batch.stir_s < STIR_SHORT * batch.stir_planned_s:
        found.append(
            Shown(
                fact="stir-short",
                says=f"{called}: {wording.duration(batch.stir_s)} of "
                f"{wording.duration(batch.stir_planned_s)}",
            )
        )
    if batch.weighed_kg is not None and batch.weighed_kg < 0.95 * batch.planned_kg:
        found.append(
            Shown(
                fact="short-mix",
                says=f"{called}: {wording.mass(batch.weighed_kg)} of {wording.mass(batch.planned_kg)}",
            )
        )
    if batch.weighed_kg is not None and batch.weighed_kg > 1.1 * batch.planned_kg:
        found.append(
            Shown(
                fact="overfilled",
                says=f"{called}: {wording.mass(batch.weighed_kg)} for {wording.mass(batch.planned_kg)}",
            )
        )
    if batch.rested is False:
        found.append(Shown(fact="no-rest", says=f"{called}: its rest was left out"))
    return found


def _mixing(record: RunRecord, wording: Wording) -> list[Shown]:
    found = [shown for batch in record.batches for shown in _batch(batch, wording)]
    if record.batches and all(batch.weighed_kg is None for batch in record.batches):
        found.append(Shown(fact="ratio-unknown", says="no batch stood on the scale"))
    return found


def _room(record: RunRecord, used: list[System], wording: Wording) -> list[Shown]:
    found = []
    for sheet in used:
        if record.room_c < sheet.room_from_c.value:
            found.append(
                Shown(
                    fact="room-cold",
                    says=f"{wording.temperature(record.room_c)}, from "
                    f"{wording.temperature(sheet.room_from_c.value)} by the sheet",
                )
            )
        if record.room_c > sheet.room_to_c.value:
            found.append(
                Shown(
                    fact="room-warm",
                    says=f"{wording.temperature(record.room_c)}, up to "
                    f"{wording.temperature(sheet.room_to_c.value)} by the sheet",
                )
            )
        if sheet.cures_like == "fast-casting-polyurethane":
            found.append(Shown(fact="resin-polyurethane", says=sheet.name))
    return found


def _layers(record: RunRecord, wording: Wording) -> list[Shown]:
    found = []
    for pour in record.pours:
        if pour.depth_m > pour.allowed_m * 1.02:
            found.append(
                Shown(
                    fact="layer-deep",
                    says=f"{pour.called}: {wording.length(pour.depth_m)}, "
                    f"{wording.length(pour.allowed_m)} allowed",
                )
            )
        hottest = pour.peak_measured_c if pour.peak_measured_c is not None else pour.peak_predicted_c
        if hottest is not None and pour.peak_wanted_c is not None and hottest > pour.peak_wanted_c:
            word = "read" if pour.peak_measured_c is not None else "predicted"
            found.append(
                Shown(
                    fact="peak-over",
                    says=f"{pour.called}: {wording.temperature(hottest)} {word}, "
                    f"{wording.temperature(pour.peak_wanted_c)} wanted",
                )
            )
        if pour.late_s > 1800:
            found.append(
                Shown(
                    fact="recoat-late",
                    says=f"{pour.called}: {wording.duration(pour.late_s)} after its window",
                )
            )
        if pour.early_s > 1800:
            found.append(
                Shown(
                    fact="recoat-early",
                    says=f"{pour.called}: {wording.duration(pour.early_s)} before its window",
                )
            )
    return found


LEFT_OUT = {
    "stir-again": "second-cup-left-out",
    "round-1": "rounds-left-out",
    "round-2": "rounds-left-out",
    "round-3": "rounds-left-out",
    "leak-test": "leak-test-left-out",
    "seal": "not-sealed",
    "cover": "cover-left-out",
    "wipe": "not-wiped",
    "sand": "not-sanded",
    "underside-tape": "tape-left-out",
    "nail": "tested-early",
    "lid": "pressure-late",
    "rest": "no-rest",
}


def _steps(record: RunRecord) -> list[Shown]:
    found = [
        Shown(fact=LEFT_OUT[code], says=f"{code.replace('-', ' ')}: left out")
        for code in record.skipped
        if code in LEFT_OUT
    ]
    for test in record.tests:
        if test.code in ("nail", "harden") and test.passed_s is None and test.tried:
            found.append(Shown(fact="tested-early", says="its test was never passed"))
        if test.code in ("nail", "harden") and test.passed_s is not None:
            found.append(Shown(fact="tested-hard", says=f"{test.title}: passed"))
    return found


SEEN = ("landed", "bubbles", "leak", "creep", "float", "bare")


def _seen(record: RunRecord) -> list[Shown]:
    """What the camera was sure of and nobody took back."""
    return [
        Shown(fact=f"saw-{one.what}", says=one.words) for one in record.seen if one.what in SEEN and one.sure
    ]


def _without_wood(piece: Piece) -> list[Shown]:
    """Nothing in or round it that breathes: by its walls, by what the survey says it is made of, by what
    is in it."""
    walls = {one.wall for one in (*piece.voids, *piece.coats)}
    made_of = piece.survey.material if piece.survey else "not said"
    things = {thing.made_of for void in piece.voids for thing in void.inclusions}
    may_be = walls & {"wood", "other"} or made_of in WOODS or things & {None, "wood"}
    if not walls or may_be:
        return []
    return [Shown(fact="no-wood", says=f"walls: {', '.join(sorted(walls))}")]


def _wood(piece: Piece) -> list[Shown]:
    found, survey = [], piece.survey
    wooden = [one for one in piece.voids if one.wall == "wood"]
    if survey and survey.moisture and survey.moisture.value > WET:
        found.append(Shown(fact="wood-wet", says=f"{survey.moisture.value:.0%} measured"))
    if survey and wooden and survey.finish in ("bare", "not said") and "seal" not in survey.done:
        found.append(Shown(fact="not-sealed", says="bare wood, sealing never ticked"))
    if any(one.soak_m3_m2 is None for one in wooden):
        found.append(Shown(fact="soak-unknown", says="no soak was counted"))
    return found


CRATERS = ("silicone", "skin grease", "polish")  # what the survey finds that makes craters


def _ground(piece: Piece) -> list[Shown]:
    """What the survey found on it and nobody ticked as wiped."""
    survey = piece.survey
    if survey is not None and "wipe" in survey.done:
        return [Shown(fact="wiped", says="wiping ticked in the survey")]
    if survey is None:
        return []
    seen = [one for one in survey.found if one in CRATERS]
    return [Shown(fact="not-wiped", says=f"{', '.join(seen)} found, wiping never ticked")] if seen else []


def _piece(piece: Piece, used: list[System], wording: Wording) -> list[Shown]:
    found = [*_without_wood(piece), *_wood(piece), *_ground(piece)]
    things = [thing for void in piece.voids for thing in void.inclusions]
    if any(thing.is_hollow for thing in things):
        found.append(Shown(fact="hollow-thing", says="marked hollow"))
    found += _floating(piece, used, wording)
    if piece.level and max(abs(piece.level.pitch_deg.value), abs(piece.level.roll_deg.value)) > 0.3:
        found.append(
            Shown(
                fact="level-off",
                says=f"{piece.level.pitch_deg.value:+.1f}° along, {piece.level.roll_deg.value:+.1f}° across",
            )
        )
    return found


def _floating(piece: Piece, used: list[System], wording: Wording) -> list[Shown]:
    """What lies loose in a resin it floats in, by the density of the mix that was used there."""
    for void in piece.voids:
        mixed = _heaviest_mix(piece, void, used)
        for thing in void.inclusions if mixed else ():
            own = thing.density_kg_m3
            if own and not thing.held_down and floats(mixed, own.value):
                says = f"{thing.name}: {wording.density(own.value)}, in a mix of {wording.density(mixed)}"
                return [Shown(fact="not-held", says=f"{says}, and not held down")]
    return []


def _heaviest_mix(piece: Piece, void: Void, used: list[System]) -> float:
    """Density [kg/m3] of the heaviest mix that fills a void; 0 where none of its sheets was used."""
    named = {portion.system_id or piece.system_id for portion in void.portions}
    mixes = [ratio_of(one).mixed_density for one in used if one.id in named and one.basis is not None]
    return max(mixes, default=0.0)
