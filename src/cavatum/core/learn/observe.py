"""What one run says of each factor. Only what was measured speaks; a run whose plan already used a learned
value speaks of the same truth.
"""

from __future__ import annotations

from datetime import datetime

from ..common.plain_numbers import plainly
from ..common.working import Data
from .factors import LEFTOVER_TYPICAL, SOAK_TYPICAL_M3_M2, FactorCode
from .record import BatchRecord, PourRecord, RunRecord, TestRecord

RESIDUE_SHARE, RESIDUE_KG = 0.02, 0.0044  # what usually stays in a cup: 2 % and 4 mL, common practice


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


def observe(record: RunRecord) -> list[Observation]:
    """All that this run can say; at most one word on each factor and key, the mean where it was measured
    several times.
    """
    found: dict[tuple[FactorCode, str], list[Observation]] = {}

    def add(code: FactorCode, key: str, called: str, centre: float, value: float, says: str) -> None:
        found.setdefault((code, key), []).append(
            Observation(
                code=code,
                key=key,
                called=called,
                centre=centre,
                value=value,
                run_id=record.run_id,
                at=record.ended_at or record.begun_at,
                says=says,
            )
        )

    names = {one.system_id: one.system for one in record.batches}
    for batch in record.batches:
        if batch.residue_kg is not None:
            usual = RESIDUE_SHARE * (batch.weighed_kg or batch.planned_kg) + RESIDUE_KG
            add(
                "waste",
                "",
                "every cup",
                1.0,
                batch.residue_kg / usual,
                f"{plainly(batch.residue_kg * 1000, 3)} g stayed in the cup, {plainly(usual * 1000, 3)} "
                "g is usual",
            )
    for pour in record.pours:
        mine = [one for one in record.batches if one.pour == pour.pour]
        film = _film(record, pour, mine)
        if film is not None and mine:
            add(
                "film",
                mine[0].system_id,
                mine[0].system,
                1.0,
                film,
                f"{film:.2f} of the {plainly(pour.depth_m * 1000, 2)} mm planned",
            )
        if mine and (pace := _pace(record, pour)) is not None:
            add("pace", mine[0].system_id, names[mine[0].system_id], 1.0, pace[0], pace[1])
    if record.leftover_kg is not None and record.used_kg:
        add(
            "leftover",
            "",
            "all of it",
            LEFTOVER_TYPICAL,
            record.leftover_kg / record.used_kg,
            f"{plainly(record.leftover_kg * 1000, 3)} g of {plainly(record.used_kg, 3)} kg",
        )
    for one in record.amounts:
        if one.what == "soak_m3_m2":
            typical = SOAK_TYPICAL_M3_M2.get(one.of, SOAK_TYPICAL_M3_M2["open"])
            add(
                "soak",
                one.of or "open",
                one.of or "open-pored wood",
                typical,
                one.value,
                f"{plainly(one.value * 1e6, 3)} mL/m²",
            )
        elif one.what == "scale_ratio":
            add("scale", "", "the scale", 1.0, one.value, f"showed {one.value:.4f} of a known weight")
        elif one.what in ("pump_a_kg", "pump_b_kg"):
            add(
                "pump",
                f"{one.of}/{one.what[5].upper()}",
                f"part {one.what[5].upper()}",
                one.value,
                one.value,
                f"{plainly(one.value * 1000, 3)} g a stroke",
            )
    return [_mean(many) for many in found.values()]


def _mean(many: list[Observation]) -> Observation:
    if len(many) == 1:
        return many[0]
    value = sum(one.value for one in many) / len(many)
    return many[-1].model_copy(
        update={"value": value, "says": f"mean of {len(many)}: " + "; ".join(one.says for one in many[:4])}
    )


def _film(record: RunRecord, pour: PourRecord, batches: list[BatchRecord]) -> float | None:
    """Film over the planned one: by a comb where one was read, else by what was weighed less what stayed in
    cups, soaked in or dripped as planned.
    """
    if not pour.is_coat:
        return None
    combs = [one.value for one in record.amounts if one.what == "film_m" and one.of in ("", f"p{pour.pour}")]
    if combs:
        return combs[-1] / pour.depth_m
    if any(one.weighed_kg is None or one.residue_kg is None for one in batches) or not batches:
        return None
    used = (
        sum((one.weighed_kg or 0.0) - (one.residue_kg or 0.0) - (one.leftover_kg or 0.0) for one in batches)
        / pour.density_kg_m3
    )
    return (used - pour.soak_m3) / pour.planned_m3 if used > pour.soak_m3 else None


def _pace(record: RunRecord, pour: PourRecord) -> tuple[float, str] | None:
    """Times as long as the sheet says, whatever its plan had learned before.

    By the readings' fit; else between the last test not passed and the first passed. One test passed at once
    only says "no later than".
    """
    if pour.pace is not None:
        return (
            pour.pace * pour.foretold_pace,
            f"{pour.pace:.2f} times as long as foretold, by its temperatures",
        )
    between = [
        found for test in record.tests if test.pour == pour.pour and (found := _between(test)) is not None
    ]
    if not between:
        return None
    low, high, expected = min(between, key=lambda one: one[1] / one[0])
    value = (low * high) ** 0.5 / expected * pour.foretold_pace
    return (
        value,
        f"not passed after {plainly(low / 3600, 3)} h, passed after {plainly(high / 3600, 3)} h, "
        f"{plainly(expected / 3600, 3)} h "
        "expected",
    )


def _between(test: TestRecord) -> tuple[float, float, float] | None:
    if test.passed_s is None or test.expected_s <= 0:
        return None
    before = [at for at, result in test.tried if result != "passed" and at < test.passed_s]
    return (max(before), test.passed_s, test.expected_s) if before and max(before) > 0 else None
