"""No constant of the trade changes unseen."""

import json
import os
import subprocess
import sys
from pathlib import Path

from tests import constants

ROOT = Path(__file__).parents[2]


def test_every_constant_is_as_it_was_last_read():
    """In a process of its own: other tests fill the caches that stand beside the tables."""
    environment = {**os.environ, "PYTHONPATH": str(ROOT / "src")}
    command = [sys.executable, "-m", "tests.constants"]
    done = subprocess.run(command, capture_output=True, check=True, cwd=ROOT, env=environment)
    before, today = json.loads(constants.KEPT.read_text()), json.loads(done.stdout)
    assert len(before) > 1000
    changed = {
        name: (before.get(name), today.get(name))
        for name in before.keys() | today.keys()
        if before.get(name) != today.get(name)
    }
    assert not changed, "read it, say why beside it, then: python -m tests.constants keep"
