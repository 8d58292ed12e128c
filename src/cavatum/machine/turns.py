"""Commands of one checkout that must not do the same thing at once."""

from __future__ import annotations

import fcntl
from collections.abc import Iterator
from contextlib import contextmanager

from . import paths
from .tell import say


@contextmanager
def one_at_a_time(what: str = "setup", does: str = "is setting up here") -> Iterator[None]:
    """Only one command does this on a checkout; the kernel lets go of the lock when its holder dies."""
    paths.HOME.mkdir(parents=True, exist_ok=True)
    with (paths.HOME / f"{what}.lock").open("w") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            say(f"Another cavatum command {does}; waiting for it.")
            fcntl.flock(lock, fcntl.LOCK_EX)
        yield
