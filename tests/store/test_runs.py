"""Runs in the store: every event exactly once, in an order that no phone's clock bends; a rehearsal beside a
real run.
"""

from datetime import timedelta
from uuid import UUID, uuid4

import pytest

from cavatum.core.plan import make_plan
from cavatum.core.pour.events import Sent
from cavatum.core.pour.rehearsal import Rehearsal, Warm
from cavatum.core.pour.script import compile_script
from cavatum.store import calendars, pairings, pieces, runs, workshops
from cavatum.store.pool import NotFound
from tests.samples import NOW, SHEETS, box_piece, box_void, workshop


@pytest.fixture
def begun(connection):
    shop = workshops.implied_workshop(connection)
    piece = box_piece(voids=[box_void(depth="30 mm")])
    stored = pieces.create(connection, shop, piece)
    plan = make_plan(piece, SHEETS, workshop(), NOW, in_full=False)
    script = compile_script(stored.id, piece, plan, workshop())

    def begin(rehearsal=None):
        return runs.begin(connection, shop, stored.id, 1, plan, script, NOW, 22.0, rehearsal)

    return connection, shop, begin


def sent(minutes: float, seq: int, event: dict, device: int = 1, **more) -> Sent:
    at = NOW + timedelta(minutes=minutes)
    return Sent.model_validate(
        {
            "event_id": uuid4(),
            "device": UUID(int=device),
            "seq": seq,
            "at": at,
            "device_at": at,
            "event": event,
            **more,
        }
    )


DONE = {"kind": "done", "step": "p1/ready"}


def test_an_event_sent_again_and_again_is_kept_once(begun):
    connection, shop, begin = begun
    run, _ = begin()
    said = [sent(1, 1, DONE), sent(2, 2, {"kind": "note", "text": "smells right"})]
    assert runs.append(connection, shop, run, said, NOW + timedelta(minutes=3)) == 2
    assert runs.append(connection, shop, run, [*said, said[0]], NOW + timedelta(minutes=4)) == 0
    assert [one.number for one in runs.events(connection, shop, run.id)] == [1, 2]


def test_an_event_twice_in_one_parcel_is_kept_once(begun):
    connection, shop, begin = begun
    run, _ = begin()
    one = sent(1, 1, DONE)
    runs.append(connection, shop, run, [one, one], NOW + timedelta(minutes=3))
    assert len(runs.events(connection, shop, run.id)) == 1


def test_an_hour_without_a_network_comes_in_the_devices_order_at_its_own_moments(begun):
    connection, shop, begin = begun
    run, _ = begin()
    late = [
        sent(minutes, seq, {"kind": "note", "text": str(seq)}) for seq, minutes in ((3, 30), (1, 10), (2, 20))
    ]
    runs.append(connection, shop, run, late, NOW + timedelta(minutes=70))
    kept = runs.events(connection, shop, run.id)
    assert [one.seq for one in kept] == [1, 2, 3]
    assert [(one.at - NOW) / timedelta(minutes=1) for one in kept] == [10, 20, 30] and not any(
        one.doubted for one in kept
    )


def test_a_phone_whose_clock_is_a_day_ahead_cannot_bend_the_record(begun):
    connection, shop, begin = begun
    run, _ = begin()
    runs.append(connection, shop, run, [sent(1440, 1, DONE)], NOW + timedelta(minutes=5))
    (one,) = runs.events(connection, shop, run.id)
    assert one.doubted and one.at == NOW + timedelta(minutes=5)


def test_two_devices_that_begin_at_once_share_the_run_and_a_rehearsal_stands_beside(begun):
    _, _, begin = begun
    first, is_new = begin()
    again, is_second = begin()
    rehearsal, is_third = begin(Rehearsal(speed=60, seed=1, start_at=NOW, real_from=NOW))
    assert (is_new, is_second, is_third) == (True, False, True) and again.id == first.id != rehearsal.id


def test_a_frozen_plan_is_what_it_was(begun):
    connection, shop, begin = begun
    run, _ = begin()
    assert runs.frozen_plan(connection, shop, run.id).windows[0].pour == 1
    with pytest.raises(NotFound):
        runs.frozen_plan(connection, shop + 1, run.id)
    with pytest.raises(NotFound):
        runs.read(connection, shop + 1, run.id)


def test_readings_are_kept_once_and_thinned_in_the_database(begun):
    connection, shop, begin = begun
    run, _ = begin()
    warm = [
        Warm(at_s=60.0 * number, probe_c=None if number == 5 else 20 + number / 100, room_c=21.0)
        for number in range(2000)
    ]
    for _ in range(2):
        runs.keep_warm(connection, shop, run.id, 1, NOW, warm)
    found = runs.readings(connection, shop, run.id, "probe_c", 1, most=100)
    assert 90 <= len(found) <= 110 and found == sorted(found)
    assert len(runs.readings(connection, shop, run.id, "probe_c", 1, most=5000)) == 1999
    assert runs.last_reading_at(connection, shop, run.id, 1) == NOW + timedelta(minutes=1999)


def test_the_probe_is_logged_only_in_a_real_run_it_lies_in(begun):
    connection, shop, begin = begun
    run, _ = begin()
    assert runs.with_probe(connection, shop) == []
    runs.note(connection, shop, run.id, None, 1)
    assert runs.with_probe(connection, shop) == [(run.id, 1)]
    runs.note(connection, shop, run.id, NOW, 1)
    assert runs.with_probe(connection, shop) == []


def test_a_feeds_old_address_answers_no_more(connection):
    shop = workshops.implied_workshop(connection)
    old = calendars.token(connection, shop, calendars.Holder())
    assert (
        calendars.token(connection, shop, calendars.Holder()) == old
        and calendars.workshop_of(connection, old) == shop
    )
    assert (
        calendars.new_token(connection, shop, calendars.Holder()) != old
        and calendars.workshop_of(connection, old) is None
    )


def test_a_code_lets_one_device_in_once_in_time_and_until_its_end(connection):
    shop = workshops.implied_workshop(connection)
    code, one = pairings.offer(connection, shop, "Wren's phone", timedelta(hours=12), NOW)
    assert pairings.enter(connection, "WRONGCODE2", NOW) is None
    token, until, where, name = pairings.enter(connection, f" {code.lower()} ", NOW + timedelta(minutes=1))
    assert (where, name) == (shop, "Wren's phone")
    assert (
        until == NOW + timedelta(hours=12)
        and pairings.enter(connection, code, NOW + timedelta(minutes=2)) is None
    )
    assert pairings.who_is_in(connection, token, NOW + timedelta(hours=11)) == (shop, "Wren's phone")
    assert (
        pairings.who_is_in(connection, token, NOW + timedelta(hours=13)) is None
        and pairings.who_is_in(connection, "something else", NOW) is None
    )
    pairings.end(connection, shop, one.id, NOW + timedelta(hours=1))
    assert (
        pairings.who_is_in(connection, token, NOW + timedelta(hours=2)) is None
        and pairings.listed(connection, shop, NOW) == []
    )


def test_a_code_is_too_old_after_ten_minutes_and_is_kept_only_as_a_hash(connection):
    shop = workshops.implied_workshop(connection)
    code, _ = pairings.offer(connection, shop, "", timedelta(hours=1), NOW)
    assert pairings.enter(connection, code, NOW + timedelta(minutes=11)) is None
    assert connection.execute(
        "select count(*) from pairing where code_hash = %s or name = %s", (code, code)
    ).fetchone() == (0,)
