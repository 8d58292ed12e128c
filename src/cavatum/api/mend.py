"""Mend: what is seen, what it comes from by this very record, and the way back as a plan of its own."""

from __future__ import annotations

from pydantic import BaseModel, Field

from ..core.common.readings import Area, Length, Volume
from ..core.common.wording import Wording, rendered
from ..core.mend.diagnose import Ranked, commonest, diagnose, trouble_of
from ..core.mend.evidence import Shown
from ..core.mend.way_back import FILM_M, mending_piece, way_of
from ..core.practice.mishaps import MISHAPS
from ..core.practice.troubles import CAUSES, FACTS, TROUBLES
from ..core.practice.ways_back import WAYS
from ..services.mend import shown_by_run
from ..store import pieces, systems, workshops
from .answers import RouteAnswer
from .context import transaction, workshop_id
from .operations import Blueprint
from .pieces import PiecePath

blueprint = Blueprint("mend")


class AskedAnswer(BaseModel):
    code: str
    words: str


class AskedQuestion(BaseModel):
    code: str
    ask: str
    answers: list[AskedAnswer]


class TroubleRow(BaseModel):
    """facts: that can speak in this trouble, with their words."""

    code: str
    title: str
    look: str
    questions: list[AskedQuestion]
    facts: list[AskedAnswer]


class MendTable(BaseModel):
    troubles: list[TroubleRow]


class DiagnoseBody(BaseModel):
    """facts: what the person tells besides; run_id: the run whose record speaks too; not_so: facts of the
    record that the person knows better.
    """

    trouble: str = Field(max_length=40)
    answers: dict[str, str] = Field(default={}, max_length=10)
    facts: list[str] = Field(default=[], max_length=60)
    not_so: list[str] = Field(default=[], max_length=60)
    run_id: int | None = Field(default=None, ge=1, le=2**62)


class BackStepAnswer(BaseModel):
    code: str
    title: str
    text: str
    why: str
    wait_s: float
    caution: str


class WayAnswer(BaseModel):
    code: str
    title: str
    honest: str
    resin: str
    steps: list[BackStepAnswer]


class DiagnoseAnswer(BaseModel):
    """now: first steps while the pour still runs, empty when none does. film_m: of a new coat unless said."""

    ranked: list[Ranked]
    shown: list[Shown]
    ways: list[WayAnswer]
    now: list[str]
    rests_on: str
    film_m: float


class MendBody(BaseModel):
    trouble: str = Field(max_length=40)
    cause: str = Field(max_length=40)
    back: str = Field(max_length=40)
    run_id: int | None = Field(default=None, ge=1, le=2**62)
    area_m2: Area | None = None
    film_m: Length | None = None
    volume_m3: Volume | None = None
    depth_m: Length | None = None


class MendAnswer(BaseModel):
    """needs_system: its resin is still to be chosen."""

    piece_id: int
    needs_system: bool


@blueprint.get("/mend", operation_id="readMendTable", responses={200: MendTable})
def read_table() -> RouteAnswer:
    rows = []
    for one in TROUBLES:
        facts = sorted(
            {fact for link in one.links for fact in CAUSES[link.cause].facts}, key=list(FACTS).index
        )
        rows.append(
            TroubleRow(
                code=one.code,
                title=one.title,
                look=one.look,
                facts=[AskedAnswer(code=fact, words=FACTS[fact]) for fact in facts],
                questions=[
                    AskedQuestion(
                        code=q.code,
                        ask=q.ask,
                        answers=[AskedAnswer(code=code, words=words) for code, words in q.answers],
                    )
                    for q in one.questions
                ],
            )
        )
    return MendTable(troubles=rows).model_dump(mode="json")


@blueprint.post("/mend/diagnose", operation_id="diagnose", responses={200: DiagnoseAnswer})
def find_cause(body: DiagnoseBody) -> RouteAnswer:
    """Causes with their shares and what spoke for each; nothing is kept."""
    with transaction() as connection:
        shop = workshop_id(connection)
        shown, is_open = shown_by_run(connection, shop, body.run_id)
    facts = {one.fact for one in shown if one.fact not in body.not_so} | set(body.facts)
    ranked = diagnose(body.trouble, body.answers, sorted(facts))
    words = (
        f"{_count(len(body.answers), 'answer')} and {_count(len(facts), 'fact')}; without any, the "
        f"commonest would be: {_title(commonest(body.trouble))}"
    )
    first = next(
        (list(one.first) for one in MISHAPS if is_open and one.code == trouble_of(body.trouble).mishap), []
    )
    return DiagnoseAnswer(
        ranked=ranked,
        shown=shown,
        ways=[
            _way(code) for code in dict.fromkeys(code for one in ranked for code in (one.back, *one.schools))
        ],
        now=first,
        rests_on=words,
        film_m=FILM_M,
    ).model_dump(mode="json")


def _count(number: int, one: str) -> str:
    return f"{number} {one}{'' if number == 1 else 's'}"


def _title(cause: str) -> str:
    return CAUSES[cause].title.lower()


def _way(code: str) -> WayAnswer:
    way = WAYS[code]
    return WayAnswer(
        code=way.code,
        title=way.title,
        honest=way.honest,
        resin=way.resin,
        steps=[
            BackStepAnswer(
                code=one.code,
                title=one.title,
                text=one.text,
                why=one.why,
                wait_s=one.wait_s,
                caution=one.caution,
            )
            for one in way.steps
        ],
    )


@blueprint.post("/pieces/<int:piece_id>/mend", operation_id="planMending", responses={201: MendAnswer})
def plan_mending(path: PiecePath, body: MendBody) -> RouteAnswer:
    """The way back as a piece of its own, planned from now on like any other: steps with their waits, resin
    with its batches and windows.
    """
    way = way_of(body.back)
    with transaction() as connection:
        shop = workshop_id(connection)
        stored = pieces.read(connection, shop, path.piece_id)
        made = mending_piece(
            stored.piece,
            stored.id,
            body.run_id,
            body.trouble,
            body.cause,
            body.back,
            area_m2=body.area_m2,
            film_m=body.film_m,
            volume_m3=body.volume_m3,
            depth_m=body.depth_m,
            system=systems.newest(connection, shop).get(stored.piece.system_id or ""),
        )
        said = rendered(made, Wording(workshops.read(connection, shop)))
        kept = pieces.create(connection, shop, said, f"to mend {stored.piece.name}")
    return MendAnswer(
        piece_id=kept.id, needs_system=bool(way.resin) and kept.piece.system_id is None
    ).model_dump(mode="json"), 201
