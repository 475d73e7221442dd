"""Entries of today's list that were put off or dismissed."""

from __future__ import annotations

import sqlite3

from ..rows import Row, many


class PutOff(Row):
    """An entry by its key: until which day, or dismissed as long as it says the same."""

    task: str
    until: str | None
    detail: str
    reason: str
    initials: str
    at: str


def put_off(db: sqlite3.Connection) -> list[PutOff]:
    """Everything that was put off, the newest first."""
    sql = """SELECT p.task, p.until, p.detail, p.reason, t.initials, p.at FROM put_off p
      JOIN technician t ON t.id = p.technician_id ORDER BY p.at DESC"""
    return many(db, PutOff, sql)


def keep(db: sqlite3.Connection, task: str, until: str | None, detail: str, reason: str, by: str, at: str) -> None:
    """Put an entry off, anew where it was before."""
    sql = "INSERT OR REPLACE INTO put_off (task, until, detail, reason, technician_id, at) VALUES (?, ?, ?, ?, ?, ?)"
    db.execute(sql, (task, until, detail, reason, by, at))


def forget(db: sqlite3.Connection, task: str) -> None:
    """Show an entry again."""
    db.execute("DELETE FROM put_off WHERE task = ?", (task,))
