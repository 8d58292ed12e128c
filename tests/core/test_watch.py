"""What a camera sees happen over a piece: made-up scenes with the moment of each trouble, and pictures that
show nothing of use.
"""

import math
from datetime import timedelta
from itertools import accumulate
from typing import get_args

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from cavatum.core.common.errors import DomainError
from cavatum.core.common.wording import Wording
from cavatum.core.watch.corners import check_seen_whole
from cavatum.core.watch.seen import Kind, Seen
from cavatum.core.watch.thinning import MOST, to_drop
from cavatum.core.watch.view import View
from cavatum.core.watch.watcher import Watcher
from cavatum.core.watch.words import words_of
from tests.samples import NOW, workshop
from tests.scenes.watch import KINDS, Scene, watched

SOON = ("quiet", "smoke", "moved", "blind")  # what is whole at once, and what never comes


@pytest.mark.parametrize(("kind", "seed"), [(kind, 20 + place) for place, kind in enumerate(KINDS)])
def test_what_goes_wrong_is_told_within_two_minutes_and_nothing_else(kind, seed):
    seen = watched(Scene(seed=seed, kind=kind, minutes=7.0 if kind in SOON else 12.0))
    assert seen.found, seen.told
    assert seen.false == []
    if kind == "quiet":
        assert seen.told == []
    if kind == "flow":
        speed = next(one.size_m for one in seen.told if one.kind == "flows") * 1000
        fastest = 60 * seen.scene.mm_s  # along the fastest line, at first
        assert 0.05 * fastest < speed < fastest
    if kind in ("creep", "leak"):
        (edge,) = [one for one in seen.told if one.side is not None]
        assert edge.side == seen.scene.events[0].side and edge.size_m < 0.003


@pytest.mark.slow
def test_what_happens_on_another_piece_beside_it_is_not_told():
    """Where its corners are known; the film of this one is looked at all the same."""
    beside = Scene(seed=1, kind="quiet", minutes=12.0, beside=True)
    assert watched(beside).told != []
    assert watched(beside, [beside.in_picture(beside.other_mm)]).told == []
    own = Scene(seed=1, kind="landed", minutes=12.0, beside=True)
    seen = watched(own, [own.in_picture(own.other_mm)])
    assert seen.found and seen.false == []


@pytest.mark.slow
def test_a_narrow_piece_is_watched_though_its_colour_cannot_be_followed():
    scene = Scene(seed=4, kind="landed", minutes=12.0)
    watcher = Watcher(scene.corners_px, 0.12, 0.06)
    told = [one for at, picture in scene.frames() for one in watcher.see(at, picture)]
    assert "landed" in {one.kind for one in told}


def test_a_piece_that_is_cut_off_or_has_no_bench_round_it_is_refused():
    whole = corners()
    check_seen_whole(whole, (640, 480))
    for size in ((565, 480), (640, 395)):
        with pytest.raises(DomainError, match="bench"):
            check_seen_whole(whole, size)
    with pytest.raises(DomainError, match="bench"):
        check_seen_whole(whole - (85.0, 0.0), (640, 480))


def corners(**moved) -> np.ndarray:
    made = np.array([[120.0, 100.0], [520.0, 110.0], [560.0, 390.0], [90.0, 380.0]])
    for place, where in moved.items():
        made[int(place[1:])] = where
    return made


@pytest.mark.parametrize(
    ("marked", "length", "width", "argument"),
    [
        (corners()[::-1], 0.4, 0.3, "marking"),  # the other way round
        (corners(c1=(121.0, 102.0)), 0.4, 0.3, "marking"),  # the same corner twice
        (corners(c2=(150.0, 150.0)), 0.4, 0.3, "marking"),  # bent inwards
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


@pytest.mark.parametrize(
    ("seen", "words"),
    [
        (
            Seen(kind="bubbles", at_s=0, place_m=(0.122, 0.165), count=12),
            "12 new bubbles, 122 mm from the left and 165 mm from the far side: time for a flame round",
        ),
        (
            Seen(kind="creep", at_s=0, side=1, size_m=0.0012),
            "The wet edge creeps out 1.2 mm on the right side: "
            "this side is low. Lay the level on and shim it",
        ),
        (
            Seen(kind="leak", at_s=0, side=2, size_m=0.002, sure=False),
            "Perhaps: the wet edge draws back 2 mm on the near side: "
            "it runs off somewhere. Look below at once",
        ),
        (
            Seen(kind="flows", at_s=0, size_m=0.0024),
            "The colour still moves, about 2.4 mm a minute: it still flows",
        ),
        (
            Seen(kind="still", at_s=0),
            "The colour stands still: it has levelled or begins to gel. It is not hard yet",
        ),
        (Seen(kind="moved", at_s=0), "The camera was moved: mark the piece again"),
    ],
)
def test_what_is_seen_is_said_with_its_place_and_what_to_do(seen, words):
    assert words_of(seen, Wording(workshop())) == words
    us = words_of(seen, Wording(workshop(units="us")))
    assert " mm" not in us


@pytest.mark.parametrize("kind", get_args(Kind))
def test_every_kind_has_its_words(kind):
    said = words_of(Seen(kind=kind, at_s=0, place_m=(0.1, 0.1), size_m=0.004, count=1), Wording(workshop()))
    assert said[0].isupper() and len(said) < 140


def at(seconds):
    return NOW + timedelta(seconds=seconds)


def dropped(seconds, *, needed=(), first=5):
    pictures = [(number, at(moment)) for number, moment in enumerate(seconds, 1)]
    return set(to_drop(pictures, set(needed), first, at(seconds[-1])))


@given(
    st.lists(st.integers(10, 600), min_size=1, max_size=400),
    st.sets(st.integers(1, 400), max_size=20),
)
def test_of_all_pictures_stay_the_first_the_last_ten_minutes_and_those_round_what_was_seen(gaps, needed):
    seconds = list(accumulate(gaps))
    gone = dropped(seconds, needed=needed)
    assert not gone & {1, 2, 3, 4, 5} and not gone & needed
    assert not {n for n, moment in enumerate(seconds, 1) if seconds[-1] - moment < 600} & gone
    # What was thinned once is not thinned further until more came
    left = [(n, at(moment)) for n, moment in enumerate(seconds, 1) if n not in gone]
    assert to_drop(left, needed, 5, at(seconds[-1])) == []


def test_days_of_pictures_stay_under_their_bound():
    gone = dropped([10 * number for number in range(1, 9000)])
    assert 9000 - len(gone) <= MOST + 61
