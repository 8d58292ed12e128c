"""Values that belong to a group (a resin, a cup, a way of scraping) and lean on all groups while runs are
few. Rule
9.2.

    y_all ~ as robust.py has it, one value a group;   mu_group ~ Student t(4) about y_all, as wide as
    groups differ
    and y_all is known;   y_i ~ as robust.py has it

A group of few runs stands near the general value, one of many at its own. Source: partial pooling, Gelman
and Hill,
Data Analysis Using Regression and Multilevel/Hierarchical Models (2007), ch. 12; done in two steps here.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import replace
from statistics import median

from .factors import Factor
from .robust import Estimate, estimate, to_scale

NINETY_SD = 1.645  # half of a 90 % band in standard deviations


def pooled(
    factor: Factor, centre: float, groups: Mapping[str, Sequence[float]]
) -> tuple[Estimate, dict[str, Estimate]]:
    """The general value, for groups that nobody measured, and each group's own.

    factor  between: how far groups of one workshop differ (share, or value);  centre  the typical value
    groups  one value a run, at least one in each
    Raises DomainError as estimate does. Valid for one group up.
    """
    one_each = [median(values) for values in groups.values()]
    general = estimate(replace(factor, wobble=factor.between), centre, one_each)
    known = _half_width(factor, centre, general) / NINETY_SD
    own = replace(factor, people=math.hypot(factor.between, known))
    return general, {key: estimate(own, general.value, values) for key, values in groups.items()}


def _half_width(factor: Factor, centre: float, found: Estimate) -> float:
    return (to_scale(factor, centre, found.high) - to_scale(factor, centre, found.low)) / 2
