"""Files that are there as a whole or as they were: written aside, synced, renamed, the folder synced."""

from __future__ import annotations

import os
import secrets
from pathlib import Path


def write_whole(file: Path, text: str, mode: int = 0o600) -> None:
    """A crash at any moment leaves the old file or the new one, never half of one or an empty one. Raises
    OSError where the disk is full or cannot be written.
    """
    part = file.with_name(f".{file.name}.{secrets.token_hex(4)}")
    try:
        handle = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL, mode)
        with os.fdopen(handle, "w", encoding="utf-8") as out:
            out.write(text)
            out.flush()
            os.fsync(out.fileno())
        take_place(part, file)
    finally:
        part.unlink(missing_ok=True)


def take_place(part: Path, file: Path) -> None:
    """Renames a file that was written and synced, and makes the renaming itself survive a cut of power."""
    os.replace(part, file)
    sync_folder(file.parent)


def sync_folder(folder: Path) -> None:
    handle = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
