"""The wheel alone, in an environment of its own: the planner under 350 MB, the server without a checkout, and
what was left out said in words.
"""

import io
import json
import os
import re
import shutil
import subprocess
import sys
import tempfile
import time
import tomllib
import urllib.request
from pathlib import Path

import pytest
from PIL import Image

from cavatum.machine import paths, ports

ROOT = Path(__file__).resolve().parents[2]
MOST_BYTES = 350e6
PIP = [sys.executable, "-m", "pip"]


def project() -> dict:
    return tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]


def name_of(requirement: str) -> str:
    return re.split(r"[\[~=<> ]", requirement)[0]


def test_the_wheel_asks_for_what_the_lock_is_made_from():
    """One list of packages: requirements/app.in, locked; the wheel's groups are the same, with the same
    bounds.
    """
    groups = project()["optional-dependencies"]
    asked = {*project()["dependencies"], *(one for name in groups if name != "all" for one in groups[name])}
    assert asked == {line for line in (ROOT / "requirements" / "app.in").read_text().split() if line}
    assert set(groups) == {"server", "photo", "schedule", "meshes", "sheets", "all"}


@pytest.fixture
def wheel(tmp_path_factory):
    folder = tmp_path_factory.mktemp("wheel")
    environment = {**os.environ, "CAVATUM_HOME": str(paths.HOME)}
    subprocess.run(
        [str(ROOT / "deploy" / "make-wheel"), str(folder)], check=True, capture_output=True, env=environment
    )
    (made,) = folder.glob("cavatum-*.whl")
    return made


@pytest.fixture
def place():
    """Where everybody may enter: the server runs as a user of its own."""
    folder = Path(tempfile.mkdtemp(prefix="cavatum-wheel-"))
    folder.chmod(0o755)
    yield folder
    shutil.rmtree(folder)


def plain() -> dict[str, str]:
    """Without what leads back to this checkout."""
    return {name: value for name, value in os.environ.items() if not name.startswith(("CAVATUM_", "PYTHON"))}


def installed(folder: Path, what: str) -> Path:
    """The command, in an environment of its own; into the one that is there already, where there is one."""
    if not folder.exists():
        subprocess.run([sys.executable, "-m", "venv", "--without-pip", str(folder)], check=True)
    python = str(folder / "bin" / "python")
    lock = ["-c", str(folder / "lock.txt")]
    locked = re.sub(
        r" \\|\[.*?\]|^ +--hash.*$", "", (ROOT / "requirements" / "app.txt").read_text(), flags=re.M
    )
    (folder / "lock.txt").write_text(locked)
    done = subprocess.run(
        [*PIP, "--python", python, "install", "-q", "--disable-pip-version-check", *lock, what],
        capture_output=True,
        text=True,
    )
    assert done.returncode == 0, done.stderr[-2000:]
    return folder / "bin" / "cavatum"


@pytest.mark.long
@pytest.mark.timeout(1800)
def test_the_planner_alone_is_small_and_the_server_needs_no_checkout(wheel, place):
    """One after the other in one environment: making two takes minutes."""
    the_planner_is_small_and_plans_as_the_checkout_does(wheel, place)
    the_server_starts_and_says_what_was_left_out(wheel, place)


def the_planner_is_small_and_plans_as_the_checkout_does(wheel: Path, place: Path) -> None:
    folder = place / "environment"
    command = installed(folder, str(wheel))
    size = sum(one.lstat().st_size for one in folder.rglob("*") if not one.is_symlink())
    assert size < MOST_BYTES, size
    piece = str(ROOT / "examples" / "seed-head-block.cavatum.json")
    when = ["--now", "2026-03-02T12:00+00:00"]
    alone = subprocess.run(
        [str(command), "plan", piece, *when], capture_output=True, text=True, cwd=place, env=plain()
    )
    here = subprocess.run([str(ROOT / "cavatum"), "plan", piece, *when], capture_output=True, text=True)
    assert alone.returncode == 0, alone.stderr
    assert json.loads(alone.stdout) == json.loads(here.stdout)
    for asked in ("test", "speed"):
        refused = subprocess.run(
            [str(command), asked], capture_output=True, text=True, cwd=place, env=plain()
        )
        assert refused.returncode == 1 and "checkout" in refused.stderr


def the_server_starts_and_says_what_was_left_out(wheel: Path, place: Path) -> None:
    command = installed(place / "environment", f"{wheel}[server]")
    home, port = place / "home", ports.free_port()
    start = subprocess.Popen(
        [str(command), "start", "--home", str(home), "--port", str(port)],
        stderr=subprocess.PIPE,
        text=True,
        cwd=place,
        env=plain(),
    )
    try:
        said = ""
        while "ready in" not in said:
            line = start.stderr.readline()
            assert line, said
            said += line
        opener = urllib.request.build_opener(
            urllib.request.ProxyHandler({}), urllib.request.HTTPCookieProcessor()
        )
        here = f"http://127.0.0.1:{port}"
        page = opener.open(here, timeout=60).read().decode()
        script = re.search(r'src="(/assets/[^"]+\.js)"', page)[1]
        assert opener.open(here + script, timeout=60).status == 200
        document = json.loads(opener.open(f"{here}/api/v1/openapi.json", timeout=60).read())
        assert document["info"]["title"] == "Cavatum"
        token = json.loads(opener.open(f"{here}/api/v1/session", timeout=60).read())["csrf_token"]
        picture = io.BytesIO()
        Image.new("RGB", (640, 480), "tan").save(picture, "JPEG")
        request = urllib.request.Request(
            f"{here}/api/v1/files?name=tray.jpg",
            picture.getvalue(),
            {"X-CSRFToken": token, "Content-Type": "application/octet-stream"},
        )
        sha = json.loads(opener.open(request, timeout=90).read())["sha256"]
        with pytest.raises(urllib.error.HTTPError) as refused:
            opener.open(f"{here}/api/v1/files/{sha}/photo", timeout=90)
        words = refused.value.read().decode()
        assert refused.value.code == 422 and "cavatum[photo]" in words, words
    finally:
        start.terminate()  # Ctrl-C is ignored by whatever was begun in the background, and inherited
        start.stderr.read()
        start.wait(90)
    assert start.returncode == 0
    until = time.monotonic() + 30
    while (home / "run.json").exists() and time.monotonic() < until:
        time.sleep(0.2)
    assert not (home / "run.json").exists() and (home / "cluster.json").exists()


WITHOUT_EXTRAS = """
import sys
from cavatum.core.common.extras import EXTRA_OF

class LeftOut:
    def find_spec(self, name, path=None, target=None):
        if name.partition(".")[0] in EXTRA_OF:
            raise ModuleNotFoundError(f"No module named {name!r}", name=name)

sys.meta_path.insert(0, LeftOut())
__import__(sys.argv[1])
print(*sorted(set(EXTRA_OF) & set(sys.modules)))
"""


@pytest.mark.parametrize("module", ["cavatum.api.app", "cavatum.jobs.worker", "cavatum.machine.serving"])
def test_server_and_worker_start_without_what_may_be_left_out(module):
    done = subprocess.run(
        [sys.executable, "-c", WITHOUT_EXTRAS, module], capture_output=True, text=True, cwd=ROOT / "src"
    )
    assert done.returncode == 0, done.stderr[-2000:]
    assert done.stdout.strip() == ""


@pytest.mark.parametrize("name", ["server", "photo", "schedule", "meshes", "sheets"])
def test_every_extra_is_known_to_the_words_for_it(name):
    from cavatum.core.common.extras import EXTRA_OF, WORK_OF

    assert name == "server" or (name in WORK_OF and name in EXTRA_OF.values())
