"""The key of seals: opens what is kept encrypted in the database, and signs nothing."""

from __future__ import annotations

import base64
import hashlib
import hmac


def seal_key(secret: str) -> str:
    """From the server's secret, by HKDF-SHA-256 without salt (RFC 5869), as 32 bytes in base64url."""
    extracted = hmac.new(bytes(32), secret.strip().encode(), hashlib.sha256).digest()
    expanded = hmac.new(extracted, b"cavatum seals\x01", hashlib.sha256).digest()
    return base64.urlsafe_b64encode(expanded).decode()
