"""Queries over readings, judgements and photos of coupons."""

from __future__ import annotations

import sqlite3

from ..rows import Row, first, many, marks, one
from ..terms import FeatureKind, FeatureState, PlateAxis, PlateSide, Verdict


class Reading(Row):
    """A reading with its features."""

    id: str
    coupon_id: str
    technician_id: str
    initials: str
    read_at: str
    damaged: bool
    unwashed: bool
    uncured: bool
    note: str
    withdrawn: bool
    supersedes_id: str | None
    reason: str | None


class ReadFeature(Row):
    """One feature of a reading."""

    reading_id: str
    feature_key: str
    kind: FeatureKind
    side: PlateSide | None
    axis: PlateAxis | None
    size_mm: float
    state: FeatureState | None
    measured_mm: float | None


class Judgement(Row):
    id: str
    coupon_id: str
    number: int
    include: bool
    verdict: Verdict | None
    reason: str
    technician_id: str
    initials: str
    judged_at: str


class PhotoRow(Row):
    """A photo without its bytes."""

    id: str
    coupon_id: str | None
    specimen_id: str | None
    mime: str
    width_px: int
    height_px: int
    sha256: str
    taken_at: str
    retired_at: str | None


_READING = "SELECT r.*, t.initials FROM reading r JOIN technician t ON t.id = r.technician_id"
_NEWEST = "NOT EXISTS (SELECT 1 FROM reading s WHERE s.supersedes_id = r.id)"
_PHOTO = "SELECT id, coupon_id, specimen_id, mime, width_px, height_px, sha256, taken_at, retired_at FROM photo"


def history(db: sqlite3.Connection, coupon_id: str) -> list[Reading]:
    """All readings of a coupon, oldest first."""
    return many(db, Reading, f"{_READING} WHERE r.coupon_id = ? ORDER BY r.read_at, r.rowid", (coupon_id,))


def latest(db: sqlite3.Connection, coupon_id: str) -> Reading | None:
    """The newest reading of a coupon, a withdrawal included."""
    return one(db, Reading, f"{_READING} WHERE r.coupon_id = ? AND {_NEWEST}", (coupon_id,))


def reading(db: sqlite3.Connection, reading_id: str) -> Reading | None:
    return one(db, Reading, f"{_READING} WHERE r.id = ?", (reading_id,))


def current(db: sqlite3.Connection, coupon_ids: list[str]) -> list[Reading]:
    """The readings that count, for many coupons at once."""
    sql = f"{_READING} WHERE r.coupon_id IN ({marks(coupon_ids)}) AND r.withdrawn = 0 AND {_NEWEST}"
    return many(db, Reading, sql, coupon_ids)


def features(db: sqlite3.Connection, reading_ids: list[str]) -> list[ReadFeature]:
    sql = f"SELECT * FROM reading_feature WHERE reading_id IN ({marks(reading_ids)})"
    return many(db, ReadFeature, sql, reading_ids)


def judgements(db: sqlite3.Connection, coupon_ids: list[str]) -> list[Judgement]:
    """The latest judgement of each coupon that has one."""
    sql = f"""
SELECT j.*, t.initials FROM judgement j JOIN technician t ON t.id = j.technician_id
WHERE j.coupon_id IN ({marks(coupon_ids)})
  AND j.number = (SELECT max(number) FROM judgement o WHERE o.coupon_id = j.coupon_id)"""
    return many(db, Judgement, sql, coupon_ids)


def photos(db: sqlite3.Connection, coupon_ids: list[str]) -> list[PhotoRow]:
    sql = f"{_PHOTO} WHERE coupon_id IN ({marks(coupon_ids)}) AND retired_at IS NULL ORDER BY taken_at, rowid"
    return many(db, PhotoRow, sql, coupon_ids)


def photos_of_specimens(db: sqlite3.Connection, specimen_ids: list[str]) -> list[PhotoRow]:
    sql = f"{_PHOTO} WHERE specimen_id IN ({marks(specimen_ids)}) AND retired_at IS NULL ORDER BY taken_at, rowid"
    return many(db, PhotoRow, sql, specimen_ids)


def photo(db: sqlite3.Connection, photo_id: str) -> PhotoRow | None:
    return one(db, PhotoRow, f"{_PHOTO} WHERE id = ?", (photo_id,))


def photo_bytes(db: sqlite3.Connection, photo_id: str) -> tuple[str, bytes] | None:
    row = db.execute("SELECT mime, image FROM photo WHERE id = ?", (photo_id,)).fetchone()
    return None if row is None else (str(row[0]), bytes(row[1]))


def next_judgement(db: sqlite3.Connection, coupon_id: str) -> int:
    """Number of the judgement that comes after those on record."""
    return 1 + int(first(db, "SELECT coalesce(max(number), 0) FROM judgement WHERE coupon_id = ?", (coupon_id,)))
