"""Debian's nginx before the network's web process: whoever connects and says nothing waits there."""

from __future__ import annotations

import hashlib
import resource
import shutil
import tempfile
from pathlib import Path

from . import app_user, paths
from . import nginx as nginx_of
from .tell import SetupError
from .whole import write_whole

TEMPLATE = paths.PROCESSES / "front.conf"
MOST_FILES = 40_000  # of each of its processes, where the system allows so many
MOST_EACH = 100  # connections of one address: ten tablets behind one router, six each, and room
SOCKET_LIMIT = 107  # bytes of a socket's path on Linux


def folder() -> Path:
    """Where its two sockets are: in our own folder, or in a short one where that path does not fit."""
    own = paths.HOME / "front"
    if len(str(own / "front.sock").encode()) <= SOCKET_LIMIT:
        return own
    tag = hashlib.sha256(str(paths.HOME).encode()).hexdigest()[:12]
    return Path(tempfile.gettempdir()) / f"cavatum-front-{tag}"


def lay_down(network: dict[str, str]) -> dict[str, str]:
    """Writes its settings and gives it what it needs, before every start; what the processes are told of
    it. network: port, certificate and key, as the processes are told them. Raises SetupError where there is
    no nginx.
    """
    port, certificate, key = (network[f"CAVATUM_NETWORK_{name}"] for name in ("PORT", "CERTIFICATE", "KEY"))
    nginx, stream = nginx_of.find(), nginx_of.find_stream()
    if nginx is None or stream is None:
        raise SetupError(
            "For the network Debian's nginx is needed, with its stream module, and it is not here.",
            "Run: apt-get install -y --no-install-recommends nginx libnginx-mod-stream, then "
            "systemctl disable --now nginx (Cavatum starts its own).",
        )
    files = min(resource.getrlimit(resource.RLIMIT_NOFILE)[1], MOST_FILES)
    here = folder()
    shutil.rmtree(here, ignore_errors=True)
    here.mkdir(mode=0o700)
    text = TEMPLATE.read_text()
    for word, value in (
        ("STREAM_MODULE", stream),
        ("MOST_EACH", str(MOST_EACH)),
        ("MOST_FILES", str(files)),
        ("MOST_AT_ONCE", str(files // 3)),
        ("listen PORT", f"listen 0.0.0.0:{port}"),
        ("FRONT/", f"{here}/"),
    ):
        if word not in text:
            raise SetupError(f"{TEMPLATE} has no {word}.", "Take the file of this version again.")
        text = text.replace(word, value)
    write_whole(here / "front.conf", text)
    for name, file in (
        ("server.crt", certificate),
        ("server.key", key),
    ):  # the authority's key stays where it is
        write_whole(here / name, Path(file).read_text())
    app_user.give(here)
    return {**network, "CAVATUM_FRONT": str(here), "CAVATUM_NGINX": nginx, "CAVATUM_BEHIND_PROXY": "1"}
