"""A local certificate authority and the server's certificate, made once and renewed before they end. Keys
stay in a folder that only its owner reads.

The authority may sign for this host and for private networks only (name constraints, RFC 5280 4.2.1.10):
whoever trusts it trusts it for the shop alone.
"""

from __future__ import annotations

import ipaddress
import os
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

from ..machine.network import PRIVATE, is_private

AUTHORITY_DAYS = 5 * 365
SERVER_DAYS = 397  # browsers refuse longer ones
RENEW_BEFORE = timedelta(days=30)
LOCAL_DOMAINS = ("local", "lan", "home.arpa", "localhost")


@dataclass(frozen=True, kw_only=True)
class Certificates:
    """Files in PEM; fingerprint: SHA-256 of the authority's certificate, to be compared on the phone; until:
    the end of the server's (ISO 8601).
    """

    authority: Path
    server: Path
    key: Path
    fingerprint: str
    until: str = ""


def ensure(folder: Path, names: Sequence[str], now: datetime | None = None) -> Certificates:
    """Certificates for these host names and addresses: kept while they hold for a month yet and for every
    name, else made anew.

    Raises ValueError for a name that the authority may not sign for: a public one.
    """
    moment = now or datetime.now(UTC)
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    found = Certificates(
        authority=folder / "authority.pem",
        server=folder / "server.pem",
        key=folder / "server.key",
        fingerprint="",
    )
    hosts = sorted(set(names))
    for name in hosts:
        if not _may_sign(name, hosts):
            raise ValueError(f"{name} is no address of a private network")
    authority_key = folder / "authority.key"
    if (
        not _holds(found.authority, moment)
        or not authority_key.exists()
        or not _covers_domains(found.authority, hosts)
    ):
        _make_authority(found.authority, authority_key, hosts, moment)
        found.server.unlink(missing_ok=True)
    if not _holds(found.server, moment) or not found.key.exists() or not _names(found.server) >= set(hosts):
        _make_server(found, authority_key, hosts, moment)
    return Certificates(
        authority=found.authority,
        server=found.server,
        key=found.key,
        fingerprint=_load(found.authority).fingerprint(hashes.SHA256()).hex(":").upper(),
        until=_load(found.server).not_valid_after_utc.isoformat(),
    )


def _address(name: str) -> ipaddress.IPv4Address | ipaddress.IPv6Address | None:
    try:
        return ipaddress.ip_address(name)
    except ValueError:
        return None


def _may_sign(name: str, hosts: Sequence[str]) -> bool:
    address = _address(name)
    if address is not None:
        return is_private(name)
    return (
        "." not in name
        or name.rpartition(".")[2] in ("local", "lan", "localhost")
        or name.endswith(".home.arpa")
    )


def _load(path: Path) -> x509.Certificate:
    return x509.load_pem_x509_certificate(path.read_bytes())


def _holds(path: Path, moment: datetime) -> bool:
    try:
        return _load(path).not_valid_after_utc - RENEW_BEFORE > moment
    except (FileNotFoundError, ValueError):
        return False


def _names(path: Path) -> set[str]:
    found = _load(path).extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    return {str(one) for one in found.get_values_for_type(x509.IPAddress)} | set(
        found.get_values_for_type(x509.DNSName)
    )


def _covers_domains(path: Path, hosts: Sequence[str]) -> bool:
    """Whether the authority was made for these bare host names too; private addresses are always in."""
    permitted = (
        _load(path).extensions.get_extension_for_class(x509.NameConstraints).value.permitted_subtrees or []
    )
    domains = {one.value for one in permitted if isinstance(one, x509.DNSName)}
    return all(
        _address(name) is not None or name in domains or any(name.endswith(f".{one}") for one in domains)
        for name in hosts
    )


def _write_secret(path: Path, key: ec.EllipticCurvePrivateKey) -> None:
    data = key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )
    path.unlink(missing_ok=True)
    with os.fdopen(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as file:
        file.write(data)


def _make_authority(path: Path, key_path: Path, hosts: Sequence[str], moment: datetime) -> None:
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name(
        [
            x509.NameAttribute(NameOID.COMMON_NAME, f"Cavatum of {_host_words(hosts)}"),
            x509.NameAttribute(NameOID.ORGANIZATION_NAME, "Cavatum, this workshop"),
        ]
    )
    permitted: list[x509.GeneralName] = [x509.IPAddress(ipaddress.ip_network(net)) for net in PRIVATE]
    permitted += [
        x509.DNSName(one)
        for one in sorted(
            {*LOCAL_DOMAINS, *(host for host in hosts if _address(host) is None and "." not in host)}
        )
    ]
    certificate = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(moment - timedelta(hours=1))
        .not_valid_after(moment + timedelta(days=AUTHORITY_DAYS))
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(
            x509.KeyUsage(False, False, False, False, False, True, True, False, False), critical=True
        )
        .add_extension(
            x509.NameConstraints(permitted_subtrees=permitted, excluded_subtrees=None), critical=True
        )
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .sign(key, hashes.SHA256())
    )
    _write_secret(key_path, key)
    path.write_bytes(certificate.public_bytes(serialization.Encoding.PEM))


def _host_words(hosts: Sequence[str]) -> str:
    return next((one for one in hosts if _address(one) is None and one != "localhost"), "this workshop")[:40]


def _make_server(found: Certificates, authority_key: Path, hosts: Sequence[str], moment: datetime) -> None:
    signer = serialization.load_pem_private_key(authority_key.read_bytes(), password=None)
    assert isinstance(signer, ec.EllipticCurvePrivateKey)  # as _make_authority makes it
    authority, key = _load(found.authority), ec.generate_private_key(ec.SECP256R1())
    names: list[x509.GeneralName] = []
    for host in hosts:
        address = _address(host)
        names.append(x509.DNSName(host) if address is None else x509.IPAddress(address))
    certificate = (
        x509.CertificateBuilder()
        .subject_name(x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, _host_words(hosts))]))
        .issuer_name(authority.subject)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(moment - timedelta(hours=1))
        .not_valid_after(moment + timedelta(days=SERVER_DAYS))
        .add_extension(x509.SubjectAlternativeName(names), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(
            x509.KeyUsage(True, False, False, False, False, False, False, False, False), critical=True
        )
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(
            x509.AuthorityKeyIdentifier.from_issuer_public_key(signer.public_key()), critical=False
        )
        .sign(signer, hashes.SHA256())
    )
    _write_secret(found.key, key)
    found.server.write_bytes(certificate.public_bytes(serialization.Encoding.PEM))
