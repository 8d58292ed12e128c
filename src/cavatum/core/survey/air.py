"""The room's air: dew point, and the room against what the sheet asks for. Rule 1.6."""

from __future__ import annotations

import math

from ..common.verdict import Verdict
from ..common.wording import Wording
from ..common.working import Working
from ..common.workshop import Workshop
from ..resin.system import System

MAGNUS_A = 17.62  # WMO Guide to Instruments (WMO-No. 8), over water, -45 to 60 degC
MAGNUS_B_C = 243.12
DEW_MARGIN_K = 3.0  # ISO 8502-4: surface at least 3 K above the dew point


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


def room_verdicts(workshop: Workshop, system: System) -> list[Verdict]:
    """The room against the sheet's temperature and humidity limits, and how near the dew point is."""
    air_c, humidity = workshop.room_c.value, workshop.room_humidity.value
    found, wording = [], Wording(workshop)
    low_c, high_c, here = system.room_from_c.value, system.room_to_c.value, wording.temperature(air_c)
    if air_c < low_c:
        found.append(
            _room(
                "too-cold",
                f"{here} is below the {wording.temperature(low_c)} of the sheet. The resin stays thick, "
                "keeps its "
                "bubbles and cures late.",
                "Warm the room the day before, and the closed bottles too.",
            )
        )
    if air_c > high_c:
        found.append(
            _room(
                "too-warm",
                f"{here} is above the {wording.temperature(high_c)} of the sheet. It sets before you "
                "finish, and "
                "deep layers run hotter than the depth rule allows for.",
                "Cool the room, or pour at night.",
            )
        )
    if humidity > system.room_humidity_most.value:
        found.append(
            _room(
                "too-damp",
                f"{humidity:.0%} air is above the sheet's {system.room_humidity_most.value:.0%}. The surface "
                "may turn milky or greasy.",
                "Dry the air before you pour.",
            )
        )
    gap = air_c - dew_point_c(air_c, humidity)
    if gap < DEW_MARGIN_K:
        found.append(
            _room(
                "near-dew",
                f"The dew point is only {wording.difference(gap)} below the air. A slightly cooler surface "
                "gets wet.",
                f"Pour when the surface is at least {wording.difference(DEW_MARGIN_K)} above the dew point.",
            )
        )
    return found


def _room(code: str, text: str, todo: str) -> Verdict:
    return Verdict(
        weight="warning", stage="survey", code=code, title="Room", text=text, todo=todo, rule="1.6"
    )
