"""Light over a printer's plate, and known marks on it."""

from __future__ import annotations

import sqlite3

from .calibrate.calibrations import READ
from .rows import Row, many, one
from .terms import MapSource


class PlateMap(Row):
    """One map of the light."""

    id: str
    printer_id: str
    source: MapSource
    readings: list[list[float]]
    reference_row: int | None
    reference_column: int | None
    note: str
    initials: str
    measured_at: str
    retired_at: str | None


class Defect(Row):
    """A mark on the screen or film."""

    id: str
    printer_id: str
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float
    note: str
    seen_at: str
    retired_at: str | None


_MAP = """SELECT p.id, p.printer_id, p.source, p.readings, p.reference_row, p.reference_column, p.note, t.initials,
  p.measured_at, p.retired_at FROM plate_map p JOIN technician t ON t.id = p.technician_id"""
_DEFECT = "SELECT id, printer_id, x_mm, y_mm, width_mm, height_mm, note, seen_at, retired_at FROM defect"


def newest_map(db: sqlite3.Connection, printer_id: str) -> PlateMap | None:
    sql = f"{_MAP} WHERE p.printer_id = ? AND p.retired_at IS NULL ORDER BY p.measured_at DESC, p.rowid DESC LIMIT 1"
    return one(db, PlateMap, sql, (printer_id,))


def plate_map(db: sqlite3.Connection, map_id: str) -> PlateMap | None:
    return one(db, PlateMap, f"{_MAP} WHERE p.id = ?", (map_id,))


class PlateSet(Row):
    """An issued set of a printer with its window: what a plate is judged at."""

    code: str
    material: str
    layer_height_um: float
    exposure_s: float
    lower_s: float
    upper_s: float


def sets_of(db: sqlite3.Connection, printer_id: str) -> list[PlateSet]:
    """The newest set of every material and layer height on a printer; one without a window says nothing of a plate."""
    sql = """
SELECT s.code, m.name AS material, s.layer_height_um, s.exposure_s, w.lower_s, w.upper_s
FROM parameter_set s JOIN set_window w ON w.set_id = s.id JOIN material m ON m.id = s.material_id
WHERE s.printer_id = ? AND w.lower_s IS NOT NULL
  AND s.version = (SELECT max(version) FROM parameter_set o WHERE o.material_id = s.material_id
    AND o.printer_id = s.printer_id AND o.layer_height_um = s.layer_height_um)
ORDER BY s.issued_at DESC LIMIT 60"""
    return many(db, PlateSet, sql, (printer_id,))


def read_grids(db: sqlite3.Connection, printer_id: str) -> list[str]:
    """Codes of grid coupons of a printer that are read, newest first."""
    sql = f"""
SELECT k.code FROM coupon k JOIN coupon_design d ON d.id = k.design_id JOIN plate l ON l.id = k.plate_id
JOIN print p ON p.id = l.print_id
WHERE d.kind = 'grid' AND p.printer_id = ? AND k.gone_at IS NULL AND {READ} ORDER BY p.printed_at DESC LIMIT 20"""
    return [str(row[0]) for row in db.execute(sql, (printer_id,))]


def defects(db: sqlite3.Connection, printer_id: str) -> list[Defect]:
    return many(
        db, Defect, f"{_DEFECT} WHERE printer_id = ? AND retired_at IS NULL ORDER BY seen_at, rowid", (printer_id,)
    )


def defect(db: sqlite3.Connection, defect_id: str) -> Defect | None:
    return one(db, Defect, f"{_DEFECT} WHERE id = ?", (defect_id,))
