"""What coats have to say: films that do not close or do not stay, rules and amounts that are doubted,
edges, order,
level, cover. Rules 2.5, 2.9, 2.10, 4.2.
"""

from __future__ import annotations

from ..common.plain_numbers import plainly
from ..common.verdict import Stage, Verdict, Weight
from ..common.wording import Wording
from ..common.workshop import Workshop
from ..measure.model import CoatPlan, LayPlan
from ..measure.verdicts import GRAIN_WORDS
from ..piece.coats import Board, Coat, Disc
from ..piece.document import Piece
from ..piece.given import Given
from ..piece.lays import Lay
from ..practice.coats import CLOSES_M, SPREADS, WETS_M

FAR_OFF = 1.25  # own judgement: a rule a quarter off the wanted film is worth a word
TWICE = (1.7, 2.4)  # own judgement: so far off, "of each part" was probably meant in all, or the other way
CREEPS_M = 25e-3  # own judgement: a thin strip wider than that at the high side shows
POLYURETHANE = "fast-casting-polyurethane"


def coat_verdicts(given: Given, plans: list[CoatPlan]) -> list[Verdict]:
    """Of every coat that could be measured, in the order of the document."""
    documents = {coat.id: (index, coat) for index, coat in enumerate(given.piece.coats)}
    found: list[Verdict] = []
    for plan in plans:
        index, coat = documents[plan.coat_id]
        for place, (lay, made) in enumerate(zip(coat.lays, plan.lays, strict=True)):
            where = f"/coats/{index}/lays/{place}"
            found += _amount(lay, made, where)
            found += _closes(given, coat, place, made, where)
            found += _order(given, coat, place, f"{where}/join")
        found += [
            *_rule(coat, plan, given.wording, f"/coats/{index}/favourite_rule"),
            *_spreading(coat, plan, given.wording, f"/coats/{index}/laid_with"),
            *_edges(coat, plan, given.wording, f"/coats/{index}/edge_way"),
            *_creeps(plan, given.wording),
        ]
    return found + _cover(given.piece, given.wording)


def _measure(
    weight: Weight,
    code: str,
    title: str,
    text: str,
    todo: str,
    rule: str,
    where: str = "",
    stage: Stage = "measure",
) -> Verdict:
    return Verdict(
        weight=weight, stage=stage, code=code, rule=rule, title=title, text=text, todo=todo, where=where
    )


def _called(made: LayPlan) -> str:
    return f"coat {made.first}" if made.times == 1 else f"coats {made.first} to {made.first + made.times - 1}"


def _amount(lay: Lay, made: LayPlan, where: str) -> list[Verdict]:
    """An amount twice or half of what is gone by was probably meant the other way."""
    if lay.amount is None or made.against is None:
        return []
    low, high = TWICE
    times = made.film.value / made.against.film.value
    of_each = lay.amount.sense == "of each part"
    if of_each and low <= times <= high:
        ask = "did you mean in all?"
    elif lay.amount.sense == "in all" and low <= 1 / times <= high:
        ask = "did you mean of each part?"
    else:
        return []
    word = "twice" if of_each else "half"
    return [
        _measure(
            "warning",
            "in-all-doubted",
            f"{plainly(made.film.value * 1000, 3)} mm, {word} what {made.against.words.split(',')[0]} wants",
            f"{lay.amount.as_typed} lays {plainly(made.film.value * 1000, 3)} mm; {made.against.words} is "
            f"{plainly(made.against.film.value * 1000, 3)} mm: {ask}",
            "Say it the other way, or leave it.",
            "2.5",
            f"{where}/amount",
        )
    ]


def _closes(given: Given, coat: Coat, place: int, made: LayPlan, where: str) -> list[Verdict]:
    """A film below what wets this grain."""
    is_bare = place == 0 and coat.existing_m is None
    least = WETS_M[coat.grain] if is_bare else CLOSES_M
    if made.film.value >= least:
        return []
    on = GRAIN_WORDS.get(coat.grain, "a closed surface") if is_bare else "the coat below"
    words = given.wording
    return [
        _measure(
            "warning",
            "too-thin-to-close",
            f"Too thin to close: {_called(made)}",
            f"{words.film(made.film.value)} on {on}: under {words.film(least)} a film draws back into drops "
            "and pores (own judgement).",
            "Lay more, or scrape it on as a seal and lay another over it.",
            "2.5",
            f"{where}/{made.typed}",
        )
    ]


def _order(given: Given, coat: Coat, place: int, where: str) -> list[Verdict]:
    """Coats in an order that cannot bond."""
    return _on_the_ground(given, coat, where) if place == 0 else _on_a_coat(given, coat, place, where)


def _on_the_ground(given: Given, coat: Coat, where: str) -> list[Verdict]:
    finish = given.piece.survey.finish if given.piece.survey else "not said"
    if finish == "oiled or waxed" and coat.existing_m is None:
        return [
            _measure(
                "blocker",
                "on-oil",
                "Resin does not hold on oil or wax",
                f"{coat.name} is oiled or waxed by the survey: a coat lifts off in one piece.",
                "Sand or strip it to bare wood, and correct the survey.",
                "4.2",
                "/survey/finish",
            )
        ]
    if coat.existing_m is not None and coat.lays[0].join == "in the window":
        return [
            _measure(
                "blocker",
                "cannot-bond",
                "The coat that is there has cured",
                f"The first coat on {coat.name} is to hold fresh in a window, on one that is there already.",
                "Sand it before.",
                "4.2",
                where,
            )
        ]
    return []


def _on_a_coat(given: Given, coat: Coat, place: int, where: str) -> list[Verdict]:
    below, lay = coat.lays[place - 1], coat.lays[place]
    if lay.role == "seal" and below.role == "flood":
        return [
            _measure(
                "warning",
                "seal-on-flood",
                "A seal on a flood seals nothing",
                f"On {coat.name} a seal lies on a flood: it belongs on the bare surface.",
                "Move it down, or call it a flood.",
                "4.2",
                where,
            )
        ]
    kinds = [one.cures_like if one else None for one in (given.system_of(below), given.system_of(lay))]
    foams = kinds[1] == POLYURETHANE and kinds[0] not in (None, POLYURETHANE)
    if not foams or not _is_fresh(lay, given.workshop):
        return []
    return [
        _measure(
            "blocker",
            "cannot-bond",
            "Polyurethane foams on fresh epoxy",
            f"On {coat.name} a polyurethane goes on an epoxy that has not cured: it foams and does not hold "
            "(common practice).",
            "Let the epoxy cure and sand it before.",
            "4.2",
            where,
        )
    ]


def _is_fresh(lay: Lay, workshop: Workshop) -> bool:
    if lay.join == "as the workshop does":
        return workshop.recoat != "cure and sand"
    return lay.join == "in the window"


def _rule(coat: Coat, plan: CoatPlan, wording: Wording, where: str) -> list[Verdict]:
    """The maker's own rule beside the thickest coat; nothing where a coat was typed by a rule."""
    school = next((one for one in plan.schools if one.rule == coat.favourite_rule), None)
    if school is None:
        return []
    found: list[Verdict] = []
    thick = max(plan.lays, key=lambda one: one.film.value, default=None)
    if thick and thick.typed == "film" and not 1 / FAR_OFF < school.times < FAR_OFF:
        found.append(
            _measure(
                "warning",
                "rule-far-off",
                f"Your rule lays {wording.film(school.film.value)}",
                f"{school.rule} is {wording.film(school.film.value)}, {plainly(school.times, 2)} times the "
                f"{wording.film(thick.film.value)} you want on {plan.name}.",
                "Decide by the film, or take the rule for this coat.",
                "2.5",
                where,
            )
        )
    if school.called:
        found.append(
            _measure(
                "warning",
                "claims-disagree",
                "A claim that does not fit",
                f"{school.rule} is often called {wording.film(school.called.value)}; it is "
                f"{wording.film(school.film.value)}.",
                "Trust the amount, not the name.",
                "2.5",
                where,
            )
        )
    return found


def _spreading(coat: Coat, plan: CoatPlan, wording: Wording, where: str) -> list[Verdict]:
    """A way of laying it down that lays another film."""
    thick = max((one.film.value for one in plan.lays), default=plan.film.value)
    if plan.notch and not 1 / FAR_OFF < plan.notch.value / thick < FAR_OFF:
        return [
            _measure(
                "warning",
                "notch-far-off",
                "The spreader lays another film",
                f"Its notches leave {wording.film(plan.notch.value)}; {wording.film(thick)} is "
                f"wanted on {plan.name}.",
                "Take another notch, or spread twice.",
                "2.10",
                where,
            )
        ]
    row = SPREADS.get(coat.laid_with)
    if row is None or row.least_m <= thick <= row.most_m:
        return []
    passes = "in several passes" if thick > row.most_m else "with less force, or otherwise"
    return [
        _measure(
            "warning",
            "spreading-far-off",
            f"A {coat.laid_with} lays another film"
            if coat.laid_with != "hand"
            else "A hand lays another film",
            f"One pass leaves {wording.film(row.least_m)} to {wording.film(row.most_m)} (common practice); "
            f"{wording.film(thick)} is wanted on {plan.name}. {row.says}",
            f"Lay it {passes}, as coats of their own.",
            "2.10",
            where,
        )
    ]


def _edges(coat: Coat, plan: CoatPlan, wording: Wording, where: str) -> list[Verdict]:
    found: list[Verdict] = []
    thick = max((one.film.value for one in plan.lays), default=0.0)
    holds = plan.edge_holds.value if plan.edge_holds else None
    if holds is not None and thick > holds and coat.edge_way != "dam":
        found.append(
            _measure(
                "blocker",
                "needs-a-dam",
                f"{plan.name} needs a dam",
                f"A coat of {wording.film(thick)} is over what a sharp edge holds, "
                f"{wording.film(holds)}: the rest runs off.",
                "Build a dam round it and say so, or lay it as several coats.",
                "2.9",
                where,
            )
        )
    if coat.edge_way == "domed" and coat.edge_form == "half-round":
        found.append(
            _measure(
                "warning",
                "edge-does-not-dome",
                "A rounded edge does not hold a dome",
                f"{plan.name}: resin domes at a sharp edge; over a rounded one it runs down.",
                "Let it run over, or build a dam.",
                "2.9",
                where,
            )
        )
    if plan.edge_film and plan.edge_film.value < thick / 2 and coat.run_off is None:
        found.append(
            _measure(
                "note",
                "edges-thin",
                f"Edges of {plan.name}",
                f"Upright edges keep about {wording.film(plan.edge_film.value)} after half an hour; the "
                "rest hangs as drips or falls.",
                "Count drips, or coat the edges again.",
                "2.9",
            )
        )
    return found


def _creeps(plan: CoatPlan, wording: Wording) -> list[Verdict]:
    if plan.creeps is None or plan.thin is None or plan.thin.value < CREEPS_M:
        return []
    return [
        _measure(
            "warning",
            "creeps",
            f"{plan.name} creeps {wording.length(plan.creeps.value)} before it gels",
            f"As it stands the film runs to the low side, and a strip of up to "
            f"{wording.length(plan.thin.value)} at the high side keeps less than four fifths of it.",
            "Shim it level and read the level again, or lay it in thinner coats.",
            "2.9",
            "/level",
        )
    ]


def _cover(piece: Piece, wording: Wording) -> list[Verdict]:
    """A cover that does not cover the piece, turned either way."""
    cover = piece.cover
    if cover is None:
        return []
    has = sorted((cover.length_m.value, cover.width_m.value))
    for coat in piece.coats:
        size = _size(coat)
        if size is None:
            continue
        needs = sorted(size)
        if has[0] >= needs[0] and has[1] >= needs[1]:
            continue
        return [
            _measure(
                "warning",
                "cover-too-small",
                f"The cover does not cover {coat.name}",
                f"It is {wording.length(has[1])} × {wording.length(has[0])}, the piece "
                f"{wording.length(needs[1])} × {wording.length(needs[0])}.",
                "Take a larger one, or put two together before you mix.",
                "1.7",
                "/cover",
            )
        ]
    return []


def _size(coat: Coat) -> tuple[float, float] | None:
    """Length and width of what has to be covered [m]; None where it has none that is known."""
    if isinstance(coat.surface, Board):
        return coat.surface.length_m.value, coat.surface.width_m.value
    if isinstance(coat.surface, Disc):
        return coat.surface.diameter_m.value, coat.surface.diameter_m.value
    points = getattr(coat.surface, "points_m", None)
    if points is not None:
        xs, ys = [one[0] for one in points], [one[1] for one in points]
        return max(xs) - min(xs), max(ys) - min(ys)
    stations = getattr(coat.surface, "stations", None)
    if stations is not None:
        return stations[-1].at_m.value - stations[0].at_m.value, max(one.width_m.value for one in stations)
    return None
