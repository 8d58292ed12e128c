"""Steps by kind of work on one piece's clock: what is due when, under which school, and what a start leaves
time for.
"""

import json
from datetime import timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from cavatum import cli
from cavatum.core.clock.before import prepared_from
from cavatum.core.clock.hours import next_slot
from cavatum.core.plan import make_plan
from cavatum.core.practice.work import TABLE, steps_for
from tests.samples import NOW, SHEETS, box_piece, box_void, system, workshop

KINDS = {
    "thin coat": "cover",
    "flood coat": "peel",
    "painted top": "peel",
    "deep pour": "heat-visit",
    "crack or knot": "top-up",
    "small castings": "nail",
    "carved pockets": "harden",
    "rotator": "spin",
    "pressure casting": "lid",
    "nested mould": "nail",
    "block": "heat-visit",
    "turned work": "turn",
    "other": "cover",
}
SURVEY = {"material": "chestnut", "grain": "open", "finish": "bare", "found": ["dust in crevices"]}


TOP = {
    "id": "top",
    "name": "Top",
    "surface": {"kind": "board", "length_m": "120 mm", "width_m": "80 mm", "thickness_m": "18 mm"},
    "lays": [{"id": "c1", "film_m": "1.2 mm"}],
}
COATED = ("thin coat", "flood coat", "painted top", "rotator")


def plan(
    kind: str = "deep pour",
    depth: str = "30 mm",
    system: str = "slow-casting-epoxy",
    piece: dict | None = None,
    **schools,
):
    of_piece = {"voids": [box_void(depth=depth)], **(piece or {})}
    made = box_piece(kind_of_work=kind, system_id=system, **of_piece)
    return make_plan(made, SHEETS, workshop(**schools), NOW)


def codes(made) -> list[str]:
    return [step.code for step in made.steps]


@pytest.mark.parametrize(("kind", "own"), KINDS.items())
def test_every_kind_of_work_is_planned_from_its_file_with_its_own_steps(kind, own, tmp_path, capsys):
    file = tmp_path / "piece.json"
    fast = kind == "pressure casting"
    piece = box_piece(
        kind_of_work=kind,
        system_id="fast-casting-polyurethane"
        if fast
        else "coating-epoxy"
        if kind in COATED
        else "casting-epoxy-25",
        voids=[] if kind in COATED else [box_void("120 mm", "80 mm", "20 mm")],
        coats=[TOP] if kind in COATED else [],
    )
    file.write_text(piece.model_dump_json())
    assert cli.plan(str(file), NOW) == 0
    steps = json.loads(capsys.readouterr().out)["steps"]
    assert own in [step["code"] for step in steps] and steps[-1]["code"] == "hand-over"
    assert all(step["title"] and step["why"] and step["rule"] for step in steps)


def test_windows_open_before_they_close_and_hands_are_there_within_them():
    made, shop = plan(depth="90 mm"), workshop()
    for step in made.steps:
        if step.latest is not None and step.kind != "prepare":
            assert step.earliest <= step.latest
        if step.at is not None and step.hands_s and step.kind != "prepare":
            assert step.at >= step.earliest and (step.latest is None or step.at <= step.latest)
            assert next_slot(shop, step.at, timedelta(seconds=step.hands_s), step.at) == step.at


def test_three_rounds_at_once_at_15_and_at_30_to_45_minutes():
    # common practice, no source
    made = plan()
    poured = made.clock.rows[0].segments[0].to_at
    rounds = [
        (
            round((step.earliest - poured).total_seconds() / 60),
            round((step.latest - poured).total_seconds() / 60),
        )
        for step in made.steps
        if step.kind == "defoam"
    ]
    assert rounds == [(0, 5), (15, 20), (30, 45)]


def test_what_has_set_gets_no_more_rounds():
    open_ = system("fast-casting-polyurethane", needs_pressure=False)
    piece = box_piece(kind_of_work="block", system_id=open_.id, voids=[box_void(depth="30 mm")])
    made = make_plan(piece, {open_.id: open_}, workshop(), NOW)
    assert "round-1" in codes(made) and "round-3" not in codes(made)


@pytest.mark.parametrize(
    ("schools", "there", "gone"),
    [
        ({"defoam": "nothing"}, set(), {"round-1", "mist"}),
        ({"defoam": "alcohol mist"}, {"mist"}, {"round-1", "rounds"}),
        ({"flame_rounds": "every 15 min"}, {"round-1", "rounds"}, set()),
        ({"defoam": "nothing", "flame_rounds": "every 15 min"}, set(), {"rounds"}),
    ],
)
def test_schools_of_defoaming(schools, there, gone):
    found = set(codes(plan(**schools)))
    assert there <= found and not gone & found


def coated(survey: dict | None = None, coat: dict | None = None, **schools):
    piece = {"coats": [{**TOP, **(coat or {})}], "voids": [], "survey": survey}
    return codes(plan("flood coat", system="coating-epoxy", piece=piece, **schools))


def test_tape_is_peeled_while_gummy_or_after_cure_and_never_where_none_was_laid():
    taped = {"edges": "none"}
    assert "peel" in coated(coat=taped) and "edge-tape" in coated(coat=taped)
    assert "peel-cured" in coated(coat=taped, peel_tape="after cure")
    for coat in ({"edges": "none", "edge_way": "domed"}, {"edges": "none", "edge_way": "dam"}):
        assert not {"peel", "peel-cured", "edge-tape"} & set(coated(coat=coat))
    assert "coat-dam" in coated(coat={"edges": "none", "edge_way": "dam"})


@pytest.mark.parametrize(
    ("school", "there", "gone"),
    [
        ("tape", {"underside-tape", "peel", "drips-last"}, {"drips-first"}),
        ("scrape", {"drips-first", "drips-last"}, {"underside-tape", "peel", "peel-cured"}),
        ("sand later", set(), {"drips-first", "drips-last", "underside-tape", "peel"}),
    ],
)
def test_schools_of_drips_at_the_underside(school, there, gone):
    found = set(coated({**SURVEY, "underside_school": school}))
    assert there <= found and not gone & found


def test_a_flame_and_a_mist_of_alcohol_never_stand_together():
    # rule 7.1: never flame where alcohol was just used
    for row in TABLE:
        assert not (set(row.schools) & {"flame", "heat gun"} and "alcohol mist" in row.schools)


def test_the_visit_when_the_heat_comes_is_at_the_computed_hour():
    # common practice, no source: about hour 30 in slow resin
    made = plan("block", "40 mm")
    poured = made.clock.rows[0].segments[0].to_at
    visit = next(step for step in made.steps if step.code == "heat-visit")
    assert 20 < (visit.earliest + timedelta(hours=1) - poured).total_seconds() / 3600 < 40


def test_curing_and_sanding_is_a_school_without_missed_windows():
    bonded, sanded = plan(depth="90 mm"), plan(depth="90 mm", recoat="cure and sand")
    assert (
        "window-missed" not in [one.code for one in sanded.verdicts]
        and sum(1 for pin in sanded.clock.pins if pin.kind == "sand") == len(sanded.pours) - 1
    )
    assert sanded.totals.ready_at > bonded.totals.ready_at and "school" in next(
        pin.why for pin in sanded.clock.pins if pin.kind == "sand"
    )


def test_a_proposed_start_leaves_time_for_what_comes_before():
    made = plan(piece={"survey": SURVEY})
    before = [step for step in made.steps if step.kind == "prepare"]
    assert (
        before
        and all(step.at >= NOW for step in before)
        and all(step.latest <= made.start_at for step in before)
    )
    assert made.start_at >= NOW + timedelta(hours=24)  # the room is warmed the day before


def test_a_chosen_start_that_is_too_soon_says_what_should_have_begun():
    made = plan(piece={"survey": SURVEY, "first_pour_at": (NOW + timedelta(hours=3)).isoformat()})
    assert "prepare-late" in [one.code for one in made.verdicts]
    assert "prepare-late" not in [
        one.code
        for one in plan(
            piece={
                "survey": {**SURVEY, "done": [step.code for step in made.survey.steps]},
                "first_pour_at": (NOW + timedelta(hours=3)).isoformat(),
            }
        ).verdicts
    ]


@settings(max_examples=25)
@given(st.integers(0, 7 * 24 * 4))
def test_preparation_counted_forward_fits_when_counted_back(quarters):
    """Two routes: the earliest mixing counted forward; from there each step's latest, counted back, is not
    before now.
    """
    now = NOW + timedelta(minutes=15 * quarters)
    piece = box_piece(kind_of_work="deep pour", survey=SURVEY, voids=[box_void(depth="30 mm")])
    made = make_plan(piece, SHEETS, workshop(), now, in_full=False)
    ready = prepared_from(made.survey.steps, now, workshop())
    assert made.start_at >= ready > now
    assert all(
        step.at is not None and step.at >= now - timedelta(minutes=15)
        for step in made.steps
        if step.kind == "prepare"
    )


def test_the_table_names_each_row_once_and_every_kind_has_rows():
    assert len({row.code for row in TABLE}) == len(TABLE)
    for kind in KINDS:
        assert len(steps_for(kind, {"flame", "while gummy"})) >= 5
    assert steps_for("no such kind", {"flame"}) == steps_for("other", {"flame"})
