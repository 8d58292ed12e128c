"""How large a surface is: its faces and its edges as they are cut. Rule 2.4."""

from __future__ import annotations

import math
from dataclasses import dataclass

from ..common.errors import DomainError, Infeasible
from ..common.plain_numbers import plainly
from ..common.readings import Length
from ..piece.coats import Board, Coat, Cup, Disc, Drawn, Skin, Staked, Surface
from ..piece.shapes import River
from .stations import river_hollow

ROUND_CORNERS = 2 * math.pi  # what the girth loses per metre that a smooth outline is drawn in
SHARPEST = 0.9  # of a half turn: a sharper corner of a traced outline is taken as smooth


@dataclass(frozen=True, kw_only=True)
class Extent:
    """Of one face and the edge round it as it is cut square [m2], and the words of how they come about.

    girth_m  round the face [m], 0 where there is none;  corners: how much girth goes per metre that the
    outline is drawn
    in;  boxed_m2  of the rectangle round it, the usual shortcut, None where that is no shortcut
    """

    face_m2: float
    edge_m2: float
    words: str
    girth_m: float = 0.0
    corners: float = ROUND_CORNERS
    boxed_m2: float | None = None


@dataclass(frozen=True, kw_only=True)
class Covered:
    """What a coat covers of one piece [m2]: its faces and its edge, and how the edge comes about in words."""

    faces_m2: float
    edge_m2: float
    edge_words: str = "girth × thickness"

    @property
    def area_m2(self) -> float:
        return self.faces_m2 + self.edge_m2


def covered(coat: Coat) -> Covered:
    """Faces and edge of one piece [m2] as the coat covers them.

    Over an outline of area A and girth P that loses k of its girth for each metre it is drawn in (2 pi
    where it is
    smooth, 8 of a rectangle), t thick, n faces:

        square      face A;  edge P t
        half-round  r = t / 2:  face A - P r + k r^2 / 2;  edge pi r P - k r^2 (pi - 2)
        bevelled    b, at 45 degrees:  face A - P b + k b^2 / 2;  edge P (t - n b) + n sqrt(2) (P b - k b^2
        / 2)

    Raises Infeasible where the edge is cut further than the piece is thick or wide, or nothing is left to
    cover.
    Exact for rectangles, discs and smooth outlines. Source: areas between parallel curves (Steiner 1840),
    integrated
    over the profile of the edge.
    """
    extent = extent_of(coat.surface)
    thick = thickness_of(coat)
    if thick is None or coat.edges == "none" or coat.edge_form == "square" or not extent.girth_m:
        return Covered(
            faces_m2=coat.faces * extent.face_m2, edge_m2=extent.edge_m2 if coat.edges == "all" else 0.0
        )
    girth, corners = extent.girth_m, extent.corners
    if coat.edge_form == "half-round":
        cut = thick / 2
        edge = math.pi * cut * girth - corners * cut**2 * (math.pi - 2)
        words = "half round: π × half the thickness × girth, less what the corners take"
    else:
        cut = coat.bevel_m.value if coat.bevel_m else 0.0
        bevels = coat.faces
        if not 0 < bevels * cut <= thick:
            raise Infeasible(
                argument="bevel",
                value=f"{plainly(cut * 1000)} mm",
                allowed=f"the edge is {plainly(thick * 1000)} mm thick, with {bevels} bevelled",
                way_out="Check the bevel.",
                code="no-room",
            )
        sloped = math.sqrt(2) * (girth * cut - corners * cut**2 / 2)
        edge = girth * (thick - bevels * cut) + bevels * sloped
        words = "girth × what is left upright, and the bevels at 45° developed"
    face = extent.face_m2 - girth * cut + corners * cut**2 / 2
    if face <= 0 or edge <= 0:
        raise Infeasible(
            argument="edge",
            value=f"cut {plainly(cut * 1000)} mm in",
            allowed="something is left of the face",
            way_out="Check the thickness, or take the edge as square.",
            code="no-room",
        )
    return Covered(faces_m2=coat.faces * face, edge_m2=edge, edge_words=words)


def thickness_of(coat: Coat) -> float | None:
    """At the edge [m]; None where the surface has no edge of its own, or nobody said.

    Raises nothing. Exact. Source: as typed.
    """
    thickness = getattr(coat.surface, "thickness_m", None)
    return None if thickness is None else float(thickness.value)


def extent_of(surface: Surface) -> Extent:
    """Face and edge area of one coated surface, its edge square.

        board     L W less W^2 (1 - pi/4) / 2 for each round end; edges: girth x thickness
        stations  widths summed along the stations, as a river has them; edges: both sides and ends x
        thickness
        cup       pi (R + r) s of the developed side, s the slant, less the bare band, and pi r^2 of the base
    Raises Infeasible where round ends are longer than the board, or the bare band higher than the cup;
    DomainError
    for stations out of order. Source: elementary geometry; Simpson's rule.
    """
    if isinstance(surface, Board):
        return _board(surface)
    if isinstance(surface, Disc):
        return _disc(surface)
    if isinstance(surface, Drawn):
        return _drawn(surface)
    if isinstance(surface, Staked):
        return _staked(surface)
    if isinstance(surface, Cup):
        return _cup(surface)
    if isinstance(surface, Skin):
        area = surface.whole_m2 if surface.part == "all of it" else surface.upward_m2
        return Extent(face_m2=area, edge_m2=0.0, words=f"triangles of the mesh added, {surface.part}")
    return Extent(face_m2=surface.area_m2.value, edge_m2=0.0, words="as stated")


def _board(board: Board) -> Extent:
    length, width, ends = board.length_m.value, board.width_m.value, board.round_ends
    if length < ends * width / 2:
        raise Infeasible(
            argument="round ends",
            value=f"{ends} of {plainly(width * 500)} mm radius",
            allowed=f"the board is only {plainly(length * 1000)} mm long",
            way_out="Check length and width.",
            code="no-room",
        )
    face = length * width - ends * width**2 * (1 - math.pi / 4) / 2
    girth = 2 * (length + width) - ends * width * (2 - math.pi / 2)
    words = "length × width" + (", round ends taken exactly" if ends else "") + "; edge girth × thickness"
    return Extent(
        face_m2=face,
        edge_m2=girth * board.thickness_m.value,
        words=words,
        girth_m=girth,
        corners=8 - ends * (4 - math.pi),
        boxed_m2=length * width if ends else None,
    )


def _disc(disc: Disc) -> Extent:
    radius = disc.diameter_m.value / 2
    girth = 2 * math.pi * radius
    return Extent(
        face_m2=math.pi * radius**2,
        edge_m2=girth * disc.thickness_m.value if disc.thickness_m else 0.0,
        words="π (diameter / 2)²; edge π × diameter × thickness",
        girth_m=girth,
        boxed_m2=disc.diameter_m.value**2,
    )


def _drawn(drawn: Drawn) -> Extent:
    from shapely.geometry.polygon import orient  # Shapely is slow to import and most pieces need none

    from .outline import checked_polygon

    polygon = orient(checked_polygon(drawn.points_m, drawn.holes_m))
    left, low, right, high = polygon.bounds
    return Extent(
        face_m2=polygon.area,
        edge_m2=polygon.length * drawn.thickness_m.value if drawn.thickness_m else 0.0,
        words="area of the outline; edge its length × thickness",
        girth_m=polygon.length,
        corners=sum(_corners(list(ring.coords)[:-1]) for ring in (polygon.exterior, *polygon.interiors)),
        boxed_m2=(right - left) * (high - low),
    )


def _corners(ring: list[tuple[float, float]]) -> float:
    """What a ring's length loses per metre that it is drawn in: the sum of 2 tan(turn / 2) over its
    corners, positive
    round an outline and negative round a hole, as its corners are walked with the stuff on the left.
    """
    total = 0.0
    for before, here, after in zip(ring[-1:] + ring[:-1], ring, ring[1:] + ring[:1], strict=True):
        first = math.atan2(here[1] - before[1], here[0] - before[0])
        second = math.atan2(after[1] - here[1], after[0] - here[0])
        turn = (second - first + math.pi) % (2 * math.pi) - math.pi
        total += turn if abs(turn) > SHARPEST * math.pi else 2 * math.tan(turn / 2)
    return total


def _staked(staked: Staked) -> Extent:
    thick = staked.thickness_m
    flat = river_hollow(River(stations=list(staked.stations), depth_m=Length(value=1.0)))
    ring = flat.rim()
    girth = sum(math.hypot(b[0] - a[0], b[1] - a[1]) for a, b in zip(ring, ring[1:] + ring[:1], strict=True))
    widest = max(one.width_m.value for one in staked.stations)
    return Extent(
        face_m2=flat.area(1.0),
        edge_m2=girth * thick.value if thick else 0.0,
        words=f"{flat.formula()[0].split(',')[0]}; edge both sides and ends × thickness",
        girth_m=girth,
        corners=8.0,
        boxed_m2=widest * (staked.stations[-1].at_m.value - staked.stations[0].at_m.value),
    )


def _cup(cup: Cup) -> Extent:
    rim, foot, height = cup.top_diameter_m.value / 2, cup.bottom_diameter_m.value / 2, cup.height_m.value
    slant = math.hypot(height, rim - foot)
    band = cup.bare_band_m.value if cup.bare_band_m else 0.0
    if band >= slant:
        raise Infeasible(
            argument="bare band",
            value=f"{plainly(band * 1000)} mm",
            allowed=f"the side is {plainly(slant * 1000, 4)} mm high",
            way_out="Check the band.",
            code="no-room",
        )
    at_band = rim + (foot - rim) * band / slant
    side = math.pi * (at_band + foot) * (slant - band)
    base = math.pi * foot**2 if cup.with_base else 0.0
    return Extent(
        face_m2=side + base,
        edge_m2=0.0,
        words="π (R + r) × slant of the developed side"
        + (", less the bare band" if band else "")
        + (", and π r² of the base" if base else ""),
    )


def check_soaks(coat: Coat, area_m2: float) -> None:
    """Raises DomainError where the parts that drink otherwise are larger together than the whole [m2]."""
    parts = sum(one.area_m2.value for one in coat.soaks)
    if parts > area_m2 * (1 + 1e-9):
        raise DomainError(
            argument="soaks",
            value=f"{plainly(parts, 4)} m² of parts that drink otherwise",
            allowed=f"{coat.name} is {plainly(area_m2, 4)} m² in all",
            way_out="Correct the areas.",
            code="too-large",
        )
