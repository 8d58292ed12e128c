"""What kind of document it is, and which class of resin it is nearest to."""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from typing import Literal

from ..resin.system import System
from .judging import Found
from .page import Page

Document = Literal["data sheet", "safety data sheet", "other"]
_HAZARD = re.compile(r"\b(?:EU)?[HP][2-5]\d\d\b")
HAZARD_CODES = 6  # a technical sheet may name two or three
LEAST_FOUND = 2  # of what tells a resin from a paint: a ratio, a working time, a layer
TELLING = frozenset(
    {"ratio", "working_time", "gel_time", "depth_most", "demould", "full_cure", "tack_free", "recoat"}
)


def document_of(pages: Sequence[Page], found: Sequence[Found]) -> Document:
    """A safety data sheet names hazard and precaution codes by the dozen; a sheet for casting resin gives at
    least two of its ratio, working time, layers and times of cure.

    Raises nothing. Valid for whole documents. Source: Regulation (EC) No 1272/2008 for the codes' form; the
    counts are own judgement.
    """
    text = " ".join(word.text for page in pages for word in page.words)
    codes = set(_HAZARD.findall(text))
    telling = {one.quantity for one in found} & TELLING
    if len(codes) >= HAZARD_CODES and len(telling) < 4:
        return "safety data sheet"
    return "data sheet" if len(telling) >= LEAST_FOUND else "other"


def nearest_class(found: Sequence[Found], classes: Sequence[System]) -> str:
    """The typical class whose working time, deepest layer and viscosity are nearest, by their logarithms: a
    proposal for the person to look at.

    found    as read; classes  not empty
    Raises nothing. Valid as a proposal only. Source: own judgement.
    """
    told = {one.quantity: one.low for one in reversed(found) if one.low > 0}
    return min(classes, key=lambda one: _distance(told, one)).id


def _distance(told: dict[str, float], system: System) -> float:
    pairs = [
        (told.get("working_time", told.get("gel_time")), system.working_time.time_s.value),
        (told.get("depth_most"), max(rule.most_depth_m.value for rule in system.depth_rules)),
        (told.get("demould"), system.demould_s.value),
    ]
    return sum(abs(math.log(one / other)) for one, other in pairs if one and other)
