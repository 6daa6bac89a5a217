"""A certificate authority of this shop alone, and a certificate for this machine's names and addresses.

The authority may vouch only for private addresses and for names of this machine: what a device that trusts it
believes about the rest of the world stays as it was. Its key lies beside the data, readable by its owner only.
"""

from __future__ import annotations

import os
import socket
import ssl
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from ipaddress import ip_address, ip_network
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.hazmat.primitives.asymmetric.ec import EllipticCurvePrivateKey
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

FOLDER = "authority"
_CA_DAYS, _LEAF_DAYS, _RENEW_DAYS = 3650, 390, 40
_PRIVATE = tuple(
    ip_network(one)
    for one in ("10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "127.0.0.0/8", "fc00::/7",
                "fe80::/10", "::1/128")
)  # fmt: skip


class AuthorityError(Exception):
    """The shop's authority cannot be used; the message says why and what mends it."""


@dataclass(frozen=True)
class Authority:
    """The shop's authority and this machine's certificate, as files."""

    ca: Path
    certificate: Path
    key: Path
    fingerprint: str
    names: tuple[str, ...]

    def context(self) -> ssl.SSLContext:
        """What a TLS server needs: nothing older than TLS 1.2."""
        context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        context.minimum_version = ssl.TLSVersion.TLSv1_2
        context.load_cert_chain(self.certificate, self.key)
        return context


def names_here(more: Sequence[str] = ()) -> tuple[str, ...]:
    """Names and private addresses by which the shop's devices reach this machine."""
    host = socket.gethostname().split(".")[0].lower()
    found = dict.fromkeys([*more, f"{host}.local", host])
    found |= dict.fromkeys(_addresses())
    return tuple(one for one in found if one)


def _addresses() -> list[str]:
    """Addresses of this machine that devices of the shop can reach."""
    found: dict[str, None] = {}
    for family, target in ((socket.AF_INET, "10.255.255.255"), (socket.AF_INET6, "fc00::1")):
        try:
            with socket.socket(family, socket.SOCK_DGRAM) as probe:
                probe.connect((target, 9))  # sends nothing: it only asks which address would be used
                found[str(probe.getsockname()[0])] = None
        except OSError:
            continue
    try:
        for entry in socket.getaddrinfo(socket.gethostname(), None):
            found[str(entry[4][0]).partition("%")[0]] = None
    except OSError:
        pass
    return [one for one in found if _is_private(one) and not ip_address(one).is_loopback]


def _is_private(text: str) -> bool:
    try:
        address = ip_address(text)
    except ValueError:
        return False
    return any(address.version == one.version and address in one for one in _PRIVATE)


def open_authority(data: Path, names: Sequence[str], *, at: datetime | None = None) -> Authority:
    """The shop's authority, made on first use, and a certificate for these names, renewed when it is due.

    Parameters
    ----------
    data
        Folder of the shop's data.
    names
        Names and addresses of this machine.
    at
        Now; None: by the machine.

    Raises
    ------
    AuthorityError
        Its files cannot be read, or belong to something else.
    """
    now = at or datetime.now(UTC)
    folder = data / FOLDER
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    ca_path, ca_key_path = folder / "ca.pem", folder / "ca.key"
    if not ca_path.exists() or not ca_key_path.exists():
        _make_authority(ca_path, ca_key_path, now)
    try:
        ca = x509.load_pem_x509_certificate(ca_path.read_bytes())
        ca_key = serialization.load_pem_private_key(ca_key_path.read_bytes(), password=None)
    except ValueError as error:
        raise AuthorityError(
            f"{ca_path} or its key is damaged ({error}). Delete the folder {folder}; a new authority is made, and "
            "each device installs that one."
        ) from error
    if not isinstance(ca_key, EllipticCurvePrivateKey) or ca.public_key() != ca_key.public_key():
        raise AuthorityError(f"{ca_path} and its key do not belong together. Delete the folder {folder}.")
    if ca.not_valid_after_utc < now:
        raise AuthorityError(
            f"The shop's authority ran out on {ca.not_valid_after_utc:%d %B %Y}. Delete the folder {folder}; each "
            "device installs the new one."
        )
    certificate, key = folder / "server.pem", folder / "server.key"
    if not _still_good(certificate, key, ca, names, now):
        _make_certificate(certificate, key, ca, ca_key, names, now)
    return Authority(ca_path, certificate, key, fingerprint_of(ca), tuple(names))


def fingerprint_of(certificate: x509.Certificate) -> str:
    """The SHA-256 fingerprint as devices show it: pairs, upper case."""
    return certificate.fingerprint(hashes.SHA256()).hex(":").upper()


def _make_authority(path: Path, key_path: Path, now: datetime) -> None:
    key = ec.generate_private_key(ec.SECP256R1())
    host = socket.gethostname().split(".")[0].lower()
    name = x509.Name(
        [
            x509.NameAttribute(NameOID.ORGANIZATION_NAME, "Elumbra, this shop only"),
            x509.NameAttribute(NameOID.COMMON_NAME, f"Elumbra shop authority on {host}"[:64]),
        ]
    )
    allowed: list[x509.GeneralName] = [x509.DNSName("local"), x509.DNSName(host), x509.DNSName("localhost")]
    allowed += [x509.IPAddress(one) for one in _PRIVATE]
    certificate = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(now + timedelta(days=_CA_DAYS))
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(x509.NameConstraints(permitted_subtrees=allowed, excluded_subtrees=None), critical=True)
        .add_extension(_usage(signs=True), critical=True)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .sign(key, hashes.SHA256())
    )
    _write(key_path, _pem(key), mode=0o600)
    _write(path, certificate.public_bytes(serialization.Encoding.PEM), mode=0o644)


def _make_certificate(
    path: Path,
    key_path: Path,
    ca: x509.Certificate,
    ca_key: EllipticCurvePrivateKey,
    names: Sequence[str],
    now: datetime,
) -> None:
    key = ec.generate_private_key(ec.SECP256R1())
    certificate = (
        x509.CertificateBuilder()
        .subject_name(x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, str(names[0])[:64] if names else "elumbra")]))
        .issuer_name(ca.subject)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(days=1))
        .not_valid_after(min(now + timedelta(days=_LEAF_DAYS), ca.not_valid_after_utc))
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(_usage(signs=False), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(x509.SubjectAlternativeName([_general(one) for one in names]), critical=False)
        .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(ca_key.public_key()), critical=False)
        .sign(ca_key, hashes.SHA256())
    )
    _write(key_path, _pem(key), mode=0o600)
    _write(path, certificate.public_bytes(serialization.Encoding.PEM), mode=0o644)


def _usage(*, signs: bool) -> x509.KeyUsage:
    return x509.KeyUsage(
        digital_signature=not signs, content_commitment=False, key_encipherment=False, data_encipherment=False,
        key_agreement=False, key_cert_sign=signs, crl_sign=signs, encipher_only=False, decipher_only=False,
    )  # fmt: skip


def _general(name: str) -> x509.GeneralName:
    try:
        return x509.IPAddress(ip_address(name))
    except ValueError:
        return x509.DNSName(name)


def _still_good(path: Path, key: Path, ca: x509.Certificate, names: Sequence[str], now: datetime) -> bool:
    """Whether a certificate is this authority's, for all these names, and good for a while yet."""
    if not path.exists() or not key.exists():
        return False
    try:
        certificate = x509.load_pem_x509_certificate(path.read_bytes())
        known = certificate.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
        certificate.verify_directly_issued_by(ca)
        private = serialization.load_pem_private_key(key.read_bytes(), password=None)
    except Exception:
        return False
    if private.public_key() != certificate.public_key():
        return False
    if not certificate.not_valid_before_utc <= now <= certificate.not_valid_after_utc - timedelta(days=_RENEW_DAYS):
        return False
    return {_general(one) for one in names} <= set(known)


def _pem(key: EllipticCurvePrivateKey) -> bytes:
    return key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )  # fmt: skip


def _write(path: Path, content: bytes, *, mode: int) -> None:
    """A file that is there whole or not at all."""
    unfinished = path.with_name(f".{path.name}.{os.getpid()}")
    descriptor = os.open(unfinished, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, mode)
    with os.fdopen(descriptor, "wb") as file:
        file.write(content)
        file.flush()
        os.fsync(file.fileno())
    unfinished.replace(path)
