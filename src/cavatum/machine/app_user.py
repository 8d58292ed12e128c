"""Root serves nobody: started by root, web, workers, readers of instruments and all their children run as a
system user of their own, who owns nothing of the program and reads nothing of root's.
"""

from __future__ import annotations

import contextlib
import hashlib
import os
import pwd
import stat
import subprocess
import sys
from functools import cache
from pathlib import Path
from shlex import quote

from . import paths
from .tell import SetupError, run, say

USER = "cavatum"
INSTRUMENTS = "dialout"  # Debian's group of serial ports
_DOWN = ["setpriv", f"--reuid={USER}", f"--regid={USER}", "--init-groups", "--no-new-privs"]
_DOWN += ["--inh-caps=-all", "--bounding-set=-all", "--"]


def is_needed() -> bool:
    return os.geteuid() == 0


def ensure() -> None:
    """Makes the user where there is none: no home, no shell, no password."""
    with contextlib.suppress(KeyError):
        pwd.getpwnam(USER)
        return
    say(f"A system user '{USER}' is made: the server runs as this one and not as root.")
    groups = ["--groups", INSTRUMENTS] if _has_group(INSTRUMENTS) else []
    run(
        ["useradd", "--system", "--user-group", "--no-create-home", "--home-dir", "/nonexistent"]
        + ["--shell", "/usr/sbin/nologin", *groups, USER],
        way_out=f"Make the user by hand: adduser --system --group {USER}. Or start as an ordinary user.",
    )


def _has_group(name: str) -> bool:
    import grp

    try:
        grp.getgrnam(name)
    except KeyError:
        return False
    return True


def give(*files: Path) -> None:
    """What the server writes or may read alone: to its user. Nothing where there is no root. A file that
    has a
    second name is left alone: in a folder of that user it may be somebody else's, linked there.
    """
    if not is_needed():
        return
    ensure()
    entry = pwd.getpwnam(USER)
    for file in files:
        for one in [file, *(file.rglob("*") if file.is_dir() and not file.is_symlink() else [])]:
            found = one.lstat()
            if found.st_uid != entry.pw_uid and not (stat.S_ISREG(found.st_mode) and found.st_nlink > 1):
                os.lchown(one, entry.pw_uid, entry.pw_gid)


def as_user(command: list[str]) -> list[str]:
    """The command as the server's user, without a way back. For whoever is not root the command as it is.

    Where the program, its packages or Python itself lie in folders that only root may enter (/root), they
    are shown to this command, and to its children, at their own places in a view of the disk of its own
    (a mount namespace), in which nothing else of those folders is.

    Raises SetupError where that cannot be done.
    """
    if not is_needed():
        return command
    ensure()
    hidden = _hidden()
    if not hidden:
        return [*_DOWN, *command]
    return [
        "unshare",
        "--mount",
        "--propagation",
        "private",
        "sh",
        "-ec",
        _show(hidden),
        "sh",
        *_DOWN,
        *command,
    ]


def keeps_apart() -> bool:
    """Whether the server has a place of its own for what the compiler keeps: its user does not write beside
    the program, and nobody does where that cannot be written.
    """
    return is_needed() or not os.access(paths.PACKAGE, os.W_OK)


def environment(known: dict[str, str]) -> dict[str, str]:
    """What the processes are told: that place, and nothing of root's home."""
    if not keeps_apart():
        return known
    told = {**known, "NUMBA_CACHE_DIR": str(paths.HOME / "app" / "compiled")}
    if not is_needed():
        return told
    plain = {name: value for name, value in told.items() if name not in ("USER", "LOGNAME", "MAIL")}
    return plain | {"HOME": str(paths.HOME / "app")}


def _show(hidden: dict[Path, Path]) -> str:
    """A script for sh: what is needed is put aside, the shut folders are covered by empty ones, and what was
    put aside goes back to its place.
    """
    stage = _stage()
    words = [f"umask 022; mkdir -p {stage}"]
    for number, needed in enumerate(hidden):
        words.append(f"mkdir -p {stage}/{number}; mount --rbind {quote(str(needed))} {stage}/{number}")
    for shut in sorted(set(hidden.values())):
        words.append(f"mount -t tmpfs -o mode=755,size=1m cavatum {quote(str(shut))}")
    for number, needed in enumerate(hidden):
        place = quote(str(needed))
        words.append(f"mkdir -p {place}; mount --rbind {stage}/{number} {place}; umount -l {stage}/{number}")
    return "\n".join([*words, 'exec "$@"'])


def _stage() -> Path:
    return Path("/run") / f"cavatum-{hashlib.sha256(str(paths.HOME).encode()).hexdigest()[:12]}"


@cache
def _hidden() -> dict[Path, Path]:
    """What that user has to read and may not, with the outermost folder that shuts them out. Raises
    SetupError where nothing may be mounted.
    """
    python = paths.venv_python().resolve()
    packages = Path(sys.prefix) if paths.IS_INSTALLED else paths.VENV.resolve()
    program = paths.PACKAGE if paths.IS_INSTALLED else paths.CHECKOUT
    wanted = [program, paths.HOME, paths.HOME.resolve(), packages, python.parents[1]]
    shut = {one: found for one in wanted if one.exists() and (found := _shut_out(one)) is not None}
    outer = {one: by for one, by in shut.items() if not any(other in one.parents for other in shut)}
    if not outer:
        return {}
    try:
        run(
            ["unshare", "--mount", "--propagation", "private", "sh", "-ec", _show(outer), "sh", "true"],
            way_out="",
        )
    except SetupError as error:
        raise SetupError(
            f"Root serves nobody: the server runs as the user '{USER}', and that one may not enter "
            f"{', '.join(str(one) for one in set(outer.values()))}.",
            "Move the program (and Python, where it lies there) to where everybody may enter, "
            "/srv for example, "
            "or run the command as an ordinary user.",
        ) from error
    return outer


def _shut_out(file: Path) -> Path | None:
    """The outermost folder on the way to it, or itself, that the server's user may not enter."""
    for one in [*reversed(file.parents), file]:
        if subprocess.run([*_DOWN, "test", "-x", str(one)], capture_output=True).returncode:
            return one
    return None
