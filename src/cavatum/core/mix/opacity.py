"""How much light a coloured layer lets through, from a swatch of it. An estimate. Rule 5.6."""

from __future__ import annotations

import math

from ..common.errors import DomainError

SEEN_THROUGH = 0.02  # own judgement: below it nothing behind is made out


NEARLY = 0.2  # own judgement: shapes, no detail


def words(through: float) -> str:
    """How a layer that lets so much through looks."""
    return "opaque" if through < SEEN_THROUGH else "nearly opaque" if through < NEARLY else "seen through"


def lets_through(
    swatch_depth_m: float, swatch_share: float, swatch_through: float, depth_m: float, share: float
) -> float:
    """Share of light, 0..1, through a layer, from a swatch of the same colourants.

        T = T0 ^ (s d / (s0 d0))

    swatch_depth_m, depth_m  d0, d [m], > 0;  swatch_share, share  s0, s of the mix, > 0
    swatch_through  T0, more than 0 and less than 1
    Raises DomainError outside. Valid as an estimate for one recipe, thinned or thickened: the law holds
    for what absorbs; powders scatter and lie flat, and let through less. Source: Beer-Lambert law.
    """
    if not 0 < swatch_through < 1:
        raise DomainError(
            argument="light let through",
            value=f"{swatch_through:.0%}",
            allowed="it lies between 0 and 100 %",
            way_out="Take a thinner or a thicker swatch.",
            code="out-of-range",
        )
    if min(swatch_depth_m, swatch_share, depth_m) <= 0 or share < 0:
        raise DomainError(
            argument="swatch",
            value="of nothing",
            allowed="depth and colour are more than 0",
            way_out="Measure the swatch.",
            code="zero",
        )
    return math.exp(math.log(swatch_through) * share * depth_m / (swatch_share * swatch_depth_m))


def share_for(
    swatch_depth_m: float, swatch_share: float, swatch_through: float, depth_m: float, wanted: float
) -> float:
    """The total share of colourant at which a layer of `depth_m` lets the wanted part of the light through.

        s = s0 d0 ln T / (d ln T0)

    swatch_depth_m, depth_m  d0, d [m], > 0;  swatch_share  s0 of the mix, > 0
    swatch_through, wanted  T0, T, more than 0 and less than 1
    Raises DomainError outside. Valid as lets_through is. Source: Beer-Lambert law, solved for s.
    """
    for value in (swatch_through, wanted):
        if not 0 < value < 1:
            raise DomainError(
                argument="light let through",
                value=f"{value:.0%}",
                allowed="it lies between 0 and 100 %",
                way_out="Say how much should come through.",
                code="out-of-range",
            )
    return swatch_share * swatch_depth_m * math.log(wanted) / (depth_m * math.log(swatch_through))
