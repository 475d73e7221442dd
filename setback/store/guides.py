"""Guides that are followed on a printer, and the steps that were done."""

from __future__ import annotations

import sqlite3

from .rows import Row, many, one


class GuideRun(Row):
    """A guide as it is followed."""

    id: str
    printer_id: str
    guide_key: str
    started_at: str
    ended_at: str | None


class StepDone(Row):
    """A step that was done."""

    step_key: str
    done_at: str
    initials: str | None


def open_run(db: sqlite3.Connection, printer_id: str, guide_key: str) -> GuideRun | None:
    """The guide that is being followed on a printer."""
    sql = "SELECT * FROM guide_run WHERE printer_id = ? AND guide_key = ? AND ended_at IS NULL"
    return one(db, GuideRun, sql, (printer_id, guide_key))


def steps_done(db: sqlite3.Connection, run_id: str) -> list[StepDone]:
    """Steps that were done, in the order they were."""
    sql = """SELECT s.step_key, s.done_at, t.initials FROM guide_step s LEFT JOIN technician t ON t.id = s.technician_id
      WHERE s.run_id = ? ORDER BY s.done_at, s.rowid"""
    return many(db, StepDone, sql, (run_id,))


def undo_step(db: sqlite3.Connection, run_id: str, step_key: str) -> None:
    """Take a tick back."""
    db.execute("DELETE FROM guide_step WHERE run_id = ? AND step_key = ?", (run_id, step_key))
