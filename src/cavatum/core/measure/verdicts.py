"""What measuring has to say: wood that drinks, things that float, forms and
level.
"""

from __future__ import annotations

from ..common.verdict import Verdict, Weight
from ..common.wording import Wording
from ..piece.coats import Coat
from ..piece.document import Piece
from ..practice.substrates import PAINTED, SUBSTRATES
from .model import LevelPlan, VoidPlan


def soak_verdicts(piece: Piece, wording: Wording) -> list[Verdict]:
    """Bare wood without a soak allowance: said, never added silently."""
    return (
        [
            Verdict(
                weight="warning",
                stage="measure",
                code="soak-not-counted",
                rule="2.2",
                title="Wood drinks",
                text=f"{void.name} has wooden walls and no soak is counted. A first coat on open-pored wood "
                f"takes {wording.soak(*SOAK_OF['open'])}, end grain or punky wood "
                f"{wording.soak(*SOAK_OF['end or punky'])} (typical).",
                todo="Seal first and enter 0, or enter a soak.",
                where=f"/voids/{index}/soak_m3_m2",
            )
            for index, void in enumerate(piece.voids)
            if void.wall == "wood" and void.soak_m3_m2 is None
        ]
        + [
            Verdict(
                weight="warning",
                stage="measure",
                code="soak-not-counted",
                rule="2.2",
                title=f"{coat.name} drinks",
                text=f"A first coat on {GRAIN_WORDS[coat.grain]} takes {wording.soak(*SOAK_OF[coat.grain])} "
                "(typical). "
                "No soak is counted.",
                todo="Seal first and enter 0, or enter a soak.",
                where=f"/coats/{index}/soak_m3_m2",
            )
            for index, coat in enumerate(piece.coats)
            if _drinks(piece, coat)
        ]
        + _ground_drinks(piece, wording)
    )


def _drinks(piece: Piece, coat: Coat) -> bool:
    """Bare wood or board that nobody counted a soak for; what is painted or sealed drinks nothing."""
    if _is_closed(piece) or _is_counted(coat):
        return False
    return coat.wall in ("wood", "board") and coat.grain != "not porous"


def _is_closed(piece: Piece) -> bool:
    return piece.survey is not None and piece.survey.finish in PAINTED


def _is_counted(coat: Coat) -> bool:
    return coat.soak_m3_m2 is not None or bool(coat.soaks) or coat.existing_m is not None


def _ground_drinks(piece: Piece, wording: Wording) -> list[Verdict]:
    """Canvas, stone, cloth and the like drink by their own table."""
    row = SUBSTRATES.get(piece.survey.material) if piece.survey else None
    if row is None or row.soak is None or piece.survey is None or _is_closed(piece):
        return []
    return [
        Verdict(
            weight="warning",
            stage="measure",
            code="soak-not-counted",
            rule="2.2",
            title=f"{coat.name} drinks",
            text=f"A first coat on {piece.survey.material} takes {wording.soak(*row.soak)} (typical). "
            "No soak is counted.",
            todo="Seal first and enter 0, or enter a soak.",
            where=f"/coats/{index}/soak_m3_m2",
        )
        for index, coat in enumerate(piece.coats)
        if not _is_counted(coat) and not _drinks(piece, coat)
    ]


# What a first coat soaks in [m3/m2], and what such wood is called: typical of the kind, common practice.
SOAK_OF = {"dense": (40e-6, 80e-6), "open": (80e-6, 150e-6), "end or punky": (200e-6, 500e-6)}
GRAIN_WORDS = {
    "dense": "dense closed grain",
    "open": "open-pored wood",
    "end or punky": "end grain or punky wood",
}


def _level_verdicts(level: LevelPlan, wording: Wording) -> list[Verdict]:
    found: list[Verdict] = []
    if level.freeboard is None:
        return found
    if level.freeboard.value < 0 and level.overflow is not None and level.overflow.value > 0:
        found.append(
            _measure(
                "blocker",
                "runs-over",
                "It would run over",
                f"As it stands, {wording.volume(level.overflow.value)} would run over the low side.",
                "Shim it level first.",
                "2.7",
                "/level",
            )
        )
    highest = max(corner.shim.value for corner in level.corners)
    if highest > 0.0005:
        worst = max(level.corners, key=lambda one: one.shim.value)
        found.append(
            _measure(
                "warning",
                "not-level",
                "Not level",
                f"The {worst.name} corner wants {wording.length(worst.shim.value)} under it.",
                "Shim it and read the level again.",
                "2.7",
                "/level",
            )
        )
    return found


def stand_verdicts(
    piece: Piece, voids: list[VoidPlan], level: LevelPlan | None, wording: Wording
) -> list[Verdict]:
    """A dam lower than the overfill, a level that runs over, a form nobody tested."""
    found = []
    for index, void in enumerate(piece.voids):
        over = void.overfill_m.value if void.overfill_m else 0.0
        if void.form and void.form.dam_m and void.form.dam_m.value < over:
            found.append(
                _measure(
                    "blocker",
                    "dam-too-low",
                    f"The dam of {void.name} is too low",
                    f"It stands {wording.length(void.form.dam_m.value)} above the rim; the overfill alone is "
                    f"{wording.length(over)}.",
                    "Raise the dam or overfill less.",
                    "2.8",
                    f"/voids/{index}/form/dam_m",
                )
            )
    return found + (_level_verdicts(level, wording) if level is not None else [])


def _measure(
    weight: Weight, code: str, title: str, text: str, todo: str, rule: str, where: str = ""
) -> Verdict:
    return Verdict(
        weight=weight, stage="measure", code=code, rule=rule, title=title, text=text, todo=todo, where=where
    )
