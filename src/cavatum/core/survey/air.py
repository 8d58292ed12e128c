"""The room's air: dew point, and the room against what the sheet asks for. Rule 1.6."""

from __future__ import annotations

import math
from collections.abc import Sequence

from ..common.verdict import Verdict
from ..common.wording import Wording
from ..common.working import Working
from ..common.workshop import Workshop
from ..piece.survey_findings import Accepted, Survey
from ..resin.system import System
from .model import ToAccept

MAGNUS_A = 17.62  # WMO Guide to Instruments (WMO-No. 8), over water, -45 to 60 degC
MAGNUS_B_C = 243.12
DEW_MARGIN_K = 3.0  # ISO 8502-4: surface at least 3 K above the dew point
HYGROMETER, THERMOMETER_K = 0.03, 0.5  # errors of household instruments; common practice, no source


def dew_point_c(air_c: float, humidity: float) -> float:
    """Dew point [degC] of air at air_c with relative humidity 0 < humidity <= 1.

        g = ln(humidity) + a T / (b + T),   Td = b g / (a - g)

    Valid -45 to 60 degC. Source: Magnus form with the WMO's 17.62 and 243.12 degC.
    """
    g = math.log(humidity) + MAGNUS_A * air_c / (MAGNUS_B_C + air_c)
    return MAGNUS_B_C * g / (MAGNUS_A - g)


def dew_point_working(workshop: Workshop) -> Working:
    """The dew point of the room with its working, for wherever the room is shown."""
    return Working(
        name="Dew point of the room",
        formula="b g / (a − g), g = ln(humidity) + a T / (b + T), a = 17.62, b = 243.12 °C",
        inputs=[workshop.room_c.as_input("air T"), workshop.room_humidity.as_input("humidity")],
        quantity="temperature",
        value=dew_point_c(workshop.room_c.value, workshop.room_humidity.value),
        source="Magnus form, WMO-No. 8 (from memory)",
        notes=["The surface has to stay at least 3 K above it (ISO 8502-4)."],
    )


def dew_uncertainty_k(air_c: float, humidity: float) -> float:
    """How far surface and dew point may be apart from what was read [K], from the instruments' own errors.

        u = sqrt((dTd/dH uH)^2 + (dTd/dT uT)^2 + uT^2),  uH = 0.03, uT = 0.5 K

    air_c  [degC];  humidity  0 < humidity <= 1
    Raises nothing. Valid as the dew point is. Source: propagation of uncorrelated errors (JCGM 100:2008,
    5.1.2); the
    errors of
    household instruments are common practice, no source.
    """
    low, high = max(humidity - HYGROMETER, 0.01), min(humidity + HYGROMETER, 1.0)
    by_humidity = (dew_point_c(air_c, high) - dew_point_c(air_c, low)) / (high - low) * HYGROMETER
    by_air = (dew_point_c(air_c + 0.5, humidity) - dew_point_c(air_c - 0.5, humidity)) * THERMOMETER_K
    return math.sqrt(by_humidity**2 + by_air**2 + THERMOMETER_K**2)


def is_right(survey: Survey, workshop: Workshop, used: Sequence[System]) -> bool:
    """Whether room and piece are within what every sheet asks for, by day and by night: nothing has to be
    warmed then. False while no sheet is chosen.
    """
    read = [workshop.room_c.value, *([workshop.night.room_c.value] if workshop.night else [])]
    piece = [survey.surface_c.value] if survey.surface_c else []
    return (
        bool(used)
        and all(system.room_from_c.value <= one for system in used for one in [*read, *piece])
        and all(one <= system.room_to_c.value for system in used for one in read)
    )


def room_verdicts(workshop: Workshop, system: System, accepted: Sequence[Accepted] = ()) -> list[Verdict]:
    """The room against the sheet's temperature and humidity limits, by day and by night, and how near the dew
    point is. Too cold or too damp stops the job until a person has taken it upon themselves in words.
    """
    air_c, humidity = workshop.room_c.value, workshop.room_humidity.value
    wording = Wording(workshop)
    low_c, high_c, here = system.room_from_c.value, system.room_to_c.value, wording.temperature(air_c)
    found = []
    if air_c < low_c:
        found.append(
            _stops(
                "too-cold",
                f"{here} is below the {wording.temperature(low_c)} of the sheet. The resin stays thick, "
                "keeps its bubbles and cures late.",
                "Warm the room the day before, and the closed bottles too.",
                _words_of(accepted, "cold", air_c),
            )
        )
    night = workshop.night
    if night is not None and night.room_c.value < low_c and night.room_c.value < air_c:
        found.append(
            _stops(
                "cold-at-night",
                f"{wording.temperature(night.room_c.value)} at night, {wording.temperature(low_c)} wanted by "
                "the sheet. It cures on through the night.",
                "Leave the heating on until it is out of its form.",
                _words_of(accepted, "night", night.room_c.value),
            )
        )
    if air_c > high_c:
        found.append(
            _room(
                "too-warm",
                f"{here} is above the {wording.temperature(high_c)} of the sheet. It sets before you "
                "finish, and deep layers run hotter than the depth rule allows for.",
                "Cool the room, or pour at night.",
            )
        )
    if humidity > system.room_humidity_most.value:
        found.append(
            _stops(
                "too-damp",
                f"{humidity:.0%} air is above the sheet's {system.room_humidity_most.value:.0%}. The surface "
                "may turn milky or greasy.",
                "Dry the air before you pour.",
                _words_of(accepted, "damp", -humidity),
            )
        )
    dew = dew_point_c(air_c, humidity)
    if air_c - dew < DEW_MARGIN_K:
        found.append(
            _room(
                "near-dew",
                f"The dew point is only {wording.difference(air_c - dew)} below the air. A slightly cooler "
                "surface gets wet.",
                f"Pour when the surface is at least {wording.temperature(dew + DEW_MARGIN_K)}, "
                f"{wording.difference(DEW_MARGIN_K)} above the dew point.",
            )
        )
    return found


def to_accept(workshop: Workshop, used: Sequence[System], accepted: Sequence[Accepted]) -> list[ToAccept]:
    """What stops the job and a person may take upon themselves in words."""
    room_c, night, damp = workshop.room_c.value, workshop.night, workshop.room_humidity.value
    least_c = max((one.room_from_c.value for one in used), default=room_c)
    most = min((one.room_humidity_most.value for one in used), default=damp)
    night_c = night.room_c.value if night else room_c
    wording = Wording(workshop)
    found = []
    if room_c < least_c and not _words_of(accepted, "cold", room_c):
        found.append(ToAccept(what="cold", value=room_c, called=wording.temperature(room_c)))
    if night_c < min(least_c, room_c) and not _words_of(accepted, "night", night_c):
        found.append(ToAccept(what="night", value=night_c, called=f"{wording.temperature(night_c)} at night"))
    if damp > most and not _words_of(accepted, "damp", -damp):
        found.append(ToAccept(what="damp", value=damp, called=f"{damp:.0%} damp air"))
    return found


def _words_of(accepted: Sequence[Accepted], what: str, value: float) -> str:
    """In which words this was taken upon themselves; none where the room has become worse than it was
    then."""
    kept = [one for one in accepted if one.what == what]
    return next((one.words for one in kept if value >= (-one.value if what == "damp" else one.value)), "")


def _stops(code: str, text: str, todo: str, words: str) -> Verdict:
    if words:
        return _room(f"{code}-accepted", f"{text} Taken upon yourself: {words}", todo)
    return Verdict(
        weight="blocker",
        stage="survey",
        code=code,
        title="Room",
        text=text,
        todo=f"{todo} Or say in your words why it will do; the record keeps them.",
        rule="1.6",
    )


def _room(code: str, text: str, todo: str) -> Verdict:
    return Verdict(
        weight="warning", stage="survey", code=code, title="Room", text=text, todo=todo, rule="1.6"
    )
