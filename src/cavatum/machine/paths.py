"""Where things lie. Everything made by the set-up is in one folder; in a checkout git ignores it."""

from __future__ import annotations

import hashlib
import os
import sys
from pathlib import Path

PACKAGE = Path(__file__).resolve().parents[1]
CHECKOUT = PACKAGE.parents[1]
IS_INSTALLED = not (CHECKOUT / "pyproject.toml").exists()  # from a wheel: packages and pages are there
PROCESSES = Path(__file__).resolve().parent / "processes"  # what runs, as honcho, nginx and gunicorn read it
WEB = CHECKOUT / "web"
MIGRATIONS = PACKAGE / "store" / "migrations"
DEFAULT_PORT = 8040


def _home() -> Path:
    """As told; in a checkout that can be written its .cavatum; else where the system keeps what programs
    keep.
    """
    told = os.environ.get("CAVATUM_HOME")
    if told:
        return Path(told).absolute()
    if not IS_INSTALLED and (os.access(CHECKOUT, os.W_OK) or (CHECKOUT / ".cavatum").exists()):
        return CHECKOUT / ".cavatum"
    state = Path(os.environ.get("XDG_STATE_HOME") or Path.home() / ".local" / "state")
    base = Path("/var/lib") if os.geteuid() == 0 else state
    tag = "" if IS_INSTALLED else f"-{hashlib.sha256(str(CHECKOUT).encode()).hexdigest()[:8]}"
    return base / f"cavatum{tag}"


HOME = _home()
VENV = HOME / "venv"
STAMPS = HOME / "stamps"
RUN_FILE = HOME / "run.json"
SECRET_FILE = HOME / "secret-key"


def use(home: Path) -> None:
    """Another folder for everything, for this command and all it starts."""
    global HOME, VENV, STAMPS, RUN_FILE, SECRET_FILE
    os.environ["CAVATUM_HOME"] = str(home.absolute())
    HOME = _home()
    VENV, STAMPS, RUN_FILE, SECRET_FILE = (
        HOME / name for name in ("venv", "stamps", "run.json", "secret-key")
    )


def venv_python() -> Path:
    return Path(sys.executable) if IS_INSTALLED else VENV / "bin" / "python"


def for_python() -> dict[str, str]:
    """What a child needs to find the program: nothing where it is installed."""
    return {} if IS_INSTALLED else {"PYTHONPATH": str(CHECKOUT / "src")}


def web() -> Path:
    """The front end's sources: where they are, or a copy in our own folder where they cannot be written
    beside.
    """
    return WEB if os.access(WEB, os.W_OK) else HOME / "web"


def pages() -> Path:
    """The built front end."""
    return PACKAGE / "front_end" if IS_INSTALLED else web() / "dist"
