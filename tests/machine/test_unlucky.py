"""Set-up by the unlucky: what is missing is told first, in words, with a way out; no traceback reaches a
person.
"""

import os
import shutil
import stat
import subprocess
import sys
import tempfile
from pathlib import Path

import pytest

from cavatum.machine import app_user, commands, packages, paths, setting_up, tell
from cavatum.machine.tell import SetupError

ROOT = Path(__file__).resolve().parents[2]


@pytest.fixture
def home():
    folder = Path(tempfile.mkdtemp(prefix="cavatum-unlucky-"))
    folder.chmod(0o755)
    for part in ("venv", "stamps"):
        (folder / part).symlink_to(paths.HOME / part)
    yield folder
    shutil.rmtree(folder)


def command(*arguments: str, home: Path, program: Path = ROOT / "cavatum", **environment: str):
    told = {**os.environ, "CAVATUM_HOME": str(home), **environment}
    told.pop("PYTHONUTF8", None)
    return subprocess.run(
        [sys.executable, str(program), *arguments], capture_output=True, text=True, env=told, timeout=300
    )


@pytest.mark.parametrize("port", ["99999", "0", "-1", "abc", "80.5", "65536"])
@pytest.mark.parametrize("option", ["--port", "--network-port"])
def test_a_port_that_is_none_is_told(home, port, option):
    done = command("start", option, port, home=home)
    assert done.returncode == 2 and "is no port" in done.stderr or "expected one argument" in done.stderr
    assert "Traceback" not in done.stderr


def test_root_without_the_system_programs_on_its_path_is_helped(home):
    done = command("doctor", home=home, PATH="/usr/bin:/bin")
    assert done.returncode == 0 and "Traceback" not in done.stderr
    before = dict(os.environ)
    try:
        os.environ["PATH"] = "/usr/bin"
        commands._prepare()
        assert shutil.which("runuser") and shutil.which("useradd") and shutil.which("ip")
    finally:
        os.environ.clear()
        os.environ.update(before)


@pytest.mark.parametrize("language", ["C", "POSIX", "tr_TR.ISO-8859-9", "ja_JP.eucJP", "xx_YY.none", ""])
def test_whatever_language_the_computer_speaks(home, language):
    done = command("doctor", home=home, LC_ALL=language, LANG=language)
    assert done.returncode == 0 and "Traceback" not in done.stderr and "Node.js" in done.stderr
    piece = str(ROOT / "examples" / "refectory-counter.cavatum.json")
    planned = command("plan", piece, home=home, LC_ALL=language, LANG=language)
    assert planned.returncode == 0 and '"pours"' in planned.stdout


def test_a_disk_without_room_is_told_before_anything_is_downloaded(home, monkeypatch):
    (home / "venv").unlink()
    monkeypatch.setattr(paths, "HOME", home)
    monkeypatch.setattr(paths, "VENV", home / "venv")
    small = shutil.disk_usage(home)._replace(free=int(2e9))
    monkeypatch.setattr(packages.shutil, "disk_usage", lambda _: small)
    begun = []
    monkeypatch.setattr(packages, "install_debian_packages", lambda **_: begun.append("packages"))
    with pytest.raises(SetupError) as refused:
        setting_up.set_up(testing=False)
    assert "2.0 GB left" in refused.value.problem and "--home" in refused.value.way_out and begun == []


def test_what_builds_the_pages_is_looked_for_before_the_long_work(monkeypatch):
    order = []
    for name in (
        "look_for_room",
        "install_debian_packages",
        "make_venv",
        "install_node_packages",
        "install_python_packages",
        "compile_modules",
        "compile_kernel",
        "build_front_end",
    ):
        monkeypatch.setattr(packages, name, lambda _name=name, **_: order.append(_name))
    setting_up.set_up(testing=False)
    assert order.index("install_node_packages") < order.index("install_python_packages")
    assert order[0] == "look_for_room" and order[-1] == "build_front_end"


def test_a_checkout_that_cannot_be_written_puts_everything_elsewhere(tmp_path):
    """As from a read-only disk or another person's folder, tried as somebody who is not root."""
    place = Path(tempfile.mkdtemp(prefix="cavatum-read-only-"))
    try:
        place.chmod(0o755)
        for part in ("src", "requirements", "web"):
            shutil.copytree(
                ROOT / part,
                place / part,
                ignore=shutil.ignore_patterns("node_modules", "dist", "__pycache__"),
            )
        for part in ("cavatum", "pyproject.toml"):
            shutil.copy(ROOT / part, place / part)
        subprocess.run(["chmod", "-R", "a-w", str(place)], check=True)
        code = (
            f"import sys; sys.path.insert(0, {str(place / 'src')!r}); sys.dont_write_bytecode = True\n"
            "from cavatum.machine import paths, packages\n"
            "print(paths.HOME); print(paths.web()); print(paths.pages()); packages.compile_modules()\n"
        )
        plain = {"PATH": os.environ["PATH"], "HOME": "/tmp/somebody"}
        whoever = app_user.as_user([str(paths.venv_python()), "-c", code])
        done = subprocess.run(whoever, capture_output=True, text=True, env=plain, cwd="/")
        assert done.returncode == 0, done.stderr
        own, web, pages = done.stdout.split()
        assert own.startswith("/tmp/somebody/.local/state/cavatum-") and str(place) not in own
        assert web == f"{own}/web" and pages == f"{own}/web/dist"
    finally:
        subprocess.run(["chmod", "-R", "u+w", str(place)], check=True)
        shutil.rmtree(place)


def test_a_copy_of_the_pages_sources_is_built_where_they_cannot_be_written(home, monkeypatch):
    monkeypatch.setattr(paths, "HOME", home)
    monkeypatch.setattr(paths.os, "access", lambda *_: False)
    assert packages._web() == home / "web" and (home / "web" / "package-lock.json").exists()
    assert not (home / "web" / "node_modules").exists()


TROUBLE = """
import sys
sys.path.insert(0, {src!r})
from cavatum.machine import commands
def broken(_): {what}
commands.doctor = broken
sys.exit(commands.main(["doctor"]))
"""


@pytest.mark.parametrize(
    "what, words",
    [
        ("raise ZeroDivisionError('a mistake of ours')", "a mistake of ours"),
        ("open('/nowhere/at/all')", "No such file"),
        ("raise OSError(28, 'No space left on device')", "No space left"),
        ("raise RecursionError", "RecursionError"),
    ],
)
def test_no_traceback_reaches_a_person(home, what, words):
    code = TROUBLE.format(src=str(ROOT / "src"), what=what)
    done = subprocess.run(
        [sys.executable, "-c", code],
        capture_output=True,
        text=True,
        env={**os.environ, "CAVATUM_HOME": str(home)},
    )
    assert done.returncode == 1 and words in done.stderr and "Traceback" not in done.stderr + done.stdout
    kept = home / "trouble.log"
    assert "Traceback" in kept.read_text() and stat.S_IMODE(kept.stat().st_mode) == 0o600


def test_an_older_python_is_told_and_not_a_traceback(tmp_path):
    text = (ROOT / "cavatum").read_text()
    assert "Cavatum needs Python 3.11 or newer" in text
    compile(text, "cavatum", "exec", dont_inherit=True)
    head = text[: text.index("sys.path.insert")].replace("sys.version_info <", "(3, 9) <")
    (tmp_path / "old").write_text(head)
    done = subprocess.run([sys.executable, str(tmp_path / "old")], capture_output=True, text=True)
    assert done.returncode == 1 and "needs Python 3.11" in done.stderr and "Traceback" not in done.stderr


def test_another_home_is_chosen_in_front_of_or_behind_the_command(home, monkeypatch):
    known = {name: getattr(paths, name) for name in ("HOME", "VENV", "STAMPS", "RUN_FILE", "SECRET_FILE")}
    for name, value in known.items():
        monkeypatch.setattr(paths, name, value)
    monkeypatch.setenv("CAVATUM_HOME", "")
    for given in (
        ["start", "--home", str(home)],
        ["--home", str(home), "start"],
        ["start", f"--home={home}"],
    ):
        assert commands._choose_home(given) == ["start"] and home == paths.HOME
        assert home / "run.json" == paths.RUN_FILE


def test_what_a_person_is_told_to_type_is_what_they_have(monkeypatch, capsys):
    monkeypatch.setattr(tell, "NAME", "cavatum")
    tell.say("Run ./cavatum stop first.")
    assert "Run cavatum stop first." in capsys.readouterr().err


def test_without_the_reader_of_pictures_all_else_goes_on(monkeypatch, capsys):
    """No right to install it, or no network: said, and nothing more."""
    asked = []

    def refuse(command, *, way_out):
        asked.append(command)
        if "install" in command:
            raise SetupError("It could not be installed.", way_out)

    found = {"apt-get": "/usr/bin/apt-get"}
    monkeypatch.setattr(packages.shutil, "which", found.get)
    monkeypatch.setattr(packages, "run", refuse)
    tried = []
    monkeypatch.setattr(packages, "is_stamped", lambda *_: bool(tried))
    monkeypatch.setattr(packages, "put_stamp", lambda *_: tried.append(1))
    packages.install_text_reader()
    assert "tesseract-ocr-deu" in asked[1] and "Photos of data sheets" in capsys.readouterr().err
    packages.install_text_reader()  # tried once
    found["tesseract"] = "/usr/bin/tesseract"
    packages.install_text_reader()
    assert len(asked) == 2
