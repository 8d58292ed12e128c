"""./cavatum speed watch: what a camera over a piece tells of an hour's troubles within two minutes, what it
tells that did not happen, how long a picture takes, and what eight hours of them do to memory.

The last third of the seeds is never tuned on: it is scored here.
"""

from __future__ import annotations

import resource
import sys
import time
from collections import Counter
from itertools import cycle

import cv2
import numpy as np
from common import Board

from cavatum.core.watch.watcher import Watcher
from tests.scenes.watch import KINDS, Scene, watched

TRIED, HELD_BACK = range(0, 60), range(364, 408)  # 60 to 89 and 200 to 363 are spent
FOUND, FALSE_AN_HOUR, A_PICTURE_S, GROWS_MB = 95.0, 1.0, 0.5, 20.0
MINUTES, HOURS = 24.0, 8.0


def main() -> None:
    """All parts, or those that are named: python speed/watch.py picture memory."""
    cv2.setNumThreads(1)  # one core, as is promised
    board = Board()
    begun = time.monotonic()
    for name in sys.argv[1:] or PARTS:
        PARTS[name](board)
    board.line("all of it", time.monotonic() - begun, "s")
    board.leave()


def events(board: Board) -> None:
    found, there, wrong, hours = Counter[str](), Counter[str](), 0, 0.0
    for seed in HELD_BACK:
        kind = KINDS[seed % len(KINDS)]
        seen = watched(Scene(seed=seed, kind=kind, minutes=MINUTES))
        there[kind] += 1
        found[kind] += seen.found
        wrong += len(seen.false)
        hours += MINUTES / 60
    for kind in KINDS[1:]:
        board.line(f"{kind}: told within 2 min ({there[kind]})", 100 * found[kind] / there[kind], "%")
    told = sum(found[kind] for kind in KINDS[1:])
    all_of_them = sum(there[kind] for kind in KINDS[1:])
    board.line(f"told within 2 min, of all {all_of_them}", 100 * told / all_of_them, "%", least=FOUND)
    board.line(f"told and did not happen, in {hours:.0f} h", wrong / hours, "an hour", most=FALSE_AN_HOUR)


def picture(board: Board) -> None:
    slowest = max(_slowest_s(Scene(seed=seed, kind=kind, minutes=MINUTES)) for seed, kind in enumerate(KINDS))
    board.line("the slowest picture, one core", slowest, "s", most=A_PICTURE_S)


def _slowest_s(scene: Scene) -> float:
    """Every picture is seen twice, by a watcher of its own, and the quicker time is the picture's: what
    others or the host of a virtual machine take only ever adds (as the documentation of `timeit` has it of
    repeats). A picture that is slow by itself is slow both times.
    """
    pictures = list(scene.frames())
    both = []
    for _ in range(2):
        watcher = Watcher(scene.corners_px, scene.length_mm / 1000, scene.width_mm / 1000)
        both.append([_seconds(watcher, at, seen) for at, seen in pictures])
    return max(map(min, *both))


def _seconds(watcher: Watcher, at_s: float, seen: np.ndarray) -> float:
    begun = time.thread_time()
    watcher.see(at_s, seen)
    return time.thread_time() - begun


def memory(board: Board) -> None:
    board.line("memory after 8 h of pictures", _grown_mb(), "MB more", most=GROWS_MB)


def _grown_mb() -> float:
    """Two minutes of pictures, again and again for eight hours' worth; after the first half hour nothing may
    grow.
    """
    scene = Scene(seed=1, minutes=2.0)
    pictures = cycle([picture for _, picture in scene.frames()])
    watcher = Watcher(scene.corners_px, scene.length_mm / 1000, scene.width_mm / 1000)
    number = int(HOURS * 3600 / scene.every_s)
    before = 0
    for place in range(number):
        watcher.see(place * scene.every_s, next(pictures))
        if place == number // 16:
            before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    return (resource.getrusage(resource.RUSAGE_SELF).ru_maxrss - before) / 1024


PARTS = {"events": events, "picture": picture, "memory": memory}

if __name__ == "__main__":
    main()
