"""A face found by its outline: on made-up pictures whose corners are known."""

import cv2
import numpy as np
import pytest

from cavatum.core.watch.outline import faces_in
from tests.scenes.watch import KINDS, Scene

NEAR_PX = 4.0  # a finger sets it no better


def first_picture(seed, **changes):
    scene = Scene(seed=seed, kind=KINDS[seed % len(KINDS)], minutes=24.0, **changes)
    return scene, next(scene.frames())[1]


def off(face, corners):
    return float(np.abs(face - corners).max())


@pytest.mark.slow
def test_the_piece_is_found_where_it_lies():
    """A wet film has an edge of its own inside the piece's, a lamp's mirror one inside that."""
    scenes = [first_picture(seed) for seed in range(100, 130)]
    found = [(scene, faces_in(picture)) for scene, picture in scenes]
    near = [scene.seed for scene, faces in found if faces and off(faces[0], scene.corners_px) < NEAR_PX]
    assert len(near) >= 0.85 * len(found), near


@pytest.mark.slow
def test_a_piece_that_is_cut_off_is_not_taken_for_a_whole_one():
    for seed in range(100, 120):
        scene, picture = first_picture(seed)
        (x, y), (_, high) = scene.corners_px.mean(0).astype(int), scene.size
        for part in (picture[:, x:], picture[:, :x], picture[:y], picture[high - y :]):
            assert faces_in(np.ascontiguousarray(part)) == [], seed


def test_two_pieces_are_two_the_larger_first():
    scene, picture = first_picture(1, beside=True)
    own, other = faces_in(picture)
    assert off(own, scene.corners_px) < NEAR_PX
    assert off(other, scene.in_picture(scene.other_mm)) < NEAR_PX


@pytest.mark.parametrize("times", [0.5, 2.0])
def test_a_finer_or_coarser_picture_shows_the_same(times):
    scene, picture = first_picture(1)
    (face,) = faces_in(cv2.resize(picture, None, fx=times, fy=times, interpolation=cv2.INTER_AREA))
    assert off(face / times, scene.corners_px) < NEAR_PX


def test_where_nothing_has_four_corners_none_is_found():
    rng = np.random.default_rng(1)
    assert faces_in(np.full((480, 640), 128, np.uint8)) == []
    assert faces_in(rng.integers(0, 256, (480, 640)).astype(np.uint8)) == []
    round_one = cv2.circle(np.full((480, 640), 60, np.uint8), (320, 240), 150, 190, -1)
    assert faces_in(round_one) == []
    bench = Scene(seed=3).bench
    assert faces_in(np.clip(bench[:480, :640], 0, 255).astype(np.uint8)) == []
