"""What hands have to do round each pour, as spans that count from its pouring: one reading of the table of
steps, for the days that are laid out and for all the starts that could be. Rules 6.1 and 6.2.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..layers.course import Window
from ..practice.work import Anchor, WorkStep

After = Mapping[Anchor, float | None]  # each anchor in seconds after pouring; None: it never comes


@dataclass(frozen=True)
class Moment:
    """One thing to do. from_s, to_s: when it may begin [s after pouring]; to_s None: it may wait. hands_s:
    how long it takes.
    """

    row: WorkStep
    from_s: float
    to_s: float | None

    @property
    def needs_somebody(self) -> bool:
        """It cannot wait, and hands do it."""
        return self.to_s is not None and self.row.hands_s > 0


def anchors_of(window: Window) -> After:
    """The moments steps count from [s after pouring]. Raises nothing. Source: the pour's own windows."""
    return {
        "poured": 0.0,
        "gelled": window.gelled_s,
        "peak": window.peak_s,
        "bond opens": window.opens_s,
        "demould": window.demould_s,
        "cured": window.cured_s,
        "touch": window.touch_s,
        "light use": window.light_s,
        "pressed": window.chamber_s,
        "turned": window.turned_s,
    }


def moment_of(row: WorkStep, after: After) -> Moment | None:
    """A row of the table as a span after pouring; None where its anchor never comes, or what is done while it
    is liquid would come after it has set.

        from = anchor + row.from, not before the pour itself,  to = anchor + row.to, no later than gel for
        what counts from pouring

    Raises nothing. Exact. Source: practice/work.py.
    """
    anchor = after[row.anchor]
    if anchor is None:
        return None
    from_s = max(anchor + row.from_s, 0.0)  # what comes before its pour is not done on it
    to_s = None if row.to_s is None else anchor + row.to_s
    gelled = after["gelled"]
    if row.anchor == "poured" and gelled is not None:
        if from_s > gelled:
            return None  # it has set by then: nothing to do any more
        to_s = None if to_s is None else min(to_s, max(gelled, from_s))
    return Moment(row, from_s, None if to_s is None else max(to_s, from_s))


def wanted(moments: Sequence[Moment | None]) -> list[Moment]:
    """Those that need somebody at their time."""
    return [one for one in moments if one is not None and one.needs_somebody]
