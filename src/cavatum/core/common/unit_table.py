"""Units by kind of quantity: factor to SI and name. Exact by definition (NIST SP 811; BIPM) where not said
otherwise.
"""

from __future__ import annotations

IMPERIAL_GALLON_M3 = 4.54609e-3
LITRE_M3 = 1e-3
MONTH_S = 365.25 / 12 * 86400.0  # a twelfth of a Julian year: shelf lives are said in months


INCH_M = 0.0254


FOOT_M = 12 * INCH_M


POUND_KG = 0.45359237


OUNCE_KG = POUND_KG / 16


US_GALLON_M3 = 231 * INCH_M**3


US_FLUID_OUNCE_M3 = US_GALLON_M3 / 128


IMPERIAL_FLUID_OUNCE_M3 = IMPERIAL_GALLON_M3 / 160


STANDARD_GRAVITY = 9.80665  # m/s2, exact by definition (CGPM 1901)


UNITS: dict[str, dict[str, tuple[float, str]]] = {
    "length": {
        "mm": (1e-3, "mm"),
        "cm": (1e-2, "cm"),
        "m": (1.0, "m"),
        "um": (1e-6, "µm"),
        "µm": (1e-6, "µm"),
        "in": (INCH_M, "inch"),
        "inch": (INCH_M, "inch"),
        "inches": (INCH_M, "inch"),
        '"': (INCH_M, "inch"),
        "″": (INCH_M, "inch"),
        "ft": (FOOT_M, "foot"),
        "foot": (FOOT_M, "foot"),
        "feet": (FOOT_M, "foot"),
        "'": (FOOT_M, "foot"),
        "′": (FOOT_M, "foot"),
        "mil": (INCH_M / 1000, "mil"),
        "thou": (INCH_M / 1000, "mil"),
    },
    "volume": {
        "ml": (1e-6, "mL"),
        "cl": (1e-5, "cL"),
        "dl": (1e-4, "dL"),
        "l": (1e-3, "L"),
        "litre": (1e-3, "L"),
        "litres": (1e-3, "L"),
        "liter": (1e-3, "L"),
        "liters": (1e-3, "L"),
        "cc": (1e-6, "mL"),
        "cm3": (1e-6, "mL"),
        "cm³": (1e-6, "mL"),
        "m3": (1.0, "m³"),
        "m³": (1.0, "m³"),
        "fl oz": (US_FLUID_OUNCE_M3, "US fluid ounce"),
        "fl.oz": (US_FLUID_OUNCE_M3, "US fluid ounce"),
        "fl. oz": (US_FLUID_OUNCE_M3, "US fluid ounce"),
        "us fl oz": (US_FLUID_OUNCE_M3, "US fluid ounce"),
        "imp fl oz": (IMPERIAL_FLUID_OUNCE_M3, "imperial fluid ounce"),
        "cup": (US_GALLON_M3 / 16, "US cup"),
        "cups": (US_GALLON_M3 / 16, "US cup"),
        "pt": (US_GALLON_M3 / 8, "US pint"),
        "pint": (US_GALLON_M3 / 8, "US pint"),
        "pints": (US_GALLON_M3 / 8, "US pint"),
        "qt": (US_GALLON_M3 / 4, "US quart"),
        "quart": (US_GALLON_M3 / 4, "US quart"),
        "quarts": (US_GALLON_M3 / 4, "US quart"),
        "gal": (US_GALLON_M3, "US gallon"),
        "gallon": (US_GALLON_M3, "US gallon"),
        "gallons": (US_GALLON_M3, "US gallon"),
        "imp gal": (IMPERIAL_GALLON_M3, "imperial gallon"),
        "imp pt": (IMPERIAL_GALLON_M3 / 8, "imperial pint"),
        "imp qt": (IMPERIAL_GALLON_M3 / 4, "imperial quart"),
        "in3": (INCH_M**3, "cubic inch"),
        "in³": (INCH_M**3, "cubic inch"),
        "cu in": (INCH_M**3, "cubic inch"),
        "ft3": (FOOT_M**3, "cubic foot"),
        "ft³": (FOOT_M**3, "cubic foot"),
        "cu ft": (FOOT_M**3, "cubic foot"),
    },
    "area": {
        "m2": (1.0, "m²"),
        "m²": (1.0, "m²"),
        "sq m": (1.0, "m²"),
        "cm2": (1e-4, "cm²"),
        "cm²": (1e-4, "cm²"),
        "sq cm": (1e-4, "cm²"),
        "mm2": (1e-6, "mm²"),
        "mm²": (1e-6, "mm²"),
        "in2": (INCH_M**2, "square inch"),
        "in²": (INCH_M**2, "square inch"),
        "sq in": (INCH_M**2, "square inch"),
        "ft2": (FOOT_M**2, "square foot"),
        "ft²": (FOOT_M**2, "square foot"),
        "sq ft": (FOOT_M**2, "square foot"),
    },
    "mass": {
        "g": (1e-3, "g"),
        "gram": (1e-3, "g"),
        "grams": (1e-3, "g"),
        "kg": (1.0, "kg"),
        "mg": (1e-6, "mg"),
        "lb": (POUND_KG, "pound"),
        "lbs": (POUND_KG, "pound"),
        "pound": (POUND_KG, "pound"),
        "pounds": (POUND_KG, "pound"),
        "oz wt": (OUNCE_KG, "weight ounce"),
        "wt oz": (OUNCE_KG, "weight ounce"),
        "oz av": (OUNCE_KG, "weight ounce"),
    },
    "density": {
        "g/ml": (1000.0, "g/mL"),
        "g/cm3": (1000.0, "g/mL"),
        "g/cm³": (1000.0, "g/mL"),
        "kg/l": (1000.0, "g/mL"),
        "kg/m3": (1.0, "kg/m³"),
        "kg/m³": (1.0, "kg/m³"),
        "lb/gal": (POUND_KG / US_GALLON_M3, "pound per US gallon"),
    },
    "duration": {
        "s": (1.0, "s"),
        "sec": (1.0, "s"),
        "min": (60.0, "min"),
        "mins": (60.0, "min"),
        "minutes": (60.0, "min"),
        "h": (3600.0, "h"),
        "hr": (3600.0, "h"),
        "hrs": (3600.0, "h"),
        "hour": (3600.0, "h"),
        "hours": (3600.0, "h"),
        "d": (86400.0, "day"),
        "day": (86400.0, "day"),
        "days": (86400.0, "day"),
        "week": (604800.0, "week"),
        "weeks": (604800.0, "week"),
        "month": (MONTH_S, "month"),
        "months": (MONTH_S, "month"),
        "year": (12 * MONTH_S, "year"),
        "years": (12 * MONTH_S, "year"),
    },
    "fraction": {"%": (0.01, "%"), "percent": (0.01, "%"), "pct": (0.01, "%")},
    "angle": {"deg": (1.0, "degrees"), "°": (1.0, "degrees"), "degrees": (1.0, "degrees")},
    "areal_volume": {"ml/m2": (1e-6, "mL/m²"), "ml/m²": (1e-6, "mL/m²")},
    "viscosity": {
        "pa s": (1.0, "Pa s"),
        "mpa s": (1e-3, "mPa s"),
        "mpas": (1e-3, "mPa s"),
        "cp": (1e-3, "cP"),
        "cps": (1e-3, "cP"),
    },
    "pressure": {
        "bar": (1e5, "bar"),
        "psi": (POUND_KG * STANDARD_GRAVITY / INCH_M**2, "psi"),
        "kpa": (1e3, "kPa"),
        "mpa": (1e6, "MPa"),
        "pa": (1.0, "Pa"),
    },
    "conductivity": {
        "w/m k": (1.0, "W/(m K)"),
        "w/mk": (1.0, "W/(m K)"),
        "w/(m k)": (1.0, "W/(m K)"),
        "w/(m·k)": (1.0, "W/(m K)"),
    },
    "heat_capacity": {
        "j/kg k": (1.0, "J/(kg K)"),
        "j/kgk": (1.0, "J/(kg K)"),
        "j/(kg k)": (1.0, "J/(kg K)"),
        "kj/kg k": (1e3, "kJ/(kg K)"),
        "j/g k": (1e3, "J/(g K)"),
        "j/(kg·k)": (1.0, "J/(kg K)"),
    },
    "heat": {"kj/kg": (1e3, "kJ/kg"), "j/g": (1e3, "J/g"), "j/kg": (1.0, "J/kg")},
    "temperature": {
        "c": (1.0, "°C"),
        "°c": (1.0, "°C"),
        "degc": (1.0, "°C"),
        "f": (1.0, "°F"),
        "°f": (1.0, "°F"),
        "degf": (1.0, "°F"),
    },
}


KINDS = (*UNITS, "ratio", "count")


FOLLOWS = {"foot": ("inch", INCH_M), "pound": ("weight ounce", OUNCE_KG), "h": ("min", 60.0)}


EXAMPLES = {
    "length": "42 mm, 12,5 cm, 3/16 in, 2 ft 3, 127 ± 1 mm",
    "area": "0.4 m2, 1200 cm2, 10 sq ft",
    "volume": "500 mL, 1.2 L, 1 qt, 8 fl oz",
    "mass": "250 g, 1.2 kg, 1 lb 4 oz",
    "density": "1.12 g/mL",
    "duration": "40 min, 6 h, 3 days",
    "fraction": "5 %",
    "angle": "3 deg",
    "areal_volume": "100 mL/m2",
    "temperature": "21 C, 70 F",
    "ratio": "3:1",
    "count": "14",
    "viscosity": "400 mPa s",
    "heat": "330 kJ/kg",
    "pressure": "2.8 bar, 40 psi",
    "conductivity": "0.25 W/m K",
    "heat_capacity": "1300 J/kg K",
}
