"""Requests to addresses that people typed: to where they say and nowhere else. The name is looked up once
and that very address is connected to; no redirect is followed; what is read and how long it takes is bounded.
"""

from __future__ import annotations

import http.client
import ipaddress
import socket
import ssl
import urllib.parse
from collections.abc import Mapping

from .told import LIMIT_S, Undelivered

MOST_READ = 64_000
LONGEST_ADDRESS = 2000


class _To(http.client.HTTPConnection):
    """A connection to an address that was looked at before; the certificate is that of the name."""

    def __init__(self, name: str, port: int, address: str, context: ssl.SSLContext | None) -> None:
        super().__init__(name, port, timeout=LIMIT_S)
        self._address, self._context = address, context

    def connect(self) -> None:
        self.sock = socket.create_connection((self._address, self.port), LIMIT_S)
        if self._context is not None:
            self.sock = self._context.wrap_socket(self.sock, server_hostname=self.host)


def address_of(name: str, port: int, *, may_be_local: bool) -> str:
    """Where the name leads. Raises Undelivered: unknown, or a place that requests from here may not reach.

    may_be_local  this house's own network and this computer too; else the open network alone. Addresses of
                  one link (169.254.0.0/16, fe80::/10: where clouds keep their keys) and those that are no
                  host's are never asked.
    """
    try:
        found = socket.getaddrinfo(name, port, type=socket.SOCK_STREAM)
    except (OSError, UnicodeError) as error:
        raise Undelivered(f"{name} is not known here.") from error
    for *_, place in found:
        address = ipaddress.ip_address(str(place[0]).partition("%")[0])
        mapped = getattr(address, "ipv4_mapped", None) or address
        nowhere = mapped.is_link_local or mapped.is_multicast or mapped.is_unspecified
        if not nowhere and (mapped.is_global or (may_be_local and (mapped.is_private or mapped.is_loopback))):
            return str(address)
    allowed = "" if may_be_local else " Its own network has to be allowed first, at the computer itself."
    raise Undelivered(f"{name} is not a place that messages may go to from here.{allowed}", is_final=True)


def post(
    url: str,
    body: bytes,
    headers: Mapping[str, str],
    *,
    may_be_local: bool,
    trusted: ssl.SSLContext | None = None,
) -> tuple[int, str]:
    """Status and the beginning of what was answered.

    Plain http is taken only where may_be_local. Raises Undelivered: no such place, no answer in time, no
    certificate of that name, an answer that is none.
    """
    parts = _parts(url, may_be_local)
    name = parts.hostname or ""
    secure = parts.scheme == "https"
    port = parts.port or (443 if secure else 80)
    address = address_of(name, port, may_be_local=may_be_local)
    context = (trusted or ssl.create_default_context()) if secure else None
    connection = _To(name, port, address, context)
    path = urllib.parse.urlunsplit(("", "", parts.path or "/", parts.query, ""))
    try:
        connection.request("POST", path, body, {**headers, "Content-Length": str(len(body))})
        answer = connection.getresponse()
        return answer.status, answer.read(MOST_READ).decode("utf-8", "replace")
    except ssl.SSLError as error:
        raise Undelivered(f"{name} has no certificate that is trusted here.") from error
    except (OSError, http.client.HTTPException) as error:
        raise Undelivered(f"{name} did not answer: {type(error).__name__}.") from error
    finally:
        connection.close()


def _parts(url: str, may_be_local: bool) -> urllib.parse.SplitResult:
    parts = _split(url)
    if parts is None or len(url) > LONGEST_ADDRESS or not url.isprintable() or " " in url:
        raise Undelivered("The address is none.", is_final=True)
    if parts.username or parts.password:
        raise Undelivered("A password does not belong into an address.", is_final=True)
    if parts.scheme != "https" and not (parts.scheme == "http" and may_be_local):
        raise Undelivered("The address has to begin with https://.", is_final=True)
    return parts


def _split(url: str) -> urllib.parse.SplitResult | None:
    try:
        parts = urllib.parse.urlsplit(url)
        return parts if parts.hostname and parts.port != 0 else None
    except ValueError:
        return None
