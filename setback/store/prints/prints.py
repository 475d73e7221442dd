"""Prints as they were logged, what was checked before them, and the gates they leave behind."""

from __future__ import annotations

import sqlite3

from pydantic import Field

from ..rows import Row, many, marks, one
from ..terms import BandSide, ConfirmPlace, Occasion, Outcome, PartOutcome, TempPlace


class OutsideBand(Row):
    """How a print began outside its set's temperature band, and why it went on."""

    side: BandSide
    low_c: float | None = Field(description="The coldest its set is meant for, °C")
    high_c: float | None = Field(description="The warmest its set is meant for, °C")
    exposure_pct: float | None = Field(
        None, description="By how much more or less exposure was expected to be right, %"
    )
    success: float | None = Field(None, description="Share of parts that were expected to come out whole")
    reason: str = Field(description="Why it was printed all the same")


class LoggedPrint(Row):
    """A logged print."""

    id: str
    code: str
    printer_id: str
    printer: str
    material: str | None
    calibration_id: str | None
    calibration_code: str | None
    set_code: str | None
    settings_note: str
    printed_at: str
    temp_c: float | None
    temp_place: TempPlace | None
    temp_end_c: float | None
    outside_band: OutsideBand | None = Field(description="What was said of it, when it began outside its band")
    volume_ml: float
    duration_s: float
    outcome: Outcome | None
    seen: str
    initials: str | None
    searched_at: str | None
    lift_suppressed: bool
    lift_back_at: str | None
    coupons: int
    specimens: int


class PrintedPart(Row):
    """Parts of one kind in a logged print."""

    id: str
    print_id: str
    name: str
    place: str
    outcome: PartOutcome


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


_LOGGED = """
SELECT p.id, p.code, p.printer_id, r.name AS printer, coalesce(m.name, n.name) AS material, c.id AS calibration_id,
  c.code AS calibration_code, s.code AS set_code, p.settings_note, p.printed_at, p.temp_c, p.temp_place, p.temp_end_c, p.outside_band, p.volume_ml,
  p.duration_s, p.outcome, p.seen, t.initials, p.searched_at, p.lift_suppressed, p.lift_back_at,
  (SELECT count(*) FROM coupon k JOIN plate l ON l.id = k.plate_id WHERE l.print_id = p.id) AS coupons,
  (SELECT count(*) FROM specimen e JOIN plate l ON l.id = e.plate_id WHERE l.print_id = p.id) AS specimens
FROM print p JOIN printer r ON r.id = p.printer_id LEFT JOIN arm a ON a.id = p.arm_id
LEFT JOIN calibration c ON c.id = a.calibration_id LEFT JOIN material m ON m.id = c.material_id
LEFT JOIN parameter_set s ON s.id = p.parameter_set_id LEFT JOIN material n ON n.id = s.material_id
LEFT JOIN technician t ON t.id = p.technician_id"""


def logged(db: sqlite3.Connection, before: str, limit: int, failed: bool = False) -> list[LoggedPrint]:
    """Prints that came out, newest first, after the print ``before`` in that order; only those that left parts missing, where
    asked for. Several may have come out in the same second."""
    only = "p.outcome IN ('missing parts', 'failed') AND " if failed else ""
    older = "AND (p.printed_at, p.id) < (SELECT printed_at, id FROM print WHERE id = :before)" if before else ""
    sql = f"""{_LOGGED} WHERE {only}p.status = 'printed' {older}
      ORDER BY p.printed_at DESC, p.id DESC LIMIT :limit"""
    return many(db, LoggedPrint, sql, {"before": before, "limit": limit})


def how_many_logged(db: sqlite3.Connection, failed: bool = False) -> int:
    """Prints that came out; only those that left parts missing, where asked for."""
    only = "outcome IN ('missing parts', 'failed') AND " if failed else ""
    return int(db.execute(f"SELECT count(*) FROM print WHERE {only}status = 'printed'").fetchone()[0])


class DayPrint(Row):
    """A print as a mark on its day."""

    id: str
    code: str
    printer: str
    printed_at: str
    outcome: Outcome | None


def since(db: sqlite3.Connection, moment: str, most: int) -> list[DayPrint]:
    """Prints that came out since a moment, newest first."""
    sql = """SELECT p.id, p.code, r.name AS printer, p.printed_at, p.outcome FROM print p JOIN printer r ON r.id = p.printer_id
      WHERE p.status = 'printed' AND p.printed_at >= ? ORDER BY p.printed_at DESC, p.id DESC LIMIT ?"""
    return many(db, DayPrint, sql, (moment, most))


def newest_at(db: sqlite3.Connection) -> str | None:
    """When the newest print came out."""
    row = db.execute("SELECT max(printed_at) FROM print WHERE status = 'printed'").fetchone()
    return str(row[0]) if row[0] else None


def one_logged(db: sqlite3.Connection, print_id: str) -> LoggedPrint | None:
    return one(db, LoggedPrint, f"{_LOGGED} WHERE p.id = ?", (print_id,))


def parts(db: sqlite3.Connection, print_ids: list[str]) -> list[PrintedPart]:
    return many(
        db, PrintedPart, f"SELECT * FROM print_part WHERE print_id IN ({marks(print_ids)}) ORDER BY rowid", print_ids
    )


def gates(db: sqlite3.Connection, printer_id: str | None = None) -> list[Gate]:
    """Prints that left parts missing while nobody searched the vat, and such with the lift still suppressed; oldest first."""
    sql = """SELECT 'vat' AS kind, p.id, p.code, r.name AS printer, p.printed_at FROM print p
        JOIN printer r ON r.id = p.printer_id
      WHERE p.outcome IN ('missing parts', 'failed') AND p.status = 'printed' AND p.searched_at IS NULL
        AND (:printer IS NULL OR p.printer_id = :printer)
      UNION ALL SELECT 'lift', p.id, p.code, r.name, p.printed_at FROM print p JOIN printer r ON r.id = p.printer_id
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
