"""What a camera sees happen over a piece: made-up scenes with the moment of each trouble, and pictures that
show nothing of use.
"""

import math

import numpy as np
import pytest

from cavatum.core.common.errors import DomainError
from cavatum.core.watch.view import View
from cavatum.core.watch.watcher import Watcher
from tests.scenes.watch import KINDS, Scene, watched

SOON = ("quiet", "smoke", "moved", "blind")  # what is whole at once, and what never comes


@pytest.mark.parametrize(("kind", "seed"), [(kind, 20 + place) for place, kind in enumerate(KINDS)])
def test_what_goes_wrong_is_told_within_two_minutes_and_nothing_else(kind, seed):
    seen = watched(Scene(seed=seed, kind=kind, minutes=7.0 if kind in SOON else 12.0))
    assert seen.found, seen.told
    assert seen.false == []
    if kind == "quiet":
        assert seen.told == []
    if kind in ("creep", "leak"):
        (edge,) = [one for one in seen.told if one.side is not None]
        assert edge.side == seen.scene.events[0].side and edge.size_m < 0.003


def corners(**moved) -> np.ndarray:
    made = np.array([[120.0, 100.0], [520.0, 110.0], [560.0, 390.0], [90.0, 380.0]])
    for place, where in moved.items():
        made[int(place[1:])] = where
    return made


@pytest.mark.parametrize(
    ("marked", "length", "width", "argument"),
    [
        (corners()[::-1], 0.4, 0.3, "corners"),  # the other way round
        (corners(c1=(121.0, 102.0)), 0.4, 0.3, "corners"),  # the same corner twice
        (corners(c2=(150.0, 150.0)), 0.4, 0.3, "corners"),  # bent inwards
        (corners(), 0.0, 0.3, "size"),
        (corners(), 0.4, 12.0, "size"),
        (corners(), -0.4, 0.3, "size"),
    ],
)
def test_marks_that_are_no_face_are_refused(marked, length, width, argument):
    with pytest.raises(DomainError) as refused:
        View(marked, length, width)
    assert refused.value.argument == argument


def test_a_place_in_the_picture_is_the_place_on_the_piece():
    """The four corners and the middle by projective geometry: the diagonals of a face cross in its middle."""
    view = View(corners(), 0.4, 0.3)
    (x1, y1), (x2, y2), (x3, y3), (x4, y4) = corners()
    first, second = np.cross((x1, y1, 1), (x3, y3, 1)), np.cross((x2, y2, 1), (x4, y4, 1))
    cross = np.cross(first, second)
    picture = np.zeros((480, 640), np.uint8)
    for x, y in [*corners(), cross[:2] / cross[2]]:
        picture[round(y) - 2 : round(y) + 3, round(x) - 2 : round(x) + 3] = 255
    top = view.begin(picture)
    for place in ((0, 0), (400, 0), (400, 300), (0, 300), (200, 150)):
        x, y = (int((value + view.round_mm) * view.px) for value in place)
        near = top[max(0, y - 6) : y + 7, max(0, x - 6) : x + 7]
        at = np.argwhere(near > 128).mean(0) - (min(6, y), min(6, x))
        assert math.hypot(*at) / view.px < 2.0, place


def test_a_dark_or_empty_picture_tells_only_that_it_is_blind():
    watcher = Watcher(corners(), 0.4, 0.3)
    told = [watcher.see(20.0 * n, np.full((480, 640), 3, np.uint8)) for n in range(10)]
    assert [one.kind for each in told for one in each] == ["blind"]


def test_noise_alone_tells_of_nothing_on_the_piece():
    rng = np.random.default_rng(3)
    watcher = Watcher(corners(), 0.4, 0.3)
    told = [
        one
        for n in range(12)
        for one in watcher.see(20.0 * n, rng.integers(0, 256, (480, 640)).astype(np.uint8))
    ]
    assert {one.kind for one in told} <= {"covered"}
