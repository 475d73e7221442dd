"""Certificates: read and checked before they serve, or made by an authority of the lab's own.

The authority may vouch for the lab's own names and for nothing else (name constraints, RFC 5280 4.2.1.10), so that a phone which trusts
it trusts no page elsewhere because of it.
"""

from __future__ import annotations

import ipaddress
import os
import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

from ..core.people.access import CERTIFICATE_SOON

AUTHORITY_DAYS = 3650
SERVER_DAYS = 397
"""Phones refuse certificates that last longer."""
BACK = timedelta(days=1)
"""A certificate begins this long before it is made: clocks of phones differ."""
_HOST = re.compile(r"(?!-)[a-z0-9-]{1,63}(?<!-)(\.(?!-)[a-z0-9-]{1,63}(?<!-))*")


class Unusable(ValueError):
    """A certificate, a key or a name that cannot serve, and why."""


@dataclass(frozen=True)
class Certificate:
    """A certificate that can serve."""

    file: Path
    key_file: Path
    names: frozenset[str]
    ends: datetime

    def warning(self, now: datetime) -> str | None:
        """That it runs out soon."""
        days = (self.ends - now).days
        return (
            f"The certificate runs out in {days} days, on {self.ends:%Y-%m-%d}."
            if self.ends - now < CERTIFICATE_SOON
            else None
        )


@dataclass(frozen=True)
class Made:
    """Files of an authority and of the certificate it made."""

    authority: Path
    certificate: Path
    key: Path
    is_new_authority: bool
    ends: datetime


def folder_of(database: Path) -> Path:
    """Where the certificates made for a database lie: beside it, never in it or in a copy of it."""
    return database.with_name(f"{database.name}.tls")


def usable(file: Path, key_file: Path, now: datetime) -> Certificate:
    """A certificate with its key, checked.

    Raises
    ------
    Unusable
        When a file is not there or cannot be read, the two do not belong together, or it is not valid now.
    """
    certificate = _certificate(file)
    if _key(key_file).public_key() != certificate.public_key():
        raise Unusable(f"{key_file} is not the key of {file}.")
    begins, ends = certificate.not_valid_before_utc, certificate.not_valid_after_utc
    if now > ends:
        raise Unusable(f"The certificate {file} ran out on {ends:%Y-%m-%d}. Make a new one: setback tls-certificate.")
    if now < begins:
        raise Unusable(
            f"The certificate {file} is not valid before {begins:%Y-%m-%d %H:%M} UTC. Is this machine's clock right?"
        )
    return Certificate(file, key_file, frozenset(_names(certificate)), ends)


def _certificate(file: Path) -> x509.Certificate:
    try:
        return x509.load_pem_x509_certificate(file.read_bytes())
    except OSError as error:
        raise Unusable(f"{file} cannot be read ({error.strerror}).") from None
    except ValueError:
        raise Unusable(f"{file} is no certificate in PEM form.") from None


def _key(file: Path) -> ec.EllipticCurvePrivateKey:
    """Any kind of key; the ones made here are of an elliptic curve."""
    try:
        return serialization.load_pem_private_key(file.read_bytes(), password=None)  # type: ignore[return-value]
    except OSError as error:
        raise Unusable(f"{file} cannot be read ({error.strerror}).") from None
    except (ValueError, TypeError):
        raise Unusable(f"{file} is no key in PEM form without a password.") from None


def _names(certificate: x509.Certificate) -> list[str]:
    """Host names and addresses it is for."""
    try:
        stated = certificate.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    except x509.ExtensionNotFound:
        return []
    addresses = [str(address) for address in stated.get_values_for_type(x509.IPAddress)]
    return [name.lower() for name in stated.get_values_for_type(x509.DNSName)] + addresses


def make(folder: Path, names: Sequence[str], lab: str, now: datetime, *, new_authority: bool = False) -> Made:
    """Make a certificate for names and addresses, by the authority in a folder; that is made where there is none.

    Parameters
    ----------
    folder : Path
        Where the files lie.
    names : sequence of str
        Host names (``bench.local``) and addresses (``192.168.7.20``).
    lab : str
        The lab's name: it stands in the authority, so that it is found again on a phone.
    now : datetime
        With a time zone.
    new_authority : bool
        Make another authority: every phone has to be told anew.

    Raises
    ------
    Unusable
        When a name is none, or the authority is not for all of these names, or it ran out.
    """
    general = [_general_name(name) for name in names]
    if not general:
        raise Unusable("Name what phones open: a host name such as bench.local, or an address such as 192.168.7.20.")
    folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    authority_file, authority_key_file = folder / "authority.pem", folder / "authority.key"
    is_new = new_authority or not authority_file.exists()
    if is_new:
        authority_key = ec.generate_private_key(ec.SECP256R1())
        authority = _authority(authority_key, general, lab, now)
        _keep_key(authority_key_file, authority_key)
        authority_file.write_bytes(authority.public_bytes(serialization.Encoding.PEM))
    else:
        authority, authority_key = _certificate(authority_file), _key(authority_key_file)
        _must_cover(authority, names, now)
    key = ec.generate_private_key(ec.SECP256R1())
    ends = min(now + timedelta(days=SERVER_DAYS), authority.not_valid_after_utc)
    server = _server(key, general, authority, authority_key, now, ends)
    _keep_key(folder / "server.key", key)
    (folder / "server.pem").write_bytes(server.public_bytes(serialization.Encoding.PEM))
    return Made(authority_file, folder / "server.pem", folder / "server.key", is_new, ends)


def _general_name(name: str) -> x509.GeneralName:
    try:
        return x509.IPAddress(ipaddress.ip_address(name))
    except ValueError:
        pass
    if not _HOST.fullmatch(name.lower()) or len(name) > 253 or name.replace(".", "").isdigit():
        raise Unusable(f"{name} is neither a host name nor an address.")
    return x509.DNSName(name.lower())


def _authority(
    key: ec.EllipticCurvePrivateKey, names: Sequence[x509.GeneralName], lab: str, now: datetime
) -> x509.Certificate:
    title = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, f"{lab or 'Lab'} Setback authority"[:64])])
    permitted = [
        x509.IPAddress(ipaddress.ip_network(name.value)) if isinstance(name, x509.IPAddress) else name for name in names
    ]
    # A kind of name that none is permitted of is not constrained at all: it is excluded whole.
    excluded: list[x509.GeneralName] = []
    if not any(isinstance(name, x509.DNSName) for name in names):
        excluded.append(x509.DNSName(""))
    if not any(isinstance(name, x509.IPAddress) for name in names):
        excluded += [x509.IPAddress(ipaddress.ip_network(every)) for every in ("0.0.0.0/0", "::/0")]
    return (
        _begun(title, title, key, now, now + timedelta(days=AUTHORITY_DAYS))
        .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
        .add_extension(_usage(signs=True), critical=True)
        .add_extension(x509.NameConstraints(permitted, excluded or None), critical=True)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .sign(key, hashes.SHA256())
    )


def _server(
    key: ec.EllipticCurvePrivateKey,
    names: Sequence[x509.GeneralName],
    authority: x509.Certificate,
    authority_key: ec.EllipticCurvePrivateKey,
    now: datetime,
    ends: datetime,
) -> x509.Certificate:
    # No name of a host: where a certificate has none among its alternatives, one here would be held against the constraints.
    title = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "Setback server")])
    return (
        _begun(title, authority.subject, key, now, ends)
        .add_extension(x509.SubjectAlternativeName(names), critical=False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
        .add_extension(_usage(signs=False), critical=True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .add_extension(x509.AuthorityKeyIdentifier.from_issuer_public_key(authority_key.public_key()), critical=False)
        .sign(authority_key, hashes.SHA256())
    )


def _begun(
    subject: x509.Name, issuer: x509.Name, key: ec.EllipticCurvePrivateKey, now: datetime, ends: datetime
) -> x509.CertificateBuilder:
    return (
        x509.CertificateBuilder()
        .subject_name(subject)
        .issuer_name(issuer)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - BACK)
        .not_valid_after(ends)
    )


def _usage(*, signs: bool) -> x509.KeyUsage:
    return x509.KeyUsage(
        digital_signature=not signs,
        key_cert_sign=signs,
        crl_sign=signs,
        content_commitment=False,
        key_encipherment=False,
        data_encipherment=False,
        key_agreement=False,
        encipher_only=False,
        decipher_only=False,
    )


def _must_cover(authority: x509.Certificate, names: Sequence[str], now: datetime) -> None:
    """That an authority may vouch for names, and is valid still."""
    if now > authority.not_valid_after_utc:
        raise Unusable("The lab's authority ran out. Make a new one with --new-authority, and tell every phone anew.")
    permitted = authority.extensions.get_extension_for_class(x509.NameConstraints).value.permitted_subtrees or []
    permitted_names = {str(name.value).removesuffix("/32").removesuffix("/128") for name in permitted}
    strangers = [name for name in names if name.lower() not in permitted_names]
    if strangers:
        raise Unusable(
            f"The lab's authority vouches for {', '.join(sorted(permitted_names))} alone, not for {', '.join(strangers)}. "
            "Make a new one with --new-authority, and tell every phone anew."
        )


def _keep_key(file: Path, key: ec.EllipticCurvePrivateKey) -> None:
    """Write a key for its owner's eyes alone."""
    file.unlink(missing_ok=True)
    with os.fdopen(os.open(file, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "wb") as target:
        target.write(
            key.private_bytes(
                serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
            )
        )
