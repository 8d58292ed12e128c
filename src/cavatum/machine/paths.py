"""Where things lie. Everything made by the set-up is under one folder that git ignores."""

from __future__ import annotations

import os
from pathlib import Path

CHECKOUT = Path(__file__).resolve().parents[3]
HOME = Path(os.environ.get("CAVATUM_HOME", CHECKOUT / ".cavatum"))
VENV = HOME / "venv"
STAMPS = HOME / "stamps"
WEB = CHECKOUT / "web"
MIGRATIONS = CHECKOUT / "src" / "cavatum" / "store" / "migrations"
RUN_FILE = HOME / "run.json"
SECRET_FILE = HOME / "secret-key"
DEFAULT_PORT = 8040


def venv_python() -> Path:
    return VENV / "bin" / "python"
