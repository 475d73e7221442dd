"""Queries over what the picture reader made of pictures."""

from __future__ import annotations

import sqlite3
from typing import Literal

from ..rows import Row, first, many, marks, one


class PictureReading(Row):
    """A picture that was read, without its pixels."""

    id: str
    coupon_id: str
    photo_id: str
    straight_px_per_mm: float
    margin_mm: float
    px_per_mm: float
    blur_px: float
    tilt_deg: float
    scanner_dpi: float | None
    notices: list[dict[str, str]]
    initials: str
    read_at: str
    reading_id: str | None
    discarded_at: str | None


class PictureMark(Row):
    """One feature as the picture reader saw it."""

    feature_key: str
    state: Literal["formed", "partial", "absent"] | None
    size_mm: float | None
    sd_um: float | None
    sure: bool
    reason: str | None


_PICTURE = """SELECT p.id, p.coupon_id, p.photo_id, p.straight_px_per_mm, p.margin_mm, p.px_per_mm, p.blur_px, p.tilt_deg,
  p.scanner_dpi, p.notices, t.initials, p.read_at, p.reading_id, p.discarded_at
  FROM picture_reading p JOIN technician t ON t.id = p.technician_id"""


def picture(db: sqlite3.Connection, picture_id: str) -> PictureReading | None:
    """One picture that was read."""
    return one(db, PictureReading, f"{_PICTURE} WHERE p.id = ?", (picture_id,))


def waiting(db: sqlite3.Connection, coupon_id: str) -> PictureReading | None:
    """The newest picture of a coupon that nobody has confirmed or discarded."""
    sql = f"{_PICTURE} WHERE p.coupon_id = ? AND p.reading_id IS NULL AND p.discarded_at IS NULL ORDER BY p.read_at DESC, p.rowid DESC LIMIT 1"
    return one(db, PictureReading, sql, (coupon_id,))


def newest_of(db: sqlite3.Connection, coupon_ids: list[str]) -> dict[str, PictureReading]:
    """The newest picture of each coupon that was not discarded."""
    sql = f"""{_PICTURE} WHERE p.coupon_id IN ({marks(coupon_ids)}) AND p.discarded_at IS NULL ORDER BY p.read_at, p.rowid"""
    return {row.coupon_id: row for row in many(db, PictureReading, sql, coupon_ids)}


def confirmed(db: sqlite3.Connection, reading_id: str) -> PictureReading | None:
    """The picture a reading was confirmed from."""
    return one(db, PictureReading, f"{_PICTURE} WHERE p.reading_id = ?", (reading_id,))


def seen_marks(db: sqlite3.Connection, picture_id: str) -> list[PictureMark]:
    """What the picture reader saw in a picture."""
    sql = "SELECT feature_key, state, size_mm, sd_um, sure, reason FROM picture_mark WHERE picture_reading_id = ?"
    return many(db, PictureMark, sql, (picture_id,))


class SizeByPicture(Row):
    """A size that the picture reader told, of a reading that was confirmed from it."""

    reading_id: str
    feature_key: str
    size_mm: float


def sizes_confirmed(db: sqlite3.Connection, reading_ids: list[str]) -> list[SizeByPicture]:
    """Sizes in the pictures that some readings were confirmed from."""
    sql = f"""SELECT p.reading_id, m.feature_key, m.size_mm FROM picture_reading p JOIN picture_mark m ON m.picture_reading_id = p.id
      WHERE m.size_mm IS NOT NULL AND p.reading_id IN ({marks(reading_ids)})"""
    return many(db, SizeByPicture, sql, reading_ids)


class ReadBothWays(Row):
    """A size of one coupon as a picture shows it and as somebody measured it."""

    camera: str | None
    scanner_dpi: float | None
    coupon_id: str
    kind: Literal["outer", "inner"]
    picture_mm: float
    hand_mm: float


class MarksByCamera(Row):
    """Sure marks of confirmed pictures, and how many a person read otherwise."""

    camera: str | None
    scanner_dpi: float | None
    marks: int
    changed: int


def read_both_ways(db: sqlite3.Connection, limit: int) -> list[ReadBothWays]:
    """Sizes of coupons that were read by picture and by calipers: by whoever changed them, or in another reading."""
    sql = """SELECT k.name AS camera, p.scanner_dpi, p.coupon_id, f.kind, m.size_mm AS picture_mm, f.measured_mm AS hand_mm
      FROM (SELECT * FROM picture_reading WHERE discarded_at IS NULL AND reading_id IS NOT NULL ORDER BY read_at DESC LIMIT ?) p
      LEFT JOIN picture_camera k ON k.picture_reading_id = p.id
      JOIN picture_mark m ON m.picture_reading_id = p.id AND m.size_mm IS NOT NULL
      JOIN reading r ON r.coupon_id = p.coupon_id AND r.withdrawn = 0
      JOIN reading_feature f ON f.reading_id = r.id AND f.feature_key = m.feature_key AND f.kind IN ('outer', 'inner')
      WHERE f.measured_mm IS NOT NULL AND abs(f.measured_mm - m.size_mm) > 0.0006
        AND (r.id = p.reading_id OR NOT EXISTS (SELECT 1 FROM picture_reading q WHERE q.reading_id = r.id))"""
    return many(db, ReadBothWays, sql, (limit,))


def marks_by_camera(db: sqlite3.Connection, limit: int) -> list[MarksByCamera]:
    """How often people read otherwise than a camera's sure marks say."""
    sql = """SELECT k.name AS camera, p.scanner_dpi, count(*) AS marks, sum(f.state <> m.state) AS changed
      FROM (SELECT * FROM picture_reading WHERE discarded_at IS NULL AND reading_id IS NOT NULL ORDER BY read_at DESC LIMIT ?) p
      LEFT JOIN picture_camera k ON k.picture_reading_id = p.id
      JOIN picture_mark m ON m.picture_reading_id = p.id AND m.sure AND m.state IS NOT NULL
      JOIN reading_feature f ON f.reading_id = p.reading_id AND f.feature_key = m.feature_key AND f.state IS NOT NULL
      GROUP BY k.name, p.scanner_dpi"""
    return many(db, MarksByCamera, sql, (limit,))


def straight(db: sqlite3.Connection, picture_id: str) -> bytes | None:
    """The coupon laid straight, as JPEG."""
    return first(db, "SELECT straight FROM picture_reading WHERE id = ?", (picture_id,))  # type: ignore[no-any-return]
