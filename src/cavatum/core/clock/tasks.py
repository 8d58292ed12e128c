"""A pour as hands see it: how long weighing, stirring, resting and pouring take. Rules 5.3, 5.5, 6.1."""

from __future__ import annotations

from ..common.workshop import Workshop
from ..layers.course import Window
from ..layers.pours import Pour
from ..mix.batches import WEIGHING_S
from ..mix.mixes import mixes_of, stirring
from .windows import PourTask


def task_of(pour: Pour, workshop: Workshop, window: Window | None = None, *, ends: bool = True) -> PourTask:
    """Hands on: weighing and stirring every batch, the longest rest once, and pouring all of it."""
    mixes = mixes_of(pour, workshop)
    mixing = sum(len(mix.weighings) * (WEIGHING_S + stirring(mix.system, workshop)) for mix in mixes)
    rest = max(mix.system.rest_s.value for mix in mixes)
    pouring = sum(mix.need_m3 for mix in mixes) / workshop.pour_rate_m3_s
    systems = tuple({mix.system.id: mix.system for mix in mixes}.values())
    return PourTask(
        systems=systems,
        mix_s=mixing + rest,
        pour_s=pouring,
        window=window,
        ends=ends,
        join=pour.join,
        after_cut=pour.after_cut,
    )
