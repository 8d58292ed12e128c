"""The shape of a plan as it leaves the core: what the API sends, the store keeps and the drawings are made
from.
"""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from .measure.section import Section
from .mix.model import BatchPlan
from .survey.patches import Patch
from .survey.preparation import PrepStep
from .common.verdict import Stage, Verdict
from .common.working import Data, Figure, Working


class SpreadShare(Data):
    """How much one reading's spread puts the volume off either way, and its share of the whole band."""

    reading: str
    half: Figure
    share: float


class FormPlan(Data):
    """The liquid of the deepest layer against the form. freeboard: from the fill line to the top of the dam.
    dam_least: wanted above the rim.
    """

    pressure: Figure
    forces: list[Figure]
    dam_least: Figure
    freeboard: Figure | None


class VoidPlan(Data):
    """volume: of one hollow to its rim. net: resin in all of them to the fill line, inclusions deducted.
    band: half width of net.
    """

    void_id: str
    name: str
    count: int
    volume: Figure
    net: Figure
    displaced: Figure | None
    boxed: Figure | None = None
    band: Figure | None = None
    shares: list[SpreadShare] = []
    form: FormPlan | None = None


class FilmSchool(Data):
    """What a rule of thumb would lay on this area. times: against the wanted film. called: a film some sheets
    claim for it.
    """

    rule: str
    film: Figure
    volume: Figure
    times: float
    called: Figure | None = None


class CoatPlan(Data):
    """area: faces and edges of one. film: still to lay. net: on all of them."""

    coat_id: str
    name: str
    count: int
    area: Figure
    faces: Figure
    edges: Figure | None
    film: Figure
    net: Figure
    schools: list[FilmSchool] = []
    notch: Figure | None = None
    creep: Figure | None = None
    edge_film: Figure | None = None
    band: Figure | None = None
    shares: list[SpreadShare] = []


class Corner(Data):
    name: str
    height: Figure
    shim: Figure


class LevelPlan(Data):
    """Rise towards the far end and the right side, what to put under each corner, and the freeboard that is
    left.
    """

    along: Figure
    across: Figure
    corners: list[Corner]
    swing: Figure | None
    freeboard: Figure | None
    overflow: Figure | None


class ReadyItem(Data):
    code: str
    text: str
    is_done: bool


class SurveyPlan(Data):
    """expected_moisture: where the wood was not measured. lead_time: least time from the first open step to
    mixing.
    """

    expected_moisture: Figure | None
    dew_point: Figure
    margin: Figure
    steps: list[PrepStep]
    lead_time: Figure | None
    patches: list[Patch]
    ready: list[ReadyItem]


class Band(Data):
    """Of a peak [degC]: 10 to 90 % of refitted draws; over: share of them past what must never be."""

    low_c: float
    high_c: float
    over: float


class Early(Data):
    """Had the next layer been poured so long after this one: how hot it would have become [degC]."""

    after_s: float
    peak_c: float
    too_hot: bool
    runs_away: bool


class LayerHeat(Data):
    """What is to become of one layer. Times count from its own pouring; None: not within two weeks.

    runs_away  past 100 degC: a class, no number to trust
    curve      (seconds after the first pour, hottest degC)
    early      what pouring the next one sooner would do
    room_to_c  of the layer that fails first: how warm the room may get before it passes what is wanted; None:
               another layer, or over 15 K more
    """

    peak: Figure
    runs_away: bool
    peak_s: float
    poured_s: float
    below_c: float | None
    gel_first_s: float | None
    gel_last_s: float | None
    opens_s: float | None
    closes_s: float | None
    demould_s: float | None
    wanted_c: float
    never_c: float
    curve: list[tuple[float, float]]
    early: list[Early] = []
    room_to_c: float | None = None


class HeatMap(Data):
    """State over height and time for drawing: times [s from the first pour], heights [m], degC and cure (0 to
    100) by time then height.
    """

    void_id: str
    times_s: list[float]
    heights_m: list[float]
    temperature_c: list[list[float]]
    cure: list[list[int]]


class LayerPlan(Data):
    """One layer of one void. volume and mass: of one cavity."""

    void_id: str
    portion_id: str
    system_id: str
    colour: str
    number: int
    from_m: float
    to_m: float
    depth: Figure
    volume: Figure
    mass: Figure
    allowed: Figure
    limited_by: str
    is_allowed: bool
    heat: LayerHeat | None = None


class Allowance(Data):
    """One line of what goes missing: its volume and its share of the net volume."""

    code: Literal["soak", "shrinkage", "overfill", "runoff", "residue", "reserve"]
    name: str
    volume: Figure
    share: float


class PourPlan(Data):
    """called: "pour 2" or "coat 1", as a person would. spare: stock for making it once more is reserved."""

    number: int
    called: str
    layers: list[LayerPlan]
    net: Figure
    need: Figure
    mass: Figure
    allowances: list[Allowance]
    batches: list[BatchPlan]
    spare: bool = False


class Segment(Data):
    state: Literal["mix", "workable", "liquid", "setting", "bond", "closed", "demould"]
    label: str
    from_at: datetime
    to_at: datetime


class Pin(Data):
    """A hands-on moment. why: the rule and the origin of its times in words."""

    at: datetime
    until: datetime | None
    label: str
    kind: Literal["pour", "coat", "sand", "demould"]
    why: str


class PourWindow(Data):
    """What the clock knows of one pour: hands for mixing and pouring, and its windows in seconds after it was
    poured.
    """

    pour: int
    mix_s: float
    pour_s: float
    opens_s: float
    closes_s: float
    demould_s: float
    cured_s: float
    mix_at: datetime
    bonded: bool
    computed: bool


class ClockStep(Data):
    """One thing to do. at: the first moment in its window at which hands are there; None: nobody is. latest
    None: it may wait.

    pour: which one it belongs to; None before the first. with_cure: its window follows the cure, not the
    clock on the wall.
    """

    code: str
    kind: Literal["prepare", "pour", "defoam", "watch", "form", "test", "finish"]
    title: str
    text: str
    why: str
    rule: str
    pour: int | None
    earliest: datetime
    latest: datetime | None
    at: datetime | None
    hands_s: float
    tools: str
    with_cure: bool = False


class Row(Data):
    label: str
    segments: list[Segment]


class Clock(Data):
    """from_at to to_at is what the axis shows; away are the spans nobody is there."""

    from_at: datetime
    to_at: datetime
    zone: str
    away: list[tuple[datetime, datetime]]
    rows: list[Row]
    pins: list[Pin]


class Totals(Data):
    """band: how far off `net` may be either way, from the spreads that were given; again: the reading that
    matters most.
    """

    net: Figure | None = None
    band: Figure | None = None
    again: str = ""
    need: Figure | None = None
    mass: Figure | None = None
    pours: int = 0
    layers: int = 0
    coats: int = 0
    batches: int = 0
    visits: int = 0
    hands_on: Figure | None = None
    cost: Figure | None = None
    allowances: list[Allowance] = []
    out_of_form_at: datetime | None = None
    ready_at: datetime | None = None
    depths_m: list[float] = []


class StageState(Data):
    stage: Stage
    state: Literal["settled", "needs you", "stops", "later"]
    summary: str
    reason: str


class Plan(Data):
    """learned_pace: by system, the times as long that were learned and are in all of this plan's windows and
    curves.
    """

    made_at: datetime
    start_at: datetime | None
    start_is_chosen: bool
    layering: str
    survey: SurveyPlan | None = None
    voids: list[VoidPlan]
    coats: list[CoatPlan] = []
    level: LevelPlan | None = None
    sections: list[Section]
    pours: list[PourPlan]
    heat_maps: list[HeatMap] = []
    heat_notes: list[str] = []
    clock: Clock | None
    steps: list[ClockStep] = []
    windows: list[PourWindow] = []
    prepared_at: datetime | None = None
    totals: Totals
    verdicts: list[Verdict]
    stages: list[StageState]
    cautions: list[str]
    typical: dict[str, list[str]]
    learned_pace: dict[str, float] = {}
    workings: dict[str, Working]


class Option(Data):
    """One way to split, worked out in full: what it would take, or why it is not offered."""

    choice: Literal["fewest", "coolest", "soonest", "even", "thirds", "own"]
    title: str
    offered: bool
    reason: str
    pours: int
    depths_m: list[float]
    visits: int
    hands_on_s: float
    out_of_form_at: datetime | None
    sanded: int
    peak_c: float | None = None
    too_hot: bool = False
    runs_away: bool = False
