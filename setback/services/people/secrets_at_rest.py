"""How passwords, PINs and the secrets of browsers are kept: as hashes that cannot be turned back."""

from __future__ import annotations

import hashlib
import secrets
from functools import cache
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from argon2 import PasswordHasher

SECRET_BYTES = 32


@cache
def _hasher() -> PasswordHasher:
    from argon2 import PasswordHasher
    from argon2.profiles import RFC_9106_LOW_MEMORY

    return PasswordHasher.from_parameters(RFC_9106_LOW_MEMORY)


def new_secret() -> str:
    """A secret nobody can guess, for a browser to send with each request."""
    return secrets.token_urlsafe(SECRET_BYTES)


def seal(secret: str) -> str:
    """The hash of a secret that was drawn at random: no slow one is needed."""
    return hashlib.sha256(secret.encode()).hexdigest()


def hashed(word: str) -> str:
    """argon2id of a word somebody chose (RFC 9106), with its own salt."""
    return _hasher().hash(word)


@cache
def _of_nobody() -> str:
    return hashed(new_secret())


def fits(word: str, stored: str | None) -> bool:
    """Whether a word is the one that was hashed; takes as long where there is nothing to compare it with."""
    from argon2.exceptions import Argon2Error, InvalidHashError

    try:
        return _hasher().verify(stored or _of_nobody(), word) and stored is not None
    except (Argon2Error, InvalidHashError):
        return False
