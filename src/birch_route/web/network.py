"""On the workshop's network, only where it is asked for: allowed names, and a certificate of the shop's own."""

from __future__ import annotations

import ipaddress
import os
import re
import ssl
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

from ..core.errors import InputError

HERE = ("127.0.0.1", "localhost")
GOOD_FOR = timedelta(days=397)  # what browsers take of a certificate of one's own
AGAIN_BEFORE = timedelta(days=30)
MOST_NAMES = 10
_NAME = re.compile(r"^(?=.{1,80}$)[a-z0-9]([a-z0-9-]*[a-z0-9])?(\.[a-z0-9]([a-z0-9-]*[a-z0-9])?)*$")


@dataclass(frozen=True)
class Network:
    """How a shop is reached: by which names, with which certificate. None of it: on this machine only."""

    names: tuple[str, ...] = ()
    bind: str = "127.0.0.1"
    certificate: Path | None = None
    key: Path | None = None

    @property
    def hosts(self) -> tuple[str, ...]:
        """Names a request may be for."""
        return (*HERE, *self.names)

    @property
    def scheme(self) -> str:
        return "https" if self.certificate else "http"


HERE_ONLY = Network()


@dataclass(frozen=True)
class Trust:
    """What another device is asked to trust: the certificate's print as its browser shows it, and its last day."""

    names: tuple[str, ...]
    fingerprint: str
    until: str


def network_for(names: str, bind: str, folder: Path) -> Network:
    """Return the network a shop is opened to, with its certificate, made where there is none that fits.

    Args:
        names: with commas; empty: this machine only. folder: where the certificate and its key are kept.

    Raises:
        InputError: a name or address that cannot be, or a certificate that cannot be read.
    """
    if not names.strip():
        return Network()
    wanted = tuple(dict.fromkeys(n.strip().lower() for n in names.split(",") if n.strip()))
    if len(wanted) > MOST_NAMES:
        words = f"{len(wanted)} names are more than {MOST_NAMES}. Name those the tablets use."
        raise InputError(words, where="--network")
    for name in wanted:
        if not _address(name) and not _NAME.match(name):
            raise InputError(
                f"“{name}” is no name or address a tablet could use. Type names with commas, like "
                f"--network birch.local,192.168.1.20.",
                where="--network",
            )
    if not _address(bind):
        raise InputError(f"“{bind}” is no address of this machine.", where="--bind")
    certificate, key = folder / "certificate.pem", folder / "certificate.key"
    if not _fits(certificate, key, wanted):
        _make(certificate, key, wanted)
    return Network(wanted, bind, certificate, key)


def trust_of(network: Network) -> Trust | None:
    """Return what a tablet is asked to trust; None where the shop is on no network."""
    if network.certificate is None:
        return None
    one = x509.load_pem_x509_certificate(network.certificate.read_bytes())
    parts = one.fingerprint(hashes.SHA256()).hex().upper()
    printed = ":".join(parts[k : k + 2] for k in range(0, len(parts), 2))
    return Trust(network.names, printed, one.not_valid_after_utc.date().isoformat())


def _address(text: str) -> bool:
    try:
        ipaddress.ip_address(text)
    except ValueError:
        return False
    return True


def _alternatives(names: tuple[str, ...]) -> list[x509.GeneralName]:
    return [
        x509.IPAddress(ipaddress.ip_address(n)) if _address(n) else x509.DNSName(n) for n in (*HERE, *names)
    ]


def _fits(certificate: Path, key: Path, names: tuple[str, ...]) -> bool:
    """Return whether a certificate is there that names all and lasts; refuse one that is broken."""
    if not certificate.exists() or not key.exists():
        return False
    try:
        one = x509.load_pem_x509_certificate(certificate.read_bytes())
        ssl.create_default_context(ssl.Purpose.CLIENT_AUTH).load_cert_chain(certificate, key)
        there = one.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    except (ValueError, OSError, x509.ExtensionNotFound) as exc:
        raise InputError(
            f"The certificate at {certificate} cannot be read. Move it away, and a new one is made; every tablet is "
            f"then asked to trust the new one.",
            where="--network",
        ) from exc
    lasts = one.not_valid_after_utc - datetime.now(UTC) > AGAIN_BEFORE
    return lasts and set(there) == set(_alternatives(names))


def _make(certificate: Path, key: Path, names: tuple[str, ...]) -> None:
    """Write a certificate the shop signs itself, and its key for its owner only."""
    private = ec.generate_private_key(ec.SECP256R1())
    called = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, f"Birch Route, {names[0]}"[:64])])
    now = datetime.now(UTC)
    one = (
        x509.CertificateBuilder()
        .subject_name(called)
        .issuer_name(called)
        .public_key(private.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(hours=1))
        .not_valid_after(now + GOOD_FOR)
        .add_extension(x509.SubjectAlternativeName(_alternatives(names)), critical=False)
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .sign(private, hashes.SHA256())
    )
    certificate.parent.mkdir(parents=True, exist_ok=True)
    secret = private.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )
    with os.fdopen(os.open(key, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600), "wb") as out:
        out.write(secret)
    certificate.write_bytes(one.public_bytes(serialization.Encoding.PEM))
