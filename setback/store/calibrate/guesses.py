"""What first estimates rest on, and guesses kept for the Board."""

from __future__ import annotations

import sqlite3

from ..rows import Row, insert, many, marks
from ..terms import LightEngine


class KnownRow(Row):
    """The newest set of a pair at a layer height, as start-exposure knows it."""

    code: str
    material_id: str
    material: str
    line: str | None
    printer_id: str
    printer: str
    light_engine: LightEngine
    layer_height_um: float
    exposure_s: float
    temp_low_c: float | None
    temp_high_c: float | None


class DepthRow(Row):
    """A measured depth square of a material."""

    material_id: str
    calibration_id: str
    printer_id: str
    code: str
    exposure_s: float
    thicknesses_mm: list[float]


class GuessRow(Row):
    material_id: str
    printer_id: str
    exposure_s: float
    low_s: float
    high_s: float
    basis: str


class Kept(Row):
    """A guess made when a campaign began, beside what it came to."""

    calibration_id: str
    calibration_code: str
    material: str
    printer: str
    layer_height_um: float
    opened_at: str
    guess_s: float
    low_s: float
    high_s: float
    exposure_s: float
    set_code: str


def known(db: sqlite3.Connection) -> list[KnownRow]:
    sql = """
SELECT s.code, s.material_id, m.name AS material, r.line, s.printer_id, p.name AS printer, p.light_engine,
  s.layer_height_um, s.exposure_s, s.temp_low_c, s.temp_high_c
FROM newest_set n JOIN parameter_set s ON s.id = n.set_id JOIN material m ON m.id = s.material_id LEFT JOIN resin r ON r.material_id = s.material_id
JOIN printer p ON p.id = s.printer_id
ORDER BY s.chain"""
    return many(db, KnownRow, sql)


def depths(db: sqlite3.Connection, material_id: str | None = None) -> list[DepthRow]:
    """Newest readings of all depth squares, of one material or all."""
    sql = """
SELECT c.material_id, c.id AS calibration_id, c.printer_id, q.code, q.exposure_s, r.thicknesses_mm
FROM depth_reading r CROSS JOIN depth_square q ON q.id = r.square_id CROSS JOIN calibration c ON c.id = q.calibration_id
WHERE q.gone_at IS NULL AND NOT EXISTS (SELECT 1 FROM depth_reading n WHERE n.supersedes_id = r.id)
  AND (? IS NULL OR c.material_id = ?)
ORDER BY c.opened_at, q.exposure_s"""
    return many(db, DepthRow, sql, (material_id, material_id))


def stamp(db: sqlite3.Connection) -> str:
    """Changes whenever anything a guess rests on does."""
    row = db.execute(
        """SELECT (SELECT coalesce(max(chain), 0) FROM parameter_set),
             (SELECT count(*) || '.' || coalesce(sum(version), 0) FROM material),
             (SELECT count(*) || '.' || coalesce(sum(version), 0) FROM printer),
             (SELECT coalesce(max(rowid), 0) FROM depth_reading),
             (SELECT count(*) FROM depth_square WHERE gone_at IS NOT NULL),
             (SELECT count(*) || '.' || coalesce(max(rowid), 0) FROM borrowed_set WHERE withdrawn_at IS NULL)"""
    ).fetchone()
    return "/".join(str(part) for part in row)


def held_stamp(db: sqlite3.Connection, layer_height_um: float) -> str | None:
    row = db.execute("SELECT stamp FROM guess WHERE layer_height_um = ? LIMIT 1", (layer_height_um,)).fetchone()
    return str(row[0]) if row else None


def replace(db: sqlite3.Connection, layer_height_um: float, guesses: list[GuessRow], at_stamp: str) -> None:
    db.execute("DELETE FROM guess WHERE layer_height_um = ?", (layer_height_um,))
    for g in guesses:
        insert(
            db,
            "guess",
            layer_height_um=layer_height_um,
            material_id=g.material_id,
            printer_id=g.printer_id,
            exposure_s=g.exposure_s,
            low_s=g.low_s,
            high_s=g.high_s,
            basis=g.basis,
            stamp=at_stamp,
        )


def held(db: sqlite3.Connection, layer_height_um: float, material_ids: list[str]) -> list[GuessRow]:
    sql = f"""SELECT material_id, printer_id, exposure_s, low_s, high_s, basis FROM guess
WHERE layer_height_um = ? AND material_id IN ({marks(material_ids)})"""
    return many(db, GuessRow, sql, [layer_height_um, *material_ids])


def kept(db: sqlite3.Connection, limit: int) -> list[Kept]:
    """Guesses of campaigns that came to a set, newest first."""
    sql = """
SELECT c.id AS calibration_id, c.code AS calibration_code, m.name AS material, p.name AS printer, c.layer_height_um,
  c.opened_at, c.guess ->> '$.exposure_s' AS guess_s, c.guess ->> '$.low_s' AS low_s, c.guess ->> '$.high_s' AS high_s,
  s.exposure_s, s.code AS set_code
FROM calibration c JOIN material m ON m.id = c.material_id JOIN printer p ON p.id = c.printer_id
JOIN parameter_set s ON s.calibration_id = c.id
WHERE c.guess IS NOT NULL AND NOT EXISTS (SELECT 1 FROM parameter_set o WHERE o.calibration_id = c.id
  AND o.version > s.version)
ORDER BY s.issued_at DESC LIMIT ?"""
    return many(db, Kept, sql, (limit,))
