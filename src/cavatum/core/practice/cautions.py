"""The usual cautions. Data sheets, local codes and qualified people come first; nothing here calls a product harmless."""

from __future__ import annotations

GENERAL = (
    "Gloves and eye protection on, air moving out of the room, breathing protection as the safety data sheet says. "
    "The product's data sheets, local codes and qualified people come before this plan."
)
CUP = "A full cup left standing can heat up by itself, smoke and burn: pour it out or spread it, never leave it."
PRESSURE = (
    "Pressure vessels only within their rating, inspected, closed and released slowly, by people who know them."
)
