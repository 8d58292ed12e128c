"""What every command does first: the set-up, and the application's own Python."""

from __future__ import annotations

import subprocess

from . import nginx, packages, paths


def set_up(*, testing: bool, broker: bool = False, network: bool = False) -> None:
    packages.look_for_room()
    packages.install_debian_packages(browser=testing, broker=broker or testing)
    packages.install_text_reader()
    if testing:
        packages.install_light_browser()
    if testing or network:
        nginx.unpack()
    if not paths.IS_INSTALLED:
        packages.make_venv()
        packages.install_node_packages()  # what may be missing is told before the ten minutes of the others
        packages.install_python_packages(testing=testing)
        packages.compile_modules()
    if testing:
        packages.compile_kernel(for_server=False)
    packages.compile_kernel(for_server=True)
    if not paths.IS_INSTALLED:
        packages.build_front_end()


def in_venv(arguments: list[str], **extra: str) -> int:
    """Run the application's own Python with its packages, in the foreground, with the terminal as it is."""
    environment = {**packages.node_environment(), **paths.for_python(), **extra}
    process = subprocess.Popen([str(paths.venv_python()), *arguments], env=environment)
    try:
        return process.wait()
    except KeyboardInterrupt:
        process.wait()
        raise
