"""Queries over gauge studies, and over the corrections that were asked for."""

from __future__ import annotations

import sqlite3
from typing import Literal

from ..rows import Row, many, one


class Study(Row):
    """A gauge study."""

    id: str
    code: str
    measure: Literal["edges", "plug"]
    repeats: int
    tolerance_um: float | None
    note: str
    initials: str
    planned_at: str
    finished_at: str | None
    withdrawn_at: str | None
    withdrawn_reason: str | None
    turns: int
    done: int


class TurnRow(Row):
    """A reading that is to be made, and what it gave once it is."""

    id: str
    study_id: str
    reader: int
    technician_id: str | None
    initials: str | None
    place: int
    coupon_id: str
    code: str
    coupon_place: int
    repeat: int
    reading_id: str | None
    growth_um: float | None
    read_at: str | None


class Correction(Row):
    """A bias that is taken off somebody's readings."""

    id: str
    study_id: str
    study: str
    technician_id: str | None
    initials: str | None
    bias_um: float
    begun_at: str
    begun_by: str


class Ended(Row):
    """A correction with when it ended."""

    id: str
    study_id: str
    ended_at: str | None


class Studied(Row):
    """What the newest finished study of calipers says of them."""

    study_id: str
    code: str


_STUDY = """SELECT s.id, s.code, s.measure, s.repeats, s.tolerance_um, s.note, t.initials, s.planned_at, s.finished_at,
  s.withdrawn_at, s.withdrawn_reason, count(u.id) AS turns, count(r.id) AS done
  FROM gauge_study s JOIN technician t ON t.id = s.technician_id JOIN gauge_turn u ON u.study_id = s.id
  LEFT JOIN gauge_reading r ON r.turn_id = u.id AND r.withdrawn_at IS NULL"""
_TURN = """SELECT u.id, u.study_id, u.reader, u.technician_id, t.initials, u.place, u.coupon_id, c.code, u.coupon_place, u.repeat,
  r.id AS reading_id, r.growth_um, r.read_at
  FROM gauge_turn u JOIN coupon c ON c.id = u.coupon_id LEFT JOIN technician t ON t.id = u.technician_id
  LEFT JOIN gauge_reading r ON r.turn_id = u.id AND r.withdrawn_at IS NULL"""


def study(db: sqlite3.Connection, id_or_code: str) -> Study | None:
    """One study."""
    return one(db, Study, f"{_STUDY} WHERE ? IN (s.id, s.code) GROUP BY s.id", (id_or_code,))


def studies(db: sqlite3.Connection, limit: int) -> list[Study]:
    """The newest first."""
    return many(db, Study, f"{_STUDY} GROUP BY s.id ORDER BY s.planned_at DESC, s.code DESC LIMIT ?", (limit,))


def turns(db: sqlite3.Connection, study_id: str) -> list[TurnRow]:
    """All turns of a study, by reader and in their order."""
    return many(db, TurnRow, f"{_TURN} WHERE u.study_id = ? ORDER BY u.reader, u.place", (study_id,))


def turn(db: sqlite3.Connection, turn_id: str) -> TurnRow | None:
    """One turn."""
    return one(db, TurnRow, f"{_TURN} WHERE u.id = ?", (turn_id,))


def newest_of_calipers(db: sqlite3.Connection) -> Studied | None:
    """The newest finished study of bars and notches that stands."""
    sql = """SELECT id AS study_id, code FROM gauge_study WHERE measure = 'edges' AND finished_at IS NOT NULL AND withdrawn_at IS NULL
      ORDER BY finished_at DESC, rowid DESC LIMIT 1"""
    return one(db, Studied, sql)


def corrections(db: sqlite3.Connection) -> list[Correction]:
    """Those that hold."""
    sql = """SELECT c.id, c.study_id, s.code AS study, c.technician_id, t.initials, c.bias_um, c.begun_at, b.initials AS begun_by
      FROM reader_correction c JOIN gauge_study s ON s.id = c.study_id LEFT JOIN technician t ON t.id = c.technician_id
      JOIN technician b ON b.id = c.begun_by WHERE c.ended_at IS NULL ORDER BY c.begun_at, c.rowid"""
    return many(db, Correction, sql)


def correction(db: sqlite3.Connection, correction_id: str) -> Ended | None:
    """One correction, whether it holds or has ended."""
    return one(db, Ended, "SELECT id, study_id, ended_at FROM reader_correction WHERE id = ?", (correction_id,))
