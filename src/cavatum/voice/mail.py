"""Mail through a server of the workshop's choice (SMTP, RFC 5321), over TLS unless the server is this
computer's own.
"""

from __future__ import annotations

import smtplib
import ssl
from dataclasses import dataclass
from datetime import datetime
from email.message import EmailMessage
from email.utils import format_datetime
from hashlib import sha256
from typing import Literal

from .reach import address_of
from .told import LIMIT_S, Told, Undelivered

Secure = Literal["from the first byte", "after a word", "not at all"]
FINAL_FROM, FINAL_TO = 500, 600  # RFC 5321, 4.2.1: asked again it would be refused again


@dataclass(frozen=True, kw_only=True)
class Post:
    """Where mail is handed in. secure: TLS at once (port 465), by STARTTLS (587), or none."""

    host: str
    port: int
    sender: str
    secure: Secure = "after a word"
    user: str = ""
    password: str = ""


def send(
    post: Post,
    to: str,
    told: Told,
    *,
    now: datetime,
    may_be_local: bool,
    trusted: ssl.SSLContext | None = None,
) -> None:
    """Raises Undelivered. The Message-ID comes from the key: a mail program shows the same one once."""
    if post.password and post.secure == "not at all":
        raise Undelivered("A password is not sent in the clear: choose TLS.", is_final=True)
    letter = _letter(post, to, told, now)
    address = address_of(post.host, post.port, may_be_local=may_be_local)
    context = trusted or ssl.create_default_context()
    try:
        with _opened(post, address, context) as server:
            if post.user:
                server.login(post.user, post.password)
            server.send_message(letter)
    except smtplib.SMTPAuthenticationError as error:
        raise Undelivered("The mail server does not take this name and password.", is_final=True) from error
    except smtplib.SMTPRecipientsRefused as error:
        code, _ = next(iter(error.recipients.values()))
        raise Undelivered(f"The mail server refused the address ({code}).", is_final=code >= 500) from error
    except smtplib.SMTPResponseException as error:
        final = FINAL_FROM <= error.smtp_code < FINAL_TO
        raise Undelivered(f"The mail server answered {error.smtp_code}.", is_final=final) from error
    except ssl.SSLError as error:
        raise Undelivered("The mail server has no certificate that is trusted here.") from error
    except (OSError, smtplib.SMTPException) as error:
        raise Undelivered(f"The mail server did not answer: {type(error).__name__}.") from error


def _letter(post: Post, to: str, told: Told, now: datetime) -> EmailMessage:
    letter = EmailMessage()
    try:
        letter["From"], letter["To"] = post.sender, to
        letter["Subject"] = " ".join(told.title.split())
    except ValueError as error:
        raise Undelivered("The address is none.", is_final=True) from error
    letter["Date"] = format_datetime(now)
    letter["Message-ID"] = f"<{sha256(told.key.encode()).hexdigest()[:32]}@cavatum.invalid>"
    letter["Auto-Submitted"] = "auto-generated"  # RFC 3834: nobody's absence note answers it
    if told.is_urgent:
        letter["Importance"] = "high"
    letter.set_content(told.text + (f"\n\n{told.link}" if told.link else "") + "\n")
    return letter


class _To(smtplib.SMTP):
    """To an address that was looked at before, under the server's own name."""

    def __init__(self, post: Post, address: str, context: ssl.SSLContext) -> None:
        self._at, self._tls = address, context if post.secure == "from the first byte" else None
        super().__init__(timeout=LIMIT_S)
        self._host = post.host  # the name that its certificate has to have
        self.connect(post.host, post.port)

    def _get_socket(self, host: str, port: int, timeout: float):  # type: ignore[no-untyped-def]
        made = super()._get_socket(self._at, port, timeout)  # type: ignore[misc]
        return self._tls.wrap_socket(made, server_hostname=self._host) if self._tls else made


def _opened(post: Post, address: str, context: ssl.SSLContext) -> smtplib.SMTP:
    server = _To(post, address, context)
    if post.secure == "after a word":
        server.starttls(context=context)
    return server
