"""The hazard statements of safety data sheets, each with what it asks of somebody who pours."""

from __future__ import annotations

# Statements: Regulation (EC) No 1272/2008, Annex III, table 1 (from memory). What to do: common practice;
# section 8 of the sheet says which gloves and which mask.
STATEMENTS = {
    "H225": ("Highly flammable liquid and vapour", "No flame, no spark, no hot lamp near it; air moving."),
    "H226": ("Flammable liquid and vapour", "No flame and no torch near it; air moving."),
    "H290": ("May be corrosive to metals", "No metal cup and no metal stick."),
    "H302": ("Harmful if swallowed", "No food and no drinking cup at the bench."),
    "H304": (
        "May be fatal if swallowed and enters airways",
        "Out of reach; swallowed: no vomiting, a doctor at once.",
    ),
    "H311": ("Toxic in contact with skin", "Gloves and sleeves as section 8 says; off with what is wet."),
    "H312": ("Harmful in contact with skin", "Gloves and sleeves as section 8 says."),
    "H314": (
        "Causes severe skin burns and eye damage",
        "Tight goggles and gloves, water to rinse within reach.",
    ),
    "H315": ("Causes skin irritation", "Gloves as section 8 says; soap and water, no solvent."),
    "H317": (
        "May cause an allergic skin reaction",
        "None on the skin, not once: gloves changed often, sleeves down.",
    ),
    "H318": ("Causes serious eye damage", "Tight goggles, water to rinse within reach."),
    "H319": ("Causes serious eye irritation", "Eye protection."),
    "H330": ("Fatal if inhaled", "Only with the breathing protection of section 8 and extraction."),
    "H331": ("Toxic if inhaled", "Only with the breathing protection of section 8 and extraction."),
    "H332": ("Harmful if inhaled", "Extraction, or the breathing protection of section 8."),
    "H334": (
        "May cause allergy or asthma symptoms or breathing difficulties if inhaled",
        "The mask of section 8 from the first opening on; a tight chest: out, and see a doctor.",
    ),
    "H335": ("May cause respiratory irritation", "Air moving out of the room, or the mask of section 8."),
    "H336": ("May cause drowsiness or dizziness", "Air moving out of the room."),
    "H340": ("May cause genetic defects", "Only with everything that section 8 asks for."),
    "H341": ("Suspected of causing genetic defects", "All that section 8 asks for."),
    "H350": ("May cause cancer", "Only with everything that section 8 asks for."),
    "H351": ("Suspected of causing cancer", "All that section 8 asks for; no dust of half-cured resin."),
    "H360": (
        "May damage fertility or the unborn child",
        "Not while pregnant; else all that section 8 asks for.",
    ),
    "H361": ("Suspected of damaging fertility or the unborn child", "Not while pregnant; all of section 8."),
    "H372": (
        "Causes damage to organs through prolonged or repeated exposure",
        "All that section 8 asks for.",
    ),
    "H373": (
        "May cause damage to organs through prolonged or repeated exposure",
        "All that section 8 asks for.",
    ),
    "H400": ("Very toxic to aquatic life", "Nothing into the drain: liquid waste to collection."),
    "H410": (
        "Very toxic to aquatic life with long lasting effects",
        "Nothing into the drain: waste to collection.",
    ),
    "H411": (
        "Toxic to aquatic life with long lasting effects",
        "Nothing into the drain: waste to collection.",
    ),
    "H412": (
        "Harmful to aquatic life with long lasting effects",
        "Nothing into the drain: waste to collection.",
    ),
    "H413": ("May cause long lasting harmful effects to aquatic life", "Nothing into the drain."),
    "EUH066": ("Repeated exposure may cause skin dryness or cracking", "Gloves as section 8 says."),
    "EUH204": (
        "Contains isocyanates. May produce an allergic reaction",
        "The mask of section 8 from the first opening on; whoever is sensitised stays out.",
    ),
    "EUH205": (
        "Contains epoxy constituents. May produce an allergic reaction",
        "None on the skin, not once: gloves changed often, sleeves down.",
    ),
    "EUH208": (
        "Contains a sensitising substance. May produce an allergic reaction",
        "None on the skin, not once: gloves changed often, sleeves down.",
    ),
}


def caution_of(code: str, name: str) -> str:
    """A hazard statement as a caution of a plan; one that is not known here sends to the sheet.

    code  as core/sheet/hazards.py gives it;  name  of the resin
    Raises nothing. Exact. Source: STATEMENTS.
    """
    says, todo = STATEMENTS.get(code, ("a statement of its safety data sheet", "Read it there."))
    return f"{name}, {code}: {says[:1].lower()}{says[1:]}. {todo}"
