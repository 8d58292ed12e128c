"""What coats are laid on, as a table a maker can read and correct: how it is prepared, how much it drinks,
what it does
not stand. Common practice, no source. Rules 1.1 to 1.3, 8.7.
"""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, kw_only=True)
class SubstrateRow:
    """prep: codes of survey/preparation.py, in their order. soak: of a first coat on it bare [m3/m2],
    least and most;
    None: it drinks nothing. refuses: of oven, flame, heat gun, solvent, alcohol mist. says: what to know
    of it.
    """

    prep: tuple[str, ...] = ()
    soak: tuple[float, float] | None = None
    refuses: tuple[str, ...] = ()
    says: str = ""
    varnish_instead: bool = False


SUBSTRATES: dict[str, SubstrateRow] = {
    "board": SubstrateRow(soak=(80e-6, 200e-6), says="Cut edges drink three times what the face does."),
    "cloth on board": SubstrateRow(soak=(150e-6, 400e-6), says="What is wet through goes dark for good."),
    "canvas": SubstrateRow(
        prep=("back-canvas",),
        soak=(100e-6, 250e-6),
        refuses=("oven",),
        says="It sags under the weight and pools in the middle: back it.",
        varnish_instead=True,
    ),
    "paper": SubstrateRow(
        prep=("seal-print",),
        soak=(60e-6, 150e-6),
        says="Unsealed it turns translucent.",
        varnish_instead=True,
    ),
    "print or photograph": SubstrateRow(
        prep=("seal-print",),
        refuses=("oven", "flame", "heat gun"),
        says="Inks bleed and the back goes dark where resin gets in: seal face and edges.",
        varnish_instead=True,
    ),
    "foam board": SubstrateRow(
        prep=("seal-foam",),
        refuses=("oven", "flame", "heat gun", "solvent"),
        says="Heat and solvents melt it. Its edge clings badly: dome the face, do not let it run over.",
    ),
    "stone": SubstrateRow(
        prep=("dry-mineral",), soak=(50e-6, 200e-6), says="Polished stone: scuff it first."
    ),
    "concrete": SubstrateRow(
        prep=("dry-mineral",),
        soak=(100e-6, 300e-6),
        says="Damp and alkali lift a coat: dry it, seal it thin.",
    ),
    "metal": SubstrateRow(prep=("scuff-metal",), says="Skin grease makes craters: gloves from here on."),
    "metal tumbler": SubstrateRow(
        prep=("scuff-metal", "tape-lip"),
        says="The lip and the seal's band stay bare.",
    ),
    "decal or vinyl": SubstrateRow(
        prep=("press-vinyl",),
        refuses=("oven", "flame", "solvent"),
        says="Edges lift and draw bubbles: press them down and seal over them with a thin coat.",
    ),
    "cloth": SubstrateRow(soak=(200e-6, 500e-6), says="Stretch it on something that stays; it drinks twice."),
    "cured resin": SubstrateRow(prep=("scuff-resin",), says="Unsanded it does not hold."),
    "glass": SubstrateRow(prep=("scuff-metal",), says="Resin peels off smooth glass in one piece."),
}
PAINTED = ("varnished or painted", "fresh acrylic paint", "ink", "sealed")
