"""Queries of sets of other workshops, and of what sheets claim of materials."""

from __future__ import annotations

import sqlite3
from typing import Any

from pydantic import Field

from .rows import Row, many, marks, one


class TheirSet(Row):
    """A set as another workshop's file has it."""

    code: str
    material: str
    printer: str
    light_engine: str | None
    pixel_um: float | None
    layer_height_um: float
    exposure_s: float
    settings: dict[str, Any]
    lower_s: float | None
    upper_s: float | None
    temp_low_c: float | None
    temp_high_c: float | None
    issued_at: str


class BorrowedSet(Row):
    """A set of another workshop, carried to a printer here."""

    id: str
    code: str
    workshop: str
    theirs: TheirSet
    file_sha256: str
    material_id: str
    material: str
    printer_id: str
    printer: str
    layer_height_um: float
    exposure_s: float
    low_s: float
    high_s: float
    log_sd: float
    carried: list[str]
    note: str
    initials: str
    entered_at: str
    withdrawn_at: str | None
    withdrawn_reason: str | None


_SET = """SELECT b.*, m.name AS material, p.name AS printer, t.initials FROM borrowed_set b JOIN material m ON m.id = b.material_id
  JOIN printer p ON p.id = b.printer_id JOIN technician t ON t.id = b.technician_id"""


def borrowed(db: sqlite3.Connection, code: str) -> BorrowedSet | None:
    """One of them, by its code."""
    return one(db, BorrowedSet, f"{_SET} WHERE b.code = ?", (code,))


def borrowed_sets(db: sqlite3.Connection, before: str, limit: int) -> list[BorrowedSet]:
    """Those that stand, entered last first."""
    sql = f"{_SET} WHERE b.withdrawn_at IS NULL AND (? = '' OR b.code < ?) ORDER BY b.code DESC LIMIT ?"
    return many(db, BorrowedSet, sql, (before, before, limit))


def borrowed_count(db: sqlite3.Connection) -> int:
    """How many stand."""
    return int(db.execute("SELECT count(*) FROM borrowed_set WHERE withdrawn_at IS NULL").fetchone()[0])


def borrowed_of(db: sqlite3.Connection, material_id: str, printer_id: str, layer_height_um: float) -> list[BorrowedSet]:
    """Those of a pair at a layer height, the newest first."""
    sql = f"""{_SET} WHERE b.withdrawn_at IS NULL AND b.material_id = ? AND b.printer_id = ? AND b.layer_height_um = ?
      ORDER BY b.entered_at DESC, b.code DESC"""
    return many(db, BorrowedSet, sql, (material_id, printer_id, layer_height_um))


def numbers_at(db: sqlite3.Connection, layer_height_um: float) -> dict[tuple[str, str], list[tuple[float, float]]]:
    """Borrowed exposures at a layer height with the spread of their logarithm, by material and printer."""
    sql = """SELECT material_id, printer_id, exposure_s, log_sd FROM borrowed_set
      WHERE withdrawn_at IS NULL AND layer_height_um = ? ORDER BY code"""
    numbers: dict[tuple[str, str], list[tuple[float, float]]] = {}
    for material_id, printer_id, exposure_s, log_sd in db.execute(sql, (layer_height_um,)):
        numbers.setdefault((str(material_id), str(printer_id)), []).append((float(exposure_s), float(log_sd)))
    return numbers


class Claim(Row):
    """What a sheet claims of a material."""

    id: str
    material_id: str
    property: str
    low: float
    high: float
    layer_height_um: float | None
    source: str
    dated: str | None = Field(description="Day of the sheet")
    note: str
    initials: str
    entered_at: str
    withdrawn_at: str | None


_CLAIM = "SELECT c.*, t.initials FROM claim c JOIN technician t ON t.id = c.technician_id"


def claims(db: sqlite3.Connection, material_id: str) -> list[Claim]:
    """Those that stand, oldest first."""
    sql = (
        f"{_CLAIM} WHERE c.material_id = ? AND c.withdrawn_at IS NULL ORDER BY c.property, c.dated, c.entered_at, c.id"
    )
    return many(db, Claim, sql, (material_id,))


def claim(db: sqlite3.Connection, claim_id: str) -> Claim | None:
    """One of them."""
    return one(db, Claim, f"{_CLAIM} WHERE c.id = ?", (claim_id,))


def sets_here(db: sqlite3.Connection, printer_id: str, material_ids: list[str]) -> dict[tuple[str, float], float]:
    """Newest exposures of materials on a printer, s, by material and layer height."""
    sql = f"""SELECT s.material_id, s.layer_height_um, s.exposure_s FROM newest_set n JOIN parameter_set s ON s.id = n.set_id
      WHERE n.printer_id = ? AND n.material_id IN ({marks(material_ids)})"""
    return {(str(row[0]), float(row[1])): float(row[2]) for row in db.execute(sql, [printer_id, *material_ids])}
