"""Queries over calibrations and their arms, prints and coupons."""

from __future__ import annotations

import sqlite3
from typing import Any, Literal

from pydantic import Field

from ..rows import Row, first, many, marks, one
from ..terms import PrintStatus, TempPlace, Way


class Calibration(Row):
    id: str
    code: str
    material_id: str
    material: str
    printer_id: str
    printer: str
    bottle_id: str | None
    finish_route_version_id: str | None
    layer_height_um: float
    source: str
    low_s: float
    high_s: float
    limits: dict[str, Any]
    guard_band_pct: float
    note: str
    technician_id: str | None
    initials: str | None
    version: int
    opened_at: str
    closed_at: str | None
    closed_reason: str | None
    irradiance_mw_cm2: float | None
    min_overcure_um: float | None
    guess: dict[str, Any] | None
    whole_share: float | None
    """Share of parts that should come out whole, where prints of parts alone show the window."""


class CalibrationListed(Row):
    """A calibration in a list, with counts taken in the same query."""

    id: str
    code: str
    material_id: str
    material: str
    printer_id: str
    printer: str
    layer_height_um: float
    opened_at: str
    closed_at: str | None
    closed_reason: str | None
    whole_share: float | None = Field(
        description="Share of parts that should come out whole, where it rests on prints of parts alone"
    )
    coupons: int
    read: int
    printed_unread: int
    planned: int
    lowest_s: float | None
    highest_s: float | None
    issued_code: str | None
    issued_s: float | None


class Arm(Row):
    id: str
    calibration_id: str
    number: int
    name: str
    settings: dict[str, Any]
    version: int
    created_at: str


class CouponRow(Row):
    id: str
    code: str
    arm_id: str
    design_id: str
    kind: str
    exposure_s: float
    is_repeat: bool
    number: int
    gone_at: str | None
    gone_reason: str | None
    print_id: str
    print_code: str
    status: PrintStatus
    printed_at: str | None
    temp_c: float | None
    temp_place: TempPlace | None
    volume_ml: float
    duration_s: float
    place_x_mm: float | None
    place_y_mm: float | None
    way: Way
    dose_ratio: float | None
    check_of: str | None
    by: str | None
    """Initials of who planned it, and once it is printed of who printed it."""


class Labelled(Row):
    """What a coupon's label carries."""

    code: str
    exposure_s: float
    kind: str
    material: str
    printer: str
    layer_height_um: float
    calibration_code: str
    arm: str


class PrintRow(Row):
    id: str
    code: str
    printer_id: str
    arm_id: str | None
    status: PrintStatus
    planned_at: str
    printed_at: str | None
    temp_c: float | None
    temp_place: TempPlace | None
    volume_ml: float
    duration_s: float
    technician_id: str | None
    lift_suppressed: bool
    way: Way
    bottle_id: str | None
    taken_ml: float | None
    of_parts: bool


class Design(Row):
    id: str
    kind: str
    parameters: dict[str, Any]
    plan: dict[str, Any]


_CALIBRATION = """
SELECT c.*, m.name AS material, p.name AS printer, t.initials
FROM calibration c JOIN material m ON m.id = c.material_id JOIN printer p ON p.id = c.printer_id
LEFT JOIN technician t ON t.id = c.technician_id"""
_COUPON = """
SELECT k.id, k.code, k.arm_id, k.design_id, d.kind, k.exposure_s, k.is_repeat, k.number, k.gone_at, k.gone_reason,
  p.id AS print_id, p.code AS print_code, p.status, p.printed_at, p.temp_c, p.temp_place, p.volume_ml, p.duration_s,
  k.place_x_mm, k.place_y_mm, p.way, k.dose_ratio, k.check_of,
  (SELECT t.initials FROM technician t WHERE t.id = p.technician_id) AS by
FROM coupon k JOIN plate l ON l.id = k.plate_id JOIN print p ON p.id = l.print_id
JOIN coupon_design d ON d.id = k.design_id"""
# The reading of a coupon that counts: not superseded by another, and no withdrawal.
# By features, or by one look.
READ = """(EXISTS (SELECT 1 FROM reading r WHERE r.coupon_id = k.id AND r.withdrawn = 0
  AND NOT EXISTS (SELECT 1 FROM reading s WHERE s.supersedes_id = r.id))
  OR EXISTS (SELECT 1 FROM coupon_look l WHERE l.coupon_id = k.id AND l.withdrawn_at IS NULL))"""
# A coupon that is read was printed: what became of its print is looked up for the others only.
_LISTED = f"""
WITH chosen (id) AS MATERIALIZED ({{chosen}}),
state AS MATERIALIZED (SELECT a.calibration_id, k.exposure_s, CASE WHEN {READ} THEN 'read'
    ELSE (SELECT q.status FROM plate l JOIN print q ON q.id = l.print_id WHERE l.id = k.plate_id) END AS state
  FROM arm a JOIN coupon k ON k.arm_id = a.id WHERE a.calibration_id IN (SELECT id FROM chosen) AND k.gone_at IS NULL)
SELECT c.id, c.code, c.material_id, m.name AS material, c.printer_id, p.name AS printer, c.layer_height_um, c.opened_at, c.whole_share,
  c.closed_at,
  c.closed_reason, count(k.state) AS coupons,
  coalesce(sum(k.state = 'read'), 0) AS read,
  coalesce(sum(k.state = 'printed'), 0) AS printed_unread,
  coalesce(sum(k.state = 'planned'), 0) AS planned,
  min(k.exposure_s) AS lowest_s, max(k.exposure_s) AS highest_s,
  (SELECT code FROM parameter_set s WHERE s.calibration_id = c.id ORDER BY version DESC LIMIT 1) AS issued_code,
  (SELECT exposure_s FROM parameter_set s WHERE s.calibration_id = c.id ORDER BY version DESC LIMIT 1) AS issued_s
FROM calibration c JOIN material m ON m.id = c.material_id JOIN printer p ON p.id = c.printer_id
LEFT JOIN state k ON k.calibration_id = c.id
WHERE c.id IN (SELECT id FROM chosen)
GROUP BY c.id ORDER BY c.opened_at DESC, c.id"""


def calibration(db: sqlite3.Connection, id_or_code: str) -> Calibration | None:
    """A calibration by its id or its code."""
    return one(db, Calibration, f"{_CALIBRATION} WHERE c.id = ? OR c.code = ?", (id_or_code, id_or_code.upper()))


def listed(db: sqlite3.Connection, before: str, limit: int) -> list[CalibrationListed]:
    """Newest first; ``before`` is the opening time of the last one seen, or empty."""
    chosen = "SELECT id FROM calibration WHERE (? = '' OR opened_at < ?) ORDER BY opened_at DESC, id LIMIT ?"
    return many(db, CalibrationListed, _LISTED.format(chosen=chosen), (before, before, limit))


def open_at_height(db: sqlite3.Connection, layer_height_um: float, material_ids: list[str]) -> list[CalibrationListed]:
    """Open calibrations of some materials at one layer height."""
    chosen = f"""SELECT id FROM calibration WHERE closed_at IS NULL AND layer_height_um = ?
  AND material_id IN ({marks(material_ids)})"""
    return many(db, CalibrationListed, _LISTED.format(chosen=chosen), [layer_height_um, *material_ids])


def with_nothing_under_way(db: sqlite3.Connection, limit: int) -> list[CalibrationListed]:
    """Open calibrations by coupons without a set, of which no coupon waits to be printed or read; those begun last first."""
    chosen = f"""SELECT c.id FROM calibration c WHERE c.closed_at IS NULL AND c.whole_share IS NULL
  AND NOT EXISTS (SELECT 1 FROM parameter_set s WHERE s.calibration_id = c.id)
  AND NOT EXISTS (SELECT 1 FROM arm a JOIN coupon k ON k.arm_id = a.id JOIN plate l ON l.id = k.plate_id
    JOIN print q ON q.id = l.print_id WHERE a.calibration_id = c.id AND k.gone_at IS NULL AND k.check_of IS NULL
      AND q.status <> 'cancelled' AND NOT (q.status = 'printed' AND {READ}))
  ORDER BY c.opened_at DESC, c.id LIMIT ?"""
    return many(db, CalibrationListed, _LISTED.format(chosen=chosen), (limit,))


def layer_heights(db: sqlite3.Connection) -> list[float]:
    """Layer heights the shop has calibrated at."""
    sql = "SELECT DISTINCT layer_height_um FROM calibration ORDER BY layer_height_um"
    return [float(row[0]) for row in db.execute(sql)]


def arms(db: sqlite3.Connection, calibration_id: str) -> list[Arm]:
    return many(db, Arm, "SELECT * FROM arm WHERE calibration_id = ? ORDER BY number", (calibration_id,))


def arm(db: sqlite3.Connection, arm_id: str) -> Arm | None:
    return one(db, Arm, "SELECT * FROM arm WHERE id = ?", (arm_id,))


def coupons(db: sqlite3.Connection, arm_ids: list[str]) -> list[CouponRow]:
    """Coupons of several arms in the order they were planned; cancelled prints and check coupons are left out."""
    sql = f"""{_COUPON} WHERE k.arm_id IN ({marks(arm_ids)}) AND p.status <> 'cancelled' AND k.check_of IS NULL
ORDER BY k.number"""
    return many(db, CouponRow, sql, arm_ids)


def coupon(db: sqlite3.Connection, id_or_code: str) -> CouponRow | None:
    return one(db, CouponRow, f"{_COUPON} WHERE k.id = ? OR k.code = ?", (id_or_code, id_or_code.upper()))


def set_behind(db: sqlite3.Connection, print_id: str) -> str | None:
    """The issued set a print follows: of its parts or specimens, or the one its check coupon checks."""
    sql = """SELECT coalesce(p.parameter_set_id, (SELECT k.check_of FROM coupon k JOIN plate l ON l.id = k.plate_id
      WHERE l.print_id = p.id AND k.check_of IS NOT NULL LIMIT 1)) FROM print p WHERE p.id = ?"""
    row = db.execute(sql, (print_id,)).fetchone()
    return row[0] if row else None


def coupons_of_print(db: sqlite3.Connection, print_id: str) -> list[CouponRow]:
    return many(db, CouponRow, f"{_COUPON} WHERE p.id = ? ORDER BY k.number", (print_id,))


def print_row(db: sqlite3.Connection, print_id: str) -> PrintRow | None:
    sql = """SELECT id, code, printer_id, arm_id, status, planned_at, printed_at, temp_c, temp_place, volume_ml, duration_s,
      technician_id, lift_suppressed, way, bottle_id, taken_ml, of_parts FROM print WHERE id = ?"""
    return one(db, PrintRow, sql, (print_id,))


def design(db: sqlite3.Connection, design_id: str) -> Design | None:
    return one(db, Design, "SELECT * FROM coupon_design WHERE id = ?", (design_id,))


def designs(db: sqlite3.Connection, design_ids: list[str]) -> list[Design]:
    return many(db, Design, f"SELECT * FROM coupon_design WHERE id IN ({marks(design_ids)})", design_ids)


def design_like(db: sqlite3.Connection, kind: str, parameters: str) -> Design | None:
    return one(db, Design, "SELECT * FROM coupon_design WHERE kind = ? AND parameters = ?", (kind, parameters))


class Waiting(Row):
    """A coupon printed and not yet read."""

    code: str
    exposure_s: float
    kind: str
    printed_at: str
    calibration_id: str
    calibration_code: str
    material: str
    printer: str


def waiting_for_reading(db: sqlite3.Connection, limit: int) -> list[Waiting]:
    """Oldest first: of open campaigns and check coupons, never through the whole log of prints."""
    sql = f"""
SELECT k.code, k.exposure_s, d.kind, q.printed_at, c.id AS calibration_id, c.code AS calibration_code,
  m.name AS material, p.name AS printer
FROM coupon k JOIN plate l ON l.id = k.plate_id JOIN print q ON q.id = l.print_id
JOIN coupon_design d ON d.id = k.design_id JOIN arm a ON a.id = k.arm_id
JOIN calibration c ON c.id = a.calibration_id
JOIN material m ON m.id = c.material_id JOIN printer p ON p.id = c.printer_id
WHERE k.id IN (
    SELECT o.id FROM calibration e JOIN arm b ON b.calibration_id = e.id JOIN coupon o ON o.arm_id = b.id
      WHERE e.closed_at IS NULL
    UNION SELECT id FROM coupon WHERE check_of IS NOT NULL)
  AND q.status = 'printed' AND k.gone_at IS NULL AND NOT {READ}
ORDER BY q.printed_at, k.number LIMIT ?"""
    return many(db, Waiting, sql, (limit,))


def labelled(db: sqlite3.Connection, codes: list[str]) -> list[Labelled]:
    sql = f"""
SELECT k.code, k.exposure_s, d.kind, m.name AS material, p.name AS printer, c.layer_height_um,
  c.code AS calibration_code, a.name AS arm
FROM coupon k JOIN coupon_design d ON d.id = k.design_id JOIN arm a ON a.id = k.arm_id
JOIN calibration c ON c.id = a.calibration_id JOIN material m ON m.id = c.material_id
JOIN printer p ON p.id = c.printer_id WHERE k.code IN ({marks(codes)})"""
    return many(db, Labelled, sql, codes)


class _LimitsOf(Row):
    limits: dict[str, Any]


def limits_of(db: sqlite3.Connection, arm_ids: list[str]) -> list[dict[str, Any]]:
    """Limits of the calibrations that some arms belong to."""
    sql = f"""SELECT DISTINCT c.limits FROM calibration c JOIN arm a ON a.calibration_id = c.id
      WHERE a.id IN ({marks(arm_ids)})"""
    return [row.limits for row in many(db, _LimitsOf, sql, arm_ids)]


class PrintedCoupon(Row):
    """A printed coupon with whose it is."""

    code: str
    design_id: str
    exposure_s: float
    calibration_code: str
    material: str


def newest_printed(db: sqlite3.Connection, limit: int) -> list[PrintedCoupon]:
    """Printed coupons that are not lost, the newest first."""
    sql = """SELECT k.code, k.design_id, k.exposure_s, c.code AS calibration_code, m.name AS material
      FROM (SELECT k.* FROM coupon k JOIN plate l ON l.id = k.plate_id JOIN print p ON p.id = l.print_id
        WHERE p.status = 'printed' AND k.gone_at IS NULL ORDER BY k.rowid DESC LIMIT ?) k
      JOIN arm a ON a.id = k.arm_id JOIN calibration c ON c.id = a.calibration_id JOIN material m ON m.id = c.material_id
      ORDER BY k.rowid DESC"""
    return many(db, PrintedCoupon, sql, (limit,))


def coupons_so_far(db: sqlite3.Connection, arm_id: str) -> int:
    """How many coupons an arm has had, with those that are gone."""
    return int(first(db, "SELECT count(*) FROM coupon WHERE arm_id = ?", (arm_id,)))


def open_code(db: sqlite3.Connection, column: Literal["material_id", "printer_id"], row_id: str) -> str | None:
    """Code of a calibration that is open on a material or a printer."""
    code = first(db, f"SELECT code FROM calibration WHERE {column} = ? AND closed_at IS NULL LIMIT 1", (row_id,))
    return None if code is None else str(code)


def screen_hours_at(db: sqlite3.Connection, print_id: str) -> float | None:
    """Hours on the screen when a print was made."""
    hours = first(db, "SELECT screen_hours FROM print WHERE id = ?", (print_id,))
    return None if hours is None else float(hours)


def check_coupons(db: sqlite3.Connection) -> list[str]:
    """All check coupons, by id."""
    return [str(row[0]) for row in db.execute("SELECT id FROM coupon WHERE check_of IS NOT NULL ORDER BY id")]


def unread_checks(db: sqlite3.Connection, set_id: str) -> list[str]:
    """Codes of a set's check coupons that wait to be printed or read."""
    sql = f"""SELECT k.code FROM coupon k JOIN plate l ON l.id = k.plate_id JOIN print p ON p.id = l.print_id
WHERE k.check_of = ? AND k.gone_at IS NULL AND p.status <> 'cancelled' AND NOT {READ} ORDER BY k.code"""
    return [str(row[0]) for row in db.execute(sql, (set_id,))]
