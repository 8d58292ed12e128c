"""How long somebody waits for an answer: asked in the midst of long work, set by whoever asks for it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar

from .errors import DomainError
from .plain_numbers import plainly

Clock = Callable[[], float]
_ends_s: ContextVar[tuple[float, float, Clock] | None] = ContextVar("patience", default=None)


@contextmanager
def at_most(seconds: float, clock: Clock) -> Iterator[None]:
    """Work in the block ends with a refusal once it has taken so much [s] by this clock: the time its own
    thread took, so that a computer busy with other things shortens nobody's answer.
    """
    before = _ends_s.get()
    begin(seconds, clock)
    try:
        yield
    finally:
        _ends_s.set(before)


def begin(seconds: float, clock: Clock) -> None:
    """The same from here on, until over(): where a block does not fit."""
    _ends_s.set((clock() + seconds, seconds, clock))


def over() -> None:
    _ends_s.set(None)


def look() -> None:
    """Called between two steps of long work.

    No units, nothing is returned. Raises DomainError once the time is over; nothing where nobody set one.
    Exact to the length of a step. Source: own choice.
    """
    known = _ends_s.get()
    if known is not None and known[2]() > known[0]:
        raise DomainError(
            argument="this piece",
            value="more than is worked out at once",
            allowed=f"an answer takes at most {plainly(known[1])} s of computing",
            way_out="Make two pieces of it, or leave voids out; what was kept before stays.",
            code="too-long",
        )
