"""Before the network's web process: five hundred connections that say nothing hold no thread of it; what is
started by root serves as a user of its own; logs are their owner's and are set aside while it runs.
"""

import http.client
import json
import os
import pwd
import shutil
import signal
import ssl
import subprocess
import sys
import tempfile
import time
import warnings
from contextlib import contextmanager
from pathlib import Path

import pytest

from cavatum.machine import app_user, cluster, front, log_keeper, paths, ports, server, serving
from cavatum.machine.tell import SetupError
from cavatum.network.certificates import ensure
from tests.conftest import addresses
from tests.machine.test_growing import Browser, own_url, with_owner  # noqa: F401, a fixture
from tests.machine.test_set_up import home  # noqa: F401, a fixture
from tests.samples import box_piece, system
from tests.scenes.idle import asked, holding, trusting_anybody

ROOT = Path(__file__).resolve().parents[2]


@pytest.fixture
def apart(monkeypatch):
    """A set-up folder of its own for what is laid down at a start, with the shared packages and cluster."""
    folder = Path(tempfile.mkdtemp(prefix="cavatum-apart-"))
    folder.chmod(0o755)
    for part in ("venv", "stamps", "app", "nginx"):
        if (paths.HOME / part).exists():
            (folder / part).symlink_to(paths.HOME / part)
    shutil.copy(paths.HOME / "cluster.json", folder)
    monkeypatch.setattr(paths, "HOME", folder)
    monkeypatch.setattr(paths, "SECRET_FILE", folder / "secret-key")
    yield folder
    shutil.rmtree(folder)


@contextmanager
def on_the_network(url: str, tmp_path: Path):
    """Everything as `start --network` starts it, at the ports that are handed out: (network's, own)."""
    outer, inner = ports.free_port(), ports.free_port()
    made = ensure(tmp_path / "tls", ["localhost", "127.0.0.1"])
    told = {
        "CAVATUM_NETWORK_HOSTS": "localhost,127.0.0.1",
        "CAVATUM_NETWORK_PORT": str(outer),
        "CAVATUM_NETWORK_ADDRESS": f"https://localhost:{outer}",
        "CAVATUM_NETWORK_CERTIFICATE": str(made.server),
        "CAVATUM_NETWORK_KEY": str(made.key),
    }
    mark = f"test-{os.getpid()}-{outer}"
    process = server.launch(addresses(url), inner, network=serving.with_front(told), mark=mark)
    try:
        server.wait_until_it_answers(process, inner)
        until = time.monotonic() + 60
        while asked(outer)[0] != 200 and time.monotonic() < until:
            time.sleep(0.2)
        yield outer, process
    finally:
        server.end(process)
        server.end_left_behind(mark)


def tap(browser: Browser, run: dict, number: int) -> int:
    event = {
        "event_id": f"00000000-0000-4000-8000-{number:012}",
        "device": "00000000-0000-4000-8000-00000000dead",
        "seq": number + 1,
        "at": run["now"],
        "device_at": run["now"],
        "event": {"kind": "note", "text": f"entry {number}"},
    }
    return browser.call("POST", f"/runs/{run['id']}/events", {"since": 0, "events": [event]})[0]


def pouring(port: int) -> tuple[Browser, dict]:
    """Somebody logged in, with a run on."""
    browser = Browser(
        lambda: http.client.HTTPSConnection("127.0.0.1", port, context=trusting_anybody(), timeout=60),
        host=f"localhost:{port}",
    )
    assert browser.log_in("owner@shop.example")[0] == 204
    assert browser.call("POST", "/systems", system().model_dump(mode="json"))[0] < 300
    piece = browser.call("POST", "/pieces", box_piece().model_dump(mode="json"))[1]["id"]
    run = browser.call("POST", f"/pieces/{piece}/runs", {"rehearse": None})[1]
    return browser, browser.call("GET", f"/runs/{run['id']}")[1]


@pytest.mark.long
def test_five_hundred_idle_connections_hold_nobody_up(own_url, apart, tmp_path):  # noqa: F811
    """Sixty stopped the server, with no login needed: every thread waited for a head that never came."""
    with_owner(own_url)
    with on_the_network(own_url, tmp_path) as (port, _):
        browser, run = pouring(port)
        number = 0
        for many in (1, 50):
            with holding(port, 500, many) as idle:
                assert len(idle.held) > (50 if many == 1 else 450)
                for _ in range(5):
                    assert asked(port)[0] == 200
                    assert tap(browser, run, number) == 200
                    number += 1
                if many == 1:
                    assert idle.still_open() <= front.MOST_EACH  # the others were shown out at once
                until = time.monotonic() + 60  # a handshake and a head have ten seconds
                slow_bodies = 500 // 5
                while idle.still_open() > slow_bodies and time.monotonic() < until:
                    time.sleep(0.5)
                assert idle.still_open() <= slow_bodies
        entries = browser.call("GET", f"/runs/{run['id']}/events")[1]["events"]
        assert [one["event"]["text"] for one in entries] == [f"entry {one}" for one in range(number)]
        trail = browser.call("GET", "/people/trail")[1]["trail"]
        assert {one["address"] for one in trail} == {"127.0.0.1"}  # who asks is told through both doors


def test_what_root_starts_serves_as_a_user_of_its_own(own_url, apart, tmp_path):  # noqa: F811
    assert os.geteuid() == 0, "as the CI is"
    with_owner(own_url)
    with on_the_network(own_url, tmp_path) as (_, process):
        family = server._family(process.pid)
        names = {}
        for pid in family:
            status = Path(f"/proc/{pid}/status")
            if status.exists():
                words = Path(f"/proc/{pid}/cmdline").read_text().replace("\0", " ")
                fields = dict(line.split(":", 1) for line in status.read_text().splitlines())
                names[words] = (pwd.getpwuid(int(fields["Uid"].split()[0])).pw_name, fields)
        assert any("gunicorn" in one for one in names) and any("nginx" in one for one in names)
        assert any("cavatum.jobs" in one for one in names)
        for words, (name, fields) in names.items():
            assert name == app_user.USER, words
            assert fields["NoNewPrivs"].strip() == "1" and int(fields["CapEff"], 16) == 0, words
            assert int(fields["CapBnd"], 16) == 0, words
        for pid in family:
            with open(f"/proc/{pid}/environ", "rb") as told:
                words = told.read().split(b"\0")
                line = Path(f"/proc/{pid}/cmdline").read_bytes()
            if b"gunicorn" in line and b"again" not in line:
                assert not any(one.startswith(b"CAVATUM_DATABASE_URL=") for one in words)
            if b"nginx" in line and b"again" not in line:
                assert not any(b"SECRET" in one or b"_URL=" in one for one in words)


def test_the_server_sees_nothing_of_roots(home):  # noqa: F811
    secret = Path("/root") / f".cavatum-test-{os.getpid()}"
    secret.write_text("root's")
    try:
        python = str(paths.venv_python())
        look = "import os; print(os.path.exists({0!r}), os.getuid()); open({1!r}).read()"
        script = look.format(str(secret), str(paths.HOME / "secret-key"))
        server.secret_key()
        done = subprocess.run(app_user.as_user([python, "-c", script]), capture_output=True, text=True)
        assert done.stdout.split() == ["False", str(pwd.getpwnam(app_user.USER).pw_uid)]
        assert "PermissionError" in done.stderr
    finally:
        secret.unlink()


def test_a_folder_only_root_enters_is_shown_to_the_server_alone(tmp_path, monkeypatch):
    """As when the program lies in /root: the server reads it, at its own place, and nothing beside it."""
    shut = tmp_path / "shut"
    (shut / "program" / "src" / "cavatum").mkdir(parents=True)
    (shut / "program" / "src" / "cavatum" / "cli.py").write_text("x = 1")
    (shut / "beside").write_text("root's")
    shut.chmod(0o700)
    monkeypatch.setattr(paths, "CHECKOUT", shut / "program")
    app_user._hidden.cache_clear()
    try:
        command = app_user.as_user(["sh", "-c", f"id -un; ls {shut}; cat {shut}/program/src/cavatum/cli.py"])
        done = subprocess.run(command, capture_output=True, text=True)
        assert done.stdout.split() == [app_user.USER, "program", "x", "=", "1"], done.stderr
        assert sorted(one.name for one in shut.iterdir()) == ["beside", "program"]  # for all others as it was
    finally:
        app_user._hidden.cache_clear()


def test_where_nothing_may_be_mounted_root_still_serves_nobody(tmp_path, monkeypatch):
    shut = tmp_path / "shut"
    (shut / "src").mkdir(parents=True)
    shut.chmod(0o700)
    monkeypatch.setattr(paths, "CHECKOUT", shut / "src")
    monkeypatch.setattr(app_user, "_show", lambda hidden: "exit 1")
    app_user._hidden.cache_clear()
    try:
        with pytest.raises(SetupError, match="Root serves nobody"):
            app_user.as_user(["true"])
    finally:
        app_user._hidden.cache_clear()


def test_what_is_linked_into_the_servers_folder_is_not_given_away(tmp_path):
    """A second name of root's own file, laid where the server's user writes."""
    roots, folder = tmp_path / "roots", tmp_path / "app"
    roots.write_text("root's")
    folder.mkdir()
    (folder / "linked").hardlink_to(roots)
    (folder / "own").write_text("x")
    app_user.give(folder)
    assert roots.stat().st_uid == 0
    assert (folder / "own").stat().st_uid == pwd.getpwnam(app_user.USER).pw_uid == folder.stat().st_uid


def test_whoever_is_not_root_starts_as_themselves(monkeypatch):
    monkeypatch.setattr(app_user.os, "geteuid", lambda: 1000)
    assert app_user.as_user(["true"]) == ["true"] and app_user.environment({"HOME": "/x"}) == {"HOME": "/x"}


def test_without_nginx_the_network_is_refused_with_what_to_install(monkeypatch):
    monkeypatch.setattr(front.nginx_of, "find_stream", lambda: None)
    with pytest.raises(SetupError) as refused:
        front.lay_down({f"CAVATUM_NETWORK_{name}": "x" for name in ("PORT", "CERTIFICATE", "KEY")})
    assert "libnginx-mod-stream" in refused.value.way_out


def test_logs_are_their_owners_and_set_aside_while_it_runs(tmp_path):
    file = tmp_path / "server.log"
    file.write_text("of an earlier release\n")
    file.chmod(0o644)
    code = (
        f"import sys; sys.path.insert(0, {str(ROOT / 'src')!r})\n"
        "from cavatum.machine.log_keeper import keep\n"
        f"keep({str(file)!r}, 2_000, 3)"
    )
    with subprocess.Popen([sys.executable, "-c", code], stdin=subprocess.PIPE) as keeper:
        for number in range(1000):
            keeper.stdin.write(json.dumps({"line": number}).encode() + b"\n")
            keeper.stdin.flush()
    files = sorted(tmp_path.iterdir())
    assert [one.name for one in files] == ["server.log", "server.log.1", "server.log.2", "server.log.3"]
    assert all(one.stat().st_mode & 0o077 == 0 and one.stat().st_size <= 2_000 for one in files)
    kept = [json.loads(line)["line"] for one in reversed(files) for line in one.read_text().splitlines()]
    assert kept == list(range(kept[0], 1000)) and len(kept) > 200
    assert log_keeper.KEPT * log_keeper.MOST_BYTES < 200 << 20


def test_the_databases_log_is_its_owners_and_rotated(home):  # noqa: F811
    made, _ = cluster.ensure_running()
    folder = Path(made.folder) / "log"
    assert list(folder.glob("*.log")) and all(one.stat().st_mode & 0o077 == 0 for one in folder.glob("*.log"))


def test_https_only_with_modern_protocols(own_url, apart, tmp_path):  # noqa: F811
    with_owner(own_url)
    with on_the_network(own_url, tmp_path) as (port, _):
        old = trusting_anybody()
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", DeprecationWarning)
            old.minimum_version = ssl.TLSVersion.MINIMUM_SUPPORTED
            old.maximum_version = ssl.TLSVersion.TLSv1_1
        with pytest.raises((ssl.SSLError, OSError)):
            http.client.HTTPSConnection("127.0.0.1", port, context=old, timeout=20).request("GET", "/")
        line = http.client.HTTPSConnection("127.0.0.1", port, context=trusting_anybody(), timeout=60)
        line.request("GET", "/", headers={"Host": "elsewhere.example"})
        assert line.getresponse().status in (400, 421)


def test_a_killed_keeper_of_the_log_takes_nothing_with_it(own_url, apart, tmp_path):  # noqa: F811
    """The server wrote into a pipe nobody held any more, and ended."""
    with_owner(own_url)
    with on_the_network(own_url, tmp_path) as (port, process):
        first = server._LOG_KEEPERS[process]
        first.kill()
        first.wait(30)
        before = (apart / "server.log").stat().st_size
        assert asked(port)[0] == 200
        server.mind_the_log(process)
        server.mind_the_log(process)
        assert server._LOG_KEEPERS[process] is not first
        until = time.monotonic() + 60
        while (apart / "server.log").stat().st_size == before and time.monotonic() < until:
            browser = Browser(
                lambda: http.client.HTTPSConnection(
                    "127.0.0.1", port, context=trusting_anybody(), timeout=60
                ),
                host=f"localhost:{port}",
            )
            browser.call("GET", "/pieces")  # refused, which is logged
        assert (apart / "server.log").stat().st_size > before
        assert process.poll() is None


def test_a_killed_nginx_comes_back(own_url, apart, tmp_path):  # noqa: F811
    """It leaves its socket behind, and the next one would not take that place."""
    with_owner(own_url)
    with on_the_network(own_url, tmp_path) as (port, process):
        for _ in range(2):
            (master,) = (
                pid
                for pid in server._family(process.pid)
                if Path(f"/proc/{pid}/cmdline").read_bytes().startswith(b"nginx: master")
            )
            os.kill(master, signal.SIGKILL)
            until = time.monotonic() + 90
            while _title(master) or asked(port)[0] != 200:
                assert time.monotonic() < until
                time.sleep(0.2)
        assert process.poll() is None


def _title(pid: int) -> bytes:
    try:
        return Path(f"/proc/{pid}/cmdline").read_bytes()
    except OSError:
        return b""
