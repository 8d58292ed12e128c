"""The usual cautions. Data sheets, local codes and qualified people come first; nothing here calls a product
harmless.
"""

from __future__ import annotations

GENERAL = (
    "Gloves and eye protection on, air moving out of the room, breathing protection as the safety data "
    "sheet says. "
    "The product's data sheets, local codes and qualified people come before this plan."
)
CUP = (
    "A full cup left standing can heat up by itself, smoke and burn: pour it out or spread it, never "
    "leave it."
)
PRESSURE = (
    "Pressure vessels only within their rating, inspected, closed and released slowly, by people who "
    "know them."
)
SKIN = (
    "Resin on skin: as its safety data sheet says; no solvent by default. Waste: liquid to hazardous "
    "collection, cured and cold into the bin; local rules first."
)
# By class of resin: what is special about it. From what safety data sheets of such classes usually say, from
# memory; the product's own goes before it.
BY_CLASS = {
    "fast-casting-polyurethane": "One part holds isocyanates: once sensitised, a person reacts for life. "
    "No breathing of vapour, never warmed without extraction; "
    "the safety data sheet says which mask.",
}
EPOXY = (
    "Epoxy and its hardener sensitise the skin: gloves that the safety data sheet names, changed often, "
    "and none of it on the screen."
)


def product_cautions(classes: list[str]) -> list[str]:
    """Of the classes in use, each once; an unknown class is treated like an epoxy."""
    return list(dict.fromkeys(BY_CLASS.get(one, EPOXY) for one in classes))
