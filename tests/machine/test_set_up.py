"""Setting up and serving: what is stale is mended, what is in the way is told, only what was started is
stopped.
"""

import contextlib
import json
import os
import shutil
import signal
import socket
import subprocess
import tempfile
import threading
import time
import urllib.error
import urllib.request
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from pathlib import Path

import psycopg
import pytest

from cavatum.machine import cluster, packages, paths, ports, server
from cavatum.machine.database import finding, programs, record, running
from cavatum.machine.tell import SetupError
from tests.scenes.homes import share_compiled

ROOT = Path(__file__).resolve().parents[2]


@pytest.fixture
def home(monkeypatch):
    """A set-up folder of its own that shares the installed packages with the checkout. Not below pytest's
    own: every run of pytest shuts that for others, and the database runs as another user.
    """
    base = Path(tempfile.mkdtemp(prefix="cavatum-home-"))
    folder = base / "home"
    folder.mkdir()
    for part in ("venv", "stamps"):
        (folder / part).symlink_to(paths.HOME / part)
    share_compiled(paths.HOME, folder)
    base.chmod(0o755)
    for name, value in {
        "HOME": folder,
        "RUN_FILE": folder / "run.json",
        "SECRET_FILE": folder / "secret-key",
    }.items():
        monkeypatch.setattr(paths, name, value)
    yield folder
    for found in folder.rglob("postmaster.pid"):
        left = cluster.Cluster(folder=str(found.parent), port=0, password="")
        with contextlib.suppress(SetupError):
            cluster.stop(left)
    shutil.rmtree(base)


def test_a_cluster_is_made_started_and_found_again(home):
    made, started = cluster.ensure_running()
    again, started_again = cluster.ensure_running()
    assert (started, started_again) == (True, False) and again == made
    with psycopg.connect(made.url()) as connection:
        assert connection.execute(
            "select rolsuper from pg_roles where rolname = current_user"
        ).fetchone() == (False,)


def test_a_half_made_cluster_is_made_again(home):
    (home / "cluster.unfinished").mkdir()
    (home / "cluster.unfinished" / "PG_VERSION").write_text("15")
    made, _ = cluster.ensure_running()
    assert cluster.answers(made) and not (home / "cluster.unfinished").exists()


def test_a_cluster_killed_hard_comes_up_again(home):
    made, _ = cluster.ensure_running()
    pid = int(programs.read_as_owner(Path(made.folder) / "postmaster.pid").splitlines()[0])
    os.kill(pid, signal.SIGKILL)
    again, started = cluster.ensure_running()
    assert started and cluster.answers(again)


def test_two_commands_that_find_it_killed_start_it_once_and_neither_fails(home):
    made, _ = cluster.ensure_running()
    for _ in range(3):
        pid = int(programs.read_as_owner(Path(made.folder) / "postmaster.pid").splitlines()[0])
        os.kill(pid, signal.SIGKILL)
        with ThreadPoolExecutor(6) as several:
            found = [one.result() for one in [several.submit(cluster.ensure_running) for _ in range(6)]]
        assert [database for database, _ in found] == [made] * 6
        assert sum(started for _, started in found) == 1


def test_a_killed_servers_last_processes_hold_its_port_for_a_moment_and_it_stays(home):
    made, _ = cluster.ensure_running()
    cluster.stop(made)
    holder = socket.socket()
    holder.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    holder.bind(("127.0.0.1", made.port))
    holder.listen()
    threading.Timer(1.5, holder.close).start()
    assert cluster.ensure_running()[0].port == made.port


def test_a_start_killed_between_noting_another_port_and_using_it_is_put_right(home):
    made, _ = cluster.ensure_running()
    record.write_record(replace(made, port=ports.free_port()))
    assert cluster.ensure_running() == (made, False) and cluster.read_record() == made


def test_a_database_that_runs_and_does_not_answer_is_not_moved(home, monkeypatch):
    made, _ = cluster.ensure_running()
    with monkeypatch.context() as cut:
        cut.setattr(running, "answers", lambda database: False)
        cut.setattr(finding, "answers", lambda database: False)
        cut.setattr(running.wait_for_recovery, "__defaults__", (0.3, 0.3))
        with pytest.raises(SetupError, match="does not answer"):
            cluster.ensure_running()
    assert cluster.ensure_running() == (made, False)


def test_a_taken_database_port_is_left_and_another_found(home):
    made, _ = cluster.ensure_running()
    cluster.stop(made)
    with socket.socket() as other:
        other.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        other.bind(("127.0.0.1", made.port))
        other.listen()
        moved, _ = cluster.ensure_running()
        assert moved.port != made.port and cluster.answers(moved)


def test_a_stale_note_of_a_run_is_removed(home):
    (home / "run.json").write_text(json.dumps({"pid": 999_999, "started": "1", "port": 8040}))
    assert server.read_running() is None and not (home / "run.json").exists()


def test_a_taken_port_is_told_with_another_to_try():
    with socket.socket() as other:
        other.bind(("127.0.0.1", 0))
        other.listen()
        port = other.getsockname()[1]
        with pytest.raises(SetupError) as refused:
            server.require_free_port(port)
    assert f"--port {port + 1}" in refused.value.way_out
    with socket.socket() as other:
        other.bind(("127.0.0.1", 0))
        other.listen()
        with pytest.raises(SetupError) as refused:
            server.require_free_port(other.getsockname()[1], option="--network-port")
    assert "--network-port" in refused.value.way_out


BASE = ("sh", "env", "uname", "dirname", "basename", "sed", "ls", "cat", "rm", "mkdir", "cp", "mv", "id")


@pytest.mark.timeout(400)
@pytest.mark.parametrize("there", ["", "#!/bin/sh\necho v18.19.0\n"], ids=["no Node", "Debian 12's own"])
def test_node_is_brought_along_where_the_machine_has_none_that_is_new_enough(
    home, tmp_path, monkeypatch, there
):
    """With nothing on the PATH but programs of Debian 12's base, and its own Node.js where it was
    installed.
    """
    base = tmp_path / "base"
    base.mkdir()
    for name in BASE:
        (base / name).symlink_to(shutil.which(name))
    for name in ("node", "npm") if there else ():
        (base / name).write_text(there)
        (base / name).chmod(0o755)
    monkeypatch.setenv("PATH", str(base))
    before = packages.node_version()
    assert before == ((18, 19, 0) if there else None)
    packages.install_node()
    assert packages.node_version() >= packages.NODE_LEAST
    environment = packages.node_environment()
    npm = subprocess.run(["npm", "--version"], env=environment, capture_output=True, text=True, check=True)
    assert int(npm.stdout.split(".")[0]) >= 11
    built = tmp_path / "built"
    vite = [str(paths.WEB / "node_modules" / ".bin" / "vite"), "build", "--outDir", str(built)]
    subprocess.run(["node", *vite], cwd=paths.WEB, env=environment, capture_output=True, check=True)
    assert (built / "index.html").exists()
    stamp = (home / "node").stat().st_mtime_ns
    packages.install_node()
    assert (home / "node").stat().st_mtime_ns == stamp


def test_a_node_that_is_new_enough_is_left_alone(home, monkeypatch):
    monkeypatch.setattr(packages, "node_version", lambda: packages.NODE_LEAST)
    packages.install_node()
    assert not (home / "node").exists()


def test_without_root_and_sudo_the_one_line_is_printed(monkeypatch):
    monkeypatch.setattr(packages, "missing_debian_packages", lambda browser, broker: ["postgresql"])
    monkeypatch.setattr(packages.os, "geteuid", lambda: 1000)
    monkeypatch.setattr(packages.shutil, "which", lambda name: None if name == "sudo" else "/usr/bin/apt-get")
    with pytest.raises(SetupError) as refused:
        packages.install_debian_packages(browser=False)
    assert refused.value.way_out.endswith("apt-get update && apt-get install -y postgresql")


@pytest.mark.parametrize("cut", ["", "half"])
def test_an_empty_secret_is_made_anew_and_said(home, capsys, cut):
    """It said ready, and every page was an error."""
    (home / "secret-key").write_text(cut)
    assert len(server.secret_key()) >= 48 and "a new one is made" in capsys.readouterr().err
    assert server.secret_key() == (home / "secret-key").read_text()


def test_the_secret_is_made_once_and_kept_from_others(home):
    first = server.secret_key()
    assert server.secret_key() == first and len(first) >= 48
    assert (home / "secret-key").stat().st_mode & 0o077 == 0


def command(*arguments, home=None, **more):
    environment = {**os.environ, **({"CAVATUM_HOME": str(home)} if home else {})}
    environment.pop("CAVATUM_DATABASE_URL", None)
    return [str(ROOT / "cavatum"), *arguments], {"env": environment, "text": True, **more}


def test_demo_serves_says_so_when_asked_again_and_stops_what_it_started(home):
    port = ports.free_port()
    line, options = command("demo", "--port", str(port), home=home, stderr=subprocess.PIPE)
    with subprocess.Popen(line, **options) as demo:
        said = ""
        while "ready in" not in said:
            text = demo.stderr.readline()
            assert text, said
            said += text
        page = urllib.request.urlopen(f"http://127.0.0.1:{port}/api/v1/pieces").read()
        assert b"Seed-head block" in page
        line, options = command("demo", "--port", str(port), home=home, capture_output=True)
        assert "Already running" in subprocess.run(line, **options).stderr
        line, options = command("stop", home=home, capture_output=True)
        assert "stopped" in subprocess.run(line, **options).stderr
        demo.stderr.read()
    assert demo.returncode == 0
    assert not cluster.run_status(cluster.read_record()) and not (home / "run.json").exists()


def test_the_processes_of_a_killed_command_are_ended_by_the_next_also_without_their_manager(home):
    orphan = subprocess.Popen(
        ["sleep", "60"], start_new_session=True, env={**os.environ, "CAVATUM_MARK": "one of a test"}
    )
    other = subprocess.Popen(
        ["sleep", "60"], start_new_session=True, env={**os.environ, "CAVATUM_MARK": "another start"}
    )
    note = {"pid": 999_999, "started": "1", "port": 8040, "mark": "one of a test"}
    (home / "run.json").write_text(json.dumps(note))
    assert server.read_running() is None
    assert orphan.wait(timeout=90) == -signal.SIGTERM and other.poll() is None
    other.kill()
    other.wait()


def test_plan_needs_no_database_and_brings_the_files_own_sheets(tmp_path):
    from tests.samples import box_piece, system

    piece = box_piece(system_id="mine").model_copy(
        update={"systems": [system(id="mine", depth_rules=[{"most_depth_m": "95 mm"}])]}
    )
    (tmp_path / "piece.json").write_text(piece.model_dump_json())
    line, options = command(
        "plan", str(tmp_path / "piece.json"), "--now", "2026-03-02T12:00+00:00", capture_output=True
    )
    done = subprocess.run(line, **options)
    plan = json.loads(done.stdout)
    assert done.returncode == 0 and plan["totals"]["pours"] == 2 and plan["made_at"] == "2026-03-02T12:00:00Z"


@pytest.mark.parametrize(
    ("content", "words"),
    [
        ('{"format": ', "broken"),
        ('{"format": "cavatum-piece", "version": 1}', "/name"),
        (None, "cannot be read"),
    ],
)
def test_plan_of_a_bad_file_says_what_is_wrong(tmp_path, content, words):
    if content is not None:
        (tmp_path / "piece.json").write_text(content)
    line, options = command("plan", str(tmp_path / "piece.json"), capture_output=True)
    done = subprocess.run(line, **options)
    assert done.returncode == 2 and words in done.stderr and "Traceback" not in done.stderr


def test_doctor_says_what_is_there():
    line, options = command("doctor", capture_output=True)
    done = subprocess.run(line, **options)
    assert done.returncode == 0 and "Node.js" in done.stderr and "database" in done.stderr


def test_waiting_for_a_dead_server_ends_with_the_log(home):
    dead = subprocess.Popen(["false"])
    dead.wait()
    begun = time.monotonic()
    with pytest.raises(SetupError, match="did not come up"):
        server.wait_until_it_answers(dead, 1)
    assert time.monotonic() - begun < 60  # and not for as long as one that lives


@pytest.mark.long
def test_a_database_killed_in_the_middle_of_a_pour_loses_and_doubles_nothing(home):
    port = ports.free_port()
    line, options = command("demo", "--port", str(port), home=home, stderr=subprocess.PIPE)
    opener = urllib.request.build_opener(
        urllib.request.ProxyHandler({}), urllib.request.HTTPCookieProcessor()
    )

    def ask(path, body=None, token=""):
        request = urllib.request.Request(
            f"http://127.0.0.1:{port}/api/v1{path}",
            None if body is None else json.dumps(body).encode(),
            {"Content-Type": "application/json", "X-CSRFToken": token},
        )
        with opener.open(request, timeout=90) as answer:
            return json.loads(answer.read())

    with subprocess.Popen(line, **options) as demo:
        said = ""
        while "ready in" not in said:
            text = demo.stderr.readline()
            assert text, said
            said += text
        token = ask("/session")["csrf_token"]
        piece = next(one["id"] for one in ask("/pieces")["pieces"] if one["name"] == "Planter rings")
        run = ask(f"/pieces/{piece}/runs", {"rehearse": None}, token)
        moment = run["now"]
        events = [
            {
                "event_id": f"00000000-0000-4000-8000-{number:012}",
                "device": "00000000-0000-4000-8000-00000000dead",
                "seq": number + 1,
                "at": moment,
                "device_at": moment,
                "event": {"kind": "note", "text": f"entry {number}"},
            }
            for number in range(30)
        ]
        acknowledged, noted = 0, cluster.read_record()
        for number, event in enumerate(events):
            if number == 12:
                os.kill(int((Path(noted.folder) / "postmaster.pid").read_text().split()[0]), signal.SIGKILL)
            try:
                ask(f"/runs/{run['id']}/events", {"since": 0, "events": [event]}, token)
                acknowledged += 1
            except (urllib.error.HTTPError, OSError):
                break  # what was not acknowledged stays on the device
        assert acknowledged >= 12
        cluster.ensure_running()
        kept = []
        for _ in range(40):  # the device sends all of it again, not knowing what had arrived
            try:
                kept = ask(f"/runs/{run['id']}/events", {"since": 0, "events": events}, token)["events"]
                break
            except (urllib.error.HTTPError, OSError):
                time.sleep(0.5)
        assert [one["event"]["text"] for one in kept] == [f"entry {number}" for number in range(30)]
        line, options = command("stop", home=home, capture_output=True)
        subprocess.run(line, **options)
        demo.stderr.read()
