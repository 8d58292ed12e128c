"""What the heat has to say: too hot, running away, against the sheet's own depth, slow to set, how much
warmer the room may get. Rules 4.1, 4.2.
"""

from __future__ import annotations

from ..common.errors import DomainError
from ..common.verdict import Verdict, Weight
from ..common.wording import Wording
from .chance import STOPPED, WARNED
from .heat_figures import RUNAWAY_C
from .model import Chance, LayerHeat, LayerPlan

SLOW_GEL_S = (
    60 * 3600.0
)  # own judgement: a layer still liquid after two and a half days gathers dust and lets things move


def not_computed(error: DomainError | None) -> Verdict:
    why = (
        f"{error.value}: {error.allowed}. {error.way_out}"
        if error
        else "Choose the class its resin cures like, on the Shelf."
    )
    return Verdict(
        weight="warning",
        stage="layers",
        code="heat-not-computed",
        rule="4.1",
        title="Heat not computed: layers follow the data sheet only",
        text="Layers follow the depth rules of the sheet, which hold at its own temperature and in its "
        "own mould. How hot this "
        f"shape gets in this room is not computed: {why[0].lower()}{why[1:]}",
        todo="Check the surface by infrared; in a warm room or a well insulated mould pour thinner.",
    )


def sheet_doubt(name: str, error: DomainError) -> Verdict:
    """Two numbers of one sheet that no resin of its class has together; the heat goes by the working time."""
    of_warmth = error.code == "contradicts-warmth"
    return Verdict(
        weight="warning",
        stage="resin",
        code="sheet-contradicts-itself",
        rule="3.2",
        title="Its times at two temperatures do not fit"
        if of_warmth
        else "Working time and tack-free time do not fit",
        text=f"{name}: {error.argument} is {error.value}; {error.allowed}. Heat and windows here go by "
        "the working time alone.",
        todo=error.way_out,
        where="/other_at_c" if of_warmth else "/tack_free_s",
    )


def heat_verdicts(
    called: str, void_name: str, layer: LayerPlan, heat: LayerHeat, wording: Wording, *, is_last: bool
) -> list[Verdict]:
    """is_last: of its void; what lies on others need not leave the form by itself."""
    found: list[Verdict] = []
    found += _of_its_peak(called, void_name, layer, heat, wording)
    if heat.opens_s is None:
        found.append(
            _short(
                "blocker",
                "never-sets",
                f"{called.capitalize()} hardly sets",
                f"{void_name}: in this room it does not get far enough to be poured on or handled.",
                _warmer(heat, "pour on", wording),
            )
        )
    elif is_last and heat.demould_s is None:
        found.append(
            _short(
                "blocker",
                "never-out",
                f"{called.capitalize()} stays too soft to take out",
                f"{void_name}: in this room its cure stops short of what it needs to leave the form or be "
                "handled. What comes after has no date.",
                _warmer(heat, "demould", wording),
            )
        )
    elif is_last and heat.cured_s is None:
        found.append(
            _short(
                "warning",
                "never-cured",
                f"{called.capitalize()} never cures fully here",
                f"{void_name}: in this room it stays softer, and gives way to heat and load sooner, than its "
                "data sheet says.",
                _warmer(heat, "full cure", wording),
            )
        )
    if heat.opens_s is not None and heat.gel_last_s is not None and heat.gel_last_s > SLOW_GEL_S:
        found.append(
            Verdict(
                weight="warning",
                stage="layers",
                code="sets-slowly",
                rule="4.1",
                title=f"{called.capitalize()} stays liquid for long",
                text=f"{void_name}: it gels only after {wording.duration(heat.gel_last_s)}; so thin a layer "
                "makes too little heat of its own.",
                todo="Cover it against dust, keep the room steady, or pour deeper or warmer.",
            )
        )
    return found


def _of_its_peak(
    called: str, void_name: str, layer: LayerPlan, heat: LayerHeat, wording: Wording
) -> list[Verdict]:
    """Too hot, likely enough to overheat, or cool but against the sheet; at most one of them."""
    if heat.peak.value > heat.wanted_c:
        return [_too_hot(called, void_name, heat, layer.is_allowed, wording)]
    if heat.chance is not None and heat.chance.is_risky:
        return [_may_overheat(called, void_name, heat, heat.chance, wording)]
    if layer.is_allowed:
        return []
    return [
        Verdict(
            weight="note",
            stage="layers",
            code="cool-but-too-deep",
            rule="4.1",
            title=f"{called.capitalize()}: cool enough by our estimate, but deeper than the data sheet "
            "allows",
            text=f"{void_name}: computed to stay at {wording.temperature(heat.peak.value)}, but the sheet "
            f"allows {wording.length(layer.allowed.value)} at this mass and this layer is "
            f"{wording.length(layer.to_m - layer.from_m)}. The sheet may know what is not computed: "
            "shrinkage stress, bubbles, its additives.",
            todo="Keep to the sheet, or try a small piece of the same depth first.",
        )
    ]


def _short(weight: Weight, code: str, title: str, text: str, todo: str) -> Verdict:
    return Verdict(weight=weight, stage="layers", code=code, rule="4.2", title=title, text=text, todo=todo)


def _warmer(heat: LayerHeat, to: str, wording: Wording) -> str:
    """What would bring it there, as a warm room or box can be kept."""
    warm = next((one for one in heat.warm_up if one.to == to), None)
    if warm is None:
        return "No warmth that a room gives brings it there: take another system."
    return (
        f"Keep it at {wording.temperature(warm.room_c)} for about {wording.duration(warm.for_s)} (a warm "
        "room, a box with a heat mat), as its data sheet allows; or take a quicker system."
    )


def _too_hot(called: str, void_name: str, heat: LayerHeat, sheet_allows: bool, wording: Wording) -> Verdict:
    peak = heat.peak.value
    runs = peak > max(RUNAWAY_C, heat.never_c)
    about = (
        f"over {wording.temperature(RUNAWAY_C)}: it overheats out of control"
        if runs
        else f"about {wording.temperature(peak)}"
    )
    conflict = (
        " The sheet allows this depth at this mass, but not in this mould and room." if sheet_allows else ""
    )
    text = (
        f"{void_name}: it would reach {about}. Above {wording.temperature(heat.wanted_c)} the resin can "
        "yellow and pull from the walls"
        + (", boil, crack or smoke." if peak > heat.never_c else ".")
        + conflict
    )
    if heat.chance is not None and heat.chance.is_risky and not runs:
        text += f" {_of_a_hundred(heat, heat.chance, wording)}"
    stops = peak > heat.never_c or (heat.chance is not None and heat.chance.over_never > STOPPED)
    return Verdict(
        weight="blocker" if stops else "warning",
        stage="layers",
        code="runs-away" if runs else "too-hot",
        rule="4.2",
        title=f"{called.capitalize()} {'overheats out of control' if runs else 'gets too hot'}",
        text=text,
        todo=_cooler(heat),
    )


def _cooler(heat: LayerHeat) -> str:
    if heat.below_c is not None and heat.below_c > 40:
        return "The layer below is still hot: wait longer. Or split it."
    return "Split it, cool the room, give the form a colder stand, or take a slower system."


def _of_a_hundred(heat: LayerHeat, chance: Chance, wording: Wording) -> str:
    over = max(round(chance.over_never * 100), 1)
    return f"Of a hundred such pours about {over} would pass {wording.temperature(heat.never_c)}."


def _may_overheat(called: str, void_name: str, heat: LayerHeat, chance: Chance, wording: Wording) -> Verdict:
    """Cool by the likeliest figure, but not by enough of those that are as well possible."""
    return Verdict(
        weight="blocker" if chance.over_never > STOPPED else "warning",
        stage="layers",
        code="may-overheat",
        rule="4.2",
        title=f"{called.capitalize()} may overheat",
        text=f"{void_name}: {wording.temperature(heat.peak.value)} is the likeliest. "
        f"{_of_a_hundred(heat, chance, wording)} The resin, the room and the form are not known better than "
        "that.",
        todo=f"{_cooler(heat)} A small trial of the same depth, with a probe in it, tells more.",
    )


def room_verdict(rooms: list[tuple[str, float]], room_c: float, wanted_c: float, wording: Wording) -> Verdict:
    """How far the room could rise before a layer passes what is wanted, or too often what must never be."""
    called, least = min(rooms, key=lambda pair: pair[1])
    return Verdict(
        weight="warning" if least - room_c < 2.0 else "note",
        stage="layers",
        code="room-to-spare",
        rule="4.1",
        title="Little room for warmth" if least - room_c < 2.0 else "Room to spare",
        text=f"The plan holds up to {wording.temperature(least)} in the room. Above that {called} passes "
        f"{wording.temperature(wanted_c)}, or overheats in more than {WARNED * 100:.0f} of a hundred "
        "such pours.",
        todo="Watch the thermometer on warm days."
        if least - room_c >= 2.0
        else "Keep the room from warming, pour thinner, or pour at night.",
    )
