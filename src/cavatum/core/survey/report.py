"""The survey as figures, steps and verdicts: is the piece fit to pour on, and what has to be done first?"""

from __future__ import annotations

from datetime import date

from ..common.errors import DomainError
from ..common.plain_numbers import plainly
from ..common.verdict import Verdict, Weight
from ..common.wording import Wording
from ..common.working import Figure, Input, Workbook
from ..common.workshop import Workshop
from ..measure.form import gas_volume_left
from ..piece.document import Piece
from ..piece.survey_findings import WOODS, Survey
from ..practice.readiness import ready_list
from ..resin.system import System
from .air import DEW_MARGIN_K, dew_point_working, dew_uncertainty_k, is_right, to_accept
from .model import ReadyItem, SurveyPlan
from .patches import patch_of
from .preparation import longest_chain, steps_of
from .wood import DRY_ENOUGH, DRY_SURE, equilibrium_moisture, share_of_the_way

FAST_S = 3600.0


def survey_plan(
    book: Workbook, piece: Piece, used: list[System], workshop: Workshop, today: date | None = None
) -> SurveyPlan:
    survey = piece.survey or Survey()
    dew, margin = _air(book, survey, workshop)
    steps = steps_of(
        piece,
        fast=any(one.working_time.time_s.value < FAST_S for one in used),
        under_pressure=any(one.needs_pressure for one in used),
        today=today,
        room_is_right=is_right(survey, workshop, used),
    )
    chain = longest_chain(steps)
    lead_time = (
        None
        if not steps
        else book.figure(
            "survey/lead",
            "Preparation takes at least",
            sum(one.wait_from_s + one.hands_s for one in chain),
            "duration",
            "hands and waits of the steps that hold each other longest; the others go on beside them",
            [
                Input(
                    name=step.title,
                    value=step.wait_from_s + step.hands_s,
                    quantity="duration",
                    origin="typical",
                )
                for step in chain
            ],
            "common practice, no source",
        )
    )
    return SurveyPlan(
        expected_moisture=_expected(book, survey),
        dew_point=dew,
        margin=margin,
        steps=steps,
        lead_time=lead_time,
        to_accept=to_accept(workshop, used, piece.accepted),
        patches=[patch_of(one) for one in survey.defects if one.treat == "patch"],
        ready=[
            ReadyItem(code=code, text=text, is_done=f"ready-{code}" in survey.done)
            for code, text in ready_list(
                piece.kind_of_work, survey.air_school, pressed=any(one.needs_pressure for one in used)
            )
        ],
    )


def _air(book: Workbook, survey: Survey, workshop: Workshop) -> tuple[Figure, Figure]:
    worked = dew_point_working(workshop)
    dew = book.figure(
        "survey/dew",
        worked.name,
        worked.value,
        "temperature",
        worked.formula,
        worked.inputs,
        worked.source,
        worked.notes,
    )
    surface = survey.surface_c or workshop.room_c
    name = "surface of the piece" if survey.surface_c else "surface, taken as warm as the room"
    margin = book.figure(
        "survey/margin",
        "Surface above the dew point",
        surface.value - worked.value,
        "temperature_difference",
        "surface − dew point",
        [surface.as_input(name), book.computed("dew point", dew)],
        "ISO 8502-4: at least 3 K",
    )
    return dew, margin


def _expected(book: Workbook, survey: Survey) -> Figure | None:
    """The equilibrium of the air it was kept in; only for wood, and only where the table of the source
    reaches.
    """
    if survey.kept_in is None or survey.material not in WOODS:
        return None
    air = survey.kept_in
    try:
        rest = equilibrium_moisture(air.temperature_c.value, air.humidity.value)
    except DomainError:
        return None
    known = (
        [Input(name="weeks there", value=air.weeks, quantity="count", origin="measured")] if air.weeks else []
    )
    way = (
        f"After {plainly(air.weeks)} weeks about {share_of_the_way(air.weeks):.0%} of the way there (own "
        "judgement, boards of 20 to 50 mm). "
        if air.weeks
        else ""
    )
    return book.figure(
        "survey/moisture",
        "Moisture to expect",
        rest,
        "fraction",
        "Hailwood-Horrobin sorption in the air it was kept in",
        [
            air.temperature_c.as_input("air where it was kept"),
            air.humidity.as_input("humidity there"),
            *known,
        ],
        "Wood Handbook, FPL-GTR-282, ch. 4 (coefficients from memory)",
        [f"{way}A meter knows better."],
    )


def survey_verdicts(piece: Piece, plan: SurveyPlan, used: list[System], wording: Wording) -> list[Verdict]:
    """What stops, what needs care. Of a piece that nobody surveyed only what its own parts tell."""
    survey = piece.survey
    hollow = _hollow(piece, survey, used, wording)
    if survey is None:
        return hollow
    found = [*hollow, *_moisture(survey, plan), *_surface(survey, plan, wording), *_defects(survey)]
    if survey.is_flat is False:
        found.append(
            _say(
                "warning",
                "not-flat",
                "The slab is not flat",
                "Resin stands level: a hollow spot gets deeper, a high one stays bare.",
                "Flatten it, or measure at the deepest spot.",
                "1.1",
            )
        )
    open_steps = [step for step in plan.steps if not step.is_done]
    if open_steps and plan.lead_time is not None:
        names = ", ".join(step.title.lower() for step in open_steps[:4]) + (
            " and more" if len(open_steps) > 4 else ""
        )
        found.append(
            _say(
                "note",
                "prepare",
                f"{len(open_steps)} steps before mixing",
                f"{names[:1].upper()}{names[1:]}: at least {wording.duration(plan.lead_time.value)} in all.",
                "Begin in time; the list below is in order.",
                "1.2",
            )
        )
    return found


LEAST_PRESSURE_BAR = 2.5  # gauge; the lowest that such systems usually ask for (typical)


def _hollow(piece: Piece, survey: Survey | None, used: list[System], wording: Wording) -> list[Verdict]:
    """Rule 1.4: a closed hollow under pressure."""
    if not any(system.needs_pressure for system in used) or (survey is not None and "vent" in survey.done):
        return []
    bar, origin = _pressure(used)
    left = gas_volume_left(bar)
    return [
        _say(
            "blocker",
            "hollow-under-pressure",
            f"{thing.name.capitalize()} is hollow",
            f"At {wording.pressure(bar * 1e5)} ({origin}) the air in it keeps {left:.0%} of its "
            "volume: it collapses under pressure and bursts out when released.",
            "Vent it, fill it, or leave it out; then tick the step.",
            "1.4",
        )
        for void in piece.voids
        for thing in void.inclusions
        if thing.is_hollow
    ]


def _pressure(used: list[System]) -> tuple[float, str]:
    """The highest gauge pressure [bar] that the sheets ask for, and where it is from."""
    asked = [one.pressure_to_pa or one.pressure_from_pa for one in used if one.needs_pressure]
    said = [one for one in asked if one is not None]
    if not said:
        return LEAST_PRESSURE_BAR, "typical"
    highest = max(said, key=lambda one: one.value)
    return highest.value / 1e5, "typical" if highest.origin == "typical" else "the sheet's"


def _moisture(survey: Survey, plan: SurveyPlan) -> list[Verdict]:
    if survey.material not in WOODS:
        return []
    measured = survey.moisture
    value = measured.value if measured else plan.expected_moisture.value if plan.expected_moisture else None
    if value is None:
        return [
            _say(
                "warning",
                "moisture-unknown",
                "How damp is the wood?",
                "Wet wood turns resin milky and foams.",
                "Measure it, or say where it was kept.",
                "1.3",
                "/survey/moisture",
            )
        ]
    how = "measured" if measured else "to be expected"
    if value > DRY_ENOUGH:
        return [
            _say(
                "blocker" if measured and value > 0.18 else "warning",
                "too-wet",
                "The wood is too wet",
                f"{value:.1%} {how}; resin wants it below about 10 to 12 %. It would foam and turn milky.",
                "Let it dry indoors and measure again.",
                "1.3",
                "/survey/moisture",
            )
        ]
    if value > DRY_SURE or not measured:
        return [
            _say(
                "note",
                "nearly-dry",
                "Moisture",
                f"{value:.1%} {how}, about 10 to 12 % is the limit most work to.",
                "" if measured else "Measure it before you pour.",
                "1.3",
            )
        ]
    return []


def _surface(survey: Survey, plan: SurveyPlan, wording: Wording) -> list[Verdict]:
    found = []
    workshop, margin = wording.workshop, plan.margin.value
    unsure = dew_uncertainty_k(workshop.room_c.value, workshop.room_humidity.value)
    if survey.surface_c is not None and margin < DEW_MARGIN_K:
        needed = wording.temperature(survey.surface_c.value - margin + DEW_MARGIN_K)
        found.append(
            _say(
                "blocker" if margin <= unsure else "warning",
                "surface-near-dew",
                "The surface may be damp",
                f"It is only {wording.difference(margin)} above the dew point, and the instruments may be "
                f"{wording.difference(unsure)} off."
                if margin > 0
                else "It is at or below the dew point: water stands on it.",
                f"Warm the piece to at least {needed}, {wording.difference(DEW_MARGIN_K)} above the dew "
                "point.",
                "1.6",
                "/survey/surface_c",
            )
        )
    if survey.finish == "oiled or waxed":
        found.append(
            _say(
                "warning",
                "oiled",
                "Oil or wax on it",
                "Resin does not bond to it and crawls away from it.",
                "Sand it off, or test a hidden spot with what you will pour.",
                "1.1",
                "/survey/finish",
            )
        )
    if survey.finish == "varnished or painted":
        found.append(
            _say(
                "warning",
                "painted",
                "A finish is on it",
                "Resin holds no better than the finish below it.",
                "Dull it all over and try adhesion on a spot.",
                "1.1",
                "/survey/finish",
            )
        )
    if {"silicone", "skin grease", "polish"} & set(survey.found) and "wipe" not in survey.done:
        found.append(
            _say(
                "warning",
                "fish-eyes",
                "Craters are likely",
                "Silicone, grease or polish makes the film draw back into craters (fish eyes).",
                "Wipe dry, then alcohol in both directions, edges too; wait 10 to 15 minutes.",
                "1.2",
            )
        )
    if survey.material == "not said":
        found.append(
            _say(
                "warning",
                "material-unknown",
                "What is it made of?",
                "No material is chosen for this piece.",
                "Choose the material.",
                "1.1",
                "/survey/material",
            )
        )
    return found


def _defects(survey: Survey) -> list[Verdict]:
    found = []
    for index, one in enumerate(survey.defects):
        if one.is_through and one.treat == "note":
            found.append(
                _say(
                    "warning",
                    "through",
                    f"{one.kind.capitalize()} goes through",
                    "Resin will run out below.",
                    "Make it a void with a patch below, or a patch.",
                    "1.5",
                    f"/survey/defects/{index}/treat",
                )
            )
        outside = (
            survey.length_m
            and one.x_m.value > survey.length_m.value
            or survey.width_m
            and one.y_m.value > survey.width_m.value
        )
        if outside:
            found.append(
                _say(
                    "warning",
                    "defect-outside",
                    f"{one.kind.capitalize()} lies beside the piece",
                    "Its place is beyond the length or width that was measured.",
                    "Correct its place or the piece's size.",
                    "1.5",
                    f"/survey/defects/{index}",
                )
            )
    return found


def _say(weight: Weight, code: str, title: str, text: str, todo: str, rule: str, where: str = "") -> Verdict:
    return Verdict(
        weight=weight, stage="survey", code=code, title=title, text=text, todo=todo, rule=rule, where=where
    )
