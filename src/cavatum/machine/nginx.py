"""Debian's nginx, installed or unpacked into our own folder."""

from __future__ import annotations

import os
import shutil
import subprocess
from pathlib import Path

from . import paths
from .tell import run, step

STREAM = "ngx_stream_module.so"


def find() -> str | None:
    """Debian's, installed or unpacked into our own folder: installed it would start a server on port 80 of
    this computer.
    """
    own = paths.HOME / "nginx" / "usr" / "sbin"
    return next(
        (found for path in (None, "/usr/sbin", str(own)) if (found := shutil.which("nginx", path=path))), None
    )


def find_stream() -> str | None:
    """Its module that counts connections before a word is said on them."""
    for root in (Path("/"), paths.HOME / "nginx"):
        file = root / "usr" / "lib" / "nginx" / "modules" / STREAM
        if file.exists():
            return str(file)
    return None


def unpack() -> None:
    """Into our own folder, where it is not installed; without root too. Left alone where there is no apt: who
    needs it is told.
    """
    if (find() and find_stream()) or shutil.which("apt-get") is None:
        return
    folder = paths.HOME / "nginx"
    folder.mkdir(parents=True, exist_ok=True)
    names = ["nginx", "libnginx-mod-stream"]
    way_out = f"Check the network, or install it by hand: apt-get install -y {' '.join(names)}"
    with step("nginx, unpacked beside"):
        if subprocess.run(["apt-get", "download", *names], cwd=folder, capture_output=True).returncode:
            if os.geteuid() == 0:
                run(["apt-get", "update"], way_out=way_out)
            run(["apt-get", "download", *names], cwd=folder, way_out=way_out)
        for package in folder.glob("*nginx*.deb"):
            run(["dpkg", "-x", str(package), str(folder)], way_out=way_out)
