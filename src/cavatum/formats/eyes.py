"""A camera's pictures are looked at in a child process of their own, with a limit on its memory: it reads
what a device sends, and remembers what the piece looked like at first. One child a watch, for as long as it
lasts.
"""

from __future__ import annotations

import contextlib
import json
import selectors
import subprocess
import sys
from typing import Any

from ..core.watch.seen import Seen
from .sandbox import environment

PATIENCE_S = 30.0  # of one picture: the slowest takes half a second
LONGEST_ANSWER = 1 << 20


class EyesLost(Exception):
    """The child ended or hung; a new one begins with the first pictures again."""


class Eyes:
    """told: corners_px, length_m, width_m and others_px, as core.watch.watcher.Watcher has them. Raises
    EyesLost.
    """

    def __init__(self, told: dict[str, Any]) -> None:
        self._child = subprocess.Popen(
            [sys.executable, "-m", "cavatum.formats.eyes_child"],
            stdin=subprocess.PIPE,
            stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL,
            env=environment(),
        )
        self._ask({key: told[key] for key in ("corners_px", "length_m", "width_m", "others_px")}, b"")

    def see(self, at_s: float, picture: bytes) -> tuple[list[Seen], list[int] | None, str]:
        """What this picture tells, the sides that are not followed, and why the picture was not read."""
        answer = self._ask({"at_s": at_s, "bytes": len(picture)}, picture)
        seen = [Seen.model_validate(one) for one in answer["seen"]]
        return seen, answer["unfollowed"], answer["problem"]

    def _ask(self, head: dict[str, Any], body: bytes) -> dict[str, Any]:
        assert self._child.stdin is not None and self._child.stdout is not None
        try:
            self._child.stdin.write(json.dumps(head).encode() + b"\n" + body)
            self._child.stdin.flush()
        except OSError as error:
            self.close()
            raise EyesLost("it has ended") from error
        with selectors.DefaultSelector() as waiting:
            waiting.register(self._child.stdout, selectors.EVENT_READ)
            if not waiting.select(PATIENCE_S):
                self.close()
                raise EyesLost(f"no word for {PATIENCE_S:.0f} s")
        line = self._child.stdout.readline(LONGEST_ANSWER)
        if not line.endswith(b"\n"):
            self.close()
            raise EyesLost("it ended in the middle")
        answer: dict[str, Any] = json.loads(line)
        return answer

    def close(self) -> None:
        self._child.kill()
        self._child.wait()
        for pipe in (self._child.stdin, self._child.stdout):
            if pipe is not None:
                with contextlib.suppress(OSError):
                    pipe.close()
