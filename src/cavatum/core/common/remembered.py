"""Answers worked out before, for questions whose every input is the same."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import Any, Generic, TypeVar

T = TypeVar("T")


class Remembered(Generic[T]):
    """The last `most` answers, by their questions. Only for what never changes once it was worked out: an
    answer is handed to all who ask. Two who ask at once both work it out.
    """

    def __init__(self, most: int) -> None:
        self.most = most
        self._answers: OrderedDict[Hashable, T] = OrderedDict()
        self._lock = Lock()
        _ALL.append(self)

    def clear(self) -> None:
        with self._lock:
            self._answers.clear()

    def get(self, question: Hashable | None, work_out: Callable[[], T]) -> T:
        """question: all that the answer hangs on; None where that cannot be said, and nothing is kept."""
        if question is None:
            return work_out()
        with self._lock:
            if question in self._answers:
                self._answers.move_to_end(question)
                return self._answers[question]
        answer = work_out()
        with self._lock:
            self._answers[question] = answer
            self._answers.move_to_end(question)
            while len(self._answers) > self.most:
                self._answers.popitem(last=False)
        return answer


_ALL: list[Remembered[Any]] = []


def forget_everything() -> None:
    """For benchmarks, which want the work and not what is left of it."""
    for one in _ALL:
        one.clear()
