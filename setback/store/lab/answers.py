"""Answers to requests that may be repeated, by the key of the request."""

from __future__ import annotations

import json
import sqlite3
from typing import Any

from ..rows import first, insert


def answer(db: sqlite3.Connection, key: str) -> Any:
    """What a request was answered before, or None."""
    stored = first(db, "SELECT answer FROM idempotency WHERE key = ?", (key,))
    return None if stored is None else json.loads(stored)


def keep_answer(db: sqlite3.Connection, key: str, answer: Any, at: str) -> None:
    """Keep an answer for a repeat of the request."""
    insert(db, "idempotency", key=key, answer=json.dumps(answer), at=at)
