"""Tracing from photos: renderings of a known outline, and the geometry of a homography. The full hundred is
in ./cavatum speed measure.
"""

import itertools

import numpy as np
import pytest
import shapely

from cavatum.core.common.errors import DomainError, Infeasible
from cavatum.core.measure.photo import find_outline, outline_area, traced
from cavatum.core.measure.photo_doubt import check_sides
from cavatum.core.measure.photo_reference import Lengths, Parallax, Rectangle, on_its_edges, plane_of
from tests.scenes.photo import KINDS, card_at, read_as_a_person, render

SQUARE = np.array([[100.0, 100], [500, 100], [500, 400], [100, 400]])


@pytest.fixture(scope="module", params=range(3))
def scene(request):
    rng = np.random.default_rng(request.param)
    made = render(rng)
    return made, made.clicked_px


@pytest.mark.slow
def test_a_rendered_outline_is_measured_within_a_percent_and_its_band(scene):
    made, clicked = scene
    found = read_as_a_person(made)
    assert found.area_m2 == pytest.approx(made.area_m2, rel=0.015)
    assert abs(found.area_m2 - made.area_m2) <= found.half_m2 <= 0.04 * found.area_m2
    assert found.is_good


@pytest.mark.slow
def test_the_edge_is_found_to_less_than_a_pixel(scene):
    made, _ = scene
    true = shapely.LinearRing(made.outline_px)
    off = shapely.distance(true, shapely.points(find_outline(made.image, made.seed_px)))
    assert np.sqrt((off**2).mean()) < 0.5


def test_corners_set_by_hand_move_onto_the_cards_own_edges(scene):
    made, clicked = scene
    fitted = on_its_edges(made.image, card_at(clicked))
    assert np.abs(fitted.corners_px - made.corners_px).max() < np.abs(clicked - made.corners_px).max()
    assert fitted.corner_sigma_px < 0.5


def test_where_no_card_lies_the_corners_stay_as_they_were_set_and_are_doubted(scene):
    made, _ = scene
    nowhere = made.seed_px[0] + np.array([[-60.0, -50], [60, -50], [60, 50], [-60, 50]])
    kept = on_its_edges(made.image, card_at(nowhere))
    assert np.array_equal(kept.corners_px, nowhere) and not kept.is_on_edges
    assert kept.corner_sigma_px > 5
    assert any("edges were not found" in one for one in traced(SQUARE, kept).doubts)


@pytest.mark.slow
@pytest.mark.parametrize(("kind", "sheet"), list(zip(KINDS, itertools.cycle(["A4", "letter", "card"]))))
def test_a_bad_photo_is_refused_or_its_band_holds_the_truth_and_is_not_called_good(kind, sheet):
    """One sheet of paper for each kind; ./cavatum speed measure reads far more of them."""
    seed = 100 * KINDS.index(kind) + len(sheet)
    made = render(np.random.default_rng(seed), kind, sheet)
    try:
        found = read_as_a_person(made)
    except Infeasible as refusal:
        assert kind != "plain" and refusal.way_out
        return
    error = abs(found.area_m2 / made.area_m2 - 1)
    assert error <= found.half_m2 / found.area_m2
    assert not found.is_good or error <= 0.05


@pytest.mark.slow
@pytest.mark.parametrize(
    ("kind", "code"),
    [("dark", "dark"), ("seed on wood", "frame"), ("low contrast", "frame not-found no-edge")],
)
def test_what_cannot_be_traced_is_refused_with_what_to_do(kind, code):
    with pytest.raises(Infeasible) as caught:
        read_as_a_person(render(np.random.default_rng(8), kind))
    assert caught.value.code in code.split() and caught.value.way_out.endswith(".")


def sheet_seen(said, sides, f_px=1800.0, tilt=0.3):
    """A sheet of these sides under a pinhole, tilted: worked with the camera's own equations."""
    cos, sin = np.cos(tilt), np.sin(tilt)
    corners = np.array([[0, 0], [sides[0], 0], sides, [0, sides[1]]]) - np.array(sides) / 2
    x, y, away = corners[:, 0], corners[:, 1] * cos, 0.7 + corners[:, 1] * sin
    seen = np.stack([1200 + f_px * x / away, 900 + f_px * y / away], axis=1)
    return Rectangle(
        corners_px=seen, first_side_m=said[0], second_side_m=said[1], corner_sigma_px=0.2, is_on_edges=True
    )


def test_a_letter_sheet_said_to_be_a4_is_told_by_its_sides():
    a4, letter = (0.297, 0.210), (0.2794, 0.2159)
    assert check_sides(sheet_seen(a4, a4), 2400, 1800).sides_off == 0
    with pytest.raises(Infeasible, match="sides as 1.29"):
        check_sides(sheet_seen(a4, letter, tilt=0.02), 2400, 1800)
    slantwise = check_sides(sheet_seen(a4, a4, tilt=0.45), 2400, 1800)
    assert slantwise.alike == pytest.approx(1 - 0.2794 * 0.2159 / (0.297 * 0.210), rel=1e-6)  # cannot be told
    with pytest.raises(Infeasible, match="set its corners again"):
        crooked = sheet_seen(a4, a4, tilt=0.02).corners_px + np.array([[0, 0], [250, 0], [250, 0], [0, 0]])
        check_sides(Rectangle(corners_px=crooked, first_side_m=a4[0], second_side_m=a4[1]), 2400, 1800)


@pytest.mark.parametrize("start", range(4))
@pytest.mark.parametrize("turn", [1, -1])
def test_a_rectangle_may_be_walked_from_any_corner_either_way(start, turn):
    corners = np.roll(SQUARE[::turn], start, axis=0)
    first = 0.4 if abs(corners[1, 0] - corners[0, 0]) > 1 else 0.3
    plane = plane_of(Rectangle(corners_px=corners, first_side_m=first, second_side_m=0.7 - first))
    assert outline_area(plane.to_metres(SQUARE)) == pytest.approx(0.12, rel=1e-6)
    square = plane.to_metres(SQUARE)
    (ax, ay), (bx, by) = square[1] - square[0], square[2] - square[1]
    cross = ax * by - ay * bx
    assert cross < 0  # pixels run downwards, metres upwards: round once the other way, never mirrored


def test_perspective_is_removed():
    # a known homography: the same four corners seen at a slant give the same rectangle
    seen = np.array([[120.0, 140], [520, 100], [480, 420], [90, 380]])
    plane = plane_of(Rectangle(corners_px=seen, first_side_m=0.4, second_side_m=0.3))
    assert plane.to_metres(seen) == pytest.approx(
        np.array([[0, 0], [0.4, 0], [0.4, -0.3], [0, -0.3]]), abs=1e-6
    )


@pytest.mark.parametrize(
    "corners",
    [[[0, 0], [100, 100], [200, 200], [300, 300]], [[100, 100], [500, 400], [500, 100], [100, 400]]],
)
def test_corners_on_a_line_or_crossed_are_refused(corners):
    with pytest.raises(DomainError):
        plane_of(Rectangle(corners_px=np.array(corners, float), first_side_m=0.4, second_side_m=0.3))


def test_two_known_lengths_give_the_scale_and_their_difference_the_doubt():
    ends = np.array([[[100.0, 100], [500, 100]], [[100, 100], [100, 400]]])
    equal = traced(SQUARE, Lengths(ends_px=ends, first_m=0.4, second_m=0.3))
    apart = traced(SQUARE, Lengths(ends_px=ends, first_m=0.4, second_m=0.306))
    assert equal.area_m2 == pytest.approx(0.12, rel=1e-9)
    assert apart.half_m2 > equal.half_m2
    with pytest.raises(Infeasible):
        plane_of(Lengths(ends_px=ends, first_m=0.4, second_m=0.33))
    with pytest.raises(DomainError):
        plane_of(Lengths(ends_px=ends * 0.02, first_m=0.4, second_m=0.3))


def test_a_reference_above_the_rim_is_put_right_by_similar_triangles():
    # a card 10 mm over the rim under a camera at 1 m looks larger by 1 / 0.99, so the void was measured too
    # small by that squared
    found = traced(
        SQUARE, Rectangle(corners_px=SQUARE, first_side_m=0.4, second_side_m=0.3), Parallax(0.010, 1.0)
    )
    assert found.area_m2 == pytest.approx(0.12 / 0.99**2, rel=1e-6)
    assert (
        found.half_m2
        > traced(SQUARE, Rectangle(corners_px=SQUARE, first_side_m=0.4, second_side_m=0.3)).half_m2
    )
    with pytest.raises(DomainError):
        traced(SQUARE, Rectangle(corners_px=SQUARE, first_side_m=0.4, second_side_m=0.3), Parallax(0.5, 0.6))


def test_spreads_of_the_reference_carry_through():
    # area goes with the product of both sides: two times 1 % is 1.41 %
    sides = {"corners_px": SQUARE, "first_side_m": 0.4, "second_side_m": 0.3}
    exact = traced(SQUARE, Rectangle(**sides))
    loose = traced(SQUARE, Rectangle(**sides, first_spread_m=0.004, second_spread_m=0.003))
    assert np.hypot(exact.half_m2, 0.12 * 0.01 * np.sqrt(2)) == pytest.approx(loose.half_m2, rel=1e-6)


def test_an_outline_drawn_by_hand_is_doubted_more():
    reference = Rectangle(corners_px=SQUARE, first_side_m=0.4, second_side_m=0.3)
    assert traced(SQUARE, reference, by_hand=True).half_m2 > traced(SQUARE, reference).half_m2


def test_a_plain_wall_has_no_void():
    plain = np.full((400, 600, 3), 150, np.uint8)
    with pytest.raises(Infeasible):
        find_outline(plain, np.array([[300.0, 200]]))
