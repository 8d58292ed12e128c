"""One printed line a step, and one way to fail: what is wrong and what to do about it."""

from __future__ import annotations

import hashlib
import subprocess
import sys
import time
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path

from . import paths


class SetupError(Exception):
    """A step cannot go on. `way_out` is a sentence or a command for the person."""

    def __init__(self, problem: str, way_out: str):
        super().__init__(problem)
        self.problem, self.way_out = problem, way_out


NAME = "cavatum" if paths.IS_INSTALLED else "./cavatum"  # as a person calls it


def say(text: str) -> None:
    print(f"cavatum: {text.replace('./cavatum', NAME)}", file=sys.stderr, flush=True)


@contextmanager
def step(name: str) -> Iterator[None]:
    begun = time.monotonic()
    say(f"{name} ...")
    yield
    say(f"{name}: done in {time.monotonic() - begun:.1f} s")


def run(
    command: list[str], *, way_out: str, cwd: Path | None = None, env: dict[str, str] | None = None
) -> str:
    """Run a command quietly; on failure show the end of what it printed, with the way out."""
    try:
        done = subprocess.run(
            command,
            cwd=cwd,
            env=env,
            text=True,
            stdin=subprocess.DEVNULL,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            check=False,
        )
    except FileNotFoundError as error:
        raise SetupError(f"The program {command[0]} is not here.", way_out) from error
    if done.returncode != 0:
        tail = "\n".join(done.stdout.strip().splitlines()[-15:])
        raise SetupError(f"`{' '.join(command[:6])}` failed ({done.returncode}):\n{tail}", way_out)
    return done.stdout


def digest(files: Iterable[Path], *more: str) -> str:
    """A fingerprint of what a step depends on, so that it runs again only when that changed."""
    total = hashlib.sha256("|".join(more).encode())
    for file in sorted(files):
        total.update(str(file).encode() + b"\0" + file.read_bytes())
    return total.hexdigest()


def is_stamped(name: str, fingerprint: str) -> bool:
    stamp = paths.STAMPS / name
    return stamp.exists() and stamp.read_text() == fingerprint


def put_stamp(name: str, fingerprint: str) -> None:
    paths.STAMPS.mkdir(parents=True, exist_ok=True)
    (paths.STAMPS / name).write_text(fingerprint)
