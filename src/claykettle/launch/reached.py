"""Where the house is reached: the machine's addresses and names, and a certificate of its own."""

from __future__ import annotations

import ipaddress
import socket
from contextlib import suppress
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import NameOID

LASTS = timedelta(days=825)
"""As long as browsers believe a certificate that a machine made for itself."""


def addresses(host: str) -> list[str]:
    """The addresses of this machine at which a server that listens on `host` is reached, the likeliest first."""
    if host not in ("0.0.0.0", "::"):  # asked about, not bound to
        return [host]
    found: list[str] = []
    for family, outside in ((socket.AF_INET, "192.0.2.1"), (socket.AF_INET6, "2001:db8::1")):
        if family is socket.AF_INET6 and host != "::":
            continue
        with socket.socket(family, socket.SOCK_DGRAM) as probe:
            try:
                # nothing is sent: the system only says by which of its addresses it would
                probe.connect((outside, 9))
                found.append(str(probe.getsockname()[0]))
            except OSError:
                continue
    with suppress(OSError):
        found += [str(row[4][0]) for row in socket.getaddrinfo(socket.gethostname(), None, socket.AF_INET)]
    return list(dict.fromkeys([*found, "127.0.0.1"]))


def names() -> list[str]:
    """What this machine is called in its network."""
    own = socket.gethostname()
    return [own, f"{own}.local"] if own and "." not in own else [own] if own else []


def own_certificate(folder: Path, hosts: list[str]) -> tuple[Path, Path]:
    """A certificate that this machine made for itself, kept; made anew where it ends within 30 days or lacks a host."""
    certificate, key = folder / "certificate.pem", folder / "key.pem"
    if certificate.exists() and key.exists() and _still_holds(certificate, hosts):
        return certificate, key
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    secret = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Clay Kettle")])
    now = datetime.now(UTC)
    made = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(secret.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + LASTS)
        .add_extension(x509.SubjectAlternativeName([_name(host) for host in hosts]), critical=False)
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .sign(secret, hashes.SHA256())
    )
    key.touch(mode=0o600)
    key.write_bytes(
        secret.private_bytes(
            serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
        )
    )
    certificate.write_bytes(made.public_bytes(serialization.Encoding.PEM))
    return certificate, key


def fingerprint(certificate: Path) -> str:
    """The certificate's SHA-256 in pairs, as a browser shows it."""
    found = x509.load_pem_x509_certificate(certificate.read_bytes()).fingerprint(hashes.SHA256())
    return found.hex(":").upper()


def _name(host: str) -> x509.GeneralName:
    try:
        return x509.IPAddress(ipaddress.ip_address(host))
    except ValueError:
        return x509.DNSName(host)


def _still_holds(certificate: Path, hosts: list[str]) -> bool:
    try:
        found = x509.load_pem_x509_certificate(certificate.read_bytes())
        known = found.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    except (ValueError, x509.ExtensionNotFound):
        return False
    lasts = found.not_valid_after_utc > datetime.now(UTC) + timedelta(days=30)
    return lasts and {_name(host) for host in hosts} <= set(known)
