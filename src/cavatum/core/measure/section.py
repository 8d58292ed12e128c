"""The section of a void as plain numbers: one drawing for screen, print and files. Lengths in metres, x from
the middle.
"""

from __future__ import annotations

from ..common.working import Data
from ..piece.parts import Inclusion
from .bodies import each_volume
from .cavity import Cavity

PROFILE_ROWS = 41


class SectionInclusion(Data):
    inclusion_id: str
    name: str
    count: int
    from_m: float
    to_m: float
    across_m: float


class Section(Data):
    """profile: rows of height and half width. `cut` true: a real cut; equivalent: as wide as area over
    length; coat: a film.

    cut_rings  closed rings of (across, height) where half widths do not tell the cut; drawn with the even-odd
               rule
    """

    void_id: str
    cut: str
    cut_note: str
    wall: str
    depth_m: float
    fill_m: float
    half_width_m: float
    profile: list[tuple[float, float]]
    cut_rings: list[list[tuple[float, float]]] = []
    plan_outline_m: list[tuple[float, float]]
    volume_table: list[tuple[float, float]]
    inclusions: list[SectionInclusion]


def section_of(cavity: Cavity) -> Section:
    hollow = cavity.hollow
    heights = [hollow.depth_m * i / (PROFILE_ROWS - 1) for i in range(PROFILE_ROWS)]
    profile = [(height, hollow.width(height) / 2) for height in heights]
    if cavity.fill_m > hollow.depth_m:
        profile.append((cavity.fill_m, profile[-1][1]))
    return Section(
        void_id=cavity.void.id,
        cut=hollow.cut,
        cut_note=hollow.cut_note,
        wall=cavity.void.wall,
        depth_m=hollow.depth_m,
        fill_m=cavity.fill_m,
        half_width_m=max(half for _, half in profile),
        profile=profile,
        cut_rings=hollow.cut_rings(),
        plan_outline_m=hollow.rim(),
        volume_table=cavity.table(),
        inclusions=[_drawn(thing) for thing in cavity.void.embedded],
    )


def _drawn(thing: Inclusion) -> SectionInclusion:
    """Each drawn as wide as a square pillar of its volume and height."""
    height = thing.to_m.value - thing.from_m.value
    return SectionInclusion(
        inclusion_id=thing.id,
        name=thing.name,
        count=thing.count,
        from_m=thing.from_m.value,
        to_m=thing.to_m.value,
        across_m=(each_volume(thing) / height) ** 0.5,
    )
