"""The lab's key: it signs the journal and certificates, and lies in a file of its own, never in the database or a copy of it.

Whoever has the database alone can read everything and sign nothing. The public half of each key the lab ever had stands in the
database, so that what it signed can be checked by anybody.
"""

from __future__ import annotations

import hashlib
import os
import sqlite3
from dataclasses import dataclass
from datetime import UTC
from pathlib import Path

from cryptography.exceptions import InvalidSignature
from cryptography.hazmat.primitives import serialization
from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey, Ed25519PublicKey

from .rows import Row, insert, many
from .touched import Recorded

SETTING = "SETBACK_KEY"
"""The environment's name for a key file elsewhere, such as on a stick."""


class NoKey(RuntimeError):
    """A key file cannot be used."""


class LabKey(Row):
    """The public half of a key, since when it signs, and why there is a new one."""

    id: str
    public: bytes
    at: str
    reason: str
    vouched: bytes | None


@dataclass(frozen=True)
class Signer:
    """A private key in memory with the name of its public half."""

    id: str
    private: Ed25519PrivateKey

    @property
    def public(self) -> bytes:
        """The 32 bytes anybody may have."""
        return self.private.public_key().public_bytes_raw()

    def sign(self, content: bytes) -> bytes:
        """64 bytes that only this key makes of this content (Ed25519, RFC 8032)."""
        return self.private.sign(content)


def key_file(path: Path) -> Path:
    """Where the key of a database lies: beside it, unless the environment names another place."""
    elsewhere = os.environ.get(SETTING)
    return Path(elsewhere) if elsewhere else path.with_name(f"{path.name}.key")


def signer(db: Recorded) -> Signer | None:
    """The key that signs for this database, in its transaction; made on first use, and its public half kept in the database.

    Where the file is gone a new key is begun and said to be so: what the lost one signed can still be checked.
    None for a database in memory.
    """
    if db.signer is None:
        path = Path(db.execute("PRAGMA database_list").fetchone()[2])
        if not path.name:
            return None
        db.signer = _read(key_file(path)) or make(key_file(path))
    if not _is_newest(db, db.signer.id):
        _enter(db, db.signer, "lost" if public_keys(db) else "first", None)
    return db.signer


def known_signer(db: Recorded) -> Signer | None:
    """The key of this machine where it is the one that signs for this database now; nothing is made or written for it."""
    if db.signer is None:
        path = Path(db.execute("PRAGMA database_list").fetchone()[2])
        db.signer = _read(key_file(path)) if path.name else None
    return db.signer if db.signer is not None and _is_newest(db, db.signer.id) else None


def rotate(db: Recorded) -> tuple[Signer, Path]:
    """A new key in the place of the old one, which vouches for it; in the caller's transaction. The old file is kept under its name."""
    old = signer(db)
    path = key_file(Path(db.execute("PRAGMA database_list").fetchone()[2]))
    if old is None:
        raise NoKey("A database in memory has no key.")
    old_file = path.with_name(f"{path.name}.{old.id}")
    os.replace(path, old_file)
    new = make(path)
    db.signer = new
    _enter(db, new, "rotated", old.sign(new.public))
    return new, old_file


def public_keys(db: sqlite3.Connection) -> list[LabKey]:
    """Every key the lab ever signed with, in their order."""
    return many(db, LabKey, "SELECT * FROM lab_key ORDER BY rowid")


def is_signed(public: bytes, content: bytes, signature: bytes) -> bool:
    """Whether the private half of a key signed this content."""
    try:
        Ed25519PublicKey.from_public_bytes(public).verify(signature, content)
    except (InvalidSignature, ValueError):
        return False
    return True


def name_of(public: bytes) -> str:
    """What a key is called: sixteen digits of its hash, short enough to be compared by eye."""
    return hashlib.sha256(public).hexdigest()[:16]


def _is_newest(db: sqlite3.Connection, key_id: str) -> bool:
    row = db.execute("SELECT id FROM lab_key ORDER BY rowid DESC LIMIT 1").fetchone()
    return row is not None and row[0] == key_id


def _enter(db: Recorded, key: Signer, reason: str, vouched: bytes | None) -> None:
    at = db.moment().astimezone(UTC).strftime("%Y-%m-%dT%H:%M:%SZ")
    if db.execute("SELECT 1 FROM lab_key WHERE id = ?", (key.id,)).fetchone():
        raise NoKey(f"The key {key.id} was replaced by a newer one. Put the newer key file in its place.")
    insert(db, "lab_key", id=key.id, public=key.public, at=at, reason=reason, vouched=vouched)


def _read(path: Path) -> Signer | None:
    if not path.exists():
        return None
    try:
        private = serialization.load_pem_private_key(path.read_bytes(), password=None)
    except (OSError, ValueError, TypeError) as error:
        raise NoKey(
            f"{path} cannot be read as a key ({error}). Put the lab's key there, or move the file away."
        ) from None
    if not isinstance(private, Ed25519PrivateKey):
        raise NoKey(f"{path} holds a key of another kind. Put the lab's key there, or move the file away.")
    return _signer(private)


def make(path: Path) -> Signer:
    """A new key in a file that only its owner may read."""
    private = Ed25519PrivateKey.generate()
    pem = private.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )
    handle = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    with os.fdopen(handle, "wb") as file:
        file.write(pem)
        file.flush()
        os.fsync(file.fileno())
    return _signer(private)


def _signer(private: Ed25519PrivateKey) -> Signer:
    return Signer(name_of(private.public_key().public_bytes_raw()), private)
