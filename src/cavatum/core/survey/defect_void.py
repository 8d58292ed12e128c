"""From a marked defect to the void it most likely is. What the marking does not tell is a typical guess,
marked so, to be measured. Rule 1.5.
"""

from __future__ import annotations

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.readings import Length
from ..piece.shapes import Cone, Crack, Cylinder, Shape, Tapered
from ..piece.survey_findings import Defect, Survey

NARROWS = 0.6  # typical guess: a blind knot or patch is about this much narrower at its bottom


def void_shape(defect: Defect, survey: Survey) -> Shape:
    """A crack closes to a line when it is blind and is straight when it goes through; a worm hole is a
    cylinder; a knot a cone; the rest
    has four sloped sides.

    Raises DomainError where its depth is not known: not typed, and not the piece's thickness for one that
    goes through.
    """
    depth = survey.thickness_m if defect.is_through and survey.thickness_m else defect.depth_m
    if depth is None:
        raise DomainError(
            argument=f"{defect.kind} on the plan",
            value="of unknown depth",
            allowed="its depth is needed to fill it",
            way_out="Type how deep it goes.",
            code="no-depth",
        )
    length, width = defect.length_m, defect.width_m
    if defect.kind == "crack":
        return Crack(
            form="straight" if defect.is_through else "v", length_m=length, width_m=width, depth_m=depth
        )
    if defect.kind == "worm hole":
        return Cylinder(diameter_m=width, depth_m=depth)
    narrow = 1.0 if defect.is_through else NARROWS
    if defect.kind == "knot":
        mean = (length.value + width.value) / 2
        return Cone(top_diameter_m=_guess(mean), bottom_diameter_m=_guess(mean * narrow), depth_m=depth)
    return Tapered.model_validate(
        {
            "length_m": length,
            "width_m": width,
            "bottom_length_m": _guess(length.value * narrow).model_dump(),
            "bottom_width_m": _guess(width.value * narrow).model_dump(),
            "depth_m": depth,
        }
    )


def _guess(value_m: float) -> Length:
    return Length(
        value=round(value_m, 4), as_typed=f"{plainly(round(value_m * 1000, 1))} mm", origin="typical"
    )
