"""What measuring answers: voids, coats, the form and the level as figures."""

from __future__ import annotations

from typing import Literal

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
    """What a rule of thumb would lay on this area. typed: as a coat takes it for its own, as a film or a
    rule.
    times: against the thickest coat. called: a film some sheets claim for it.
    """

    rule: str
    typed: str
    is_film: bool = False
    film: Figure
    volume: Figure
    times: float
    called: Figure | None = None


class Against(Data):
    """A coat beside what its maker goes by. over: how much more than that it takes [m3], short where
    negative; share of
    it; cost: what that is worth, None without prices.
    """

    words: str
    film: Figure
    over: Figure
    share: float
    cost: Figure | None = None


class LayPlan(Data):
    """One coat of a stack. numbers: which coats it is, counted from the first.

    mixed, mass: to mix for one of them on all the pieces. rule: what it is per area. says: what such a
    film is.
    """

    lay_id: str
    first: int
    times: int
    typed: Literal["film", "amount", "rule"]
    as_typed: str
    film: Figure
    mixed: Figure
    mass: Figure | None
    rule: str
    says: str
    against: Against | None = None


class CoatPlan(Data):
    """area: faces and edges of one. film: still to lay. net: on all of them. lays: coat by coat.

    boxed     the face as the rectangle round it, where that shortcut is off
    creep, creeps, thin  how fast the thickest coat creeps, how far until it gels, how wide a strip stays thin
    edge_film, edge_holds  what an upright edge keeps, and the thickest film that stands at one
    """

    coat_id: str
    name: str
    count: int
    area: Figure
    faces: Figure
    edges: Figure | None
    film: Figure
    net: Figure
    lays: list[LayPlan] = []
    boxed: Figure | None = None
    schools: list[FilmSchool] = []
    notch: Figure | None = None
    creep: Figure | None = None
    creeps: Figure | None = None
    thin: Figure | None = None
    edge_film: Figure | None = None
    edge_holds: Figure | None = None
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
