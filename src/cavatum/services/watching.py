"""A camera over a piece: its pictures looked at, what is seen said in the run, and how many are kept."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta
from importlib.util import find_spec
from typing import Annotated
from uuid import uuid4

import numpy as np
from psycopg import Connection
from pydantic import BaseModel, Field

from ..core.common.errors import DomainError
from ..core.common.extras import left_out
from ..core.common.wording import Wording
from ..core.pour.events import OF_THE_CAMERA, Saw, UndoEvent
from ..core.watch.corners import check_face, check_seen_whole
from ..core.watch.seen import Flaw, Seen
from ..core.watch.thinning import to_drop
from ..core.watch.words import QUIET, URGENT, flaw_words, words_of
from ..formats.eyes import Eyes, EyesLost
from ..store import files, runs, watch, workshops
from ..store.watch import FrameRow, SeenRow, WatchRow

MOST_MARKS = 60
MOST_OPEN = 6  # of a workshop
FIRST, AGAIN = 5, 6  # pictures that eyes which begin anew see once more
AT_ONCE = 40  # pictures a round and watch
SILENT = timedelta(minutes=5)
LONGEST = timedelta(hours=24)
MOST_BYTES = 1 << 30  # of a workshop's pictures; then those of the oldest watches go
FAR_M = 0.04  # what eyes that began anew tell again of a place is the same


FourCorners = Annotated[list[tuple[float, float]], Field(min_length=4, max_length=4)]


class WatchTold(BaseModel):
    """corners_px: far left, far right, near right, near left; size_px: of the pictures. others_px: of other
    pieces in them, not looked at.
    """

    device: str = Field(default="", max_length=80)
    corners_px: FourCorners
    size_px: tuple[int, int]
    others_px: list[FourCorners] = Field(default=[], max_length=8)
    length_m: float = Field(gt=0, le=10)
    width_m: float = Field(gt=0, le=10)
    every_s: float = Field(default=20, ge=10, le=60)


def begin(connection: Connection, shop: int, run_id: int, told: WatchTold, now: datetime) -> WatchRow:
    """A device watches one piece: another watch of the same device at this run ends. Raises DomainError."""
    if find_spec("cv2") is None:
        raise left_out(ModuleNotFoundError(name="cv2"))
    check_face(np.array(told.corners_px), told.length_m, told.width_m)
    check_seen_whole(np.array(told.corners_px), told.size_px)
    run = runs.read(connection, shop, run_id)
    if run.ended_at is not None or run.rehearsal is not None:
        raise DomainError(
            argument="run",
            value="over" if run.ended_at else "a rehearsal",
            allowed="a camera watches a run that goes on",
            way_out="Begin the run first.",
            code="no-run",
        )
    watch.lock(connection, shop)
    for one in watch.open_in(connection, shop):
        if one.run_id == run_id and one.told["device"] == told.device:
            watch.end(connection, shop, one.id, now, "marked again")
    if len(watch.open_in(connection, shop)) >= MOST_OPEN:
        raise DomainError(
            argument="cameras",
            value=f"{MOST_OPEN} already",
            allowed=f"at most {MOST_OPEN} watch at once",
            way_out="End one first.",
            code="full",
        )
    made = watch.begin(connection, shop, run_id, told.model_dump(mode="json"), now)
    return watch.read(connection, shop, made)


class Watching:
    """The eyes of one watch, in a process of their own; they begin anew when they were lost."""

    def __init__(self) -> None:
        self._eyes: dict[int, Eyes] = {}

    def round(self, connection: Connection, shop: int, watch_id: int, now: datetime) -> int:
        """Looks at what came since, and says what is seen. Returns how many pictures were looked at.

        connection  sees this workshop and commits by itself
        """
        row = watch.read(connection, shop, watch_id)
        frames = watch.new_frames(connection, shop, watch_id, AT_ONCE)
        for frame in frames:
            try:
                seen, unfollowed, problem = self._look(connection, shop, row, frame)
            except EyesLost:
                self.forget(watch_id)
                seen, unfollowed, problem = [], row.unfollowed, "The eyes were lost at this picture."
            with connection.transaction():
                watch.looked(connection, shop, watch_id, frame.number, now, unfollowed, problem)
                say(connection, shop, row, frame, seen, now)
        with connection.transaction():
            _look_after(connection, shop, row, now)
        if watch.read(connection, shop, watch_id).ended_at is not None:
            self.forget(watch_id)
        return len(frames)

    def _look(
        self, connection: Connection, shop: int, row: WatchRow, frame: FrameRow
    ) -> tuple[list[Seen], list[int] | None, str]:
        eyes = self._eyes.get(row.id)
        if eyes is None:
            told = WatchTold.model_validate(row.told)
            eyes = Eyes(told.model_dump(mode="json"))
            self._eyes[row.id] = eyes
            for old in watch.old_frames(connection, shop, row.id, FIRST, AGAIN):
                eyes.see((old.at - row.begun_at).total_seconds(), old.content)
        return eyes.see((frame.at - row.begun_at).total_seconds(), frame.content)

    def forget(self, watch_id: int) -> None:
        eyes = self._eyes.pop(watch_id, None)
        if eyes is not None:
            eyes.close()

    def keep_only(self, open_ids: set[int]) -> None:
        for one in set(self._eyes) - open_ids:
            self.forget(one)

    def close(self) -> None:
        self.keep_only(set())


def say(
    connection: Connection, shop: int, row: WatchRow, frame: FrameRow, seen: Sequence[Seen], now: datetime
) -> None:
    """Into the run, with the picture and the marks on it; what was told of that place before is not told
    again.
    """
    known = watch.seen(connection, shop, [row.id])
    new = [one for one in seen if not _is_known(one, known)]
    if not new:
        return
    run = runs.read(connection, shop, row.run_id, lock=True)
    if run.ended_at is not None:
        return
    wording = Wording(workshops.read(connection, shop))
    sha = files.keep(connection, shop, "photo", f"seen {frame.at:%H.%M}.jpg", frame.content).sha256
    for one in new:
        event_id = uuid4()
        words = words_of(one, wording)
        saw = Saw(
            what=one.kind,
            words=words,
            rings=one.kind not in QUIET,
            urgent=one.kind in URGENT,
            sure=one.sure,
            sha256=sha,
            marks=one.marks_px,
            size=tuple(row.told["size_px"]),
        )
        runs.says(connection, shop, run, saw, now, who="camera", at=frame.at, event_id=event_id)
        told = one.model_dump(mode="json")
        watch.add_seen(connection, shop, row.id, event_id, frame.number, one.kind, frame.at, told, words)


def keep_flaws(
    connection: Connection,
    shop: int,
    run_id: int,
    sha256: str,
    flaws: Sequence[Flaw],
    size: tuple[int, int],
    when: str,
    who: str,
    now: datetime,
) -> str:
    """A photo in low side light, into the run: nobody has to hear of it. Its words."""
    run = runs.read(connection, shop, run_id, lock=True)
    words = flaw_words(flaws, when)
    marks = [list(one.circle_px) for one in flaws[:MOST_MARKS]]
    saw = Saw(what=when, words=words, rings=False, sha256=sha256, marks=marks, size=size)
    runs.says(connection, shop, run, saw, now, who=who)
    return words


def call_wrong(connection: Connection, shop: int, seen_id: int, who: str, now: datetime) -> SeenRow:
    """Somebody looked, and there was nothing: said beside it, and its word in the run counts no more."""
    before = watch.one_seen(connection, shop, seen_id)
    row = watch.call_wrong(connection, shop, seen_id, now, who)
    if before.wrong_at is None:
        run = runs.read(connection, shop, watch.read(connection, shop, row.watch_id).run_id, lock=True)
        runs.says(connection, shop, run, UndoEvent(event_id=row.event_id), now, who=who)
    return row


def _is_known(one: Seen, known: Sequence[SeenRow]) -> bool:
    """Of the same kind, at about the same place: eyes that began anew tell what they told before."""
    for row in known:
        before = Seen.model_validate(row.told)
        if before.kind != one.kind or before.side != one.side:
            continue
        if before.place_m is None or one.place_m is None:
            return one.kind not in OF_THE_CAMERA  # these are told each time
        if max(abs(a - b) for a, b in zip(before.place_m, one.place_m, strict=True)) < FAR_M:
            return True
    return False


def _look_after(connection: Connection, shop: int, row: WatchRow, now: datetime) -> None:
    """Ends with its run or its day; says when no picture comes; keeps as many as the rule says."""
    run = runs.read(connection, shop, row.run_id)
    if run.ended_at is not None:
        watch.end(connection, shop, row.id, now, "the run is over")
    elif now - row.begun_at > LONGEST:
        watch.end(connection, shop, row.id, now, "a day is over")
    row = watch.read(connection, shop, row.id)
    last = row.last_at or row.begun_at
    if row.ended_at is None and row.silent_at is None and now - last > SILENT:
        watch.note_silent(connection, shop, row.id, now)
        where = f" ({row.told['device']})" if row.told["device"] else ""
        words = f"The camera{where} has sent no picture for 5 min: nobody watches the piece"
        held = runs.read(connection, shop, row.run_id, lock=True)
        runs.says(connection, shop, held, Saw(what="silent", words=words), now, who="camera")
    _thin(connection, shop, row, now)


def _thin(connection: Connection, shop: int, row: WatchRow, now: datetime) -> None:
    pictures = [(number, at) for number, at, _ in watch.kept(connection, shop, row.id)]
    needed = {
        number for one in watch.seen(connection, shop, [row.id]) for number in (one.number - 1, one.number)
    }
    going = to_drop(pictures, needed, FIRST, now)
    if going:
        watch.drop(connection, shop, row.id, going)
    held = watch.held(connection, shop)
    over = sum(size for _, _, size, _ in held) - MOST_BYTES
    for watch_id, _, size, _ in held:
        if over <= 0 or watch_id == row.id:
            break
        watch.drop(connection, shop, watch_id, [one[0] for one in watch.kept(connection, shop, watch_id)])
        over -= size
