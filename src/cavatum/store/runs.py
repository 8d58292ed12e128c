"""Runs: a frozen plan, its script, and the events and readings that carry it out. An event sent twice is kept
once.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import lru_cache
from typing import Any
from uuid import UUID, uuid4

from psycopg import Connection
from psycopg.types.json import Jsonb
from pydantic import TypeAdapter

from ..core.plan_model import Plan
from ..core.pour.events import AHEAD_S, Kept, RunEvent, Sent, settled, typed_moment
from ..core.pour.rehearsal import Rehearsal, Warm
from ..core.pour.script_model import Script
from .pool import NotFound
from .rows import record

_EVENT: TypeAdapter[RunEvent] = TypeAdapter(RunEvent)
MOST_EVENTS = 20_000
SERVER = UUID("00000000-0000-4000-8000-000000000001")  # the device that says what the server worked out


@dataclass(frozen=True, kw_only=True)
class Run:
    id: int
    piece_id: int | None
    revision: int
    script: Script
    rehearsal: Rehearsal | None
    room_c: float
    begun_at: datetime
    made_at: datetime
    ended_at: datetime | None
    probe_pour: int | None

    def now(self, real: datetime) -> datetime:
        """The run's own moment: the real one, or a rehearsal's."""
        return self.rehearsal.now(real) if self.rehearsal else real


@lru_cache(maxsize=64)
def _script(text: str) -> Script:
    """Frozen with its run, and asked for with every event of it: the same text is the same script."""
    return Script.model_validate_json(text)


def _run(row: Sequence[Any]) -> Run:
    id_, piece_id, revision, script, rehearsal, *rest = row
    practice = Rehearsal.model_validate(rehearsal) if rehearsal else None
    return record(Run, (id_, piece_id, revision, _script(script), practice, *rest))


def begin(
    connection: Connection,
    workshop_id: int,
    piece_id: int,
    revision: int,
    plan: Plan,
    script: Script,
    begun_at: datetime,
    room_c: float,
    rehearsal: Rehearsal | None,
    *,
    is_demo: bool = False,
) -> tuple[Run, bool]:
    """The open run of this piece if there is one, else a new one; a rehearsal is always new. True when it is
    new.
    """
    connection.execute("select pg_advisory_xact_lock(%s, hashtext(%s))", (workshop_id, f"run/{piece_id}"))
    if rehearsal is None:
        row = connection.execute(
            "select id, piece_id, revision, script::text, rehearsal, room_c, begun_at, made_at, "
            "ended_at, probe_pour from run"
            " where workshop_id = %s and piece_id = %s and ended_at is null and rehearsal is null order "
            "by id desc limit 1",
            (workshop_id, piece_id),
        ).fetchone()
        if row is not None:
            return _run(row), False
    row = connection.execute(
        "insert into run (workshop_id, piece_id, revision, plan, script, rehearsal, room_c, begun_at, "
        "is_demo) values (%s, %s, %s, %s, %s, %s, %s, %s, %s)"
        " returning id, piece_id, revision, script::text, rehearsal, room_c, begun_at, made_at, "
        "ended_at, probe_pour",
        (
            workshop_id,
            piece_id,
            revision,
            Jsonb(plan.model_dump(mode="json")),
            Jsonb(script.model_dump(mode="json")),
            Jsonb(rehearsal.model_dump(mode="json")) if rehearsal else None,
            room_c,
            begun_at,
            is_demo,
        ),
    ).fetchone()
    assert row is not None  # an insert with returning gives its row
    return _run(row), True


def read(connection: Connection, workshop_id: int, run_id: int, *, lock: bool = False) -> Run:
    query = (
        "select id, piece_id, revision, script::text, rehearsal, room_c, begun_at, made_at, ended_at, "
        "probe_pour from run"
        " where workshop_id = %s and id = %s"
    )
    row = connection.execute(query + (" for no key update" if lock else ""), (workshop_id, run_id)).fetchone()
    if row is None:
        raise NotFound("run")
    return _run(row)


def frozen_plan(connection: Connection, workshop_id: int, run_id: int) -> Plan:
    row = connection.execute(
        "select plan from run where workshop_id = %s and id = %s", (workshop_id, run_id)
    ).fetchone()
    if row is None:
        raise NotFound("run")
    return Plan.model_validate(row[0])


def listed(
    connection: Connection, workshop_id: int, *, is_open: bool, piece_id: int | None = None, most: int = 40
) -> list[Run]:
    rows = connection.execute(
        "select id, piece_id, revision, script::text, rehearsal, room_c, begun_at, made_at, ended_at, "
        "probe_pour from run"
        " where workshop_id = %s and (not %s or ended_at is null) and (%s::bigint is null or piece_id = "
        "%s) order by id desc limit %s",
        (workshop_id, is_open, piece_id, piece_id, most),
    ).fetchall()
    return [_run(row) for row in rows]


def events(connection: Connection, workshop_id: int, run_id: int, since: int = 0) -> list[Kept]:
    """In the order they count, those after number `since`."""
    rows = connection.execute(
        "select number, event_id, device, seq, at, received_at, who, doubted, entered, event from run_event "
        "where workshop_id = %s and run_id = %s and number > %s"
        " order by number",
        (workshop_id, run_id, since),
    ).fetchall()
    return [
        Kept(
            number=number,
            event_id=id_,
            device=device,
            seq=seq,
            at=at,
            received_at=received,
            who=who,
            doubted=doubted,
            entered=entered,
            event=_EVENT.validate_python(event),
        )
        for number, id_, device, seq, at, received, who, doubted, entered, event in rows
    ]


def append(
    connection: Connection, workshop_id: int, run: Run, sent: Sequence[Sent], received_at: datetime
) -> int:
    """Keeps what is new, in the device's own order; the caller holds the run's lock. Returns how many were
    new.

    received_at  the run's moment of the receipt: what an event can be later than in no case
    """
    known = {
        row[0]
        for row in connection.execute(
            "select event_id from run_event where workshop_id = %s and event_id = any(%s)",
            (workshop_id, [one.event_id for one in sent]),
        )
    }
    new = {one.event_id: one for one in sorted(sent, key=lambda one: one.seq) if one.event_id not in known}
    if not new:
        return 0
    last = connection.execute(
        "select coalesce(max(number), 0) from run_event where run_id = %s", (run.id,)
    ).fetchone()
    number = last[0] if last else 0
    for one in list(new.values())[: max(MOST_EVENTS - number, 0)]:
        number += 1
        before = connection.execute(
            "select at from run_event where run_id = %s and device = %s and not entered order by seq desc, "
            "number desc limit 1",
            (run.id, one.device),
        ).fetchone()
        at, doubted = settled(
            one.at,
            received_at,
            before[0] if before else None,
            run.begun_at,
            AHEAD_S * (run.rehearsal.speed if run.rehearsal else 1.0),
        )
        if one.entered:
            at, doubted = typed_moment(one.at, received_at), False
        connection.execute(
            "insert into run_event (workshop_id, run_id, number, event_id, device, seq, event, who, at, "
            "device_at, received_at, doubted, entered)"
            " values (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
            (
                workshop_id,
                run.id,
                number,
                one.event_id,
                one.device,
                one.seq,
                Jsonb(one.event.model_dump(mode="json")),
                one.who,
                at,
                one.device_at,
                received_at,
                doubted,
                one.entered,
            ),
        )
    return len(new)


def says(
    connection: Connection,
    workshop_id: int,
    run: Run,
    event: RunEvent,
    now: datetime,
    *,
    who: str = "",
    at: datetime | None = None,
    event_id: UUID | None = None,
) -> None:
    """What the server itself has to say; the caller holds the run's lock. at: when it was so, else now."""
    sent = Sent(
        event_id=event_id or uuid4(),
        device=SERVER,
        seq=int(now.timestamp() * 1_000_000),
        at=at or now,
        device_at=now,
        who=who,
        event=event,
    )
    append(connection, workshop_id, run, [sent], now)


def begun_at(connection: Connection, workshop_id: int, run_id: int, at: datetime) -> None:
    """A run entered afterwards began when its first step was made."""
    connection.execute(
        "update run set begun_at = %s where workshop_id = %s and id = %s", (at, workshop_id, run_id)
    )


def note(
    connection: Connection, workshop_id: int, run_id: int, ended_at: datetime | None, probe_pour: int | None
) -> None:
    """What lists and the devices need to know of a run, read off its events."""
    connection.execute(
        "update run set ended_at = %s, probe_pour = %s, touched_at = clock_timestamp() where workshop_id "
        "= %s and id = %s",
        (ended_at, probe_pour, workshop_id, run_id),
    )


def jump(connection: Connection, workshop_id: int, run_id: int, rehearsal: Rehearsal) -> None:
    connection.execute(
        "update run set rehearsal = %s where workshop_id = %s and id = %s and rehearsal is not null",
        (Jsonb(rehearsal.model_dump(mode="json")), workshop_id, run_id),
    )


def keep_readings(
    connection: Connection,
    workshop_id: int,
    run_id: int,
    pour: int | None,
    what: str,
    readings: Sequence[tuple[datetime, float]],
    source: str,
) -> None:
    with connection.cursor() as cursor:
        cursor.executemany(
            "insert into run_reading (workshop_id, run_id, what, pour, at, value, source) values (%s, "
            "%s, %s, %s, %s, %s, %s) on conflict do nothing",
            [(workshop_id, run_id, what, pour, at, value, source) for at, value in readings],
        )


def last_reading_at(connection: Connection, workshop_id: int, run_id: int, pour: int) -> datetime | None:
    row = connection.execute(
        "select max(at) from run_reading where workshop_id = %s and run_id = %s and pour = %s",
        (workshop_id, run_id, pour),
    ).fetchone()
    return row[0] if row else None


def readings(
    connection: Connection, workshop_id: int, run_id: int, what: str, pour: int | None = None, most: int = 600
) -> list[tuple[datetime, float]]:
    """Thinned in the database to at most about `most`: of each of most / 2 equal spans of time its lowest and
    its highest, at a third and two thirds of
    that span, so that no peak is lost and none is moved by more than 1 / most of the whole."""
    named = (workshop_id, run_id, what, pour, pour)
    span = connection.execute(
        "select count(*), min(at), max(at) from run_reading where workshop_id = %s and run_id = %s and "
        "what = %s and (%s::int is null or pour = %s)",
        named,
    ).fetchone()
    assert span is not None  # an aggregate gives one row
    total, first, last = span
    if total <= most:
        return connection.execute(
            "select at, value from run_reading where workshop_id = %s and run_id = %s and what = %s and "
            "(%s::int is null or pour = %s)"
            " order by at",
            named,
        ).fetchall()
    rows = connection.execute(
        "select min(at), max(at), min(value), max(value) from run_reading where workshop_id = %s and "
        "run_id = %s and what = %s"
        " and (%s::int is null or pour = %s) group by date_bin(%s, at, %s)",
        (*named, max((last - first) * 2 / most, timedelta(seconds=1)), first),
    ).fetchall()
    return sorted(
        one
        for at, to, low, high in rows
        for one in ((at + (to - at) / 3, low), (at + (to - at) * 2 / 3, high))
    )


def hottest(
    connection: Connection, workshop_id: int, run_id: int, least_c: float, most_c: float
) -> dict[int, float]:
    """Of the logger's readings, by pour; those outside the bounds are an instrument's, not the resin's."""
    rows = connection.execute(
        "select pour, max(value) from run_reading where workshop_id = %s and run_id = %s and what = "
        "'probe_c' and pour is not null and value between %s and %s"
        " group by pour",
        (workshop_id, run_id, least_c, most_c),
    ).fetchall()
    return dict(rows)


def with_probe(connection: Connection, workshop_id: int) -> list[tuple[int, int]]:
    """(run, pour) of every real run that the probe logger lies in."""
    return connection.execute(
        "select id, probe_pour from run where workshop_id = %s and ended_at is null and rehearsal is "
        "null and probe_pour is not null",
        (workshop_id,),
    ).fetchall()


def keep_warm(
    connection: Connection,
    workshop_id: int,
    run_id: int,
    pour: int,
    poured_at: datetime,
    found: Sequence[Warm],
) -> None:
    """A rehearsal's readings, each once."""
    moments = [(poured_at + timedelta(seconds=one.at_s), one) for one in found]
    keep_readings(
        connection,
        workshop_id,
        run_id,
        pour,
        "probe_c",
        [(at, one.probe_c) for at, one in moments if one.probe_c is not None],
        "stand-in",
    )
    keep_readings(
        connection, workshop_id, run_id, None, "room_c", [(at, one.room_c) for at, one in moments], "stand-in"
    )


def only_demo(connection: Connection, workshop_id: int) -> bool:
    """True while nobody has begun or added anything: every run is the demo's, with the demo's events
    alone.
    """
    row = connection.execute(
        "select not exists (select 1 from run r where r.workshop_id = %s and (not r.is_demo or exists"
        " (select 1 from run_event e where e.run_id = r.id and e.who <> 'demo' and e.device <> %s)))",
        (workshop_id, SERVER),
    ).fetchone()
    return bool(row and row[0])


def remove_all(connection: Connection, workshop_id: int) -> None:
    connection.execute("delete from run where workshop_id = %s", (workshop_id,))
