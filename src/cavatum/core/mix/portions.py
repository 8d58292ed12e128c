"""What of a part came from each bottle that was opened for it. Rule 3.4."""

from __future__ import annotations

from collections.abc import Sequence

from .weigh_events import FromBottle, OfBottle, Taken, WeighEvent


def portions(key: str, standing: Sequence[WeighEvent]) -> list[OfBottle]:
    """What of a step came from each bottle [kg], in the order they were taken; together what was taken of it.

    key       of the step;  standing  events without those taken back
    An amount comes from the bottle that was chosen when it was recorded, but for what was in the cup when
    that
    bottle was taken (so_far_kg): that came from the one before. What is taken out again goes off the last one
    first.
    Raises nothing. Exact. Source: own, rule 3.4.
    """
    rows = [OfBottle(bottle_id=None, lot="", kg=0.0)]
    total = told = 0.0
    for one in standing:
        if isinstance(one, FromBottle) and one.step == key:
            upto = told if one.so_far_kg is None else one.so_far_kg
            rows[-1] = _more(rows[-1], upto - told)
            told = upto
            rows.append(OfBottle(bottle_id=one.bottle_id, lot=one.lot, kg=0.0))
        elif isinstance(one, Taken) and one.step == key:
            total += one.mass_kg
            rows[-1] = _more(rows[-1], total - told)
            told = total
    # A bottle was taken when so much was in, and the amount was never recorded.
    rows[-1] = _more(rows[-1], total - told)
    return _joined(_none_below(rows))


def _more(one: OfBottle, kg: float) -> OfBottle:
    return one.model_copy(update={"kg": one.kg + kg})


def _none_below(rows: list[OfBottle]) -> list[OfBottle]:
    """What the last ones lack is taken off those before them."""
    kept = list(rows)
    for place in range(len(kept) - 1, 0, -1):
        lacks = min(kept[place].kg, 0.0)
        kept[place], kept[place - 1] = _more(kept[place], -lacks), _more(kept[place - 1], lacks)
    return kept


def _joined(rows: list[OfBottle]) -> list[OfBottle]:
    """A bottle that was taken twice counts once."""
    found: dict[int | None, OfBottle] = {}
    for one in rows:
        found[one.bottle_id] = _more(one, found[one.bottle_id].kg) if one.bottle_id in found else one
    return [one for one in found.values() if abs(one.kg) > 1e-12]
