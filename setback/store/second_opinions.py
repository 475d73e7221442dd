"""Queries of questions to other workshops, and of the opinions that came back."""

from __future__ import annotations

import sqlite3
from typing import Any

from .rows import Row, many, marks, one


class Question(Row):
    """A question about a calibration."""

    id: str
    code: str
    calibration_id: str
    arm_id: str
    text: str
    with_names: bool
    initials: str
    asked_at: str


class Opinion(Row):
    """What another workshop said."""

    id: str
    question_id: str
    workshop: str
    initials: str
    note: str
    readings: list[dict[str, Any]]
    made_at: str
    received_by: str
    received_at: str


_QUESTION = "SELECT q.*, t.initials FROM question q JOIN technician t ON t.id = q.technician_id"


def question(db: sqlite3.Connection, id_or_code: str) -> Question | None:
    """One question."""
    return one(db, Question, f"{_QUESTION} WHERE ? IN (q.id, q.code)", (id_or_code,))


def questions(db: sqlite3.Connection, calibration_id: str) -> list[Question]:
    """Those about a calibration, the newest first."""
    return many(
        db, Question, f"{_QUESTION} WHERE q.calibration_id = ? ORDER BY q.asked_at DESC, q.code DESC", (calibration_id,)
    )


def opinions(db: sqlite3.Connection, question_ids: list[str]) -> list[Opinion]:
    """Those that stand, in the order they came."""
    sql = f"""SELECT o.id, o.question_id, o.workshop, o.initials, o.note, o.readings, o.made_at, t.initials AS received_by, o.received_at
      FROM opinion o JOIN technician t ON t.id = o.technician_id
      WHERE o.withdrawn_at IS NULL AND o.question_id IN ({marks(question_ids)}) ORDER BY o.received_at, o.rowid"""
    return many(db, Opinion, sql, question_ids)


def has_file(db: sqlite3.Connection, sha256: str) -> bool:
    """Whether an opinion's file came already."""
    return db.execute("SELECT 1 FROM opinion WHERE file_sha256 = ?", (sha256,)).fetchone() is not None
