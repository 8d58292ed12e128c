"""Which pictures of a watch are kept: hours of them are more than anybody looks at."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from datetime import datetime, timedelta

ALL_OF_THE_LAST = timedelta(minutes=10)
APART = timedelta(minutes=2)  # of a time lapse
MOST = 400  # of one watch; then every second of the lapse goes


def to_drop(
    pictures: Sequence[tuple[int, datetime]], needed: Collection[int], first: int, now: datetime
) -> list[int]:
    """Numbers of those that go.

    pictures  (number, moment), in their order; needed: numbers round what was seen; first: so many from the
              begin stay, everything is compared with them

    All of the last ten minutes stay, then one every two minutes; past MOST every second one of these goes,
    again and again. Raises nothing. Exact. Source: own judgement.
    """
    stays = {number for number, at in pictures if number <= first or now - at < ALL_OF_THE_LAST}
    stays |= set(needed)
    lapse = _apart([(number, at) for number, at in pictures if number not in stays])
    while len(stays) + len(lapse) > MOST and len(lapse) > 1:
        lapse = lapse[::2]
    return sorted({number for number, _ in pictures} - stays - set(lapse))


def _apart(pictures: Sequence[tuple[int, datetime]]) -> list[int]:
    """One every APART, from the first on."""
    kept, last = list[int](), None
    for number, at in pictures:
        if last is None or at - last >= APART:
            kept.append(number)
            last = at
    return kept
