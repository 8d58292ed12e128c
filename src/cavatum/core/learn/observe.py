"""What one run says of each factor. Only what was measured speaks; a run whose plan already used a learned
value speaks of the same truth.
"""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime
from typing import NamedTuple

from ..common.plain_numbers import plainly
from ..common.working import Data
from ..common.workshop import USUAL_WASTE, waste_key
from ..layers.paces import slowness
from .factors import LEFTOVER_TYPICAL, SOAK_TYPICAL_M3_M2, FactorCode
from .record_model import BatchRecord, PourRecord, RunRecord, TestRecord

RESIDUE_SHARE, RESIDUE_KG = (
    USUAL_WASTE[0],
    0.0044,
)  # what usually stays in a cup: 2 % and 4 mL, common practice


class Observation(Data):
    """One run's word on one factor. key: which resin, wood or part; centre: the typical value it is compared
    with.
    """

    code: FactorCode
    key: str
    called: str
    centre: float
    value: float
    run_id: int
    at: datetime
    says: str


class _Word(NamedTuple):
    """One measured factor, in words what it rests on; centre: what is usual."""

    code: FactorCode
    key: str
    called: str
    centre: float
    value: float
    says: str


def _of_batches(record: RunRecord) -> Iterator[_Word]:
    for batch in record.batches:
        if batch.residue_kg is None:
            continue
        usual = RESIDUE_SHARE * (batch.weighed_kg or batch.planned_kg) + RESIDUE_KG
        stayed = f"{plainly(batch.residue_kg * 1000, 3)} g stayed in the cup"
        says = f"{stayed}, {plainly(usual * 1000, 3)} g is usual"
        yield _Word("waste", *_cup_of(batch), 1.0, batch.residue_kg / usual, says)


def _cup_of(batch: BatchRecord) -> tuple[str, str]:
    """Which resin, cup and way of scraping what stays belongs to, as a key and in words; nothing where the
    record
    does not say.
    """
    if batch.cup_m3 is None or not batch.scrape:
        return "", "every cup"
    millilitres = round(batch.cup_m3 * 1e6)
    return waste_key(batch.system_id, batch.cup_m3, batch.scrape), (
        f"{batch.system}, cup of {millilitres} mL, {batch.scrape}"
    )


def _of_pours(record: RunRecord) -> Iterator[_Word]:
    names = {one.system_id: one.system for one in record.batches}
    for pour in record.pours:
        mine = [one for one in record.batches if one.pour == pour.pour]
        if not mine:
            continue
        system, film = mine[0].system_id, _film(record, pour, mine)
        if film is not None:
            says = f"{film:.2f} of the {plainly(pour.depth_m * 1000, 2)} mm planned"
            yield _Word("film", system, mine[0].system, 1.0, film, says)
        if (pace := _pace(record, pour)) is not None:
            yield _Word("pace", system, names[system], 1.0, pace[0], pace[1])


def _of_run(record: RunRecord) -> Iterator[_Word]:
    if record.leftover_kg is not None and record.used_kg:
        share = record.leftover_kg / record.used_kg
        says = f"{plainly(record.leftover_kg * 1000, 3)} g of {plainly(record.used_kg, 3)} kg"
        yield _Word("leftover", "", "all of it", LEFTOVER_TYPICAL, share, says)


def _of_amounts(record: RunRecord) -> Iterator[_Word]:
    for one in record.amounts:
        if one.what == "soak_m3_m2":
            typical = SOAK_TYPICAL_M3_M2.get(one.of, SOAK_TYPICAL_M3_M2["open"])
            called, says = one.of or "open-pored wood", f"{plainly(one.value * 1e6, 3)} mL/m²"
            yield _Word("soak", one.of or "open", called, typical, one.value, says)
        elif one.what == "scale_ratio":
            says = f"showed {one.value:.4f} of a known weight"
            yield _Word("scale", "", "the scale", 1.0, one.value, says)
        elif one.what in ("pump_a_kg", "pump_b_kg"):
            part, says = one.what[5].upper(), f"{plainly(one.value * 1000, 3)} g a stroke"
            yield _Word("pump", f"{one.of}/{part}", f"part {part}", one.value, one.value, says)


def observe(record: RunRecord) -> list[Observation]:
    """All that this run can say; at most one word on each factor and key, the mean where it was measured
    several times.
    """
    said = [*_of_batches(record), *_of_pours(record), *_of_run(record), *_of_amounts(record)]
    found: dict[tuple[FactorCode, str], list[Observation]] = {}
    for one in said:
        found.setdefault((one.code, one.key), []).append(
            Observation(
                code=one.code,
                key=one.key,
                called=one.called,
                centre=one.centre,
                value=one.value,
                run_id=record.run_id,
                at=record.ended_at or record.begun_at,
                says=one.says,
            )
        )
    return [_mean(many) for many in found.values()]


def _mean(many: list[Observation]) -> Observation:
    if len(many) == 1:
        return many[0]
    value = sum(one.value for one in many) / len(many)
    return many[-1].model_copy(
        update={"value": value, "says": f"mean of {len(many)}: " + "; ".join(one.says for one in many[:4])}
    )


def _laid_kg(batch: BatchRecord) -> float | None:
    """What left the cup for the piece; None where it was not weighed."""
    if batch.weighed_kg is None or batch.residue_kg is None:
        return None
    return batch.weighed_kg - batch.residue_kg - (batch.leftover_kg or 0.0)


def _film(record: RunRecord, pour: PourRecord, batches: list[BatchRecord]) -> float | None:
    """Film over the planned one: by a comb where one was read, else by what was laid (_laid_kg)."""
    if not pour.is_coat:
        return None
    combs = [one.value for one in record.amounts if one.what == "film_m" and one.of in ("", f"p{pour.pour}")]
    return combs[-1] / pour.depth_m if combs else _film_by_weight(pour, batches)


def _film_by_weight(pour: PourRecord, batches: list[BatchRecord]) -> float | None:
    """By what was weighed less what stayed in cups and was left over, soaked in or dripped as planned. Where
    nobody says what was left over, all that the plan asked for was poured: its own word, which teaches
    nothing.
    """
    laid = [_laid_kg(one) for one in batches]
    known = [one for one in laid if one is not None]
    if not known or len(known) < len(laid) or all(one.leftover_kg is None for one in batches):
        return None
    used = sum(known) / pour.density_kg_m3
    return (used - pour.soak_m3) / pour.planned_m3 if used > pour.soak_m3 else None


def _pace(record: RunRecord, pour: PourRecord) -> tuple[float, str] | None:
    """Times as slow as the sheet says, whatever its plan had learned before: the resin's rate, read
    through the
    model from the time it took (a slower one warms itself less, so its times grow by more).

    By the readings' fit; else between the last test not passed and the first passed. One test passed at once
    only says "no later than".
    """
    if _badly_mixed(record, pour):
        return None
    if pour.pace is not None:
        slower = _slower(pour, "peak", pour.pace)
        said = f"{pour.pace:.2f} times as long as foretold, by its temperatures"
        return slower * pour.foretold_pace, f"{said}: {slower:.2f} times as slow"
    between = [
        (test.code, found)
        for test in record.tests
        if test.pour == pour.pour and (found := _between(test)) is not None
    ]
    if not between:
        return None
    code, (low, high, expected) = min(between, key=lambda one: one[1][1] / one[1][0])
    slower = _slower(pour, "recoat" if code in RECOAT else "demould", (low * high) ** 0.5 / expected)
    return (
        slower * pour.foretold_pace,
        f"not passed after {plainly(low / 3600, 3)} h, passed after {plainly(high / 3600, 3)} h, "
        f"{plainly(expected / 3600, 3)} h expected: {slower:.2f} times as slow",
    )


RECOAT = ("stick", "recoat")


def _slower(pour: PourRecord, gate: str, times: float) -> float:
    """The rate behind a time; the time itself where the pour's model is not at hand."""
    table = pour.slow_by.get(gate) or pour.slow_by.get("demould") or pour.slow_by.get("recoat")
    return slowness(table, times) if table else times


OFF_RATIO, STIR_SHORT = 0.02, 0.8  # as the debrief and Mend have it


def _badly_mixed(record: RunRecord, pour: PourRecord) -> bool:
    """Off its ratio or cut short in stirring: how long that takes is no word on the resin."""
    return any(
        (one.ratio_off is not None and abs(one.ratio_off) > OFF_RATIO)
        or (one.stir_s is not None and one.stir_s < STIR_SHORT * one.stir_planned_s)
        for one in record.batches
        if one.pour == pour.pour
    )


def _between(test: TestRecord) -> tuple[float, float, float] | None:
    if test.passed_s is None or test.expected_s <= 0:
        return None
    before = [at for at, result in test.tried if result != "passed" and at < test.passed_s]
    return (max(before), test.passed_s, test.expected_s) if before and max(before) > 0 else None
