"""Long work: what waits, what is under way, what came of it."""

from __future__ import annotations

import sqlite3
from typing import Any

from ..rows import Row, one
from ..terms import JobState


class JobRow(Row):
    """A job as it is stored."""

    id: str
    kind: str
    state: JobState
    progress: float
    message: str
    input: dict[str, Any] | None
    result: dict[str, Any] | None
    cancel_asked: bool
    created_at: str
    ended_at: str | None


def job(db: sqlite3.Connection, job_id: str) -> JobRow | None:
    """One job."""
    return one(db, JobRow, "SELECT * FROM job WHERE id = ?", (job_id,))


def claim(db: sqlite3.Connection) -> JobRow | None:
    """The job that has waited longest, taken out of the queue in the same step: nobody else gets it."""
    sql = """UPDATE job SET state = 'running' WHERE id =
      (SELECT id FROM job WHERE state = 'queued' ORDER BY created_at, rowid LIMIT 1) RETURNING *"""
    return one(db, JobRow, sql)


def cut_off(db: sqlite3.Connection) -> None:
    """Jobs found running when the server starts were cut off: they failed."""
    db.execute("UPDATE job SET state = 'failed', message = 'The server stopped.' WHERE state = 'running'")
