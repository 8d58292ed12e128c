"""Is it the right bottle, by its label? Rule 5.1."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from ..common.verdict import Verdict, Weight
from ..purchase.stock import OnShelf
from ..resin.system import System
from ..sheet.container import Label, likeness, plain_lot

NAMED = 0.6  # own judgement: of a name's letters on the label, for it to be that resin's
CLEARER = 0.25  # so much more of another's name


def label_verdicts(
    label: Label, part: str, wanted: System, shelf: Sequence[System], today: date
) -> list[Verdict]:
    """What a label says against, or for, pouring from this bottle.

    label  as read;  part  "A" or "B" that is due;  wanted  the plan's system;  shelf  the others it may be
    Raises nothing. Valid as far as the label was read: what it does not say is said to be open. Source: own.
    """
    own = likeness(label, wanted.name)
    told = [
        *_other_resin(label, wanted, own, shelf),
        *_other_part(label, part),
        *_past_its_date(label, today),
    ]
    if told:
        return told
    said = label.part.upper()
    if own >= NAMED and said == part:
        lot = f", lot {label.lot}" if label.lot else ""
        return [_verdict("note", "label-fits", "The right bottle", f"Part {said} of {wanted.name}{lot}.", "")]
    missing = [
        *([] if said else ["which part it is"]),
        *([] if own >= NAMED else [f"the name {wanted.name}"]),
    ]
    return [
        _verdict(
            "warning",
            "label-open",
            "The label does not tell",
            f"Not read on it: {' and '.join(missing)}.",
            "Read it yourself, or photograph it nearer and straight on.",
        )
    ]


def labelled_bottle(
    label: Label, part: str, wanted: System, bottles: Sequence[OnShelf], told: Sequence[Verdict]
) -> int | None:
    """The id of the one bottle of the shelf that a label of the part that is due is of, by its lot; None
    where there is none, or several, or where the label says that it is another.

    label  as read;  part  "A" or "B" that is due;  wanted  the plan's system;  bottles  of the stock;  told
    what label_verdicts says
    Raises nothing. Valid as plain_lot compares. Source: own.
    """
    if not label.lot or label.part.upper() != part or any(one.weight == "blocker" for one in told):
        return None
    same = [
        one.id
        for one in bottles
        if (one.bottle.goods_id, one.bottle.part) == (wanted.id, part)
        and plain_lot(one.bottle.lot) == plain_lot(label.lot)
    ]
    return same[0] if len(same) == 1 else None


def _other_resin(label: Label, wanted: System, own: float, shelf: Sequence[System]) -> list[Verdict]:
    others = [(likeness(label, one.name), one) for one in shelf if one.id != wanted.id]
    best, other = max(others, key=lambda one: one[0], default=(0.0, wanted))
    if best < NAMED or best <= own + CLEARER:
        return []
    of_it = f"part {label.part.upper()}" if label.part else "a bottle"
    return [
        _verdict(
            "blocker",
            "label-other-resin",
            f"This is {of_it} of another resin",
            f"The label reads like {other.name}; {wanted.name} is being weighed.",
            "Put it back and take the right one.",
        )
    ]


def _other_part(label: Label, part: str) -> list[Verdict]:
    said = label.part.upper()
    if said in ("", part):
        return []
    return [
        _verdict(
            "blocker",
            "label-other-part",
            f"This is part {said}",
            f"The label says part {said}; part {part} is due.",
            "Take the other bottle, before anything is poured.",
        )
    ]


def _past_its_date(label: Label, today: date) -> list[Verdict]:
    if label.best_before is None or label.best_before >= today:
        return []
    return [
        _verdict(
            "warning",
            "label-expired",
            "Past its date",
            f"It keeps until {label.best_before.isoformat()} by its label.",
            "Stir and weigh out a test of it first, or take a fresh bottle.",
        )
    ]


def _verdict(weight: Weight, code: str, title: str, text: str, todo: str) -> Verdict:
    return Verdict(weight=weight, stage="mix", code=code, rule="5.1", title=title, text=text, todo=todo)
