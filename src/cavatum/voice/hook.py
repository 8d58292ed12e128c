"""A webhook: the message as JSON to an address, signed where a secret was agreed on."""

from __future__ import annotations

import hashlib
import hmac
import ssl

from .reach import post
from .told import Told, Undelivered

SIGNED = "X-Cavatum-Signature"


def send(
    url: str, told: Told, *, secret: str = "", may_be_local: bool, trusted: ssl.SSLContext | None = None
) -> None:
    """Raises Undelivered. The signature is HMAC-SHA-256 of the body (RFC 2104), as `sha256=<hex>`."""
    body = told.as_json()
    headers = {"Content-Type": "application/json", "User-Agent": "Cavatum"}
    if secret:
        headers[SIGNED] = "sha256=" + hmac.new(secret.encode(), body, hashlib.sha256).hexdigest()
    status, _ = post(url, body, headers, may_be_local=may_be_local, trusted=trusted)
    if not 200 <= status < 300:
        final = status in (400, 401, 403, 404, 405, 410)
        raise Undelivered(f"The webhook answered {status}.", is_final=final)
