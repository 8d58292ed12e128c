"""What Cavatum is made of: every part locked by hash, and none that its makers have withdrawn or given up.

Known faults are in public lists that the registries do not hand out (docs/security.md, 14.2.1): those are
asked before a release.
"""

import html
import json
import re
import ssl
import subprocess
import sys
import sysconfig
import urllib.request
from concurrent.futures import ThreadPoolExecutor
from importlib import metadata
from pathlib import Path

import pytest
from packaging.specifiers import SpecifierSet
from packaging.tags import compatible_tags, cpython_tags
from packaging.utils import (
    InvalidSdistFilename,
    InvalidWheelFilename,
    canonicalize_name,
    parse_sdist_filename,
    parse_wheel_filename,
)
from packaging.version import InvalidVersion, Version
from pip._internal.models.index import PyPI

from cavatum.machine import paths

ASKED_AT_ONCE = 6  # the index answers slowly, each package by itself
ROOT = Path(__file__).resolve().parents[1]
LOCK = json.loads((ROOT / "web" / "package-lock.json").read_text())


@pytest.mark.parametrize("name", ["app", "test"])
def test_every_python_package_is_locked_by_its_hash(name):
    text = (ROOT / "requirements" / f"{name}.txt").read_text().replace("\\\n", " ")
    locked = [line for line in text.splitlines() if line.strip() and not line.lstrip().startswith("#")]
    assert len(locked) > 40
    for line in locked:
        assert re.match(r"^[\w.\[\], -]+==[\w.+!]+ .*--hash=sha256:[0-9a-f]{64}", line), line


def test_every_node_package_is_locked_by_its_hash_and_none_is_given_up():
    parts = {name: part for name, part in LOCK["packages"].items() if name}
    assert len(parts) > 100
    for name, part in parts.items():
        assert part["integrity"].startswith("sha512-"), name
        assert "deprecated" not in part, f"{name}: {part.get('deprecated')}"


JSON, HTML = "application/vnd.pypi.simple.v1+json", "text/html"
HASH = re.compile(r"--hash=sha256:([0-9a-f]{64})")


def locked() -> dict[str, tuple[str, set[str]]]:
    """name -> its version and hashes, as the lock says."""
    text = (ROOT / "requirements" / "test.txt").read_text().replace("\\\n", " ")
    found = {}
    for line in text.splitlines():
        if is_one := re.match(r"([\w.-]+)(?:\[[\w,-]+\])?==([\w.+!]+)", line):
            found[canonicalize_name(is_one[1])] = (is_one[2], set(HASH.findall(line)))
    return found


def told(name: str) -> str:
    """A setting of pip's on this computer: what is nearest to the command counts most."""
    pip = [str(paths.venv_python()), "-m", "pip", "config", "list"]
    said = subprocess.run(pip, capture_output=True, text=True, check=True).stdout
    settings = dict(re.findall(r"(?m)^(\S+?)='(.*)'$", said))
    return settings.get(f":env:.{name}") or settings.get(f"global.{name}") or ""


ANCHOR = re.compile(r"<a\b([^>]*)>([^<]+)</a>")


def as_json(page: str) -> list[dict]:
    """An older index answers with a page of links (PEP 503)."""
    files = []
    for attributes, name in ANCHOR.findall(page):
        said = {key: html.unescape(value) for key, value in re.findall(r'([\w-]+)="([^"]*)"', attributes)}
        files.append(
            {
                "filename": name.strip(),
                "hashes": {"sha256": said["href"].partition("#sha256=")[2]},
                "requires-python": said.get("data-requires-python"),
                "yanked": "data-yanked" in said,
            }
        )
    return files


def files_of(name: str, index: str, ours: ssl.SSLContext, kinds: str = f"{JSON}, {HTML};q=0.1") -> list:
    """What the index has of it, in its own words (PEP 691)."""
    asked = urllib.request.Request(  # noqa: S310
        f"{index.rstrip('/')}/{name}/", headers={"Accept": kinds}
    )
    with urllib.request.urlopen(asked, context=ours, timeout=120) as answer:
        said = answer.read()
    return json.loads(said)["files"] if said.lstrip().startswith(b"{") else as_json(said.decode())


def trusted() -> ssl.SSLContext:
    return ssl.create_default_context(cafile=told("cert") or None)


@pytest.fixture(scope="module")
def index() -> dict[str, list[dict]]:
    names = [*locked(), "attrs"]
    asked = told("index-url") or PyPI.simple_url
    ours = trusted()
    with ThreadPoolExecutor(ASKED_AT_ONCE) as pool:
        found = pool.map(lambda name: files_of(name, asked, ours), names)
        return dict(zip(names, found, strict=True))


def withdrawn(files: list[dict], version: str) -> bool:
    """Is every file of this version yanked (PEP 592)? That is how makers call back a faulty one."""
    of_it = [one for one in files if version_of(one["filename"]) == Version(version)]
    assert of_it, version
    return all(one.get("yanked") for one in of_it)


def version_of(file: str) -> Version | None:
    try:
        return (parse_wheel_filename if file.endswith(".whl") else parse_sdist_filename)(file)[1]
    except (InvalidWheelFilename, InvalidSdistFilename, InvalidVersion):
        return None  # of the time before there were rules


def compiled() -> list[str]:
    """Names of the packages in this environment that are built for one version of Python (abi3 and py3 ones
    serve all of them).
    """
    tagged = [
        (one.metadata["Name"], one.read_text("WHEEL") or "") for one in metadata.distributions(path=[site()])
    ]
    built = f"cp{sys.version_info.major}{sys.version_info.minor}"
    return [name for name, wheel in tagged if re.search(rf"Tag: {built}-{built}-", wheel)]


def site() -> str:
    return sysconfig.get_paths()["purelib"]


def fits(files: list[dict], hashes: set[str], version: str) -> bool:
    """Is one of the locked files made for that Python on this computer, by its tags (PEP 425) and by what it
    requires?
    """
    python = tuple(map(int, version.split(".")))
    tags = set(cpython_tags(python)) | set(compatible_tags(python, f"cp{python[0]}{python[1]}"))
    return any(
        one["filename"].endswith(".whl")
        and one["hashes"]["sha256"] in hashes
        and parse_wheel_filename(one["filename"])[3] & tags
        and Version(version) in SpecifierSet(one.get("requires-python") or "")
        for one in files
    )


def test_what_is_compiled_is_locked_for_every_python_the_readme_names(index):
    names = [canonicalize_name(one) for one in compiled()]
    assert {"numpy", "numba", "psycopg-binary"} <= set(names)
    lock = locked()
    for version in ("3.11", "3.12", "3.13"):
        missing = [one for one in names if not fits(index[one], lock[one][1], version)]
        assert missing == [], version
    assert not fits(index["numba"], lock["numba"][1], "3.9")  # none is made for it any more


def test_no_python_package_was_withdrawn_by_its_makers(index):
    lock = locked()
    assert len(lock) > 60
    page = files_of("attrs", told("index-url") or PyPI.simple_url, trusted(), HTML)
    assert withdrawn(index["attrs"], "21.1.0") and withdrawn(
        page, "21.1.0"
    )  # one that was: its makers took it back in May 2021
    assert [one for one, (version, _) in lock.items() if withdrawn(index[one], version)] == []
