"""What the ground of a coat does not stand, and where a spray varnish would be the better choice. Rules
1.1, 7.1, 8.7."""

from __future__ import annotations

from ..common.verdict import Verdict
from ..common.workshop import Workshop
from ..piece.document import Piece
from ..practice.substrates import SUBSTRATES, SubstrateRow


def refuses(piece: Piece, what: str) -> bool:
    """Whether the ground of the piece does not stand it: oven, flame, heat gun, solvent, alcohol mist."""
    row = _row(piece)
    return row is not None and what in row.refuses


def _row(piece: Piece) -> SubstrateRow | None:
    return SUBSTRATES.get(piece.survey.material) if piece.survey else None


def substrate_verdicts(piece: Piece, workshop: Workshop) -> list[Verdict]:
    """What to know of the ground, a way of defoaming that it does not stand, and varnish instead."""
    row = _row(piece)
    if row is None or piece.survey is None:
        return []
    material = piece.survey.material
    found = []
    if piece.coats and row.says:
        found.append(
            Verdict(
                weight="note",
                stage="survey",
                code="ground",
                rule="1.1",
                title=f"On {material}",
                text=row.says,
            )
        )
    if workshop.defoam in row.refuses:
        found.append(
            Verdict(
                weight="warning",
                stage="survey",
                code="ground-refuses",
                rule="7.1",
                title=f"No {workshop.defoam} on {material}",
                text=f"{material.capitalize()} does not stand it: those rounds are left out here.",
                todo="Let bubbles out with a pin and time, or a light mist of alcohol where nothing burns.",
            )
        )
    if row.varnish_instead and piece.coats:
        found.append(
            Verdict(
                weight="note",
                stage="survey",
                code="varnish-instead",
                rule="8.7",
                title="A spray varnish may do it better",
                text="On a picture it needs no sealing, adds no weight and does not yellow; resin gives "
                "depth and gloss (common practice).",
            )
        )
    return found
