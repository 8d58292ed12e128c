"""A second database host takes the place of the first: by the commands of docs/network.md, with everything
that was acknowledged.
"""

import os
import subprocess
import sys
from pathlib import Path

import psycopg
import pytest

from cavatum.store.pool import Confirmed, Unconfirmed
from tests.machine.test_growing import INSIDE, ROOT, plain
from tests.machine.test_set_up import home  # noqa: F401, a fixture
from tests.scenes.second_database import HTTPS, OTHER, TwoDatabases, documented, until


@pytest.mark.long
def test_the_second_takes_over_and_nothing_that_was_acknowledged_is_lost():
    """In a network of its own, as the hosts of test_growing are."""
    assert os.geteuid() == 0, "network namespaces are made by root, as the CI is"
    inside = f"{Path(__file__)}::test_inside_the_second_takes_over"
    quiet = [f"--rootdir={ROOT}", "-v", "-p", "no:xdist", "-p", "no:cacheprovider", "--no-cov", inside]
    done = subprocess.run(
        ["unshare", "--net", "sh", "-c", 'ip link set lo up && exec "$@"', "sh"]
        + [sys.executable, "-m", "pytest", *quiet],
        cwd=ROOT,
        env={**plain(), INSIDE: "1"},
        capture_output=True,
        text=True,
    )
    assert done.returncode == 0 and "1 passed" in done.stdout, done.stdout[-3000:] + done.stderr[-2000:]


def test_every_command_has_its_place_in_the_instructions():
    for name in ("prepare", "copy", "confirm", "state", "addresses", "promote", "alone"):
        assert documented(name).strip()


if os.environ.get(INSIDE):

    def test_inside_the_second_takes_over(home):  # noqa: F811
        two = TwoDatabases(home / "two")
        try:
            pour = two.serve()
            two.copy()
            assert two.follows()
            two.confirm(True)
            killed = two.round(pour, "killed", confirmed=True)
            assert killed.acknowledged > 5 and (killed.lost, killed.doubled) == (0, 0)
            job = pour.browser.call("POST", "/schedule", {}, **HTTPS)[1]["job_id"]
            until(lambda: pour.browser.call("GET", f"/schedule/{job}", **HTTPS)[1]["state"] == "done")
            as_it_was_it_acknowledges_nothing(two)
            two.bring_back("killed")
            two.confirm(True)
            cut = two.round(pour, "cut", confirmed=True)
            assert cut.acknowledged > 5 and (cut.lost, cut.doubled) == (0, 0)
            alone(two, pour)
        finally:
            two.end()


def as_it_was_it_acknowledges_nothing(two: TwoDatabases) -> None:
    """The lost one started again by mistake."""
    lost = "db1"
    two._start(lost)
    with (
        pytest.raises(Unconfirmed),
        Confirmed.connect(two.one(lost)) as connection,
    ):
        connection.execute("create table written_to_nobody (one int)")
    two.kill(lost)


def alone(two: TwoDatabases, pour) -> None:
    """With the second away changes are not acknowledged; after the documented command they are."""
    two.bring_back("cut")
    two.confirm(True)
    two.kill(OTHER[two.first])
    entry = {
        "event_id": "00000000-0000-4000-8000-00000000aaaa",
        "device": "00000000-0000-4000-8000-00000000beef",
        "seq": 1,
        "at": pour.moment,
        "device_at": pour.moment,
        "event": {"kind": "note", "text": "alone"},
    }
    assert not pour.send(entry) and "did not confirm" in pour.refused[-1]
    two.confirm(False)
    assert pour.send(entry)
    with psycopg.connect(two.one(two.first)) as connection:
        row = connection.execute(
            "select count(*) from run_event where event_id = %s", [entry["event_id"]]
        ).fetchone()
    assert row == (1,)
