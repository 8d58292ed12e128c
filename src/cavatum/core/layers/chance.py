"""Of a hundred such pours, how many would get too hot: a void's course replayed with the resins that its
sheet may be about, and with what nobody measured round it. Rule 4.1.

Drawn round the pour (own judgement): room N(0, 1 K); what the mix brings from its cup N(0, 1 K); coefficient
of the top U(0.8, 1.2), sides N(1, 20 %), both N(1, 10 %) where a curve taught them; underside N(1, 25 %);
wall and floor thickness N(1, 5 %); depth N(1, 2 %); Rayleigh number of its liquid lognormal by 0.7 (a factor
of two).
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from statistics import NormalDist

import numpy as np

from ..calibration.at_pouring import AtPouring
from ..calibration.of_system import Cure
from ..calibration.own_layer import own_layer
from ..calibration.spread import KEPT, PAST_THE_PEAK, Subject, normal_columns, resins_like
from ..common.remembered import Remembered
from ..cure.parameters import ZERO_C_K, Kinetics
from ..heat.materials import Surround
from ..heat.run import Stop
from .course import LONGEST_S, Begins, Course
from .model import Chance

SEED = 41
ROOM_SD_K, CUP_SD_K, TOP_HALF, MEASURED_SD, SIDE_SD, UNDER_SD, WALL_SD, DEPTH_SD, STIRRING_SD = (
    1.0,
    1.0,
    0.2,
    0.1,
    0.2,
    0.25,
    0.05,
    0.02,
    0.7,
)
WARNED, STOPPED = 0.05, 0.20  # own judgement: shares over what must never be
FEW = 7  # draws of what follows a drag and of what compares systems: evenly along their peaks
HOT_SHARE = 0.95  # the twin that a plan is held against is hotter than so many of the draws


@dataclass(frozen=True, kw_only=True)
class Pouring:
    """One such pour: how what nobody measured turns out, as sums [K] and factors."""

    room_k: float
    cup_k: float
    top: float
    side: float
    under: float
    wall: float
    depth: float
    stirring: float

    def surround(self, given: Surround) -> Surround:
        return replace(
            given,
            top_w_m2k=given.top_w_m2k * self.top,
            side_times=given.side_times * self.side,
            underside_times=given.underside_times * self.under,
            wall_m=given.wall_m * self.wall,
            floor_m=given.floor_m * self.wall,
        )

    def begins(self, given: Begins) -> Begins:
        def begin(from_m: float, to_m: float, cure: Cure, room_c: float) -> AtPouring:
            began = given(from_m, to_m, cure, room_c)
            return replace(began, celsius=began.celsius + self.cup_k)

        return begin


@lru_cache(maxsize=4)
def pourings(*, air_is_measured: bool, count: int = KEPT, seed: int = SEED) -> tuple[Pouring, ...]:
    """So many of them, spread evenly."""
    found = []
    for row in normal_columns(count, 8, seed):
        uniform = 2 * NormalDist().cdf(row[2]) - 1
        found.append(
            Pouring(
                room_k=ROOM_SD_K * row[0],
                cup_k=CUP_SD_K * row[1],
                top=max(1 + MEASURED_SD * row[2], 0.5) if air_is_measured else 1 + TOP_HALF * uniform,
                side=max(1 + (MEASURED_SD if air_is_measured else SIDE_SD) * row[3], 0.2),
                under=max(1 + UNDER_SD * row[4], 0.2),
                wall=max(1 + WALL_SD * row[5], 0.5),
                depth=1 + DEPTH_SD * row[6],
                stirring=math.exp(STIRRING_SD * row[7]),
            )
        )
    return tuple(found)


# Small beside the courses they are of, and asked again with every edit that leaves the heat as it is.
_CHANCES: Remembered[list[Chance]] = Remembered(512)


def known_chances(course: Course) -> list[Chance]:
    """As chances_of, worked out once for all plans that differ in nothing that it hangs on.

    course  as there
    Raises as there. Valid as there. Source: chances_of.
    """
    return _CHANCES.get(course.signature, lambda: chances_of(course))


def chances_of(course: Course) -> list[Chance]:
    """Of every layer of a void, poured at the course's own hours. A coarse course follows few draws, and
    reads the others between them by how hot each gets in the sheet's own layer.
    """
    air = course.stack.surround.air_is_measured
    drawn = pourings(air_is_measured=air)
    resins = {layer.cure.system_id: resins_like(layer.cure.subject) for layer in course.layers}
    ranked = _ranked(course.top.cure.subject, air_is_measured=air)
    few = np.linspace(1, len(ranked.order) - 2, FEW).round().astype(int)
    followed = few if course.is_coarse else np.arange(len(ranked.order))
    peaks = np.array(
        [
            peaks_of(course, drawn[i], {one: likely[i] for one, likely in resins.items()})
            for i in (ranked.order[place] for place in followed)
        ]
    )
    if course.is_coarse:
        peaks = np.column_stack([np.interp(ranked.peaks_c, ranked.peaks_c[few], one) for one in peaks.T])
    return [
        Chance(
            low_c=round(float(np.percentile(peaks[:, i], 10, method="weibull")), 1),
            high_c=round(float(np.percentile(peaks[:, i], 90, method="weibull")), 1),
            over_wanted=share_over(peaks[:, i], layer.cure.wanted_c),
            over_never=(over := share_over(peaks[:, i], layer.cure.never_c)),
            is_risky=over > WARNED,
        )
        for i, layer in enumerate(course.layers)
    ]


def share_over(peaks_c: np.ndarray, limit_c: float) -> float:
    """Share of pours that pass a limit, smoothed between the draws.

        1 - F(limit),   F linear through (i + 1/2)/n at the sorted peaks, 0 and 1 beyond their ends

    peaks_c  [degC], shape (n,);  limit_c  [degC]
    Raises nothing. Valid to about half a draw, 1/(2 n). Source: the empirical distribution function.
    """
    ordered = np.sort(peaks_c)
    below = (np.arange(len(ordered)) + 0.5) / len(ordered)
    return round(1 - float(np.interp(limit_c, ordered, below, left=0.0, right=1.0)), 3)


def peaks_of(course: Course, pouring: Pouring, resins: Mapping[str, Kinetics]) -> list[float]:
    """Hottest [degC] of each layer, poured at the course's hours, with another resin and other surroundings.

    course  as it is planned;  pouring  what nobody measured;  resins  by system
    Raises DomainError outside the rate law's temperatures. Valid within the coarse grid's 1 K. Source: the
    same run as the plan's.
    """
    like = [
        replace(
            one,
            from_m=one.from_m * pouring.depth,
            to_m=one.to_m * pouring.depth,
            cure=replace(one.cure, kinetics=resins[one.cure.system_id]),
        )
        for one in course.layers
    ]
    again = _drawn(course, pouring).poured_as(like).until_hottest()
    return [float(again.curve(i)[1].max()) for i in range(len(course.layers))]


def _drawn(course: Course, pouring: Pouring) -> Course:
    return course.anew(
        warmer_k=pouring.room_k,
        surround=pouring.surround(course.stack.surround),
        coarse=True,
        begins=pouring.begins(course.begins),
        stirring=pouring.stirring,
    )


def _reference_peak(subject: Subject, kinetics: Kinetics, pouring: Pouring, depth_m: float) -> float:
    """Of a wide layer on board in the sheet's room, as this pouring has it [degC]."""
    began = subject.begins
    layer = own_layer(
        kinetics,
        depth_m * pouring.depth,
        subject.claims.room_c + pouring.room_k,
        replace(began, celsius=began.celsius + pouring.cup_k),
        surround=pouring.surround(Surround()),
        stirs=pouring.stirring,
        coarse=True,
    )
    done = layer.wait(LONGEST_S, Stop(layer=0, conversion=0.0, least=PAST_THE_PEAK))[1]
    return float(done.hottest.max()) - ZERO_C_K


@dataclass(frozen=True)
class Twin:
    """The hot one of a hundred: a resin and a pour that get hotter than HOT_SHARE of the draws do."""

    kinetics: Kinetics
    pouring: Pouring


@dataclass(frozen=True)
class Ranked:
    """The places of the draws, the coolest first, and their peaks [degC] in that order."""

    order: tuple[int, ...]
    peaks_c: np.ndarray


@lru_cache(maxsize=64)
def _ranked(subject: Subject, *, air_is_measured: bool) -> Ranked:
    """By their peaks at the sheet's greatest depth (where it has none, of its own layer) on board."""
    depth_m = subject.claims.deepest_m or subject.claims.film_m
    drawn = zip(resins_like(subject), pourings(air_is_measured=air_is_measured), strict=True)
    peaks = np.array([_reference_peak(subject, kinetics, pouring, depth_m) for kinetics, pouring in drawn])
    order = np.argsort(peaks)
    return Ranked(tuple(int(one) for one in order), peaks[order])


@lru_cache(maxsize=64)
def hot_twin(subject: Subject, *, air_is_measured: bool) -> Twin:
    """The draw that is hotter than HOT_SHARE of them on the sheet's own layer."""
    ranked = _ranked(subject, air_is_measured=air_is_measured).order
    place = ranked[min(int(HOT_SHARE * len(ranked)), len(ranked) - 1)]
    return Twin(resins_like(subject)[place], pourings(air_is_measured=air_is_measured)[place])


@dataclass(frozen=True, kw_only=True)
class Watched:
    """A course and, poured at the same hours, its hot twin."""

    course: Course
    hot: Course

    @classmethod
    def of(cls, course: Course, cure: Cure) -> Watched:
        """course: with what has been poured so far; cure: of what is poured next, whose pouring both
        follow.
        """
        hot = _drawn(course, _twin(cure, course).pouring)
        return cls(course=course, hot=_poured_hot(hot, course).at(course.stack.at_s))

    def pour(self, from_m: float, to_m: float, cure: Cure) -> Watched:
        return Watched(
            course=self.course.pour(from_m, to_m, cure),
            hot=self.hot.pour(from_m, to_m, _hot(cure, self.course)),
        )

    def until_ready(self, give_up_c: float = 1e6, never_c: float = 1e6) -> Watched:
        """Both until the course takes the next; given up where it is hotter than the one, or its twin than
        the
        other.
        """
        course = self.course.until_ready(give_up_c)
        if course.peak_c() > give_up_c:
            return Watched(course=course, hot=self.hot.wait(course.stack.at_s))
        hot = self.hot.wait(course.stack.at_s, Stop(give_up_k=never_c + ZERO_C_K))
        return Watched(course=course, hot=hot)

    def holds(self, cure: Cure) -> bool:
        """As cool as wanted, and hardly ever over what must never be."""
        return self.course.peak_c() <= cure.wanted_c and self.hot.peak_c() <= cure.never_c


def hot_replay(course: Course, warmer_k: float) -> Course:
    """The hot twin of a poured course, at its hours in a room so much warmer; coarse."""
    twin = _twin(course.top.cure, course).pouring
    return _poured_hot(_drawn(course, replace(twin, room_k=twin.room_k + warmer_k)), course)


def _poured_hot(empty: Course, course: Course) -> Course:
    """The course's layers at its hours, of the hot resins."""
    return empty.poured_as(replace(one, cure=_hot(one.cure, course)) for one in course.layers)


def _twin(cure: Cure, course: Course) -> Twin:
    return hot_twin(cure.subject, air_is_measured=course.stack.surround.air_is_measured)


def _hot(cure: Cure, course: Course) -> Cure:
    return replace(cure, kinetics=_twin(cure, course).kinetics)
