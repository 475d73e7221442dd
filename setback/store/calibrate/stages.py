"""Depth squares and their readings, and tries of the first layer."""

from __future__ import annotations

import sqlite3

from ..rows import Row, many, marks, one


class DepthSquare(Row):
    id: str
    code: str
    calibration_id: str
    exposure_s: float
    planned_at: str
    gone_at: str | None
    gone_reason: str | None


class DepthReading(Row):
    id: str
    square_id: str
    thicknesses_mm: list[float]
    temp_c: float | None
    note: str
    initials: str
    read_at: str
    supersedes_id: str | None
    reason: str | None


class BaseTry(Row):
    """One try of the first layer."""

    id: str
    code: str
    calibration_id: str
    base_exposure_s: float
    rating: int
    thickness_mm: float | None
    foot_mm: float | None
    above_mm: float | None
    checked: list[str]
    note: str
    initials: str
    tried_at: str
    withdrawn_at: str | None
    withdrawn_reason: str | None


_READING = """SELECT r.id, r.square_id, r.thicknesses_mm, r.temp_c, r.note, t.initials, r.read_at, r.supersedes_id, r.reason
FROM depth_reading r JOIN technician t ON t.id = r.technician_id"""
_TRY = """SELECT b.id, b.code, b.calibration_id, b.base_exposure_s, b.rating, b.thickness_mm, b.foot_mm, b.above_mm, b.checked,
  b.note, t.initials, b.tried_at, b.withdrawn_at, b.withdrawn_reason
FROM base_try b JOIN technician t ON t.id = b.technician_id"""


def squares(db: sqlite3.Connection, calibration_id: str) -> list[DepthSquare]:
    sql = "SELECT * FROM depth_square WHERE calibration_id = ? AND gone_at IS NULL ORDER BY exposure_s, planned_at, id"
    return many(db, DepthSquare, sql, (calibration_id,))


def square(db: sqlite3.Connection, square_id: str) -> DepthSquare | None:
    return one(db, DepthSquare, "SELECT * FROM depth_square WHERE id = ?", (square_id,))


def depth_readings(db: sqlite3.Connection, square_ids: list[str]) -> list[DepthReading]:
    """Every reading of these squares, newest last."""
    return many(
        db,
        DepthReading,
        f"{_READING} WHERE r.square_id IN ({marks(square_ids)}) ORDER BY r.read_at, r.rowid",
        square_ids,
    )


def base_tries(db: sqlite3.Connection, calibration_id: str) -> list[BaseTry]:
    """Tries that count, oldest first."""
    sql = f"{_TRY} WHERE b.calibration_id = ? AND b.withdrawn_at IS NULL ORDER BY b.tried_at, b.rowid"
    return many(db, BaseTry, sql, (calibration_id,))


def base_try(db: sqlite3.Connection, try_id: str) -> BaseTry | None:
    return one(db, BaseTry, f"{_TRY} WHERE b.id = ?", (try_id,))


class Grip(Row):
    """A base exposure that gripped as wanted."""

    base_exposure_s: float
    calibration_code: str


def newest_grip(db: sqlite3.Connection, material_id: str, printer_id: str) -> Grip | None:
    """The newest of a material on a printer."""
    sql = """SELECT b.base_exposure_s, c.code AS calibration_code FROM calibration c JOIN base_try b ON b.calibration_id = c.id
      WHERE c.material_id = ? AND c.printer_id = ? AND b.rating = 3 AND b.withdrawn_at IS NULL ORDER BY b.tried_at DESC LIMIT 1"""
    return one(db, Grip, sql, (material_id, printer_id))


def layer_heights(db: sqlite3.Connection) -> list[float]:
    """Layer heights used in the shop, low to high."""
    sql = "SELECT DISTINCT layer_height_um FROM calibration ORDER BY layer_height_um LIMIT 20"
    return [row[0] for row in db.execute(sql)]


def done(db: sqlite3.Connection, calibration_id: str) -> list[str]:
    """Which of the stages beside the window have a result: two squares measured; a grip as wanted; a
    pass at both places."""
    sql = """SELECT
      (SELECT count(DISTINCT s.exposure_s) FROM depth_square s WHERE s.calibration_id = ? AND s.gone_at IS NULL
        AND EXISTS (SELECT 1 FROM depth_reading r WHERE r.square_id = s.id)),
      (SELECT count(*) FROM base_try b WHERE b.calibration_id = ? AND b.rating = 3 AND b.withdrawn_at IS NULL),
      (SELECT count(DISTINCT f.place) FROM confirmation f WHERE f.calibration_id = ? AND f.finding IS NULL
        AND f.withdrawn_at IS NULL)"""
    squares_read, gripped, places = db.execute(sql, (calibration_id,) * 3).fetchone()
    has_evidence = {"depth": squares_read > 1, "first-layer": gripped > 0, "confirm": places > 1}
    return [name for name, is_done in has_evidence.items() if is_done]
