"""Passwords: argon2id with the library's own defaults (RFC 9106, the low-memory choice), long enough, and
none of those everybody tries first.
"""

from __future__ import annotations

import contextlib
import re
import threading
import unicodedata
from collections.abc import Iterator, Sequence
from functools import cache

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from zxcvbn import zxcvbn

from ..core.common.errors import DomainError

LEAST, MOST = 12, 128
PRODUCT, LEAST_NAME = "Cavatum", 4  # a shorter name would be found by chance
LEAST_SCORE = (
    3  # of zxcvbn's 0 to 4: "safely unguessable: moderate protection from offline slow-hash scenario"
)
_HASHER = PasswordHasher()
# Each takes 64 MB: tries of many at once wait instead of filling the memory, and no more wait than leaves
# threads for everybody else.
_AT_ONCE, _WAITING = threading.BoundedSemaphore(2), threading.BoundedSemaphore(6)


@contextlib.contextmanager
def _in_turn() -> Iterator[None]:
    """Raises DomainError where so many wait already that another would hold everybody up."""
    if not _WAITING.acquire(blocking=False):
        raise DomainError(
            argument="logging in",
            value="tried by many at this moment",
            allowed="a few at once are looked at",
            way_out="Try again in a moment.",
            code="busy",
        )
    try:
        with _AT_ONCE:
            yield
    finally:
        _WAITING.release()


@cache
def _nobodys() -> str:
    return _HASHER.hash("nobody has this one")


def _squeezed(text: str) -> str:
    """Letters and digits alone, case folded: how a name is told whatever stands between its words."""
    return "".join(one for one in unicodedata.normalize("NFKC", text).casefold() if one.isalnum())


def check(password: str, about: list[str], workshops: Sequence[str] = ()) -> None:
    """Raises DomainError for one that is too short, too long, easily guessed, or that names Cavatum or the
    workshop; about: name and address of the person; workshops: the names of those they are let into.
    """
    if not LEAST <= len(password) <= MOST:
        raise DomainError(
            argument="the password",
            value=f"{len(password)} characters long",
            allowed=f"{LEAST} to {MOST} characters are taken",
            way_out="Three or four words that do not belong together are easy to keep in mind.",
            code="password-length",
        )
    inside = _squeezed(password)
    if any(len(name) >= LEAST_NAME and name in inside for name in map(_squeezed, [PRODUCT, *workshops])):
        raise DomainError(
            argument="the password",
            value="the name of the program or of the workshop",
            allowed="it does not name what it opens",
            way_out="Leave that name out; take three or four words that do not belong together.",
            code="password-names",
        )
    words = [word for text in [*about, *workshops] for word in [text, *re.split(r"\W+", text)] if word]
    if zxcvbn(password[:72], user_inputs=words)["score"] < LEAST_SCORE:
        raise DomainError(
            argument="the password",
            value="easily guessed",
            allowed="it is none that is tried first",
            way_out="Take three or four words that do not belong together.",
            code="password-weak",
        )


def hash_of(password: str) -> str:
    with _in_turn():
        return _HASHER.hash(password)


def holds(password_hash: str | None, password: str) -> bool:
    """The same time passes whether there is such an account or not."""
    with contextlib.suppress(VerificationError, InvalidHashError), _in_turn():
        return _HASHER.verify(password_hash or _nobodys(), password) and password_hash is not None
    return False


def wants_renewal(password_hash: str) -> bool:
    """Whether it was made with weaker parameters than today's."""
    return _HASHER.check_needs_rehash(password_hash)
