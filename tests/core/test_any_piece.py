"""Property tests over whole pieces: whatever the document lets through gets a plan, and the plan adds up."""

import math

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from cavatum.core.piece.document import Piece
from cavatum.core.plan import make_plan
from tests.samples import NOW, SHEETS, workshop

pytestmark = pytest.mark.slow
MM = st.floats(min_value=0.2, max_value=2000).map(lambda value: {"value": value / 1000})
SHAPES = st.one_of(
    st.fixed_dictionaries({"kind": st.just("box"), "length_m": MM, "width_m": MM, "depth_m": MM}),
    st.fixed_dictionaries({"kind": st.just("cylinder"), "diameter_m": MM, "depth_m": MM}),
    st.fixed_dictionaries(
        {"kind": st.just("cone"), "top_diameter_m": MM, "bottom_diameter_m": MM, "depth_m": MM}
    ),
    st.fixed_dictionaries({"kind": st.just("bowl"), "rim_diameter_m": MM, "depth_m": MM}),
    st.fixed_dictionaries(
        {
            "kind": st.just("crack"),
            "form": st.sampled_from(["v", "round", "straight"]),
            "length_m": MM,
            "width_m": MM,
            "depth_m": MM,
        }
    ),
    st.fixed_dictionaries(
        {
            "kind": st.just("tapered"),
            "length_m": MM,
            "width_m": MM,
            "bottom_length_m": MM,
            "bottom_width_m": MM,
            "depth_m": MM,
        }
    ),
    st.fixed_dictionaries(
        {
            "kind": st.just("stated"),
            "volume_m3": st.floats(1e-7, 1e-2).map(lambda v: {"value": v}),
            "depth_m": MM,
        }
    ),
    st.lists(MM, min_size=2, max_size=8).map(
        lambda widths: {
            "kind": "river",
            "depth_m": {"value": 0.04},
            "stations": [{"at_m": {"value": 0.1 * i}, "width_m": width} for i, width in enumerate(widths)],
        }
    ),
)
SURFACES = st.one_of(
    st.fixed_dictionaries(
        {
            "kind": st.just("board"),
            "length_m": MM,
            "width_m": MM,
            "thickness_m": MM,
            "round_ends": st.sampled_from([0, 1, 2]),
        }
    ),
    st.fixed_dictionaries({"kind": st.just("disc"), "diameter_m": MM, "thickness_m": MM}),
    st.fixed_dictionaries(
        {
            "kind": st.just("cup"),
            "top_diameter_m": MM,
            "bottom_diameter_m": MM,
            "height_m": MM,
            "with_base": st.booleans(),
        }
    ),
)
FILM = st.floats(min_value=0.1, max_value=3).map(lambda value: {"value": value / 1000})
COATS = st.lists(
    st.fixed_dictionaries(
        {
            "name": st.just("coat"),
            "surface": SURFACES,
            "faces": st.sampled_from([1, 2]),
            "edges": st.sampled_from(["none", "all"]),
            "run_off": st.none() | st.just({"value": 0.1}),
            "existing_m": st.none() | FILM,
            "edge_form": st.sampled_from(["square", "half-round"]),
            "lays": st.lists(
                st.builds(
                    lambda side, more: {**side, **more},
                    st.one_of(
                        st.builds(lambda film: {"film_m": film}, FILM),
                        st.sampled_from(
                            [{"amount": "200 mL in all"}, {"amount": "2 L"}, {"rule": "30 g per 1000 cm2"}]
                        ),
                    ),
                    st.fixed_dictionaries(
                        {
                            "system_id": st.none() | st.sampled_from(sorted(SHEETS)),
                            "times": st.integers(1, 2),
                            "join": st.sampled_from(["as the workshop does", "in the window", "sanded"]),
                        }
                    ),
                ),
                min_size=1,
                max_size=2,
            ),
        }
    ),
    max_size=2,
)
SURVEYS = st.none() | st.fixed_dictionaries(
    {
        "material": st.sampled_from(["not said", "ash", "board", "glass"]),
        "finish": st.sampled_from(["not said", "bare", "ink", "oiled or waxed"]),
        "moisture": st.none() | st.floats(0, 0.4).map(lambda v: {"value": v}),
        "surface_c": st.none() | st.floats(-20, 60).map(lambda v: {"value": v}),
        "kept_in": st.none()
        | st.fixed_dictionaries(
            {
                "temperature_c": st.floats(-30, 90).map(lambda v: {"value": v}),
                "humidity": st.floats(0.01, 1).map(lambda v: {"value": v}),
                "weeks": st.floats(0.1, 500),
            }
        ),
    }
)
LEVELS = st.none() | st.fixed_dictionaries(
    {
        "pitch_deg": st.floats(-40, 40).map(lambda v: {"value": v}),
        "roll_deg": st.floats(-40, 40).map(lambda v: {"value": v}),
        "length_m": MM,
        "width_m": MM,
    }
)
MAYBE = st.none() | MM
THINGS = st.lists(
    st.fixed_dictionaries(
        {
            "name": st.just("thing"),
            "count": st.integers(1, 20),
            "volume_m3": st.floats(1e-7, 1e-4).map(lambda v: {"value": v}),
            "from_m": MM,
            "to_m": MM,
            "density_kg_m3": st.sampled_from([None, {"value": 300}, {"value": 2650}]),
        }
    ),
    max_size=2,
)
PORTIONS = st.lists(
    st.fixed_dictionaries(
        {
            "system_id": st.none() | st.sampled_from(sorted(SHEETS)),
            "colour": st.sampled_from(["", "moss"]),
            "to_m": MAYBE,
            "boundaries_m": st.none() | st.lists(MM, max_size=3),
        }
    ),
    min_size=1,
    max_size=3,
)
VOIDS = st.lists(
    st.fixed_dictionaries(
        {
            "name": st.just("void"),
            "count": st.integers(1, 30),
            "shape": SHAPES,
            "wall": st.sampled_from(["wood", "board", "silicone"]),
            "overfill_m": MAYBE,
            "inclusions": THINGS,
            "portions": PORTIONS,
            "soak_m3_m2": st.none() | st.floats(0, 5e-4).map(lambda v: {"value": v}),
        }
    ),
    max_size=3,
)
DOCUMENTS = st.fixed_dictionaries(
    {
        "name": st.just("any"),
        "voids": VOIDS,
        "coats": COATS,
        "survey": SURVEYS,
        "level": LEVELS,
        "system_id": st.none() | st.sampled_from([*sorted(SHEETS), "gone"]),
        "layering": st.sampled_from(["fewest", "even", "thirds", "own"]),
        "reserve": st.none() | st.just({"value": 0.05}),
    }
)


def with_ids(document):
    number = iter(range(1000))
    for void in [*document["voids"], *document["coats"]]:
        void["id"] = f"v{next(number)}"
        for part in [*void.get("portions", []), *void.get("lays", []), *void.get("inclusions", [])]:
            part["id"] = f"p{next(number)}"
    return Piece.model_validate(document)


PIECES = DOCUMENTS.map(with_ids)
MANY = settings(
    max_examples=60, deadline=None, suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large]
)


@MANY
@given(PIECES)
def test_every_piece_gets_a_plan_with_finite_figures(piece):
    made = make_plan(piece, SHEETS, workshop(), NOW)
    assert all(math.isfinite(working.value) for working in made.workings.values())
    assert all(verdict.text for verdict in made.verdicts)


@MANY
@given(PIECES)
def test_what_is_poured_is_the_net_and_its_allowances(piece):
    made = make_plan(piece, SHEETS, workshop(), NOW)
    for pour in made.pours:
        added = sum(line.volume.value for line in pour.allowances if line.code != "overfill")
        assert math.isclose(pour.need.value, pour.net.value + added, rel_tol=1e-9)
        assert all(line.volume.value >= 0 for line in pour.allowances)


@MANY
@given(PIECES)
def test_a_layer_beyond_its_rule_always_stops_the_job(piece):
    made = make_plan(piece, SHEETS, workshop(), NOW)
    beyond = any(not layer.is_allowed for pour in made.pours for layer in pour.layers)
    assert beyond == any(verdict.code == "too-deep" for verdict in made.verdicts)


@MANY
@given(PIECES)
def test_pours_follow_each_other_and_never_overlap(piece):
    made = make_plan(piece, SHEETS, workshop(), NOW)
    mixes = [row.segments[0] for row in made.clock.rows] if made.clock else []
    assert all(low.to_at <= high.from_at for low, high in zip(mixes, mixes[1:], strict=False))
