"""Few wobbling runs into one value with a band that means what it says, and that one absurd run does not
move.

With y the runs on a scale where wobble adds (the logarithm of value over centre, or the value itself):

    mu ~ centre + people x Student t(4);  sigma ~ LogNormal(ln wobble, 0.5)
    y_i ~ (1 - e) Normal(mu, sigma) + e Uniform(over the factor's whole range),  e = 0.05

The posterior is summed on a grid of mu and sigma; estimate is its median, band its 5 to 95 %.
Valid for 1 run up and wobble that does not depend on the value; about 320 x 25 points, mu finer round the
runs.
Source: Bayes' rule; outliers as a mixture with a broad component, Box and Tiao, Biometrika 55 (1968) 119;
heavy-tailed prior so that a person far from
typical is believed.
"""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.working import Data
from .factors import Factor

ABSURD = 0.05  # share of runs that say nothing: own judgement
SIGMA_SPREAD = 0.5
BAND = 0.90


class Estimate(Data):
    """value with its 90 % band. spread: how much one run wobbles (share, or value). aside: by run, the chance
    that it says nothing.
    """

    value: float
    low: float
    high: float
    spread: float
    runs: int
    aside: list[float]


def to_scale(factor: Factor, centre: float, value: float) -> float:
    """The scale on which wobble adds."""
    return value - centre if factor.is_share else math.log(value / centre)


def from_scale(factor: Factor, centre: float, y: float) -> float:
    """The value again."""
    return centre + y if factor.is_share else centre * math.exp(y)


def estimate(factor: Factor, centre: float, values: Sequence[float]) -> Estimate:
    """values: one a run, each within the factor's range. Raises DomainError for none, or one outside."""
    if not values:
        raise DomainError(
            argument="runs",
            value="none",
            allowed="at least one",
            way_out="Finish a run first.",
            code="no-runs",
        )
    for value in values:
        if not factor.least <= value <= factor.most or (value <= 0 and not factor.is_share):
            raise DomainError(
                argument=factor.title,
                value=f"{plainly(value)}",
                allowed=f"it lies between {plainly(factor.least)} and {plainly(factor.most)}",
                way_out="Leave this run out.",
                code="absurd",
            )
    y = np.array([to_scale(factor, centre, value) for value in values])
    mu, sigma, weight, inside = _posterior(factor, y)
    by_mu = weight.sum(axis=1)
    mean_sigma = float(np.exp((weight.sum(axis=0) * np.log(sigma)).sum()))
    middle, low, high = (_quantile(mu, by_mu, q) for q in (0.5, (1 - BAND) / 2, (1 + BAND) / 2))
    return Estimate(
        value=from_scale(factor, centre, middle),
        low=from_scale(factor, centre, low),
        high=from_scale(factor, centre, high),
        spread=mean_sigma,
        runs=len(y),
        aside=[round(float(1 - (weight * one).sum()), 3) for one in inside],
    )


def _posterior(factor: Factor, y: np.ndarray) -> tuple[np.ndarray, np.ndarray, np.ndarray, list[np.ndarray]]:
    """Grid of mu (m,), sigma (s,), weights (m, s) summing to 1, and for each run the chance (m, s) that it is
    sound.
    """
    from scipy.stats import t as student_t  # loaded only where used

    reach = 5 * factor.people
    low, high = min(-reach, float(y.min()) - factor.people), max(reach, float(y.max()) + factor.people)
    near = float(np.median(y))
    fine = np.linspace(near - 6 * factor.wobble, near + 6 * factor.wobble, 161)
    mu = np.unique(np.concatenate([np.linspace(low, high, 161), fine[(fine > low) & (fine < high)]]))
    sigma = factor.wobble * np.exp(np.linspace(-2.0, 2.0, 25))
    step = np.gradient(mu)
    log_prior = (
        np.log(student_t.pdf(mu / factor.people, 4) * step)[:, None]
        - 0.5 * (np.log(sigma / factor.wobble) / SIGMA_SPREAD)[None, :] ** 2
    )
    width = _range_width(factor)
    total, inside = log_prior, []
    for one in y:
        sound = (
            (1 - ABSURD)
            * np.exp(-0.5 * ((one - mu[:, None]) / sigma[None, :]) ** 2)
            / (sigma[None, :] * math.sqrt(2 * math.pi))
        )
        both = sound + ABSURD / width
        total = total + np.log(both)
        inside.append(sound / both)
    weight = np.exp(total - total.max())
    return mu, sigma, weight / weight.sum(), inside


def _range_width(factor: Factor) -> float:
    """Of what is possible, on the scale on which wobble adds."""
    if factor.is_share:
        return factor.most - factor.least
    return math.log(factor.most / factor.least)


def _quantile(at: np.ndarray, weight: np.ndarray, share: float) -> float:
    return float(np.interp(share, np.cumsum(weight) - 0.5 * weight, at))
