"""A shelf under several hands: random bookings, batches, second bottles, give-ups and corrections, beside
a ledger
kept by plain adding. Invented data.
"""

from __future__ import annotations

import uuid
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

import numpy as np

from tests.samples import box_void

STEPS = 40
NEAR = 2e-6  # kg: bookings are kept to the milligram


@dataclass
class Ledger:
    """left: by bottle, as really taken; open: batches at the scale, each with the bottle in hand by part
    and what
    came from each bottle so far; mixed: of each part, by all batches that were mixed.
    """

    left: dict[int, float] = field(default_factory=dict)
    part: dict[int, str] = field(default_factory=dict)
    open: dict[int, dict[str, Any]] = field(default_factory=dict)
    mixed: dict[str, float] = field(default_factory=lambda: {"A": 0.0, "B": 0.0})


class Hands:
    """call(method, path, body) -> (status, json). piece_ids: pieces whose batches are weighed by turns."""

    def __init__(self, call: Callable[..., tuple[int, Any]], system_id: str, piece_ids: list[int], seed: int):
        self.call, self.system_id, self.pieces = call, system_id, piece_ids
        self.rng, self.ledger = np.random.default_rng(seed), Ledger()
        self.faults: list[str] = []

    def run(self, check: Callable[[Ledger], list[str]]) -> list[str]:
        for _ in range(3):
            self.bought("A")
            self.bought("B")
        for number in range(STEPS):
            does = self.rng.choice(
                ["bought", "taken", "anew", "begun", "poured", "poured", "poured", "ended"]
            )
            getattr(self, str(does))(self.rng.choice(["A", "B"]))
            self.faults += [f"{number} {does}: {one}" for one in check(self.ledger)]
        return self.faults

    def bought(self, part: str) -> None:
        kg = round(float(self.rng.uniform(0.05, 0.6)), 3)
        bottle = {"goods": "system", "goods_id": self.system_id, "part": part, "lot": uuid.uuid4().hex[:6]}
        _, found = self.call("POST", "/stock", {"bottle": {**bottle, "full_kg": f"{kg * 1000} g"}})
        self.ledger.left[found["standing"]["id"]] = kg
        self.ledger.part[found["standing"]["id"]] = str(part)

    def _any(self, part: str) -> int:
        return int(self.rng.choice([id_ for id_, one in self.ledger.part.items() if one == part]))

    def taken(self, part: str) -> None:
        id_, kg = self._any(part), round(float(self.rng.uniform(0.001, 0.3)), 3)
        status, _ = self.call("POST", f"/stock/{id_}/take", {"mass": f"{kg * 1000} g"})
        if (status == 200) != (kg <= self.ledger.left[id_] + 1e-9):
            self.faults.append(f"{kg} kg from {self.ledger.left[id_]}: {status}")
        if status == 200:
            self.ledger.left[id_] -= kg

    def anew(self, part: str) -> None:
        id_ = self._any(part)
        kg = round(float(self.rng.uniform(0, self.ledger.left[id_] + 1e-3)), 3)
        status, _ = self.call(
            "POST", f"/stock/{id_}/weigh", {"left": f"{kg * 1000} g"} if kg else {"nothing": True}
        )
        if status == 200:
            self.ledger.left[id_] = kg

    def begun(self, _: str) -> None:
        piece = int(self.rng.choice(self.pieces))
        _, one = self.call("POST", f"/pieces/{piece}/weighings", {"pour": 1, "batch": 1})
        self.ledger.open.setdefault(one["id"], {"hand": {}, "came": {}, "sum": {"A": 0.0, "B": 0.0}})

    def _enter(self, id_: int, event: dict[str, Any]) -> tuple[int, Any]:
        _, now = self.call("GET", f"/weighings/{id_}", None)
        body = {"event_id": str(uuid.uuid4()), "after": now["state"]["version"], "event": event}
        return self.call("POST", f"/weighings/{id_}/entries", body)

    def poured(self, part: str) -> None:
        """Some of a part, from one bottle or two; now and then taken back."""
        if not self.ledger.open:
            return self.begun(part)
        id_ = int(self.rng.choice(list(self.ledger.open)))
        one = self.ledger.open[id_]
        kg, from_first = round(float(self.rng.uniform(0.01, 0.2)), 3), 0.0
        before = one["hand"].get(part)
        if before is None or self.rng.random() < 0.5:
            bottle = self._any(part)
            event = {"kind": "bottle", "step": part, "bottle_id": bottle}
            if before is not None:
                from_first = round(float(self.rng.uniform(0, kg)), 3)
                event["so_far_kg"] = one["sum"][part] + from_first
            self._enter(id_, event)
            one["hand"][part] = bottle
        status, _ = self._enter(id_, {"kind": "taken", "step": part, "mass_kg": kg, "by": "hand"})
        if self.rng.random() < 0.2:  # taken back and entered again: the sum is the same
            self._enter(id_, {"kind": "undo"})
            self._enter(id_, {"kind": "taken", "step": part, "mass_kg": kg, "by": "hand"})
        one["sum"][part] += kg
        for bottle, came in ((before, from_first), (one["hand"][part], kg - from_first)):
            if bottle is not None and came:
                one["came"][bottle] = one["came"].get(bottle, 0.0) + came
        return None

    def ended(self, _: str) -> None:
        """Given up or, once all of it is in, mixed: either way it came from the bottles."""
        if not self.ledger.open:
            return
        id_ = int(self.rng.choice(list(self.ledger.open)))
        how = "mixed"
        self._enter(id_, {"kind": "accept"})
        status, _ = self._enter(id_, {"kind": "end", "how": how})
        if status != 200:
            how = "given up"
            status, _ = self._enter(id_, {"kind": "end", "how": how})
        one = self.ledger.open.pop(id_)
        for bottle, kg in one["came"].items():
            self.ledger.left[bottle] = max(self.ledger.left[bottle] - kg, 0.0)
        if how == "mixed":
            for part, kg in one["sum"].items():
                self.ledger.mixed[part] += kg


class Check:
    """The server's own figures against the ledger, and against the plans' needs."""

    def __init__(self, call: Callable[..., tuple[int, Any]], piece_ids: list[int]) -> None:
        self.call, self.pieces = call, piece_ids
        self.need = {part: kg / len(piece_ids) for part, kg in self._reserved().items()}
        assert min(self.need.values()) > 0

    def _reserved(self) -> dict[str, float]:
        rows = self.call("GET", "/stock", None)[1]["reserved"]
        return {part: sum(one[f"{part.lower()}_kg"] for one in rows) for part in "AB"}

    def __call__(self, ledger: Ledger) -> list[str]:
        faults = []
        for row in self.call("GET", "/stock", None)[1]["bottles"]:
            id_, left = row["standing"]["id"], row["standing"]["left_kg"]
            if id_ in ledger.left and abs(left - ledger.left[id_]) > NEAR:
                faults.append(f"bottle {id_} holds {left}, by the ledger {ledger.left[id_]}")
            moves = self.call("GET", f"/stock/{id_}/moves", None)[1]["moves"]
            if abs(sum(one["kg"] for one in moves) - left) > NEAR or left < 0:
                faults.append(f"bottle {id_}: its bookings are not what is left ({left})")
        return faults + self._promised(ledger)

    def _promised(self, ledger: Ledger) -> list[str]:
        mixed = []
        for piece in self.pieces:
            rows = self.call("GET", f"/pieces/{piece}/weighings", None)[1]["weighings"]
            done = [one for one in rows if one["ended"] == "mixed"]
            mixed.append({part: sum(one[f"mass_{part.lower()}_kg"] for one in done) for part in "AB"})
        faults = []
        for part, reserved in self._reserved().items():
            wanted = sum(max(self.need[part] - one[part], 0.0) for one in mixed)
            if abs(reserved - wanted) > NEAR:
                faults.append(f"part {part}: {reserved} reserved, {wanted} still to be mixed")
            if abs(sum(one[part] for one in mixed) - ledger.mixed[part]) > NEAR:
                faults.append(f"part {part}: not what the ledger mixed")
        return faults


def adds_up(call: Callable[..., tuple[int, Any]], system_id: str, later: datetime, seed: int) -> list[str]:
    """Faults of one random day at a workshop with three pieces that begin at `later`."""
    void = box_void("200 mm", "100 mm", "12 mm")
    body = {"system_id": system_id, "first_pour_at": later.isoformat(), "voids": [void]}
    pieces = [call("POST", "/pieces", {"name": name, **body})[1]["id"] for name in ("One", "Two", "Three")]
    for one in pieces:
        call("GET", f"/pieces/{one}/plan", None)
    return Hands(call, system_id, pieces, seed).run(Check(call, pieces))
