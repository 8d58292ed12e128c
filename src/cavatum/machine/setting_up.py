"""What every command does first: the set-up, and the application's own Python."""

from __future__ import annotations

import subprocess

from . import packages, paths


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
