"""Resins that a sheet may be about: rate laws drawn round the one that is computed with, each refitted to the
sheet's working time, and kept in so far as it agrees with what else the sheet claims. Rule 4.1.

Drawn (class, own judgement): E N(E, 4 kJ/mol), narrower where a sheet gives times at two temperatures; b
log-uniform 0.02 to 0.3 where no second number fits it; H N(1, 8 %); k N(1, 8 %); cp N(1, 4 %); the sheet's
own time N(1, 8 %). After a measured curve H N(1, 4 %) and the rate N(1, 5 %) alone; where runs taught the
pace, its own band stands for the 8 %.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from statistics import NormalDist

import numpy as np
from numpy.typing import NDArray

from ..cure.parameters import ZERO_C_K, Kinetics
from ..heat import kernel
from ..heat.column import Stack
from ..heat.run import Stop
from .at_pouring import AtPouring
from .from_sheet import TACK_FREE, PotLife, refitted, working_time
from .own_layer import own_layer

Floats = NDArray[np.float64]

PRIOR, KEPT, SEED = 128, 32, 23
ENERGY_SD, HEAT_SD, CONDUCTIVITY_SD, CAPACITY_SD, TIME_SD = 4000.0, 0.08, 0.08, 0.04, 0.08
B_FROM, B_TO = 0.02, 0.3
MEASURED_HEAT_SD, MEASURED_RATE_SD = 0.04, 0.05
DEPTH_SOFT_K = 6.0  # own judgement: how sharply a maker's greatest depth keeps below what must never be
FILM_SD = 0.2  # own judgement, of the logarithm: a finger's idea of tack-free
PAST_THE_PEAK = 0.7  # own choice: conversion of the least cured place by which a layer has been hottest
LONGEST_S = 10 * 86400.0


@dataclass(frozen=True, kw_only=True)
class Claims:
    """What a sheet says beside its working time, in the sheet's own room.

    deepest_m    its greatest depth for any mass; None: only by mass
    film_m       the layer its tack-free time was measured on
    is_measured  the rate law comes of a measured curve
    time_sd      how far its time may be off, as a share
    energy_sd    how far its activation energies may be off [J/mol]
    """

    room_c: float
    deepest_m: float | None
    film_m: float
    b_is_fitted: bool
    is_measured: bool = False
    time_sd: float = TIME_SD
    energy_sd: float = ENERGY_SD


@dataclass(frozen=True, kw_only=True)
class Subject:
    """A resin as it is computed with, and what its sheet claims."""

    kinetics: Kinetics
    pot: PotLife
    begins: AtPouring
    never_c: float
    claims: Claims


def normal_columns(count: int, columns: int, seed: int) -> Floats:
    """Standard normal draws spread evenly: one in each of `count` equal shares of every column.

        z = Phi^-1((pi(i) + u) / n),   pi a permutation of its own for each column   (count, columns)

    Raises nothing. Valid for averages over all rows. Source: Latin hypercube sampling, McKay, Beckman and
    Conover 1979 (from memory).
    """
    random = np.random.default_rng(seed)
    places = np.array([random.permutation(count) for _ in range(columns)]).T
    shares = (places + random.random((count, columns))) / count
    inverse = NormalDist().inv_cdf
    return np.array([[inverse(min(max(one, 1e-6), 1 - 1e-6)) for one in row] for row in shares])


@lru_cache(maxsize=64)
def resins_like(
    subject: Subject, *, count: int = KEPT, prior: int = PRIOR, seed: int = SEED
) -> tuple[Kinetics, ...]:
    """So many rate laws, equally likely, that a sheet like this may be about.

        p(theta | sheet) ~ p(theta) L(depth) L(film),   L(depth) = 1 / (1 + exp((peak - never) / 6 K)) at the
        sheet's greatest depth, L(film) = exp(-ln(t / t0)^2 / (2 x 0.2^2)) for its tack-free conversion;
        `prior` draws, systematically resampled

    Raises DomainError outside the rate law's temperatures. Valid where the sheet is honest; t0 is the
    computed resin's own time, since what "tack-free" meant is fitted there. Source: Bayes' rule by importance
    resampling; spreads are own judgement.
    """
    claims = subject.claims
    if claims.is_measured:
        return tuple(_near_measured(subject.kinetics, row) for row in normal_columns(count, 2, seed))
    time_s = working_time(subject.kinetics, subject.pot, coarse=True)
    drawn = [_drawn(subject, row, time_s) for row in normal_columns(prior, 6, seed)]
    # Where b is fitted a film's time says no more than the working time does.
    film_s = None if claims.b_is_fitted else _film_time(subject, subject.kinetics)
    weighed = np.array([_weighed(subject, one, film_s) for one in drawn])
    # By their peaks, so that each share of them is kept as often as it should be.
    order = np.argsort(weighed[:, 1])
    return tuple(drawn[order[i]] for i in _resampled(weighed[order, 0], count))


def _near_measured(base: Kinetics, row: Floats) -> Kinetics:
    return base.model_copy(
        update={
            "heat_j_kg": base.heat_j_kg * (1 + MEASURED_HEAT_SD * row[0]),
            "k2_ref_1_s": base.k2_ref_1_s * (1 + MEASURED_RATE_SD * row[1]),
        }
    )


def _drawn(subject: Subject, row: Floats, time_s: float) -> Kinetics:
    base, claims = subject.kinetics, subject.claims
    share = NormalDist().cdf(row[1])
    b = math.exp(math.log(B_FROM) + share * math.log(B_TO / B_FROM))
    energy, start = claims.energy_sd * row[0], base.energy_start_j_mol
    changed = base.model_copy(
        update={
            "energy_j_mol": max(base.energy_j_mol + energy, 2e4),
            "energy_start_j_mol": None if start is None else max(start + energy, 2e4),
            "b": base.b if claims.b_is_fitted else b,
            "heat_j_kg": base.heat_j_kg * (1 + HEAT_SD * row[2]),
            "conductivity_w_m_k": base.conductivity_w_m_k * (1 + CONDUCTIVITY_SD * row[3]),
            "heat_capacity_j_kg_k": base.heat_capacity_j_kg_k * (1 + CAPACITY_SD * row[4]),
        }
    )
    return refitted(changed, subject.pot, time_s * math.exp(claims.time_sd * row[5]))


def _sheets_layer(subject: Subject, kinetics: Kinetics, depth_m: float) -> Stack:
    return own_layer(kinetics, depth_m, subject.claims.room_c, subject.begins, coarse=True)


def _film_time(subject: Subject, kinetics: Kinetics) -> float | None:
    stop = Stop(layer=0, conversion=TACK_FREE)
    done = _sheets_layer(subject, kinetics, subject.claims.film_m).wait(LONGEST_S, stop)[1]
    return done.first(0, kernel.TOP_A, TACK_FREE)


def _weighed(subject: Subject, kinetics: Kinetics, film_s: float | None) -> tuple[float, float]:
    """Likelihood of what the sheet claims, and the peak [degC] of its deepest layer, or of its own."""
    found, deepest_m = 1.0, subject.claims.deepest_m
    layer = _sheets_layer(subject, kinetics, deepest_m or subject.claims.film_m)
    done = layer.wait(LONGEST_S, Stop(layer=0, conversion=0.0, least=PAST_THE_PEAK))[1]
    peak_c = float(done.hottest.max()) - ZERO_C_K
    if deepest_m is not None:
        found /= 1 + math.exp(min((peak_c - subject.never_c) / DEPTH_SOFT_K, 50.0))
    if film_s is not None:
        at_s = _film_time(subject, kinetics)
        found *= math.exp(-((math.log((at_s or LONGEST_S) / film_s) / FILM_SD) ** 2) / 2)
    return found, peak_c


def _resampled(weights: Floats, count: int) -> list[int]:
    """Places of `count` draws in proportion to their weights, systematically; all alike where none has
    any.
    """
    total = weights.sum()
    shares = weights / total if total > 0 else np.full(len(weights), 1 / len(weights))
    at = (np.arange(count) + 0.5) / count
    return [int(one) for one in np.searchsorted(np.cumsum(shares), at).clip(0, len(weights) - 1)]
