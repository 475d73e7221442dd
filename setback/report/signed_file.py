"""A file that carries its own signature behind its last byte, so that it can be checked without any database.

The line is a comment in PDF, so that every reader opens the file as before. It is signed together with all that stands before it.
"""

from __future__ import annotations

import base64
import binascii
import re
from collections.abc import Callable
from dataclasses import dataclass

_LINE = re.compile(
    rb"\n%Setback: journal (?P<head>\d{1,15}:[0-9a-f]{16}) key (?P<public>[A-Za-z0-9+/=]{44}) "
    rb"signature (?P<signature>[A-Za-z0-9+/=]{88})\n\Z"
)
LONGEST = 400
"""Bytes within which the line lies, at the end of a file."""


class NotSigned(Exception):
    """A file carries no signature at its end."""


@dataclass(frozen=True)
class Signed:
    """What stands at the end of a file, and the bytes it speaks for."""

    content: bytes
    head: str
    public: bytes
    signature: bytes


def with_signature(content: bytes, head: str, public: bytes, sign: Callable[[bytes], bytes]) -> bytes:
    """The file with the journal's head, the public key, and the signature over all of it."""
    signed = content + f"\n%Setback: journal {head} key {base64.b64encode(public).decode()} signature ".encode()
    return signed + base64.b64encode(sign(signed)) + b"\n"


def signature_of(file: bytes) -> Signed:
    """Take the signature off the end of a file.

    Raises
    ------
    NotSigned
        When there is none, or something stands behind it.
    """
    line = _LINE.search(file, max(len(file) - LONGEST, 0))
    if line is None:
        raise NotSigned("It carries no signature at its end: it was never signed, or something was added or cut off.")
    try:
        public, signature = (base64.b64decode(line[part], validate=True) for part in ("public", "signature"))
    except binascii.Error:
        raise NotSigned("The signature at its end cannot be read.") from None
    return Signed(file[: line.start("signature")], line["head"].decode(), public, signature)
