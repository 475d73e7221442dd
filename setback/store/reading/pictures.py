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


def straight(db: sqlite3.Connection, picture_id: str) -> bytes | None:
    """The coupon laid straight, as JPEG."""
    return first(db, "SELECT straight FROM picture_reading WHERE id = ?", (picture_id,))  # type: ignore[no-any-return]
