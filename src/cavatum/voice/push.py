"""Web Push: a message that only the browser it is for can read (RFC 8291, 8188), to the service the browser
named, signed with a key of our own (VAPID, RFC 8292).
"""

from __future__ import annotations

import base64
import json
import os
import ssl
import urllib.parse
from dataclasses import dataclass
from datetime import datetime, timedelta

from cryptography.hazmat.primitives.asymmetric import ec, utils
from cryptography.hazmat.primitives.ciphers.aead import AESGCM
from cryptography.hazmat.primitives.hashes import SHA256
from cryptography.hazmat.primitives.kdf.hkdf import HKDF
from cryptography.hazmat.primitives.serialization import Encoding, PublicFormat

from .reach import post
from .told import Told, Undelivered

RECORD = 4096  # the longest a push service has to take (RFC 8030, 7.2)
VALID_FOR = timedelta(hours=12)  # of a signature; at most a day (RFC 8292, 2)
CURVE = ec.SECP256R1()


@dataclass(frozen=True, kw_only=True)
class Subscription:
    """What a browser hands out: its service's address, its public key and a secret, both base64url."""

    endpoint: str
    p256dh: str
    auth: str


def plain64(text: str) -> bytes:
    """Raises ValueError for what is no base64url."""
    return base64.b64decode(text + "=" * (-len(text) % 4), altchars=b"-_", validate=True)


def url64(data: bytes) -> str:
    return base64.urlsafe_b64encode(data).rstrip(b"=").decode()


def public_of(key: ec.EllipticCurvePrivateKey) -> bytes:
    return key.public_key().public_bytes(Encoding.X962, PublicFormat.UncompressedPoint)


def encrypted(
    message: bytes, subscription: Subscription, *, own: ec.EllipticCurvePrivateKey, salt: bytes
) -> bytes:
    """Body of the request (aes128gcm, one record).

    own, salt  made anew for each message
    Raises Undelivered for keys that are none and for a message that does not fit one record.
    """
    try:
        theirs, secret = plain64(subscription.p256dh), plain64(subscription.auth)
        public = ec.EllipticCurvePublicKey.from_encoded_point(CURVE, theirs)
    except ValueError as error:
        raise Undelivered("The browser's key is none; register it again.", is_final=True) from error
    shared = own.exchange(ec.ECDH(), public)
    told = b"WebPush: info\x00" + theirs + public_of(own)
    keyed = HKDF(SHA256(), 32, secret, told).derive(shared)
    key = HKDF(SHA256(), 16, salt, b"Content-Encoding: aes128gcm\x00").derive(keyed)
    nonce = HKDF(SHA256(), 12, salt, b"Content-Encoding: nonce\x00").derive(keyed)
    ours = public_of(own)
    head = salt + RECORD.to_bytes(4, "big") + bytes([len(ours)]) + ours
    if len(head) + len(message) + 17 > RECORD:
        raise Undelivered("The message is too long for a push service.", is_final=True)
    return head + AESGCM(key).encrypt(nonce, message + b"\x02", None)


def signed(endpoint: str, key: ec.EllipticCurvePrivateKey, contact: str, now: datetime) -> str:
    """The Authorization header: who sends, to which service, until when. contact: a mailto: or https: address
    that the service may write to.
    """
    parts = urllib.parse.urlsplit(endpoint)
    claims = {
        "aud": f"{parts.scheme}://{parts.netloc}",
        "exp": int((now + VALID_FOR).timestamp()),
        "sub": contact,
    }
    head = url64(json.dumps({"typ": "JWT", "alg": "ES256"}).encode())
    text = f"{head}.{url64(json.dumps(claims).encode())}"
    r, s = utils.decode_dss_signature(key.sign(text.encode(), ec.ECDSA(SHA256())))
    signature = url64(r.to_bytes(32, "big") + s.to_bytes(32, "big"))
    return f"vapid t={text}.{signature}, k={url64(public_of(key))}"


def send(
    subscription: Subscription,
    told: Told,
    *,
    key: ec.EllipticCurvePrivateKey,
    contact: str,
    now: datetime,
    use_s: float,
    may_be_local: bool,
    trusted: ssl.SSLContext | None = None,
) -> None:
    """use_s: how long it is worth keeping for a phone that is off. Raises Undelivered; final once the browser
    has taken its subscription back.
    """
    body = encrypted(
        told.as_json(),
        subscription,
        own=ec.generate_private_key(CURVE),
        salt=os.urandom(16),
    )
    headers = {
        "Authorization": signed(subscription.endpoint, key, contact, now),
        "Content-Encoding": "aes128gcm",
        "Content-Type": "application/octet-stream",
        "TTL": str(max(0, int(use_s))),
        "Urgency": "high" if told.is_urgent else "normal",
    }
    status, _ = post(subscription.endpoint, body, headers, may_be_local=may_be_local, trusted=trusted)
    if status in (404, 410):
        raise Undelivered("The browser is no longer registered; register it again.", is_final=True)
    if not 200 <= status < 300:
        raise Undelivered(f"The push service answered {status}.", is_final=status in (400, 401, 403, 413))
