"""Answers to requests that may be repeated, by the key of the request; a key is kept for good, its answer for some days."""

from __future__ import annotations

import sqlite3
from typing import Any

from ..rows import Row, insert, one


class Request(Row):
    """A request that was done: what it asked, by its hash, and what it was answered while that is kept."""

    content: bytes
    answer: dict[str, Any] | None
    at: str


def request(db: sqlite3.Connection, key: str) -> Request | None:
    """The request with a key, or None."""
    return one(db, Request, "SELECT content, answer, at FROM request WHERE key = ?", (key,))


def keep(db: sqlite3.Connection, key: str, content: bytes, answer: Any, at: str) -> None:
    """Keep what a request asked and was answered."""
    insert(db, "request", key=key, content=content, answer=answer, at=at)


def expire(db: sqlite3.Connection, before: str) -> int:
    """Let answers go that are older than a time; how many. Their keys stay, so that nothing is done twice."""
    return db.execute("UPDATE request SET answer = NULL WHERE answer IS NOT NULL AND at < ?", (before,)).rowcount
