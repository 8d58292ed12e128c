"""What Cavatum is made of: every part locked by hash, and none that its makers have withdrawn or given up.

Known faults are in public lists that the registries do not hand out (docs/security.md, 14.2.1): those are
asked before a release.
"""

import json
import re
import subprocess
import sys
import sysconfig
from concurrent.futures import ThreadPoolExecutor
from importlib import metadata
from pathlib import Path

import pytest

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


def withdrawn(versions: list[str], folder: Path) -> list[str]:
    """Those of the versions that are yanked (PEP 592): that is how makers call back a faulty one. pip names
    them when it is told to take them.
    """
    (folder / "all.txt").write_text("\n".join(versions))
    done = subprocess.run(
        [
            str(paths.venv_python()),
            "-m",
            "pip",
            "install",
            "--dry-run",
            "--no-deps",
            "--ignore-installed",
            "-r",
            str(folder / "all.txt"),
        ],
        capture_output=True,
        text=True,
    )
    assert done.returncode == 0 and "Would install" in done.stdout, done.stderr[-2000:]
    return re.findall(r"yanked version: '([\w.-]+)' candidate", done.stderr)


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


def locked_for(version: str, names: list[str], folder: Path) -> str:
    """What pip would put in for that Python, of the locked files alone; its complaint where it cannot."""
    text = (ROOT / "requirements" / "test.txt").read_text().replace("\\\n", " ")
    wanted = {name.lower().replace("_", "-") for name in names}
    lines = [one for one in text.splitlines() if one.split("==")[0].split("[")[0].strip().lower() in wanted]
    (folder / f"{version}.txt").write_text("\n".join(lines))
    pip = [str(paths.venv_python()), "-m", "pip", "install", "--dry-run", "--no-deps", "--ignore-installed"]
    for_it = ["--only-binary=:all:", "--python-version", version, "--target", str(folder / version)]
    done = subprocess.run(
        [*pip, *for_it, "--require-hashes", "-r", str(folder / f"{version}.txt")],
        capture_output=True,
        text=True,
    )
    return done.stdout.splitlines()[-1] if done.returncode == 0 else done.stderr[-2000:]


@pytest.mark.long
@pytest.mark.timeout(1200)
def test_what_is_compiled_is_locked_for_every_python_the_readme_names(tmp_path):
    names = compiled()
    assert {"numpy", "numba", "psycopg-binary"} <= {one.lower() for one in names}
    here = f"{sys.version_info.major}.{sys.version_info.minor}"  # put in from these very files
    versions = [one for one in ("3.11", "3.12", "3.13") if one != here]
    with ThreadPoolExecutor(len(versions)) as pool:
        told = list(pool.map(lambda one: locked_for(one, names, tmp_path), versions))
    for version, said in zip(versions, told, strict=True):
        assert said.startswith("Would install") and "numba-" in said, f"{version}: {said}"
    assert "Would install" not in locked_for("3.9", ["numba"], tmp_path)  # none is made for it any more


@pytest.mark.long
@pytest.mark.timeout(1200)
def test_no_python_package_was_withdrawn_by_its_makers(tmp_path):
    locked = re.findall(r"(?m)^[\w.\[\], -]+==[\w.+!]+", (ROOT / "requirements" / "test.txt").read_text())
    assert len(locked) > 60
    assert withdrawn(["attrs==21.1.0"], tmp_path) == [
        "attrs"
    ]  # one that was: its makers took it back in May 2021
    parts = [locked[i::ASKED_AT_ONCE] for i in range(ASKED_AT_ONCE)]
    folders = [tmp_path / str(i) for i in range(ASKED_AT_ONCE)]
    for folder in folders:
        folder.mkdir()
    with ThreadPoolExecutor(ASKED_AT_ONCE) as pool:
        assert sum(pool.map(withdrawn, parts, folders), []) == []
