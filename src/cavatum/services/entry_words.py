"""An entry of a device in words: what its owner has to know who accepts or refuses it."""

from __future__ import annotations

from typing import Any

from ..core.common.wording import Wording

READINGS = {
    "surface_c": "surface",
    "room_c": "room",
    "humidity": "air",
    "level_along": "level along",
    "level_across": "level across",
    "probe_c": "probe",
    "cup_c": "cup",
}
PLAIN = ("text", "result", "how", "why", "code", "cause", "gate", "as_typed", "part")


def content(event: dict[str, Any], steps: dict[str, str], wording: Wording) -> str:
    """steps: titles by id. Whatever of the entry a person typed, took or measured, each once."""
    step = str(event.get("step") or "")
    said = [steps.get(step, step), _measured(event, wording)]
    said += [wording.mass(float(event[key])) for key in ("kg", "mass_kg") if event.get(key) is not None]
    said += [str(event[key]) for key in PLAIN if event.get(key)]
    said += [str(one) for one in event.get("found", [])]
    said += [f"{event['stars']} of 5"] if event.get("stars") else []
    return ", ".join(one for one in said if one)


def _measured(event: dict[str, Any], wording: Wording) -> str:
    what = str(event.get("what") or "")
    if event.get("kind") == "reading":
        return _reading(what, float(event["value"]), wording)
    name = what.replace("_", " ")
    return name if event.get("as_typed") or event.get("value") is None else f"{name} {event['value']:g}"


def _reading(what: str, value: float, wording: Wording) -> str:
    name = READINGS.get(what, what)
    if what.endswith("_c"):
        return f"{name} {wording.temperature(value)}"
    return f"{name} {value:g} {'%' if what == 'humidity' else 'mm a metre'}"
