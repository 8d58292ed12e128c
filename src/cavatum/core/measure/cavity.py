"""A void as it is filled: the hollow, raised by the overfill, less what is embedded in it."""

from __future__ import annotations

from dataclasses import dataclass

from ..common.errors import DomainError, Infeasible
from ..common.plain_numbers import plainly
from ..common.roots import brentq
from ..piece.coats import Coat
from ..piece.parts import Filled, Inclusion, Void
from .bodies import each_volume
from .films import film_hollow
from .hollow import Hollow
from .shape_hollow import hollow_of

TABLE_ROWS = 121
HEIGHT_TOLERANCE_M = 1e-9


@dataclass(frozen=True)
class Cavity:
    """One of `void.count` equal hollows with its inclusions. Heights run to fill_m, the rim plus the
    overfill.

    Above the rim the opening's area is carried straight up, as a dam would.
    """

    void: Filled
    hollow: Hollow
    fill_m: float

    def hollow_volume(self, height_m: float) -> float:
        rim = self.hollow.depth_m
        if height_m <= rim:
            return self.hollow.volume(max(height_m, 0.0))
        return self.hollow.volume(rim) + self.hollow.area(rim) * (height_m - rim)

    def displaced(self, height_m: float) -> float:
        """Volume [m3] of the inclusions below a height; each is spread evenly between its two heights."""
        return sum(displaced_by(thing, height_m) for thing in self.void.embedded)

    def volume(self, height_m: float) -> float:
        """Resin [m3] that one cavity takes up to a height, inclusions deducted."""
        return self.hollow_volume(height_m) - self.displaced(height_m)

    def area(self, height_m: float) -> float:
        gross = self.hollow.area(min(height_m, self.hollow.depth_m))
        return gross - sum(
            _total_volume(thing) / (thing.to_m.value - thing.from_m.value)
            for thing in self.void.embedded
            if thing.from_m.value <= height_m < thing.to_m.value
        )

    def wetted(self, height_m: float) -> float:
        return self.hollow.wetted(min(height_m, self.hollow.depth_m))

    def height_at(self, volume_m3: float, above_m: float = 0.0) -> float:
        """The height [m] at which `volume_m3` of resin stands over the level `above_m`; fill_m when it takes
        more.
        """
        start = self.volume(above_m)
        if volume_m3 >= self.volume(self.fill_m) - start:
            return self.fill_m
        return float(
            brentq(
                lambda height: self.volume(height) - start - volume_m3,
                above_m,
                self.fill_m,
                xtol=HEIGHT_TOLERANCE_M,
            )
        )

    def table(self) -> list[tuple[float, float]]:
        """(height, volume) rows for the browser to interpolate while a boundary is dragged."""
        heights = [self.fill_m * i / (TABLE_ROWS - 1) for i in range(TABLE_ROWS)]
        return [(height, self.volume(height)) for height in heights]


def _total_volume(thing: Inclusion) -> float:
    return thing.count * each_volume(thing)


def displaced_by(thing: Inclusion, height_m: float) -> float:
    """Volume [m3] of one kind of embedded thing below a height, all of them together.

        V (min(z, z1) - z0) / (z1 - z0)

    height_m  z [m] above the void's floor;  z0, z1  heights between which it stands
    Raises nothing. Valid for things of an even section, or many of them. Source: by definition.
    """
    low, high = thing.from_m.value, thing.to_m.value
    share = (min(height_m, high) - low) / (high - low)
    return _total_volume(thing) * max(share, 0.0)


def cavity_of(void: Void) -> Cavity:
    """The cavity of a measured void. Raises where inclusions stand upside down or leave no room for resin."""
    hollow = hollow_of(void.shape)
    overfill = void.overfill_m.value if void.overfill_m else 0.0
    cavity = Cavity(void, hollow, hollow.depth_m + overfill)
    for thing in void.inclusions:
        if thing.to_m.value <= thing.from_m.value:
            raise DomainError(
                argument=thing.name,
                value=f"from {_mm(thing.from_m.value)} to {_mm(thing.to_m.value)}",
                allowed="its top lies above its bottom",
                way_out="Give the lower height first.",
                code="backwards",
            )
        if thing.from_m.value >= cavity.fill_m:
            raise DomainError(
                argument=thing.name,
                value=f"from {_mm(thing.from_m.value)} up",
                allowed=f"the fill line is at {_mm(cavity.fill_m)}",
                way_out="Lower it, or leave it out.",
                code="above-fill",
            )
    _check_room(cavity)
    return cavity


def coat_cavity(coat: Coat) -> Cavity:
    """A coat as a very flat cavity: its heights are films. Raises where its readings allow none."""
    hollow = film_hollow(coat)
    return Cavity(coat, hollow, hollow.depth_m)


def _check_room(cavity: Cavity) -> None:
    """Net area must stay positive between all heights where something begins or ends, else V(h) would
    fall.
    """
    edges = {0.0, cavity.fill_m}
    for thing in cavity.void.embedded:
        edges |= {thing.from_m.value, min(thing.to_m.value, cavity.fill_m)}
    ordered = sorted(edges)
    for low, high in zip(ordered, ordered[1:], strict=False):
        for part in (0.001, 0.25, 0.5, 0.75, 0.999):
            height = low + part * (high - low)
            if cavity.void.embedded and cavity.area(height) <= 0:
                raise Infeasible(
                    argument="inclusions",
                    value=f"as large as the hollow at {_mm(height)}",
                    allowed="they must leave room for resin",
                    way_out="Check their volume, number and heights.",
                    code="no-room",
                )


def _mm(length_m: float) -> str:
    return f"⟦{plainly(length_m * 1000)} mm⟧"
