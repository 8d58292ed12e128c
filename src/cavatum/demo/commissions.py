"""Quillstone Yard's pieces as documents, laid around a day. Invented for Cavatum; nobody and nothing in it is
real.
"""

from __future__ import annotations

from datetime import datetime, time, timedelta
from typing import Any
from zoneinfo import ZoneInfo

from . import measured
from .measured import box, cone

ZONE = "Europe/London"
ARBORETUM = "Fernhollow Arboretum"
PRIVATE = "private commission"
SUNDAY = 6


def at(today: datetime, days: int, hour: int, minute: int = 0) -> str:
    zone = ZoneInfo(ZONE)
    day = today.astimezone(zone).date() + timedelta(days=days)
    return datetime.combine(day, time(hour, minute), zone).isoformat()


def days_to_work(today: datetime) -> int:
    """On Sundays nobody pours: then it is the day after."""
    return 1 if today.astimezone(ZoneInfo(ZONE)).weekday() == SUNDAY else 0


def due(today: datetime, days: int) -> str:
    return (today.astimezone(ZoneInfo(ZONE)).date() + timedelta(days=days)).isoformat()


def documents(today: datetime) -> list[dict[str, Any]]:
    """In planning first, then under way, then done."""
    return [
        *_castings(today),
        *_pockets_and_nests(today),
        *_tops(today),
        *_wood(today),
        *_under_way(today),
        *_done(today),
    ]


def _castings(today: datetime) -> list[dict[str, Any]]:
    return [
        {
            "name": "Newel finials",
            "for_whom": ARBORETUM,
            "kind_of_work": "turned work",
            "tint": "#B9C4B4",
            "system_id": "slow-casting-epoxy",
            "due": due(today, 40),
            "note": "Turned to 95 mm spheres from 105 mm cubes, then ground and polished.",
            "finish": {"surface": "polish", "start": "turned"},
            "voids": [
                {
                    "id": "cube",
                    "name": "Cube",
                    "count": 2,
                    "wall": "silicone",
                    "shape": box("105 mm", "105 mm", "105 mm"),
                    "portions": [{"id": "cube-1"}],
                }
            ],
        },
        {
            "name": "Lamp column blank",
            "for_whom": PRIVATE,
            "kind_of_work": "pressure casting",
            "tint": "#2F5D7C",
            "system_id": "fast-casting-polyurethane",
            "due": due(today, 25),
            "note": "Turned later. Two colours swirled by temperature, chamber at 2.8 bar.",
            "voids": [
                {
                    "id": "column",
                    "name": "Column",
                    "wall": "plastic",
                    "shape": {"kind": "cylinder", "diameter_m": "92 mm ± 0.5 mm", "depth_m": "310 mm ± 1 mm"},
                    "portions": [{"id": "column-1", "colour": "slate", "recipe_id": "slate"}],
                }
            ],
        },
        {
            "name": "Fern tray",
            "for_whom": PRIVATE,
            "kind_of_work": "small castings",
            "tint": "#7FA06A",
            "system_id": "craft-casting-epoxy",
            "due": due(today, 21),
            "note": "Base layer first, leaves laid on it while it is gummy.",
            "voids": [
                {
                    "id": "tray",
                    "name": "Tray",
                    "wall": "silicone",
                    "around": {"material_id": "tray-mould"},
                    "shape": measured.fern_tray(),
                    "inclusions": [
                        {
                            "id": "leaves",
                            "name": "fern leaf",
                            "count": 9,
                            "size_m": {
                                "form": "block",
                                "length_m": "70 mm",
                                "width_m": "22 mm",
                                "height_m": "0.4 mm",
                            },
                            "density_kg_m3": "250 kg/m3",
                            "from_m": "8 mm",
                            "to_m": "9 mm",
                            "held_down": True,
                        }
                    ],
                    "portions": [
                        {"id": "base", "colour": "pale green", "recipe_id": "pale-green", "to_m": "8 mm"},
                        {"id": "clear", "colour": "clear"},
                    ],
                }
            ],
        },
    ]


def _pockets_and_nests(today: datetime) -> list[dict[str, Any]]:
    pockets = measured.waymark_pockets()
    return [
        {
            "name": "Planter rings",
            "for_whom": ARBORETUM,
            "kind_of_work": "nested mould",
            "tint": "#A98E6B",
            "system_id": "slow-casting-epoxy",
            "due": due(today, 30),
            "note": "Two tapered forms; slow resin, left under pressure for days.",
            "voids": [
                {
                    "id": "ring",
                    "name": "Ring",
                    "count": 2,
                    "wall": "plastic",
                    "shape": {
                        "kind": "nested",
                        "outer": cone("240 mm", "228 mm", "120 mm"),
                        "inner": cone("196 mm", "186 mm", "140 mm"),
                        "inner_from_m": "0 mm",
                        "inner_mass_kg": "1.9 kg",
                    },
                    "form": {"release": "agent", "joints_sealed": True},
                    "portions": [{"id": "ring-1"}],
                }
            ],
        },
        {
            "name": "Waymark discs",
            "for_whom": ARBORETUM,
            "kind_of_work": "carved pockets",
            "tint": "#C2683F",
            "system_id": "craft-casting-epoxy",
            "due": due(today, 18),
            "note": "Ten, larch. The ring first; the arrow is cut when it is hard.",
            "survey": {
                "material": "larch",
                "grain": "open",
                "finish": "bare",
                "moisture": "9.5 %",
                "length_m": "180 mm",
                "width_m": "180 mm",
                "thickness_m": "24 mm",
            },
            "voids": [
                {
                    "id": "ring",
                    "name": "Ring pocket",
                    "count": 10,
                    "wall": "wood",
                    "shape": pockets["ring pocket"],
                    "soak_m3_m2": "60 mL/m2",
                    "overfill_m": "0.5 mm",
                    "portions": [{"id": "ring-1", "colour": "rust", "recipe_id": "rust"}],
                },
                {
                    "id": "arrow",
                    "name": "Arrow pocket",
                    "count": 10,
                    "wall": "wood",
                    "shape": pockets["arrow pocket"],
                    "soak_m3_m2": "60 mL/m2",
                    "overfill_m": "0.5 mm",
                    "portions": [{"id": "arrow-1", "colour": "cream", "recipe_id": "cream"}],
                },
            ],
        },
    ]


def _tops(today: datetime) -> list[dict[str, Any]]:
    def board(length: str, width: str, thickness: str, ends: int = 0) -> dict[str, Any]:
        return {
            "kind": "board",
            "length_m": length,
            "width_m": width,
            "thickness_m": thickness,
            "round_ends": ends,
        }

    return [
        {
            "name": "Potting-shed stool",
            "for_whom": PRIVATE,
            "kind_of_work": "painted top",
            "tint": "#6E8FA3",
            "system_id": "coating-epoxy",
            "due": due(today, 14),
            "note": "Stencilled numerals; the ink dries first.",
            "survey": {"material": "pine", "grain": "dense", "finish": "ink", "moisture": "10 %"},
            "coats": [
                {
                    "id": "top",
                    "name": "Seat",
                    "surface": board("340 mm", "280 mm", "22 mm"),
                    "grain": "dense",
                    "soak_m3_m2": "0 mL/m2",
                    "favourite_rule": "60 g per 1000 cm²",
                    "lays": [{"id": "top-1", "film_m": "0.6 mm"}],
                }
            ],
        },
        {
            "name": "Foyer panel",
            "for_whom": ARBORETUM,
            "kind_of_work": "thin coat",
            "tint": "#B58AA5",
            "system_id": "coating-epoxy",
            "due": due(today, 22),
            "note": "Dyed linen on board, edges dammed; the cloth is sealed first.",
            "survey": {
                "material": "cloth on board",
                "grain": "open",
                "finish": "bare",
                "found": ["skin grease"],
            },
            "coats": [
                {
                    "id": "face",
                    "name": "Face",
                    "surface": board("860 mm", "330 mm", "18 mm"),
                    "edges": "none",
                    "edge_way": "dam",
                    "wall": "board",
                    "soak_m3_m2": "120 mL/m2",
                    "lays": [
                        {
                            "id": "seal",
                            "role": "seal",
                            "system_id": "thin-sealing-epoxy",
                            "film_m": "0.25 mm",
                        },
                        {"id": "coat", "film_m": "0.85 mm"},
                    ],
                }
            ],
        },
        {
            "name": "Brush pots",
            "for_whom": PRIVATE,
            "kind_of_work": "rotator",
            "tint": "#8E9BC0",
            "system_id": "coating-epoxy",
            "due": due(today, 17),
            "note": "Six on the two-position rotator; glitter rested before it goes on.",
            "coats": [
                {
                    "id": "pot",
                    "name": "Pot",
                    "count": 6,
                    "wall": "plastic",
                    "grain": "not porous",
                    "edges": "none",
                    "surface": {
                        "kind": "cup",
                        "top_diameter_m": "78 mm",
                        "bottom_diameter_m": "62 mm",
                        "height_m": "110 mm",
                        "with_base": False,
                        "bare_band_m": "8 mm",
                    },
                    "lays": [
                        {"id": "pot-1", "film_m": "0.8 mm", "colour": "starlight", "recipe_id": "starlight"}
                    ],
                }
            ],
        },
        {
            "name": "Refectory counter",
            "for_whom": ARBORETUM,
            "kind_of_work": "flood coat",
            "tint": "#C98F4E",
            "system_id": "coating-epoxy",
            "due": due(today, 20),
            "note": "Cherry, one rounded end. Nicks filled in the seal coat.",
            "survey": {
                "material": "cherry",
                "grain": "dense",
                "finish": "bare",
                "moisture": "8.5 %",
                "length_m": "2240 mm",
                "width_m": "560 mm",
                "thickness_m": "32 mm",
                "is_flat": True,
                "found": ["skin grease"],
            },
            "level": {
                "pitch_deg": "0.05 deg",
                "roll_deg": "-0.1 deg",
                "length_m": "2000 mm",
                "width_m": "460 mm",
            },
            "coats": [
                {
                    "id": "top",
                    "name": "Top and edges",
                    "surface": board("2240 mm ± 2 mm", "560 mm ± 2 mm", "32 mm ± 0.5 mm", 1),
                    "grain": "dense",
                    "soak_m3_m2": {"as_typed": "60 mL/m2", "origin": "typical"},
                    "run_off": "8 %",
                    "favourite_rule": "3 fl oz per ft²",
                    "lays": [
                        {"id": "seal", "role": "seal", "system_id": "thin-sealing-epoxy", "film_m": "0.3 mm"},
                        {"id": "flood", "role": "flood", "film_m": "1.2 mm"},
                    ],
                }
            ],
        },
    ]


def _wood(today: datetime) -> list[dict[str, Any]]:
    return [
        {
            "name": "Newel post",
            "for_whom": ARBORETUM,
            "kind_of_work": "crack or knot",
            "tint": "#8B6B3E",
            "system_id": "casting-epoxy-25",
            "layering": "thirds",
            "due": due(today, 16),
            "note": "Drying shake in chestnut, filled by thirds; two through holes taped below.",
            "survey": {
                "material": "chestnut",
                "grain": "open",
                "finish": "bare",
                "length_m": "1150 mm",
                "width_m": "115 mm",
                "thickness_m": "115 mm",
                "kept_in": {"temperature_c": "16 C", "humidity": "62 %", "weeks": 10},
                "found": ["dust in crevices"],
                "done": ["crevices"],
                "defects": [
                    {
                        "id": "shake",
                        "kind": "crack",
                        "x_m": "560 mm",
                        "y_m": "60 mm",
                        "length_m": "640 mm",
                        "width_m": "14 mm",
                        "depth_m": "48 mm",
                        "treat": "void",
                        "void_id": "shake",
                    },
                    {
                        "id": "peg",
                        "kind": "other",
                        "x_m": "150 mm",
                        "y_m": "58 mm",
                        "length_m": "12 mm",
                        "width_m": "12 mm",
                        "is_through": True,
                        "treat": "patch",
                        "note": "old peg hole",
                    },
                    {
                        "id": "worm",
                        "kind": "worm hole",
                        "x_m": "930 mm",
                        "y_m": "30 mm",
                        "length_m": "3 mm",
                        "width_m": "3 mm",
                        "depth_m": "20 mm",
                        "treat": "note",
                    },
                ],
            },
            "voids": [
                {
                    "id": "shake",
                    "name": "Drying shake",
                    "wall": "wood",
                    "soak_m3_m2": {"as_typed": "120 mL/m2", "origin": "typical"},
                    "shape": measured.shake(),
                    "overfill_m": "1 mm",
                    "portions": [{"id": "shake-1"}],
                }
            ],
        },
        {
            "name": "Seed-head block",
            "for_whom": ARBORETUM,
            "kind_of_work": "block",
            "tint": "#D9A441",
            "system_id": "slow-casting-epoxy",
            "layering": "fewest",
            "due": due(today, 12),
            "reserve": "3 %",
            "note": "Acrylic-lined form. Eleven dried seed heads, wired to the base.",
            "voids": [
                {
                    "id": "block",
                    "name": "Block",
                    "wall": "plastic",
                    "shape": box("230 mm", "170 mm", "95 mm"),
                    "overfill_m": "2 mm",
                    "form": {
                        "dam_m": "6 mm",
                        "release": "mould needs none",
                        "joints_sealed": True,
                        "leak_tested": True,
                    },
                    "portions": [{"id": "block-1", "colour": "clear"}],
                    "inclusions": [
                        {
                            "id": "heads",
                            "name": "seed head",
                            "count": 11,
                            "sample": 11,
                            "mass_kg": "24.8 g ± 0.2 g",
                            "density_kg_m3": "250 kg/m3 ± 20 kg/m3",
                            "from_m": "20 mm",
                            "to_m": "88 mm",
                        }
                    ],
                }
            ],
        },
    ]


def _under_way(today: datetime) -> list[dict[str, Any]]:
    return [
        {
            "name": "Drawer pulls",
            "for_whom": PRIVATE,
            "kind_of_work": "small castings",
            "tint": "#4E7F83",
            "system_id": "craft-casting-epoxy",
            "due": due(today, 9),
            "first_pour_at": at(today, days_to_work(today), 12, 30),
            "note": "Twelve and two spares. Moss base, clear above, a brass insert in each.",
            "voids": [
                {
                    "id": "pull",
                    "name": "Pull",
                    "count": 14,
                    "wall": "silicone",
                    "shape": {
                        "kind": "fill test",
                        "filled_with": "water",
                        "mass_kg": "21.46 g ± 0.1 g",
                        "density_kg_m3": {"as_typed": "998 kg/m3", "origin": "typical"},
                        "depth_m": "10 mm",
                    },
                    "portions": [
                        {"id": "base", "colour": "moss", "recipe_id": "moss", "to_m": "4 mm"},
                        {"id": "top", "colour": "clear"},
                    ],
                    "inclusions": [
                        {
                            "id": "brass",
                            "name": "brass insert",
                            "sample": 14,
                            "volume_m3": "12.6 mL ± 0.5 mL",
                            "density_kg_m3": "8500 kg/m3",
                            "from_m": "4 mm",
                            "to_m": "9 mm",
                        }
                    ],
                }
            ],
        },
        {
            "name": "Entrance bench seat",
            "for_whom": ARBORETUM,
            "kind_of_work": "deep pour",
            "tint": "#D39A3C",
            "system_id": "slow-casting-epoxy",
            "due": due(today, 15),
            "first_pour_at": at(today, -1, 13),
            "reserve": "2 %",
            "finish": {"surface": "oil", "start": "planed or milled"},
            "note": "Ash, natural-edge inlet. Faces sealed the week before, so little soaks in.",
            "survey": {
                "material": "ash",
                "grain": "open",
                "finish": "sealed",
                "moisture": "9 %",
                "length_m": "1380 mm",
                "width_m": "410 mm",
                "thickness_m": "42 mm",
                "is_flat": True,
                "done": [
                    "bark",
                    "crevices",
                    "seal",
                    "patch",
                    "dam",
                    "leak-test",
                    "leak-dry",
                    "warm-room",
                    "warm-bottles",
                ],
                "defects": [
                    {
                        "id": "inlet-bark",
                        "kind": "bark",
                        "x_m": "690 mm",
                        "y_m": "210 mm",
                        "length_m": "900 mm",
                        "width_m": "30 mm",
                        "treat": "note",
                        "note": "taken off",
                    },
                    {
                        "id": "knot",
                        "kind": "knot",
                        "x_m": "1100 mm",
                        "y_m": "330 mm",
                        "length_m": "26 mm",
                        "width_m": "20 mm",
                        "depth_m": "18 mm",
                        "treat": "note",
                    },
                ],
            },
            "voids": [
                {
                    "id": "inlet",
                    "name": "Inlet",
                    "wall": "wood",
                    "shape": measured.inlet(),
                    "overfill_m": "2 mm",
                    "soak_m3_m2": "20 mL/m2",
                    "form": {"dam_m": "6 mm", "release": "tape", "joints_sealed": True, "leak_tested": True},
                    "portions": [{"id": "inlet-1", "colour": "amber", "recipe_id": "amber"}],
                }
            ],
        },
    ]


def _done(today: datetime) -> list[dict[str, Any]]:
    return [
        {
            "name": "Bookend pair",
            "for_whom": PRIVATE,
            "kind_of_work": "block",
            "tint": "#7A5A8C",
            "system_id": "casting-epoxy-25",
            "first_pour_at": at(today, -34, 9),
            "note": "Sticky on one side: off the ratio.",
            "finish": {"surface": "satin", "start": "drips and flash"},
            "voids": [
                {
                    "id": "bookend",
                    "name": "Bookend",
                    "count": 2,
                    "wall": "silicone",
                    "shape": box("140 mm", "90 mm", "40 mm"),
                    "portions": [{"id": "bookend-1"}],
                }
            ],
        },
        {
            "name": "Door plaque",
            "for_whom": ARBORETUM,
            "kind_of_work": "block",
            "tint": "#5B7A55",
            "system_id": "casting-epoxy-25",
            "first_pour_at": at(today, -20, 9),
            "note": "Handed over.",
            "finish": {"surface": "polish", "start": "sawn", "post_cure": True, "mould": "none"},
            "voids": [
                {
                    "id": "plaque",
                    "name": "Plaque",
                    "wall": "board",
                    "shape": box("300 mm", "180 mm", "12 mm"),
                    "portions": [{"id": "plaque-1", "colour": "moss", "recipe_id": "moss"}],
                }
            ],
        },
    ]
