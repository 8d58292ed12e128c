"""python -m cavatum.machine.log_keeper FILE: what comes in by standard input, into a file that its owner
alone reads, and that is set aside whenever it gets long, while the server runs.
"""

from __future__ import annotations

import os
import signal
import sys
from io import TextIOWrapper
from logging.handlers import RotatingFileHandler

MOST_BYTES, KEPT = 20 << 20, 4


class _Private(RotatingFileHandler):
    def _open(self) -> TextIOWrapper:
        handle = os.open(self.baseFilename, os.O_WRONLY | os.O_CREAT | os.O_APPEND, 0o600)
        os.fchmod(handle, 0o600)  # one of an earlier release could be read by others
        return os.fdopen(handle, "a", encoding="utf-8", errors="replace")


def keep(file: str, most_bytes: int = MOST_BYTES, kept: int = KEPT) -> None:
    """Until the other end is closed. A full disk loses lines and ends nothing."""
    log = _Private(file, maxBytes=most_bytes, backupCount=kept)
    for line in sys.stdin.buffer:
        try:
            if os.path.getsize(file) + len(line) > most_bytes:
                log.doRollover()
            if log.stream is not None:
                log.stream.write(line.decode("utf-8", "replace"))
                log.stream.flush()
        except OSError:
            continue


if __name__ == "__main__":
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # it ends with those it listens to, after them
    signal.signal(signal.SIGTERM, signal.SIG_IGN)
    keep(sys.argv[1])
