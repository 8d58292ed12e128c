"""What minds a process (processes/again): the next one finds nothing of the last one in its way, and nothing
goes on that nobody minds.
"""

import os
import signal
import subprocess
import sys
import time

import pytest

from cavatum.machine import paths, server

# As nginx does: a worker that outlives its killed master.
MASTER = """
import os, sys, time
worker = os.fork()
if worker:
    print(os.getpid(), worker, flush=True)
time.sleep(600)
"""
PATIENCE_S = 60


def ended(pid: int) -> bool:
    until = time.monotonic() + PATIENCE_S
    while time.monotonic() < until:
        if server._start_time(pid) is None:
            return True
        time.sleep(0.05)
    return False


@pytest.fixture
def minder():
    command = ["sh", str(paths.PROCESSES / "again"), sys.executable, "-c", MASTER]
    with subprocess.Popen(
        command, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True, start_new_session=True
    ) as process:
        yield process
        for pid in server._family(process.pid):
            if server._start_time(pid):
                os.kill(pid, signal.SIGKILL)


def pids(minder: subprocess.Popen) -> tuple[int, int]:
    master, worker = minder.stdout.readline().split()
    return int(master), int(worker)


def test_what_a_killed_one_leaves_behind_ends_before_the_next_begins(minder):
    """nginx's workers held the network's port, and the new nginx could not have it."""
    master, worker = pids(minder)
    os.kill(master, signal.SIGKILL)
    assert ended(worker)
    again, its_worker = pids(minder)
    assert again != master and minder.poll() is None
    assert server._start_time(again) and server._start_time(its_worker)


def test_with_its_minder_a_process_ends(minder):
    """It went on, nobody began it again when it ended, and a stop waited for it in vain."""
    master, _ = pids(minder)
    minder.kill()
    minder.wait(PATIENCE_S)
    assert ended(master)


def test_told_to_end_it_ends_its_process_first(minder):
    master, _ = pids(minder)
    minder.terminate()
    minder.wait(PATIENCE_S)
    assert ended(master) and minder.returncode == 0


def test_nginx_is_known_by_the_folder_it_works_in(tmp_path, monkeypatch):
    """It writes its title over the mark of its start: one that was left behind was never found."""
    from cavatum.machine import front

    folder = tmp_path / "front"
    folder.mkdir()
    monkeypatch.setattr(front, "folder", lambda: folder)
    (tmp_path / "nginx").symlink_to("/bin/sleep")
    with (
        subprocess.Popen([str(tmp_path / "nginx"), "600"], cwd=folder, env={}) as ours,
        subprocess.Popen([str(tmp_path / "nginx"), "600"], cwd=tmp_path, env={}) as another,
    ):
        folder.rename(tmp_path / "moved")  # as at the next start: laid down anew
        (tmp_path / "moved").rename(folder)
        server.end_left_behind("a mark of nobody")
        assert ours.wait(PATIENCE_S) == -signal.SIGTERM and another.poll() is None
        another.kill()
