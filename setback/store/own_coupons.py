"""Queries of coupons a workshop has of its own."""

from __future__ import annotations

import sqlite3
from typing import Any

from .rows import Row, many, one


class OwnCoupon(Row):
    """A coupon as it was described."""

    id: str
    code: str
    name: str
    description: dict[str, Any]
    thickness_mm: float
    volume_ml: float
    width_mm: float
    height_mm: float
    note: str
    has_photo: bool
    initials: str
    created_at: str
    version: int
    retired_at: str | None
    coupons: int


_OWN = """SELECT o.id, o.code, o.name, o.description, o.thickness_mm, o.volume_ml, o.width_mm, o.height_mm, o.note,
    o.photo IS NOT NULL AS has_photo, t.initials, o.created_at, o.version, o.retired_at,
    (SELECT count(*) FROM coupon_design d JOIN coupon k ON k.design_id = d.id WHERE d.kind = 'own' AND d.parameters ->> 'code' = o.code) AS coupons
  FROM own_coupon o JOIN technician t ON t.id = o.technician_id"""


def own_coupons(db: sqlite3.Connection) -> list[OwnCoupon]:
    """Those that stand, by name."""
    return many(db, OwnCoupon, f"{_OWN} WHERE o.retired_at IS NULL ORDER BY o.name COLLATE NOCASE, o.code")


def own_coupon(db: sqlite3.Connection, code: str) -> OwnCoupon | None:
    """One of them, by its code."""
    return one(db, OwnCoupon, f"{_OWN} WHERE o.code = ?", (code,))


def photo_of(db: sqlite3.Connection, code: str) -> bytes | None:
    """Its picture, a JPEG."""
    row = db.execute("SELECT photo FROM own_coupon WHERE code = ?", (code,)).fetchone()
    return bytes(row[0]) if row and row[0] is not None else None
