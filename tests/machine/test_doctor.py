"""The doctor says of each trouble how to mend it, and of a sound set-up that nothing is to be mended."""

import json
import os
import subprocess
import sys
import time
from pathlib import Path

import pytest

from cavatum.machine import cluster, doctor, packages, paths
from cavatum.machine.database import making, record, roles, running
from tests.machine.test_kept import full  # noqa: F401, a fixture
from tests.machine.test_set_up import home  # noqa: F401, a fixture

ROOT = Path(__file__).resolve().parents[2]


def told(capsys) -> tuple[int, list[str]]:
    code = doctor.doctor(None)
    return code, capsys.readouterr().err.splitlines()


def test_a_sound_one_is_told_so(home, full, capsys):  # noqa: F811
    cluster.ensure_running()
    code, lines = told(capsys)
    assert code == 0 and "nothing is to be mended" in lines[-1], lines
    assert any("checksums" in one for one in lines) and any("own nothing" in one for one in lines)


def empty_note(home, made):  # noqa: F811
    (home / "cluster.json").write_text("")


def no_note(home, made):  # noqa: F811
    (home / "cluster.json").unlink()


def missing_disk(home, made):  # noqa: F811
    Path(made.folder).rename(home / "elsewhere")


def shown_secret(home, made):  # noqa: F811
    (home / "cluster.json").chmod(0o644)


def shown_log(home, made):  # noqa: F811
    (home / "server.log").write_text("words\n")
    (home / "server.log").chmod(0o644)


def cut_key(home, made):  # noqa: F811
    (home / "secret-key").write_text("x")
    (home / "secret-key").chmod(0o600)


def other_rules(home, made):  # noqa: F811
    (Path(made.folder) / "pg_hba.conf").write_text("host all all 0.0.0.0/0 trust\n")


def renamed(home, made):  # noqa: F811
    began = running.start(made)
    roles.ask(began, "alter database cavatum rename to cavatum_before_1")


def granted(home, made):  # noqa: F811
    began = running.start(made)
    roles.ask(began, f"grant pg_read_all_data to {record.SHOP}")


def old_backup(home, made):  # noqa: F811
    (home / "backups").mkdir(mode=0o700)
    file = home / "backups" / "cavatum-2026-01-01T020000.backup"
    file.write_text("x")
    file.chmod(0o600)
    os.utime(file, (time.time() - 9e5, time.time() - 9e5))


def newer_programs(home, made):  # noqa: F811
    pass  # by the test: another version is said to be installed


TROUBLES = {
    empty_note: "take-up",
    no_note: "take-up",
    missing_disk: "mount",
    shown_secret: "chmod 600",
    shown_log: "chmod 600",
    cut_key: "makes another",
    other_rules: "Start Cavatum anew",
    renamed: "take-up NAME",
    granted: "revoke",
    old_backup: "./cavatum backup",
    newer_programs: "upgrade-database",
}


@pytest.mark.parametrize("trouble", TROUBLES, ids=lambda one: one.__name__)
def test_each_trouble_is_told_with_its_mending(home, full, capsys, monkeypatch, trouble):  # noqa: F811
    trouble(home, full)
    if trouble is newer_programs:
        known = packages.postgres_versions()
        monkeypatch.setattr(packages, "postgres_versions", lambda: [*known, 99])
    code, lines = told(capsys)
    mended = [lines[number + 1] for number, one in enumerate(lines) if "MEND: " in one]
    assert code == 1 and any(TROUBLES[trouble] in one for one in mended), lines


def test_a_server_that_does_not_answer_is_told(home, full, capsys, monkeypatch):  # noqa: F811
    note = {"pid": os.getpid(), "started": doctor.server._start_time(os.getpid()), "port": 1, "mark": "x"}
    (home / "run.json").write_text(json.dumps({**note, "server_pid": 1}))
    code, lines = told(capsys)
    words = "\n".join(lines)
    assert code == 1 and "server.log" in words and "runs as root" in words


def test_before_anything_is_set_up_nothing_is_wrong(home, capsys):  # noqa: F811
    code, lines = told(capsys)
    assert code == 0 and any("no database yet" in one for one in lines)


def test_the_command_gives_its_word_as_its_result(home, full):  # noqa: F811
    environment = {**os.environ, "CAVATUM_HOME": str(paths.HOME)}
    line = [sys.executable, str(ROOT / "cavatum"), "doctor"]
    assert subprocess.run(line, env=environment, capture_output=True).returncode == 0
    (home / "cluster.json").write_text("{")
    done = subprocess.run(line, env=environment, capture_output=True, text=True)
    assert done.returncode == 1 and "MEND" in done.stderr and "Traceback" not in done.stderr
    assert making.WHO_CONNECTS.count("reject") == 1
