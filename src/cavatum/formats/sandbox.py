"""Hostile formats are read in a child process with limits on time and memory; what it says comes back as
JSON.

The child limits itself before it imports any reader. When it is ended by a limit, the refusal says so in
words.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import threading
from pathlib import Path
from typing import Any

from ..core.common.errors import DomainError
from ..core.common.plain_numbers import plainly

PATIENCE_S = 40.0  # of waiting in all; memory and processor time are limited by child.py itself
PATIENCE_FOR = {"sheet": 240.0, "label": 240.0}  # a picture is read up to four times over, three pages of it
ROOT = Path(__file__).resolve().parents[2]
AT_ONCE = threading.BoundedSemaphore(2)  # a process holds at most two gigabytes of children
WAY_OUT = "Make it smaller: fewer triangles, points or pixels. Or measure it with a shape or a fill test."


def environment() -> dict[str, str]:
    """All that a child is told: where the program is, and that it has one core."""
    return {
        "PATH": os.environ.get("PATH", ""),
        "PYTHONPATH": str(ROOT),
        "OPENBLAS_NUM_THREADS": "1",
        "OMP_NUM_THREADS": "1",
        "OPENCV_FOR_THREADS_NUM": "1",
        "OPENCV_LOG_LEVEL": "OFF",
        "PYTHONHASHSEED": "0",
        "MALLOC_ARENA_MAX": "2",
    }


def ask(task: str, payload: bytes, options: dict[str, Any] | None = None) -> dict[str, Any]:
    """What `task` of child.py makes of the payload.

    Raises DomainError: what the reader refused, or "too-heavy" when it took over child.CPU_S seconds,
    PATIENCE_S or PATIENCE_FOR it in all, or 1 GB.
    """
    command = [sys.executable, "-m", "cavatum.formats.child", task, json.dumps(options or {})]
    patience_s = PATIENCE_FOR.get(task, PATIENCE_S)
    if not AT_ONCE.acquire(timeout=patience_s):
        raise DomainError(
            argument="file",
            value="waiting behind others",
            allowed="two files are read at once",
            way_out="Try again in a minute.",
            code="busy",
        )
    try:
        done = subprocess.run(
            command, input=payload, capture_output=True, timeout=patience_s, env=environment(), check=False
        )
    except subprocess.TimeoutExpired as error:
        raise _too_heavy(f"over {plainly(patience_s)} s of work") from error
    finally:
        AT_ONCE.release()
    try:
        answer = json.loads(done.stdout)
    except (json.JSONDecodeError, UnicodeDecodeError) as error:
        raise _too_heavy("too much to read within a gigabyte and half a minute") from error
    if "refused" in answer:
        raise DomainError(**answer["refused"])
    found: dict[str, Any] = answer["found"]
    return found


def _too_heavy(value: str) -> DomainError:
    return DomainError(
        argument="file",
        value=value,
        allowed="files are read within 1 GB of memory and 30 s",
        way_out=WAY_OUT,
        code="too-heavy",
    )
