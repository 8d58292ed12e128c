"""What finishing has to say. Rules 8.1 to 8.6."""

from __future__ import annotations

from collections.abc import Sequence

from ..common.verdict import Verdict, Weight
from ..common.wording import Wording
from ..piece.document import Piece
from ..piece.finish_wishes import Finish
from .model import GateView

THINNEST_M = 0.003  # own judgement


def finish_verdict(
    weight: Weight, code: str, rule: str, title: str, text: str, todo: str = "", where: str = ""
) -> Verdict:
    return Verdict(
        weight=weight, stage="finish", code=code, rule=rule, title=title, text=text, todo=todo, where=where
    )


def _of_readiness(gate: GateView) -> list[Verdict]:
    """What a gate that is not passed has to say: never, never poured, or much too late."""
    if gate.readiness.state == "never":
        return [
            finish_verdict(
                "blocker",
                "never-ready",
                "8.1",
                f"{gate.title}: not in this room",
                "The cure computed for this room stops short of it. What comes after it has no date.",
                "Warm the piece as Layers says, then test it.",
            )
        ]
    if gate.readiness.next_s is not None or gate.readiness.state == "passed":
        return []
    if gate.poured_at is None:
        return [
            finish_verdict(
                "note",
                "not-poured",
                "8.1",
                f"{gate.title}: nothing says that it was poured",
                "Its start has passed, and no run of it is in the record.",
                "Enter what was done on the Pour stage, or set a new start.",
            )
        ]
    return [
        finish_verdict(
            "blocker",
            "too-slow",
            "8.1",
            f"{gate.title}: something is wrong",
            gate.readiness.says,
            "Look under Mend: sticky or soft.",
        )
    ]


def finish_verdicts(
    piece: Piece, wishes: Finish, gates: Sequence[GateView], wording: Wording
) -> list[Verdict]:
    found = []
    for gate in gates:
        if gate.too_warm:
            found.append(
                finish_verdict(
                    "warning",
                    "still-warm",
                    "8.1",
                    f"{gate.title}: still warm",
                    "The last reading was more than 2 K over the room: the cure is still giving heat.",
                    "Wait until it has the room's temperature.",
                )
            )
        found += _of_readiness(gate)
    if wishes.surface == "oil" and piece.coats:
        found.append(
            finish_verdict(
                "warning",
                "oil-on-coat",
                "8.4",
                "Oil does not go into a coat",
                "It lies on cured resin and stays sticky.",
                "Oil bare wood only; on a coat choose satin or polish.",
            )
        )
    if wishes.least_wall_m and wishes.least_wall_m.value < THINNEST_M:
        found.append(
            finish_verdict(
                "warning",
                "thin-wall",
                "8.6",
                "A thin wall",
                f"{wording.length(wishes.least_wall_m.value)} left after turning; under "
                f"{wording.length(THINNEST_M)} resin chips and flexes (own judgement).",
                "Leave more, or line it with wood.",
            )
        )
    return found
