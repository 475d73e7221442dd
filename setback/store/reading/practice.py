"""Queries over practice: rounds, their coupons, and what was made of them."""

from __future__ import annotations

import sqlite3
from typing import Any

from ..rows import Row, first, many, one


class Round(Row):
    """A round of practice."""

    id: str
    technician_id: str
    initials: str
    level: int
    seed: int
    begun_at: str
    finished_at: str | None


class PracticeCoupon(Row):
    """A coupon of a round without its picture."""

    id: str
    round_id: str
    place: int
    exposure_s: float
    truth: dict[str, Any]
    answer: dict[str, Any] | None
    score: dict[str, Any] | None
    read_at: str | None


class Scored(Row):
    """What one coupon of somebody's practice showed."""

    level: int
    score: dict[str, Any]
    read_at: str


_ROUND = """SELECT r.id, r.technician_id, t.initials, r.level, r.seed, r.begun_at, r.finished_at
  FROM practice_round r JOIN technician t ON t.id = r.technician_id"""
_COUPON = "SELECT id, round_id, place, exposure_s, truth, answer, score, read_at FROM practice_coupon"


def practice_round(db: sqlite3.Connection, round_id: str) -> Round | None:
    """One round."""
    return one(db, Round, f"{_ROUND} WHERE r.id = ?", (round_id,))


def open_round(db: sqlite3.Connection, technician_id: str) -> Round | None:
    """The newest round of somebody that is not finished."""
    sql = f"{_ROUND} WHERE r.technician_id = ? AND r.finished_at IS NULL ORDER BY r.begun_at DESC, r.rowid DESC LIMIT 1"
    return one(db, Round, sql, (technician_id,))


def coupons(db: sqlite3.Connection, round_id: str) -> list[PracticeCoupon]:
    """Coupons of a round in their order."""
    return many(db, PracticeCoupon, f"{_COUPON} WHERE round_id = ? ORDER BY place", (round_id,))


def practice_coupon(db: sqlite3.Connection, coupon_id: str) -> PracticeCoupon | None:
    """One coupon."""
    return one(db, PracticeCoupon, f"{_COUPON} WHERE id = ?", (coupon_id,))


def picture(db: sqlite3.Connection, coupon_id: str) -> bytes | None:
    """Its picture, as JPEG."""
    return first(db, "SELECT picture FROM practice_coupon WHERE id = ?", (coupon_id,))  # type: ignore[no-any-return]


def scored(db: sqlite3.Connection, technician_id: str, limit: int) -> list[Scored]:
    """What somebody read, the oldest of the newest first."""
    sql = """SELECT level, score, read_at FROM (SELECT r.level, c.score, c.read_at, c.rowid AS n FROM practice_coupon c
      JOIN practice_round r ON r.id = c.round_id WHERE r.technician_id = ? AND c.score IS NOT NULL
      ORDER BY c.read_at DESC, c.rowid DESC LIMIT ?) ORDER BY read_at, n"""
    return many(db, Scored, sql, (technician_id, limit))
