"""The child that looks at one camera's pictures: limits itself, reads one after the other from stdin, answers
each with a line of JSON. Started by eyes.py only.
"""

from __future__ import annotations

import json
import resource
import sys

MEMORY_BYTES = 1024**3


def main() -> int:
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, MEMORY_BYTES))
    resource.setrlimit(resource.RLIMIT_NOFILE, (64, 64))
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))
    import cv2
    import numpy as np
    from PIL import UnidentifiedImageError

    from ..core.common.errors import DomainError
    from ..core.watch.watcher import Watcher
    from .photos_in import read_frame

    cv2.setNumThreads(1)
    head = json.loads(sys.stdin.buffer.readline())
    others = [np.array(one, np.float64) for one in head["others_px"]]
    watcher = Watcher(np.array(head["corners_px"], np.float64), head["length_m"], head["width_m"], others)
    _say({})
    size = None
    while line := sys.stdin.buffer.readline():
        asked = json.loads(line)
        data = sys.stdin.buffer.read(asked["bytes"])
        seen, problem = [], ""
        try:
            picture = read_frame(data)
            if size is None:
                size = picture.shape
            if picture.shape == size:
                seen = watcher.see(asked["at_s"], picture)
            else:
                problem = "It is of another size than the first."
        except (DomainError, OSError, UnidentifiedImageError, ValueError, MemoryError, cv2.error) as error:
            problem = str(error) or type(error).__name__
        _say(
            {
                "seen": [one.model_dump(mode="json") for one in seen],
                "unfollowed": watcher.unfollowed(),
                "problem": problem[:200],
            }
        )
    return 0


def _say(answer: dict[str, object]) -> None:
    sys.stdout.buffer.write(json.dumps(answer).encode() + b"\n")
    sys.stdout.buffer.flush()


if __name__ == "__main__":
    sys.exit(main())
