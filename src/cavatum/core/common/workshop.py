"""What the plan needs to know of the workshop: room, hours, scale, cup, habits. Schools live here as
defaults.
"""

from __future__ import annotations

from typing import Annotated, Literal
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from pydantic import AwareDatetime, Field, field_validator, model_validator

from .errors import DomainError
from .readings import Duration, Fraction, Humidity, Label, Mass, Name, Temperature, Volume
from .working import Data

MINUTES_A_DAY = 24 * 60


class Span(Data):
    """Hands are available from one minute of the day to another (local time); several a day are allowed."""

    from_min: int = Field(ge=0, lt=MINUTES_A_DAY)
    to_min: int = Field(gt=0, le=MINUTES_A_DAY)

    @model_validator(mode="after")
    def check(self) -> Span:
        if self.to_min <= self.from_min:
            raise DomainError(
                argument="hours",
                value=f"{self.from_min} to {self.to_min} min",
                allowed="the end comes after the start",
                way_out="Split a span that passes midnight in two.",
                code="backwards",
            )
        return self


class Scale(Data):
    most_kg: Mass
    step_kg: Mass


class Night(Data):
    """The heating goes down: another temperature from one minute of the day to another (past midnight when
    from > to).
    """

    room_c: Temperature
    from_min: int = Field(ge=0, lt=MINUTES_A_DAY)
    to_min: int = Field(ge=0, lt=MINUTES_A_DAY)


class Busy(Data):
    """Nobody is at the bench then, whatever the hours say: a delivery, a fair, from a calendar or typed."""

    from_at: AwareDatetime
    to_at: AwareDatetime
    what: Label = ""
    source: Literal["typed", "calendar"] = "typed"


class LearnedAir(Data):
    """What a measured curve taught of how heat leaves a form here: factors on what typically leaves at top
    and sides; points: readings it rests on.
    """

    top_times: float = Field(gt=0.1, lt=6)
    side_times: float = Field(gt=0.1, lt=6)
    points: int = Field(ge=5)
    note: Label = ""


USUAL_WASTE = (0.02, 4e-6)  # what usually stays in a cup, a share and m3: common practice, no source


def waste_key(system_id: str, cup_m3: float, scrape: str) -> str:
    """What stays in a cup belongs to a resin, a cup (to the millilitre) and a way of scraping."""
    return f"{system_id}|{round(cup_m3 * 1e6)}|{scrape}"


class Workshop(Data):
    """people: hands at the bench at once. chambers, rotator_places, shelves: how many there are; 0: none are
    counted.

    chamber_close_s: from the last pour until the lid is down and the pressure stands.

    cup_kg: the empty mixing cup, which the scale carries too. cup_line_m3: how far the lines of the measuring
    cup are apart.

    Schools: first_part, colours (several of one pour out of one clear mix), stir_with, second_cup (stirred
    again in a clean one where the sheet
    gives a time for it), scrape_cup (what stays in each cup counts, or nothing does), defoam,
    flame_rounds, peel_tape, recoat.
    """

    name: Name
    zone: str = "UTC"
    currency: str = Field(default="EUR", pattern=r"^[A-Z]{3}$")
    units: Literal["metric", "us"] = "metric"
    room_c: Temperature
    room_humidity: Humidity
    night: Night | None = None
    learned_air: LearnedAir | None = None
    week: Annotated[list[Annotated[list[Span], Field(max_length=6)]], Field(min_length=7, max_length=7)]
    scale: Scale
    cup_m3: Volume
    residue_fraction: Fraction
    residue_m3: Volume
    cup_line_m3: Volume | None = None
    cup_kg: Mass | None = None
    first_part: Literal["A", "B"] = "A"
    colours: Literal["one clear mix", "each by itself"] = "one clear mix"
    stir_with: Literal["hand", "drill"] = "hand"
    second_cup: bool = True
    scrape_cup: Literal["leave the last film", "scrape all out"] = "leave the last film"
    defoam: Literal["flame", "heat gun", "alcohol mist", "breath", "nothing"] = "flame"
    flame_rounds: Literal["three", "every 15 min"] = "three"
    peel_tape: Literal["while gummy", "after cure"] = "while gummy"
    recoat: Literal["bond in the window", "cure and sand"] = "bond in the window"
    clean_hand: Literal["left", "right"] = "left"
    people: int = Field(default=1, ge=1, le=20)
    chambers: int = Field(default=0, ge=0, le=20)
    chamber_m3: Volume | None = None
    chamber_close_s: Duration = Duration(value=180.0, origin="typical")
    rotator_places: int = Field(default=0, ge=0, le=40)
    shelves: int = Field(default=0, ge=0, le=200)
    busy: Annotated[list[Busy], Field(max_length=500)] = []
    pour_rate_m3_s: float = Field(default=1e-3 / 60, gt=0, le=1.0)
    wastes: dict[str, float] = {}
    paper: Literal["by its units", "A4", "letter"] = "by its units"

    @property
    def sheet(self) -> Literal["A4", "letter"]:
        """What is printed on: as chosen, else letter where inches and pounds are used."""
        if self.paper == "by its units":
            return "letter" if self.units == "us" else "A4"
        return self.paper

    def with_waste_of(self, system_id: str) -> Workshop:
        """As it is for cups of this resin, where that was learned; a measured or chosen value stands."""
        key = waste_key(system_id, self.cup_m3.value, self.scrape_cup)
        times = self.wastes.get(key)
        if times is None:
            return self
        share, fixed = self.residue_fraction, self.residue_m3
        return self.model_copy(
            update={
                "scrape_cup": "leave the last film",
                "residue_fraction": share.model_copy(
                    update={"value": USUAL_WASTE[0] * times, "origin": "learned", "as_typed": ""}
                ),
                "residue_m3": fixed.model_copy(
                    update={"value": USUAL_WASTE[1] * times, "origin": "learned", "as_typed": ""}
                ),
            }
        )

    @property
    def stays(self) -> tuple[float, float]:
        """What stays in each cup, as a share and fixed [m3]; nothing where all of it is scraped out."""
        if self.scrape_cup == "scrape all out":
            return 0.0, 0.0
        return self.residue_fraction.value, self.residue_m3.value

    @property
    def scale_carries_kg(self) -> float:
        """What the scale can still show with the cup on it; without the cup's weight its whole range."""
        return max(self.scale.most_kg.value - (self.cup_kg.value if self.cup_kg else 0.0), 0.0)

    @field_validator("zone")
    @classmethod
    def check_zone(cls, zone: str) -> str:
        zone_named(zone)
        return zone


def zone_named(name: str) -> ZoneInfo:
    """Raises DomainError for what the IANA time zone database does not hold."""
    try:
        return ZoneInfo(name)
    except (ZoneInfoNotFoundError, ValueError, OSError) as error:
        raise DomainError(
            argument="time zone",
            value=name,
            allowed="an IANA name is needed",
            way_out="Write it like Europe/Berlin.",
            code="unknown",
        ) from error


def typical_workshop() -> Workshop:
    """A workshop to start from, every value marked typical. Cup and residue: common practice, no source."""
    typical = {"origin": "typical"}
    weekday = [Span(from_min=7 * 60 + 30, to_min=19 * 60)]
    return Workshop(
        name="My workshop",
        zone="UTC",
        room_c=Temperature(value=22.0, **typical),
        room_humidity=Humidity(value=0.5, **typical),
        week=[weekday] * 5 + [[Span(from_min=9 * 60, to_min=13 * 60)], []],
        scale=Scale(most_kg=Mass(value=3.0, **typical), step_kg=Mass(value=1e-4, **typical)),
        cup_m3=Volume(value=1.5e-3, **typical),
        residue_fraction=Fraction(value=USUAL_WASTE[0], **typical),
        residue_m3=Volume(value=USUAL_WASTE[1], **typical),
    )
