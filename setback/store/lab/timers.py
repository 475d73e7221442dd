"""Timers that run in the top bar of every screen."""

from __future__ import annotations

import sqlite3

from ..rows import Row, many, one


class Timer(Row):
    """A timer, and the seconds that are left."""

    id: str
    name: str
    seconds: float
    started_at: str
    due_at: str
    place: str | None
    technician_id: str | None
    ended_at: str | None


def running(db: sqlite3.Connection) -> list[Timer]:
    return many(db, Timer, "SELECT * FROM timer WHERE ended_at IS NULL ORDER BY due_at, rowid LIMIT 50")


def timer(db: sqlite3.Connection, timer_id: str) -> Timer | None:
    return one(db, Timer, "SELECT * FROM timer WHERE id = ?", (timer_id,))


def end_at(db: sqlite3.Connection, place: str, at: str) -> None:
    """End what still runs of a page."""
    db.execute("UPDATE timer SET ended_at = ? WHERE place = ? AND ended_at IS NULL", (at, place))


def resume_at(db: sqlite3.Connection, place: str, at: str) -> None:
    """Let run again what :func:`end_at` ended at that moment."""
    db.execute("UPDATE timer SET ended_at = NULL WHERE place = ? AND ended_at = ?", (place, at))
