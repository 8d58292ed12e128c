"""The search for a split: fewest, coolest, soonest, under the sheet's rules, the heat, bubbles and what is to
be embedded. Rules 4.1, 4.4.

Greedy for the fewest: the greatest depth that every limit lets through, then wait until it takes the next,
and again; then the same
number evenly and first-heavier, each run anew and coupled, and the coolest of them kept.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, replace

from ..calibration.of_system import Cure
from ..common.errors import DomainError, Infeasible
from ..common.plain_numbers import plainly
from ..common.unit_table import STANDARD_GRAVITY
from ..cure.particles import mobility
from .chance import WARNED, Watched
from .course import LONGEST_S, Course
from .rules import SLACK_M, deepest_top
from .split import LEAST_POUR_M, REST_M, THINNEST_M, Layer, Stretch, evenly, fewest

BUBBLE_M = 0.12e-3  # bubbles over this should get out before gel, class
SEARCH_STEPS = 6
MOST_HEATED = 24
FIRST_HEAVIER = 1.3  # the first layer stands on a cold floor and takes more
WORTH_K = 2.0  # own judgement
AS_COOL_K = 0.5  # own judgement: what is closer than the cells are good for is as cool


@dataclass(frozen=True)
class Limits:
    """What a layer may not pass, beside heat. embeds: heights at which things that would sink are laid on a
    layer.
    """

    bubbles_m: float
    embeds: tuple[tuple[float, str], ...] = ()


@dataclass(frozen=True, kw_only=True)
class Split:
    """A way to cut a stretch, run through: its layers, the hottest, the hottest of its hot twin, when it is
    done, whether every limit is kept.
    """

    layers: tuple[Layer, ...]
    peak_c: float
    hot_c: float
    ready_s: float
    is_within: bool
    course: Course


def limits_of(stretch: Stretch, cure: Cure, room_k: float) -> Limits:
    """Bubble clearance at the room's temperature (a warming layer is thinner at first and sets sooner), and
    the heights of things laid in.
    """
    phi = mobility(cure.kinetics, room_k)
    rho = cure.kinetics.density_kg_m3
    # Under pressure bubbles shrink and stay unseen; else the smallest that should get out sets the depth
    # (cure.particles.smallest_bubble_out).
    bubbles = math.inf if stretch.system.needs_pressure else phi * rho * STANDARD_GRAVITY * BUBBLE_M**2 / 18
    embeds = tuple(
        (thing.from_m.value, thing.name)
        for thing in stretch.cavity.void.embedded
        if not thing.held_down
        and thing.density_kg_m3 is not None
        and thing.density_kg_m3.value > stretch.density_kg_m3
        and thing.from_m.value > stretch.from_m + LEAST_POUR_M
    )
    return Limits(bubbles, embeds)


def highest_top(stretch: Stretch, limits: Limits, start: float) -> Layer:
    """How high a layer may reach by everything but heat, and what stops it."""
    rule = deepest_top(stretch.cavity, stretch.system, stretch.density_kg_m3, start, stretch.to_m)
    top, reason = rule.top_m, rule.reason
    if start + limits.bubbles_m < top:
        top, reason = (
            start + limits.bubbles_m,
            f"bubbles over ⟦{plainly(BUBBLE_M * 1e3, 2)} mm⟧ would not get out of a deeper layer before "
            "it gels",
        )
    for height, name in limits.embeds:
        if start + THINNEST_M < height < top:
            top, reason = height, f"{name} is to be laid on it"
    return Layer(from_m=start, to_m=top, limited_by=reason, allowed=top <= rule.top_m + SLACK_M)


def greedy(stretch: Stretch, cure: Cure, course: Course, limits: Limits) -> Split:
    """The fewest layers, each as deep as the limits let it be. Raises Infeasible when no layer can begin."""
    layers: list[Layer] = []
    start, watched = stretch.from_m, Watched.of(course, cure)
    while start < stretch.to_m - REST_M:
        if len(layers) >= MOST_HEATED:
            raise Infeasible(
                argument="layers",
                value=f"more than {MOST_HEATED} by heat",
                allowed="too many layers to be practical",
                way_out="Choose another system.",
                code="too-many-layers",
            )
        highest = highest_top(stretch, limits, start)
        if highest.depth_m < THINNEST_M:
            fewest(stretch)  # says why no rule lets a layer begin
            raise Infeasible(
                argument="layer",
                value="no depth",
                allowed="some depth has to be allowed",
                way_out="Choose another system.",
                code="too-many-layers",
            )
        layer, watched = _deepest(watched, cure, _leaving_enough(highest, stretch), _least(stretch))
        layers.append(layer)
        start = layer.to_m
        if not watched.course.is_ready and start < stretch.to_m - REST_M:
            raise Infeasible(
                argument="heat",
                value=f"layer {len(layers)} is not ready to pour on within {LONGEST_S / 86400:.0f} days",
                allowed="a layer sets in reasonable time",
                way_out="Warm the room, pour deeper, or take a quicker system.",
                code="never-sets",
            )
    return _judge(layers, cure, watched)


def _leaving_enough(layer: Layer, stretch: Stretch) -> Layer:
    """Lowered where less than the least depth would be left for the next one."""
    least = _least(stretch)
    left = stretch.to_m - layer.to_m
    if REST_M < left < least and layer.depth_m - (least - left) >= least:
        return Layer(
            from_m=layer.from_m,
            to_m=stretch.to_m - least,
            limited_by=f"lowered so that the next layer has the least ⟦{plainly(least * 1000)} mm⟧",
            allowed=layer.allowed,
        )
    return layer


def _least(stretch: Stretch) -> float:
    return max(stretch.system.least_depth_m.value if stretch.system.least_depth_m else 0.0, LEAST_POUR_M)


def _deepest(watched: Watched, cure: Cure, highest: Layer, least_m: float) -> tuple[Layer, Watched]:
    """The deepest layer from here that stays under the wanted peak, and whose hot twin stays under what must
    never be.
    """
    start = highest.from_m

    def poured(to_m: float) -> Watched:
        return watched.pour(start, to_m, cure).until_ready(cure.wanted_c, cure.never_c)

    run = poured(highest.to_m)
    if run.holds(cure):
        return highest, run
    by_nominal = run.course.peak_c() > cure.wanted_c
    low = min(start + least_m, highest.to_m)
    high, best = highest.to_m, None
    for _ in range(SEARCH_STEPS):
        middle = (low + high) / 2 if best is not None else low
        run = poured(middle)
        if run.holds(cure):
            best, low = run, middle
            continue
        by_nominal = run.course.peak_c() > cure.wanted_c
        if best is None:
            raise Infeasible(
                argument="heat",
                value=f"⟦{plainly(least_m * 1000)} mm⟧ {_would_pass(cure, by_nominal=by_nominal)}",
                allowed="some depth stays below it",
                way_out="Cool the room, choose a slower system, or draw the layers yourself.",
                code="too-hot-anyway",
            )
        high = middle
    assert best is not None
    return Layer(
        from_m=start,
        to_m=low,
        limited_by=f"a deeper layer {_would_pass(cure, by_nominal=by_nominal)}",
        allowed=True,
    ), best


def _would_pass(cure: Cure, *, by_nominal: bool) -> str:
    if by_nominal:
        return f"would pass ⟦{plainly(cure.wanted_c)} °C⟧"
    return f"would pass ⟦{plainly(cure.never_c)} °C⟧ in more than {WARNED * 100:.0f} of a hundred such pours"


def run_through(layers: list[Layer], cure: Cure, course: Course) -> Split:
    """Pours each layer as soon as the one below takes it."""
    watched = Watched.of(course, cure)
    for number, layer in enumerate(layers):
        if number and not watched.course.is_ready:
            return replace(_judge(layers, cure, watched), ready_s=1e12, is_within=False)
        watched = watched.pour(layer.from_m, layer.to_m, cure).until_ready()
    return _judge(layers, cure, watched)


def _judge(layers: list[Layer], cure: Cure, watched: Watched) -> Split:
    course = watched.course
    within = watched.holds(cure) and all(layer.allowed for layer in layers)
    return Split(
        layers=tuple(layers),
        peak_c=course.peak_c(),
        hot_c=watched.hot.peak_c(),
        ready_s=course.stack.at_s if course.is_ready else 1e12,
        is_within=within,
        course=course,
    )


def candidates(stretch: Stretch, cure: Cure, course: Course) -> list[Split]:
    """Of the least number: greedy first; then evenly and first-heavier, where no layer gets thinner than the
    least.
    """
    limits = limits_of(stretch, cure, course.stack.room.at(course.stack.at_s))
    first = greedy(stretch, cure, course, limits)
    return [first, *_of_number(len(first.layers), first, stretch, cure, course)]


def one_more(first: Split, stretch: Stretch, cure: Cure, course: Course) -> list[Split]:
    """Of one layer more than the least number, first being the greedy split."""
    return _of_number(len(first.layers) + 1, first, stretch, cure, course)


def _of_number(number: int, first: Split, stretch: Stretch, cure: Cure, course: Course) -> list[Split]:
    limits = limits_of(stretch, cure, course.stack.room.at(course.stack.at_s))
    # Where something is laid in, its heights give the boundaries.
    thinner = (stretch.to_m - stretch.from_m) / number < _least(stretch) - SLACK_M
    if limits.embeds or number == 1 or thinner:
        return []
    why = (
        f"fewer would not do: {first.layers[0].limited_by}"
        if number == len(first.layers)
        else "one pour more than the fewest keeps it cooler"
    )
    found = [
        run_through(evenly(stretch, number, f"{number} equal layers; {why}"), cure, course),
        run_through(_first_heavier(stretch, number, why), cure, course),
    ]
    return [split for split in found if split.is_within and _clears(split, limits)]


def _clears(split: Split, limits: Limits) -> bool:
    return all(layer.depth_m <= limits.bubbles_m + SLACK_M for layer in split.layers)


def _first_heavier(stretch: Stretch, number: int, why: str) -> list[Layer]:
    share = (stretch.to_m - stretch.from_m) / (FIRST_HEAVIER + number - 1)
    first = stretch.from_m + FIRST_HEAVIER * share
    return stretch.layers(
        [first + i * share for i in range(number - 1)],
        f"the first, on the cold floor, takes a third more; {why}",
    )


def choose(found: list[Split], choice: str, done_at: Callable[[Split], float] | None = None) -> Split:
    """fewest: the coolest of the least number, by their hot twins, the evenest of those that are as cool.
    coolest: of at most one more. soonest: the earliest done.

    done_at  when a split is out of the form in the hours of the people here; without it, poured as soon as it
             may be
    """
    least = len(found[0].layers)
    if choice == "soonest":
        return min(found, key=lambda one: (done_at(one) if done_at else one.ready_s, one.hot_c))
    return _coolest(found, least, least if choice == "fewest" else least + 1)


def _coolest(found: list[Split], least: int, most: int) -> Split:
    """Of at most so many layers. One more than the least has to earn its day: for less than WORTH_K it is not
    made.
    """
    same = [one for one in found if len(one.layers) <= most]
    within = [one for one in same if one.is_within] or same
    coolest = min(within, key=_hot)
    near = [one for one in within if one.hot_c <= coolest.hot_c + WORTH_K and len(one.layers) == least]
    return _evenest(near or [coolest])


def _hot(split: Split) -> float:
    return split.hot_c


def _evenest(found: list[Split]) -> Split:
    """Of those that are as cool as the coolest."""
    best = min(one.hot_c for one in found)
    return min((one for one in found if one.hot_c <= best + AS_COOL_K), key=_uneven)


def _uneven(split: Split) -> float:
    """By how much [m] the deepest layer is deeper than the thinnest: equal layers are equal batches."""
    depths = [layer.depth_m for layer in split.layers]
    return max(depths) - min(depths)


def rules_only(stretch: Stretch, error: DomainError) -> list[Layer]:
    """Where heat lets nothing through: the sheet's rules alone, so that the person sees what would happen."""
    return [
        Layer(
            from_m=one.from_m,
            to_m=one.to_m,
            limited_by=f"{one.limited_by}; {error.argument}: {error.value}",
            allowed=one.allowed,
        )
        for one in fewest(stretch)
    ]
