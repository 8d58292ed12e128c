"""What measuring answers: voids, coats, the form and the level as figures."""

from __future__ import annotations

from ..common.working import Data, Figure


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
