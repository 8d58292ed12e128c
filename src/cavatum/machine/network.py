"""The names and addresses this computer has on its own network. Nothing is sent anywhere to find out."""

from __future__ import annotations

import ipaddress
import socket
from typing import Any

PRIVATE = (
    "10.0.0.0/8",
    "172.16.0.0/12",
    "192.168.0.0/16",
    "169.254.0.0/16",
    "127.0.0.0/8",
    "fd00::/8",
    "fe80::/10",
    "::1/128",
)
PROBE = ("10.255.255.255", 9)  # never reached: a datagram socket only picks its own side's address


def own_names(more: list[str]) -> list[str]:
    """Host name, with .local, loopback, the private addresses, and what the person adds."""
    host = socket.gethostname().lower()
    names = {host, f"{host.partition('.')[0]}.local", "localhost", "127.0.0.1", *more}
    found = {address[4][0] for address in _infos(host)} | {_outward()}
    names |= {one for one in found if one and is_private(one)}
    return sorted(name for name in names if _is_local(name) or name in more)


def is_private(address: str) -> bool:
    """Whether an address lies in a network that nobody outside can reach by it."""
    found = ipaddress.ip_address(address)
    return any(
        found in ipaddress.ip_network(net)
        for net in PRIVATE
        if ipaddress.ip_network(net).version == found.version
    )


def best_name(names: list[str], chosen: list[str]) -> str:
    """What phones are told: the person's own choice, else the address on the network, which needs no name
    service.
    """
    outward = [
        one
        for one in names
        if _is_address(one) and not ipaddress.ip_address(one).is_loopback and ":" not in one
    ]
    return (chosen or outward or ["127.0.0.1"])[0]


def _infos(host: str) -> list[Any]:
    try:
        return socket.getaddrinfo(host, None, socket.AF_INET)
    except OSError:
        return []


def _outward() -> str:
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            probe.connect(PROBE)
            return str(probe.getsockname()[0])
        except OSError:
            return ""


def _is_address(name: str) -> bool:
    try:
        ipaddress.ip_address(name)
    except ValueError:
        return False
    return True


def _is_local(name: str) -> bool:
    return _is_address(name) or "." not in name or name.endswith((".local", ".lan", ".home.arpa"))
