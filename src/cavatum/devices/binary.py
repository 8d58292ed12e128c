"""Instruments that send bytes and not lines: the standard services of Bluetooth and the reports of USB
scales, as the same readings that lines make. What cannot be a reading is said, never guessed.
"""

from __future__ import annotations

import math

from ..core.common.unit_table import OUNCE_KG, POUND_KG
from .scale_lines import TROY_OUNCE_KG, ScaleLine
from .thermo_lines import LEAST_C, MOST_C, ThermoLine

# Weight Measurement, 0x2A9D of the Weight Scale service: steps that its resolution stands for.
WEIGHT_STEP_KG, WEIGHT_STEP_LB = 0.005, 0.01
NOT_MEASURED = 0xFFFF

# HID usage page 0x8D, units of a scale's data report. HID Point of Sale usage tables 1.02, from memory.
HID_UNITS = {
    1: ("mg", 1e-6),
    2: ("g", 1e-3),
    3: ("kg", 1.0),
    10: ("ozt", TROY_OUNCE_KG),
    11: ("oz", OUNCE_KG),
    12: ("lb", POUND_KG),
}
HID_FAULT, HID_ZERO, HID_MOVES, HID_RESTS, HID_UNDER, HID_OVER = 1, 2, 3, 4, 5, 6


def parse_weight(data: bytes) -> ScaleLine | None:
    """A Weight Measurement characteristic: flags, then a whole number of 5 g or of 0.01 lb, little-endian.
    Source: Bluetooth SIG, GATT Specification Supplement, Weight Measurement; from memory.
    """
    if len(data) < 3:  # noqa: PLR2004, flags and the weight
        return None
    number = int.from_bytes(data[1:3], "little")
    if number == NOT_MEASURED:
        return ScaleLine(mass_kg=None, problem="overload")
    imperial = bool(data[0] & 1)
    step = WEIGHT_STEP_LB * POUND_KG if imperial else WEIGHT_STEP_KG
    return ScaleLine(mass_kg=number * step, unit="lb" if imperial else "kg", stable=None, step_kg=step)


def parse_hid_scale(data: bytes) -> ScaleLine | None:
    """A USB scale's data report without its number: status, unit, decimal exponent, weight, little-endian."""
    if len(data) < 5:  # noqa: PLR2004, the report's own length
        return None
    status, unit, exponent = data[0], data[1], int.from_bytes(data[2:3], "little", signed=True)
    if status == HID_OVER:
        return ScaleLine(mass_kg=None, problem="overload")
    if status == HID_UNDER:
        return ScaleLine(mass_kg=None, problem="underload")
    if status not in (HID_ZERO, HID_MOVES, HID_RESTS):
        return ScaleLine(mass_kg=None, problem="fault")
    if unit not in HID_UNITS or not -6 <= exponent <= 3:  # noqa: PLR2004, a power of ten that a scale can send
        return ScaleLine(mass_kg=None, problem="no-unit")
    name, kg = HID_UNITS[unit]
    step = kg * 10.0**exponent
    mass = int.from_bytes(data[3:5], "little") * step
    return ScaleLine(mass_kg=mass, unit=name, stable=status != HID_MOVES, step_kg=step)


def parse_temperature(data: bytes) -> ThermoLine | None:
    """A Temperature Measurement characteristic, 0x2A1C: flags, then IEEE 11073-20601 FLOAT (exponent, 24-bit
    mantissa), little-endian. Source: Bluetooth SIG and IEEE 11073-20601; from memory.
    """
    if len(data) < 5:  # noqa: PLR2004, flags and the number
        return None
    mantissa = int.from_bytes(data[1:4], "little", signed=True)
    exponent = int.from_bytes(data[4:5], "little", signed=True)
    if mantissa in (0x7FFFFF, -0x800000, 0x7FFFFE, -0x7FFFFE, 0x800001) or not -9 <= exponent <= 3:  # noqa: PLR2004
        return ThermoLine(None, "fault", "It reports a fault.")
    value = mantissa * 10.0**exponent
    return _bounded((value - 32) / 1.8 if data[0] & 1 else value)


def parse_air_temperature(data: bytes) -> ThermoLine | None:
    """Temperature of the Environmental Sensing service, 0x2A6E: hundredths of a degree Celsius."""
    if len(data) != 2:  # noqa: PLR2004
        return None
    number = int.from_bytes(data, "little", signed=True)
    return ThermoLine(None, "fault", "It reports a fault.") if number == -0x8000 else _bounded(number / 100)


def parse_humidity(data: bytes) -> float | None:
    """Humidity of the same service, 0x2A6F: hundredths of a percent, as a share; None for what cannot be."""
    share = int.from_bytes(data, "little") / 10_000 if len(data) == 2 else math.nan  # noqa: PLR2004
    return share if 0 <= share <= 1 else None


def _bounded(celsius: float) -> ThermoLine:
    if LEAST_C <= celsius <= MOST_C:
        return ThermoLine(celsius)
    return ThermoLine(
        None, "absurd", f"{celsius:.0f} °C cannot be: look at where it points, and at its batteries."
    )
