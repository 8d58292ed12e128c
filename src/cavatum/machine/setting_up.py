"""What every command does first: one set-up at a time, and the application's own Python."""

from __future__ import annotations

import fcntl
import subprocess
from collections.abc import Iterator
from contextlib import contextmanager

from . import packages, paths
from .tell import say


@contextmanager
def one_at_a_time() -> Iterator[None]:
    """Only one set-up works on a checkout; the kernel lets go of the lock when its holder dies."""
    paths.HOME.mkdir(parents=True, exist_ok=True)
    with (paths.HOME / "setup.lock").open("w") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            say("Another cavatum command is setting up here; waiting for it.")
            fcntl.flock(lock, fcntl.LOCK_EX)
        yield


def set_up(*, testing: bool, broker: bool = False) -> None:
    packages.install_debian_packages(browser=testing, broker=broker or testing)
    if testing:
        packages.unpack_nginx()
    packages.install_python_packages(testing=testing)
    packages.compile_modules()
    packages.compile_kernel()
    packages.build_front_end()


def in_venv(arguments: list[str], **extra: str) -> int:
    """Run the application's own Python with its packages, in the foreground, with the terminal as it is."""
    environment = {**packages.node_environment(), "PYTHONPATH": str(paths.CHECKOUT / "src"), **extra}
    process = subprocess.Popen([str(paths.venv_python()), *arguments], env=environment)
    try:
        return process.wait()
    except KeyboardInterrupt:
        process.wait()
        raise
