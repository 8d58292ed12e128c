"""Passwords: argon2id with the library's own defaults (RFC 9106, the low-memory choice), long enough, and
none of those everybody tries first.
"""

from __future__ import annotations

import contextlib
import re
import threading
from functools import cache

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from zxcvbn import zxcvbn

from ..core.common.errors import DomainError

LEAST, MOST = 12, 128
LEAST_SCORE = (
    3  # of zxcvbn's 0 to 4: "safely unguessable: moderate protection from offline slow-hash scenario"
)
_HASHER = PasswordHasher()
_AT_ONCE = threading.BoundedSemaphore(
    2
)  # each takes 64 MB: tries of many at once wait instead of filling the memory


@cache
def _nobodys() -> str:
    return _HASHER.hash("nobody has this one")


def check(password: str, about: list[str]) -> None:
    """Raises DomainError for one that is too short, too long or easily guessed; about: name, address and
    workshop of the person.
    """
    if not LEAST <= len(password) <= MOST:
        raise DomainError(
            argument="the password",
            value=f"{len(password)} characters long",
            allowed=f"{LEAST} to {MOST} characters are taken",
            way_out="Three or four words that do not belong together are easy to keep in mind.",
            code="password-length",
        )
    words = [word for text in about for word in [text, *re.split(r"\W+", text)] if word]
    if zxcvbn(password[:72], user_inputs=words)["score"] < LEAST_SCORE:
        raise DomainError(
            argument="the password",
            value="easily guessed",
            allowed="it is none that is tried first",
            way_out="Take three or four words that do not belong together.",
            code="password-weak",
        )


def hash_of(password: str) -> str:
    with _AT_ONCE:
        return _HASHER.hash(password)


def holds(password_hash: str | None, password: str) -> bool:
    """The same time passes whether there is such an account or not."""
    with contextlib.suppress(VerificationError, InvalidHashError), _AT_ONCE:
        return _HASHER.verify(password_hash or _nobodys(), password) and password_hash is not None
    return False


def wants_renewal(password_hash: str) -> bool:
    """Whether it was made with weaker parameters than today's."""
    return _HASHER.check_needs_rehash(password_hash)
