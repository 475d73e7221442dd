"""Queries over blind second readings."""

from __future__ import annotations

import sqlite3
from typing import Any

from ..rows import Row, many, marks, one


class BlindRow(Row):
    id: str
    coupon_id: str
    asked_initials: str
    asked_at: str
    initials: str | None
    read_at: str | None
    features: list[dict[str, Any]] | None
    note: str


class BlindWaiting(Row):
    """A coupon somebody wants a second reading of."""

    id: str
    calibration_id: str
    code: str
    exposure_s: float
    asked_by: str
    asked_at: str
    material: str
    printer: str


_BLIND = """
SELECT b.id, b.coupon_id, a.initials AS asked_initials, b.asked_at, t.initials, b.read_at, b.features, b.note
FROM blind_reading b JOIN technician a ON a.id = b.asked_by LEFT JOIN technician t ON t.id = b.technician_id"""


def of_coupons(db: sqlite3.Connection, coupon_ids: list[str]) -> list[BlindRow]:
    sql = f"{_BLIND} WHERE b.coupon_id IN ({marks(coupon_ids)}) AND b.withdrawn_at IS NULL ORDER BY b.asked_at, b.rowid"
    return many(db, BlindRow, sql, coupon_ids)


def blind(db: sqlite3.Connection, blind_id: str) -> BlindRow | None:
    return one(db, BlindRow, f"{_BLIND} WHERE b.id = ? AND b.withdrawn_at IS NULL", (blind_id,))


def waiting(db: sqlite3.Connection, limit: int) -> list[BlindWaiting]:
    """Oldest first."""
    sql = """
SELECT b.id, c.id AS calibration_id, k.code, k.exposure_s, a.initials AS asked_by, b.asked_at, m.name AS material, p.name AS printer
FROM blind_reading b JOIN coupon k ON k.id = b.coupon_id JOIN arm r ON r.id = k.arm_id
JOIN calibration c ON c.id = r.calibration_id JOIN material m ON m.id = c.material_id
JOIN printer p ON p.id = c.printer_id JOIN technician a ON a.id = b.asked_by
WHERE b.read_at IS NULL AND b.withdrawn_at IS NULL AND k.gone_at IS NULL
ORDER BY b.asked_at, b.rowid LIMIT ?"""
    return many(db, BlindWaiting, sql, (limit,))
