"""A cause found becomes a plan of its own: the steps of the way back with their waits, and the resin it takes
as voids or coats to be planned as any other.

A frozen plan never changes; so the way back is a new piece document that names the piece and the run it
mends.
"""

from __future__ import annotations

from ..common.errors import DomainError
from ..common.readings import Area, Length, Volume
from ..piece.coats import Coat, Stretch
from ..piece.document import Piece
from ..piece.lays import Lay
from ..piece.mending import Mend, MendStep
from ..piece.parts import Portion, Void
from ..piece.shapes import Stated
from ..piece.survey_findings import Survey
from ..practice.troubles import CAUSES
from ..practice.ways_back import WAYS, Back
from ..resin.system import System
from .diagnose import trouble_of

FILM_M = 0.0012  # a flood's middle (1.0-1.5 mm, common practice); shown as typical until changed


def way_of(code: str) -> Back:
    """Raises DomainError for a way that the table does not hold."""
    if code not in WAYS:
        raise DomainError(
            argument="way back",
            value=code,
            allowed="it is one of the table",
            way_out="Choose a cause first.",
            code="no-way",
        )
    return WAYS[code]


def mending_piece(
    piece: Piece,
    piece_id: int,
    run_id: int | None,
    trouble: str,
    cause: str,
    back: str,
    *,
    area_m2: Area | None = None,
    film_m: Length | None = None,
    volume_m3: Volume | None = None,
    depth_m: Length | None = None,
    system: System | None = None,
) -> Piece:
    """The plan of a way back as a piece document.

    area_m2, film_m   of a new coat; the film is typical (1.2 mm) unless given
    volume_m3, depth_m  to fill, and how deep at its deepest
    system            the piece's own; one that may not be laid so thin is left open, to be chosen
    Raises DomainError where the way back takes resin and its amount is not given, or trouble, cause or way
    are unknown.
    """
    way, found = way_of(back), trouble_of(trouble)
    if cause not in CAUSES:
        raise DomainError(
            argument="cause",
            value=cause,
            allowed="it is one of the table",
            way_out="Choose one of the causes.",
            code="no-cause",
        )
    steps = [
        MendStep(
            code=one.code,
            title=one.title,
            text=one.text,
            why=one.why,
            caution=one.caution,
            wait_s=one.wait_s,
            hands_s=one.hands_s,
        )
        for one in way.steps
    ]
    coats, voids = _resin(piece, way, area_m2, film_m, volume_m3, depth_m)
    mend = Mend(of_piece=piece_id, of_run=run_id, trouble=trouble, cause=cause, back=back, steps=steps)
    kind = "flood coat" if coats else "crack or knot" if voids else "other"
    return Piece(
        name=f"{piece.name}: {found.title.lower()}"[:120],
        for_whom=piece.for_whom,
        kind_of_work=kind,
        tint=piece.tint,
        system_id=None
        if coats and system and system.least_depth_m and system.least_depth_m.value > coats[0].film_m.value
        else piece.system_id,
        survey=Survey(material="cured resin", grain="not porous", finish="sealed"),
        coats=coats,
        voids=voids,
        mend=mend,
    )


def _once_more(coat: Coat, film_m: Length | None) -> Coat:
    """The piece's own last coat once more, all over, on what is cured."""
    last = coat.lays[-1]
    film = film_m or last.film_m or Length(value=FILM_M, origin="typical")
    lay = Lay(id="mend-coat-1", role="flood", film_m=film)
    return coat.model_copy(
        update={"id": "mend-coat", "name": "New coat", "lays": [lay], "grain": "not porous"}
    )


def _resin(
    piece: Piece,
    way: Back,
    area_m2: Area | None,
    film_m: Length | None,
    volume_m3: Volume | None,
    depth_m: Length | None,
) -> tuple[list[Coat], list[Void]]:
    """What the way back takes, as it is planned: a coat, a void, or nothing."""
    coats: list[Coat] = []
    voids: list[Void] = []
    wall = piece.voids[0].wall if piece.voids else piece.coats[-1].wall if piece.coats else "other"
    if way.resin == "coat":
        if area_m2 is None and piece.coats:
            return [_once_more(piece.coats[-1], film_m)], []  # the piece knows what it is coated on
        if area_m2 is None:
            raise DomainError(
                argument="area",
                value="not given",
                allowed="a new coat needs the area it covers",
                way_out="Measure the whole surface.",
                code="no-area",
            )
        film = film_m or Length(value=FILM_M, origin="typical")
        coats = [
            Coat(
                id="mend-coat",
                name="New coat",
                surface=Stretch(area_m2=area_m2),
                edges="none",
                lays=[Lay(id="mend-coat-1", role="flood", film_m=film)],
                wall="other",
                grain="not porous",
            )
        ]
    if way.resin == "fill":
        if volume_m3 is None or depth_m is None:
            raise DomainError(
                argument="volume",
                value="not given",
                allowed="filling needs a volume and a depth",
                way_out="Fill it with water from a syringe, or measure it.",
                code="no-volume",
            )
        shape = Stated(volume_m3=volume_m3, depth_m=depth_m, stated_by="measured for the way back")
        voids = [
            Void(
                id="mend-fill",
                name="What is to be filled",
                shape=shape,
                wall=wall,
                portions=[Portion(id="mend-fill-1")],
            )
        ]
    return coats, voids
