"""Small real servers: a mail server, a webhook and a push service that looks at every rule, over TLS with a
certificate of their own.
"""

from __future__ import annotations

import base64
import contextlib
import json
import ssl
import threading
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from ipaddress import ip_address
from pathlib import Path

from aiosmtpd.controller import Controller
from aiosmtpd.smtp import AuthResult
from cryptography import x509
from cryptography.hazmat.primitives.asymmetric import ec, utils
from cryptography.hazmat.primitives.ciphers.aead import AESGCM
from cryptography.hazmat.primitives.hashes import SHA256
from cryptography.hazmat.primitives.kdf.hkdf import HKDF
from cryptography.hazmat.primitives.serialization import Encoding, NoEncryption, PrivateFormat
from cryptography.x509.oid import NameOID

from cavatum.machine.ports import free_port

CURVE = ec.SECP256R1()


@dataclass(frozen=True)
class Certificate:
    serves: ssl.SSLContext
    trusts: ssl.SSLContext


def certificate(folder: Path) -> Certificate:
    """For 127.0.0.1 and localhost."""
    key = ec.generate_private_key(CURVE)
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "localhost")])
    now = datetime.now(UTC)
    alternative = [x509.DNSName("localhost"), x509.IPAddress(ip_address("127.0.0.1"))]
    made = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + timedelta(days=2))
        .add_extension(x509.SubjectAlternativeName(alternative), critical=False)
        .add_extension(x509.BasicConstraints(ca=True, path_length=None), critical=True)
        .sign(key, SHA256())
    )
    both = folder / "both.pem"
    both.write_bytes(
        key.private_bytes(Encoding.PEM, PrivateFormat.PKCS8, NoEncryption()) + made.public_bytes(Encoding.PEM)
    )
    serves = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    serves.load_cert_chain(both)
    return Certificate(serves, ssl.create_default_context(cafile=str(both)))


@dataclass
class Heard:
    """What a web server was sent, and what it answers."""

    port: int = 0
    answers: int = 201
    slow_s: float = 0.0
    asked: list[tuple[str, dict[str, str], bytes]] = field(default_factory=list)
    over: threading.Event = field(default_factory=threading.Event)


@contextlib.contextmanager
def web(context: ssl.SSLContext | None = None) -> Iterator[Heard]:
    heard = Heard()

    class Handler(BaseHTTPRequestHandler):
        def do_POST(self) -> None:
            body = self.rfile.read(int(self.headers["Content-Length"]))
            heard.asked.append((self.path, {k.lower(): v for k, v in self.headers.items()}, body))
            heard.over.wait(heard.slow_s)
            self.send_response(heard.answers)
            if heard.answers == 302:
                self.send_header("Location", "/elsewhere")
            self.end_headers()
            with contextlib.suppress(OSError):
                self.wfile.write(b"x" * 200_000)

        def log_message(self, *_) -> None:
            pass

    server = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
    server.daemon_threads = True
    if context is not None:
        server.socket = context.wrap_socket(server.socket, server_side=True)
    heard.port = server.server_port
    threading.Thread(target=server.serve_forever, args=(0.05,), daemon=True).start()
    try:
        yield heard
    finally:
        heard.over.set()
        server.shutdown()
        server.server_close()


@dataclass
class Letters:
    """A mail server's inbox. refuses: the addresses it does not know; full: it answers 452."""

    refuses: tuple[str, ...] = ()
    full: bool = False
    port: int = 0
    got: list[tuple[str, bytes, bool]] = field(default_factory=list)

    async def handle_RCPT(self, _server, _session, envelope, address, _options):
        if address in self.refuses:
            return "550 nobody of that name"
        if self.full:
            return "452 no room"
        envelope.rcpt_tos.append(address)
        return "250 OK"

    async def handle_DATA(self, _server, session, envelope):
        self.got.append((envelope.rcpt_tos[0], envelope.content, session.ssl is not None))
        return "250 OK"


def _known(_server, _session, _envelope, _mechanism, told) -> AuthResult:
    return AuthResult(success=(told.login, told.password) == (b"shop", b"right"), handled=False)


@contextlib.contextmanager
def mail(context: ssl.SSLContext | None) -> Iterator[Letters]:
    letters = Letters()
    controller = Controller(
        letters,
        hostname="127.0.0.1",
        port=free_port(),
        tls_context=context,
        require_starttls=context is not None,
        authenticator=_known,
        auth_require_tls=True,
    )
    controller.start()
    letters.port = controller.port
    try:
        yield letters
    finally:
        controller.stop()


def plain64(text: str) -> bytes:
    return base64.urlsafe_b64decode(text + "=" * (-len(text) % 4))


class Browser:
    """The other end of a push: keys of its own, and how it opens what arrives (RFC 8188 and 8291 read from
    the receiver's side).
    """

    def __init__(self) -> None:
        self.key = ec.generate_private_key(CURVE)
        self.secret = b"0123456789abcdef"

    def opened(self, body: bytes) -> dict:
        salt, record, length = body[:16], int.from_bytes(body[16:20], "big"), body[20]
        theirs, sealed = body[21 : 21 + length], body[21 + length :]
        assert record >= len(body)
        ours = _point(self.key)
        shared = self.key.exchange(ec.ECDH(), ec.EllipticCurvePublicKey.from_encoded_point(CURVE, theirs))
        keyed = HKDF(SHA256(), 32, self.secret, b"WebPush: info\0" + ours + theirs).derive(shared)
        key = HKDF(SHA256(), 16, salt, b"Content-Encoding: aes128gcm\0").derive(keyed)
        nonce = HKDF(SHA256(), 12, salt, b"Content-Encoding: nonce\0").derive(keyed)
        padded = AESGCM(key).decrypt(nonce, sealed, None).rstrip(b"\0")
        assert padded[-1:] == b"\2"  # the last record
        return json.loads(padded[:-1])


def _point(key) -> bytes:
    from cryptography.hazmat.primitives.serialization import PublicFormat

    return key.public_key().public_bytes(Encoding.X962, PublicFormat.UncompressedPoint)


def who_sent(authorization: str, now: datetime) -> dict:
    """Claims of a VAPID header (RFC 8292), once its signature and its time hold."""
    kind, _, rest = authorization.partition(" ")
    assert kind == "vapid"
    said = dict(part.strip().split("=", 1) for part in rest.split(","))
    head, claims, signature = said["t"].split(".")
    raw = plain64(signature)
    public = ec.EllipticCurvePublicKey.from_encoded_point(CURVE, plain64(said["k"]))
    encoded = utils.encode_dss_signature(int.from_bytes(raw[:32], "big"), int.from_bytes(raw[32:], "big"))
    public.verify(encoded, f"{head}.{claims}".encode(), ec.ECDSA(SHA256()))
    assert json.loads(plain64(head)) == {"typ": "JWT", "alg": "ES256"}
    found = json.loads(plain64(claims))
    assert now.timestamp() < found["exp"] <= now.timestamp() + 86_400
    return {**found, "k": said["k"]}
