"""Short codes people meet: unique in the lab and never used again."""

from __future__ import annotations

import sqlite3

# No letter that is easily taken for a digit or another letter.
_CHECK_LETTERS = "ACDEFHJKLMNPRTUVWXY"


def next_code(db: sqlite3.Connection, prefix: str) -> str:
    """The next code such as ``C-014``. Call inside a write transaction."""
    return f"{prefix}-{_count(db, prefix):03d}"


def next_coupon_code(db: sqlite3.Connection) -> str:
    """A number with a check letter, such as ``107K``: starts with a digit, so it can be typed anywhere."""
    number = 100 + _count(db, "coupon")
    return f"{number}{check_letter(number)}"


def check_letter(number: int) -> str:
    """Letter that a mistyped digit or two swapped neighbours change (weighted sum modulo 19)."""
    total = sum((i + 2) * int(digit) for i, digit in enumerate(reversed(str(number))))
    return _CHECK_LETTERS[total % len(_CHECK_LETTERS)]


def _count(db: sqlite3.Connection, prefix: str) -> int:
    row = db.execute(
        "INSERT INTO code_counter (prefix, last) VALUES (?, 1) "
        "ON CONFLICT (prefix) DO UPDATE SET last = last + 1 RETURNING last",
        (prefix,),
    ).fetchone()
    return int(row[0])
