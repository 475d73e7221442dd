"""Prints as they were logged, what was checked before them, and the gates they leave behind."""

from __future__ import annotations

import sqlite3

from ..rows import Row, many, one
from ..terms import ConfirmPlace, Occasion, TempPlace


class Gate(Row):
    """A print that holds up the next one on its printer."""

    kind: str
    id: str
    code: str
    printer: str
    printed_at: str


class LastTemperature(Row):
    """How warm the start of a print was."""

    code: str
    temp_c: float
    temp_place: TempPlace
    printed_at: str


class Preparation(Row):
    id: str
    occasion: Occasion
    ticked: list[str]
    skipped: bool
    initials: str
    at: str


def gates(db: sqlite3.Connection, printer_id: str | None = None) -> list[Gate]:
    """Prints that left parts missing while nobody searched the vat, and such with the lift still suppressed; oldest first.

    Both indexes hold the few that wait; without them every print of a printer is looked at.
    """
    sql = """SELECT 'vat' AS kind, p.id, p.code, r.name AS printer, p.printed_at FROM print p INDEXED BY print_vat_gate
        JOIN printer r ON r.id = p.printer_id
      WHERE p.outcome IN ('missing parts', 'failed') AND p.pieces_lost = 1 AND p.status = 'printed' AND p.searched_at IS NULL
        AND (:printer IS NULL OR p.printer_id = :printer)
      UNION ALL SELECT 'lift', p.id, p.code, r.name, p.printed_at FROM print p INDEXED BY print_lift_gate
        JOIN printer r ON r.id = p.printer_id
      WHERE p.lift_suppressed = 1 AND p.lift_back_at IS NULL AND p.status = 'printed'
        AND (:printer IS NULL OR p.printer_id = :printer)
      ORDER BY 5"""
    return many(db, Gate, sql, {"printer": printer_id})


def last_temperature(db: sqlite3.Connection, printer_id: str, since: str) -> LastTemperature | None:
    """What was noted at the start of the newest print on this printer since a time."""
    sql = """SELECT code, temp_c, temp_place, printed_at FROM print
      WHERE printer_id = ? AND temp_c IS NOT NULL AND printed_at >= ? AND status = 'printed'
      ORDER BY printed_at DESC LIMIT 1"""
    return one(db, LastTemperature, sql, (printer_id, since))


def latest_preparation(db: sqlite3.Connection, calibration_id: str, occasion: str) -> Preparation | None:
    """The newest one; of prints only while no print of the campaign came out after it."""
    sql = """SELECT q.id, q.occasion, q.ticked, q.skipped, t.initials, q.at FROM preparation q
      JOIN technician t ON t.id = q.technician_id WHERE q.calibration_id = ? AND q.occasion = ?
        AND (q.occasion = 'campaign' OR NOT EXISTS (SELECT 1 FROM print p JOIN arm a ON a.id = p.arm_id
          WHERE a.calibration_id = q.calibration_id AND p.printed_at > q.at))
      ORDER BY q.at DESC, q.rowid DESC LIMIT 1"""
    return one(db, Preparation, sql, (calibration_id, occasion))


class Checked(Row):
    """Who checked everything before a print, and when."""

    initials: str
    at: str


def checked_today(db: sqlite3.Connection, printer_id: str, now: str) -> Checked | None:
    """The newest full check before a print on a printer, of the same day."""
    sql = """SELECT t.initials, q.at FROM preparation q JOIN calibration c ON c.id = q.calibration_id
      JOIN technician t ON t.id = q.technician_id
      WHERE c.printer_id = ? AND q.occasion = 'print' AND q.skipped = 0 AND q.at >= ? ORDER BY q.at DESC LIMIT 1"""
    return one(db, Checked, sql, (printer_id, now[:10]))


class Confirmation(Row):
    """One confirming print."""

    id: str
    code: str
    calibration_id: str
    arm_id: str
    exposure_s: float
    place: ConfirmPlace
    what: str
    finding: str | None
    note: str
    outside_reason: str | None
    initials: str
    confirmed_at: str
    withdrawn_at: str | None


_CONFIRMATION = """SELECT f.id, f.code, f.calibration_id, f.arm_id, f.exposure_s, f.place, f.what, f.finding, f.note,
  f.outside_reason, t.initials, f.confirmed_at, f.withdrawn_at
FROM confirmation f JOIN technician t ON t.id = f.technician_id"""


def confirmations(db: sqlite3.Connection, calibration_id: str) -> list[Confirmation]:
    sql = f"{_CONFIRMATION} WHERE f.calibration_id = ? AND f.withdrawn_at IS NULL ORDER BY f.confirmed_at, f.rowid"
    return many(db, Confirmation, sql, (calibration_id,))


def confirmation(db: sqlite3.Connection, confirmation_id: str) -> Confirmation | None:
    return one(db, Confirmation, f"{_CONFIRMATION} WHERE f.id = ?", (confirmation_id,))
