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
        if gate.readiness.state == "never":
            found.append(
                finish_verdict(
                    "blocker",
                    "never-ready",
                    "8.1",
                    f"{gate.title}: not in this room",
                    "The cure computed for this room stops short of it. What comes after it has no date.",
                    "Warm the piece as Layers says, then test it.",
                )
            )
        elif gate.readiness.next_s is None and gate.readiness.state != "passed" and gate.poured_at is None:
            found.append(
                finish_verdict(
                    "note",
                    "not-poured",
                    "8.1",
                    f"{gate.title}: nothing says that it was poured",
                    "Its start has passed, and no run of it is in the record.",
                    "Enter what was done on the Pour stage, or set a new start.",
                )
            )
        elif gate.readiness.next_s is None and gate.readiness.state != "passed":
            found.append(
                finish_verdict(
                    "blocker",
                    "too-slow",
                    "8.1",
                    f"{gate.title}: something is wrong",
                    gate.readiness.says,
                    "Look under Mend: sticky or soft.",
                )
            )
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
