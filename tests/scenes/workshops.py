"""Random workshops with a planted schedule that keeps every rule, so that a solver has something it must not
miss. Invented; the seed decides all.
"""

from __future__ import annotations

import random

from cavatum.core.clock.schedule_check import broken
from cavatum.core.clock.schedule_model import STEP_S, Hold, Mode, PieceToPlace, Placed, Shop, Work

H, DAY = 3600.0, 86400.0
# hours until a layer takes the next and stops to, and until it may leave its form; kinds as different as
# resins are
KINDS = {
    "slow": ((38, 46), (14, 26), 72, "shelf"),
    "coat": ((4.5, 5.5), (4, 6), 12, "shelf"),
    "quick": ((0.4, 0.6), (0.6, 0.9), 3, "shelf"),
    "chamber": ((38, 44), (16, 24), 72, "chamber"),
    "turned": ((4.5, 5), (4, 6), 12, "rotator"),
}


def shop_of(days: int, people: int = 2) -> Shop:
    spans = []
    for day in range(days):
        if day % 7 < 5:
            spans.append((day * DAY + 7.5 * H, day * DAY + 19 * H))
        elif day % 7 == 5:
            spans.append((day * DAY + 9 * H, day * DAY + 13 * H))
    return Shop(tuple(spans), people, {"chamber": 1, "rotator": 2, "shelf": 14})


def planted(
    seed: int, pieces: int, days: int = 21, people: int = 2
) -> tuple[list[PieceToPlace], Shop, dict[str, Placed]]:
    """Jobs, the shop, and a schedule of them that misses no window and is late for nothing."""
    chance, shop = random.Random(seed), shop_of(days, people)
    jobs: list[PieceToPlace] = []
    placed: dict[str, Placed] = {}
    while len(jobs) < pieces:
        made = _piece(chance, len(jobs), shop, days)
        if made is None:
            continue
        job, where = made
        if not broken([*jobs, job], shop, {**placed, **where}):
            jobs.append(job)
            placed |= where
    return jobs, shop, placed


def _slot(shop: Shop, from_s: float, to_s: float, size: float) -> float | None:
    at = -(-from_s // STEP_S) * STEP_S
    for begin, end in shop.open:
        start = max(at, -(-begin // STEP_S) * STEP_S)
        if start <= to_s and start + size <= end:
            return start
    return None


def _piece(
    chance: random.Random, number: int, shop: Shop, days: int
) -> tuple[PieceToPlace, dict[str, Placed]] | None:
    kind = chance.choice(list(KINDS))
    opens, wide, demould, resource = KINDS[kind]
    works, where, before = [], {}, None
    release = chance.uniform(0, max(days - 9, 4) * DAY)
    for pour in range(chance.choice((1, 1, 2, 2, 3))):
        hands = chance.randrange(3, 11) * STEP_S
        if before is None:
            modes, at = (Mode(name="only", hands_s=hands),), _slot(shop, release, release + 3 * DAY, hands)
        else:
            from_s = chance.uniform(*opens) * H
            to_s = from_s + chance.uniform(*wide) * H
            modes = (
                Mode(name="bond", hands_s=hands, from_s=from_s, to_s=to_s),
                Mode(name="sand", hands_s=hands + 1800, from_s=demould * H, to_s=None, misses=1, dust_s=1800),
            )
            at = _slot(shop, before + from_s, before + to_s - STEP_S, hands)
        if at is None:
            return None
        id_ = f"{number}/p{pour + 1}"
        works.append(
            Work(id=id_, words=f"pour {pour + 1}", modes=modes, quiet_s=3 * H if kind == "coat" else 0.0)
        )
        where[id_] = Placed(at, at + hands, modes[0])
        before = at + hands
    out = Mode(name="only", hands_s=1800, from_s=demould * H)
    at = _slot(shop, before + out.from_s, days * DAY, 1800)
    if at is None:
        return None
    works.append(Work(id=f"{number}/out", words="out of the form", modes=(out,)))
    where[works[-1].id] = Placed(at, at + 1800, out)
    first = next(iter(where.values())).start_s
    return PieceToPlace(
        id=str(number),
        name=f"piece {number}",
        works=tuple(works),
        release_s=max(first - chance.uniform(0, 1.5) * DAY, 0.0),
        due_s=at + 1800 + 24 * H + chance.uniform(0, 1.5) * DAY,
        ready_s=24 * H,
        holds=(Hold(resource, works[0].id, works[-1].id),),
    ), where
