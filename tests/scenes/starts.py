"""Random workshops and pours for starts, and what a start comes to by the days really laid out: one moment
after
another, by the same rules in plain arithmetic.
"""

import random
from datetime import UTC, datetime, time, timedelta
from zoneinfo import ZoneInfo

from cavatum.core.clock.before import Tight
from cavatum.core.clock.hours import is_attended, next_slot
from cavatum.core.clock.moments import Moment
from cavatum.core.clock.starts import Job
from cavatum.core.clock.windows import SAND_S, PourTask, lay_out
from cavatum.core.layers.course import Window
from cavatum.core.practice.work import TABLE
from tests.samples import NOW, system, workshop

ZONES = ["UTC", "Europe/Berlin", "America/New_York", "Asia/Kolkata"]


def random_job(seed):
    draw = random.Random(seed)
    shop = workshop(
        zone=draw.choice(ZONES),
        week=[_day(draw) for _ in range(7)],
        recoat=draw.choice(["bond in the window"] * 3 + ["cure and sand"]),
    )
    tasks, moments = [], []
    for index in range(draw.randint(1, 3)):
        opens = draw.uniform(1, 12) * 3600
        closes = None if draw.random() < 0.15 else opens + draw.uniform(-0.5, 14) * 3600
        demould = None if draw.random() < 0.05 else opens + draw.uniform(8, 40) * 3600
        window = Window(
            opens_s=None if draw.random() < 0.05 else opens,
            closes_s=closes,
            demould_s=demould,
            gelled_s=opens * 0.8,
            cured_s=None if demould is None else demould + 3e5,
        )
        tasks.append(
            PourTask(
                systems=(system("slow-casting-epoxy"),),
                mix_s=draw.randint(300, 5000),
                pour_s=draw.randint(30, 900),
                window=window,
                join=draw.choice(["as the workshop does"] * 4 + ["sanded", "in the window"]),
                after_cut=index > 0 and draw.random() < 0.15,
            )
        )
        moments.append([_moment(draw) for _ in range(draw.randint(0, 5))])
    before = [
        Tight(
            code="wipe",
            from_s=-float(draw.randint(900, 7200)),
            to_s=-float(draw.randint(300, 900)),
            hands_s=float(draw.randint(60, 600)),
        )
        for _ in range(draw.randint(0, 2))
    ]
    wanted = (
        {index: NOW + timedelta(minutes=draw.randint(600, 6000)) for index in range(1, len(tasks))}
        if draw.random() < 0.25
        else {}
    )
    ready = NOW + timedelta(minutes=draw.randint(0, 2000))
    return Job(tasks=tasks, moments=moments, before=before, ready=ready, wanted=wanted), shop


def _day(draw):
    """None, one or two spans; sometimes round the clock."""
    kind = draw.random()
    if kind < 0.15:
        return []
    if kind < 0.2:
        return [{"from_min": 0, "to_min": 1440}]
    begin, end = draw.randint(300, 700), draw.randint(800, 1430)
    if kind < 0.6:
        return [{"from_min": begin, "to_min": end}]
    noon = draw.randint(begin + 30, end - 30)
    return [
        {"from_min": begin, "to_min": noon},
        {"from_min": min(noon + draw.choice([0, 60]), end - 5), "to_min": end},
    ]


def _moment(draw):
    from_s = draw.uniform(0, 90000)
    row = draw.choice([one for one in TABLE if one.hands_s > 0])
    return Moment(row, from_s, from_s + draw.uniform(0, 7200))


def judged_by_hand(job, shop, start):
    """(possible, windows missed, things nobody is there for) of one start."""
    days = lay_out(list(job.tasks), shop, start, None, dict(job.wanted))
    possible = (
        start >= job.ready and days.waits is None and is_attended(shop, start, start + job.tasks[0].hands_on)
    )
    alone = sum(
        next_slot(
            shop,
            start + timedelta(seconds=one.from_s),
            timedelta(seconds=one.hands_s),
            start + timedelta(seconds=one.to_s),
        )
        is None
        for one in job.before
    )
    for index, (times, moments) in enumerate(zip(days.pours, job.moments, strict=False)):
        for moment in moments:
            begin = times.poured_at + timedelta(seconds=moment.from_s)
            last = times.poured_at + timedelta(seconds=moment.to_s)
            alone += next_slot(shop, begin, timedelta(seconds=moment.row.hands_s), last) is None
        if index:
            begin = times.mix_at - timedelta(seconds=0 if times.bonded else SAND_S)
            cut = times.cut_at is None or is_attended(
                shop, times.cut_at, times.cut_at + timedelta(minutes=90)
            )
            alone += not (is_attended(shop, begin, times.poured_at) and (cut or index in job.wanted))
    return possible, len(days.missed) + len(days.unkept), alone


def latest_by_hand(job, shop, day_of):
    """The latest start of that day by trying every minute."""
    zone = ZoneInfo(shop.zone)
    day = day_of.astimezone(zone).date()
    moment = datetime.combine(day, time(), zone).astimezone(UTC)
    end, found = datetime.combine(day + timedelta(days=1), time(), zone).astimezone(UTC), None
    while moment < end:
        if judged_by_hand(job, shop, moment) == (True, 0, 0):
            found = moment
        moment += timedelta(minutes=1)
    return found
