"""What a scale has said in the last seconds, in the form that it is kept in and read from again: by the
reader of a port, and by a page that has the scale at its own browser.
"""

from __future__ import annotations

from typing import Any

from .scale_lines import ScaleLine

KEPT = 24  # about three seconds of lines: enough to tell rest from movement
TRAIL_EVERY_S, TRAIL = 5.0, 24  # two minutes of what it said, to tell drift


def fresh(now_s: float, *, stand_in: bool = False) -> dict[str, Any]:
    """Of a scale that has said nothing yet."""
    return {
        "stand_in": stand_in,
        "problem": "",
        "step_kg": None,
        "unchanged_since_s": now_s,
        "readings": [],
        "trail": [],
    }


def with_line(said: dict[str, Any], found: ScaleLine, now_s: float) -> tuple[dict[str, Any], bool]:
    """After one more line, and whether it says anything else than the one before."""
    readings = list(said["readings"])
    before = readings[-1] if readings else None
    entry = _entry(found, before, now_s)
    if entry is not None:
        readings = [*readings, entry][-KEPT:]
    changed = bool(found.problem) or before is None or readings[-1]["mass_kg"] != before["mass_kg"]
    made = {
        **said,
        "problem": found.problem,
        **({} if found.mass_kg is None else {"step_kg": found.step_kg}),
        "unchanged_since_s": now_s if changed else said["unchanged_since_s"],
        "readings": readings,
        "trail": _trail(said.get("trail", []), entry, now_s),
    }
    return made, changed


def _trail(before: list[list[float]], entry: dict[str, Any] | None, now_s: float) -> list[list[float]]:
    """(s, kg) every few seconds."""
    trail = [one for one in before if one[0] <= now_s]
    is_due = not trail or now_s - trail[-1][0] >= TRAIL_EVERY_S
    if entry is None or entry["overload"] or not is_due:
        return trail
    return [*trail, [now_s, entry["mass_kg"]]][-TRAIL:]


def _entry(found: ScaleLine, before: dict[str, Any] | None, now_s: float) -> dict[str, Any] | None:
    """A reading as it is kept; over- and underload with the weight before them. None: no reading."""
    if found.mass_kg is not None:
        return {
            "at_s": now_s,
            "mass_kg": found.mass_kg,
            "unit": found.unit,
            "stable": found.stable,
            "overload": False,
        }
    if found.problem not in ("overload", "underload"):
        return None
    last = before or {"mass_kg": 0.0, "unit": ""}
    return {
        "at_s": now_s,
        "mass_kg": last["mass_kg"],
        "unit": last["unit"],
        "stable": False,
        "overload": found.problem == "overload",
    }
