"""What a run's record holds. Rule 9.1. What nobody measured is None, never a guess."""

from __future__ import annotations

from datetime import datetime

from ..common.working import Data
from ..pour.events import Amount


class ColourUsed(Data):
    name: str
    kg: float


class BatchRecord(Data):
    """weighed_kg None: nothing stood on the scale for it. stir_s: as it was timed, None when nobody said."""

    pour: int
    batch: int
    system_id: str
    system: str
    planned_kg: float
    cup_m3: float | None = None
    scrape: str = ""
    weighed_kg: float | None = None
    ratio_off: float | None = None
    stir_planned_s: float
    stir_s: float | None = None
    rest_planned_s: float
    rested: bool | None = None
    lots: list[str] = []
    colours: list[ColourUsed] = []
    residue_kg: float | None = None
    leftover_kg: float | None = None


class PourRecord(Data):
    """late_s, early_s: mixed so long after or before its window. pace: times as long as predicted, by its
    readings.

    foretold_pace: what the plan had learned already, and its times have in them; slow_by: by gate, what a
    time
    says of the resin's rate (layers/paces.py)
    """

    pour: int
    called: str
    is_coat: bool
    poured_at: datetime | None
    planned_m3: float
    soak_m3: float
    density_kg_m3: float
    depth_m: float
    allowed_m: float
    late_s: float = 0.0
    early_s: float = 0.0
    peak_predicted_c: float | None = None
    peak_wanted_c: float | None = None
    peak_measured_c: float | None = None
    pace: float | None = None
    foretold_pace: float = 1.0
    slow_by: dict[str, list[tuple[float, float]]] = {}


class TestRecord(Data):
    """expected_s: after pouring, by the plan. tried: (s after pouring, result) in order. branch: which way an
    inspection went; found: what was seen.
    """

    __test__ = False  # not one of pytest's

    step: str
    code: str
    title: str
    pour: int
    expected_s: float
    tried: list[tuple[float, str]]
    passed_s: float | None
    skipped: bool
    branch: str = ""
    found: list[str] = []


class SeenRecord(Data):
    """What a camera saw, or a photo in low side light showed; marks in a picture of that size [px]."""

    what: str
    words: str
    at: datetime
    sure: bool = True
    sha256: str = ""
    marks: list[list[float]] = []
    size: tuple[int, int] | None = None


class RunRecord(Data):
    """used_kg: what was weighed, None unless every batch was. skipped: codes of steps left out, left_out:
    their titles; went_wrong: mishaps and
    troubles in words, each once."""

    run_id: int
    piece_id: int | None
    piece: str
    kind_of_work: str
    systems: list[str]
    begun_at: datetime
    ended_at: datetime | None
    how: str
    room_c: float
    planned_kg: float
    used_kg: float | None
    leftover_kg: float | None
    planned_hours_s: float | None
    hours_s: float | None
    cost_minor: float | None
    stars: int | None
    words: str
    batches: list[BatchRecord]
    pours: list[PourRecord]
    tests: list[TestRecord]
    amounts: list[Amount]
    mishaps: list[str]
    troubles: list[str]
    notes: list[str]
    photos: list[str]
    seen: list[SeenRecord] = []
    skipped: list[str]
    went_wrong: list[str]
    left_out: list[str]
    events: int
