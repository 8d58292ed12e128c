"""Secrets that have to be used again, such as a mail server's password: kept encrypted, with a key that the
database never sees. A copy of the database alone opens none of them.
"""

from __future__ import annotations

import json
from typing import Any

from cryptography.fernet import Fernet, InvalidToken


class SealBroken(Exception):
    """It was sealed with another key: after a restore elsewhere, or once the server's secret was replaced."""


def sealed(key: str, content: dict[str, Any]) -> bytes:
    """AES-128-CBC with HMAC-SHA-256 (Fernet), anew each time."""
    return Fernet(key).encrypt(json.dumps(content).encode())


def opened(key: str, content: bytes | None) -> dict[str, Any]:
    """Nothing was sealed: empty. Raises SealBroken."""
    if content is None:
        return {}
    try:
        return dict(json.loads(Fernet(key).decrypt(bytes(content))))
    except InvalidToken as error:
        raise SealBroken("It was sealed with another key.") from error
