"""Queries of what one look at a coupon said."""

from __future__ import annotations

import sqlite3

from ..rows import Row, many, marks, one
from ..terms import LookVerdict


class Look(Row):
    """One look at a coupon."""

    id: str
    coupon_id: str
    verdict: LookVerdict
    initials: str
    looked_at: str


_LOOK = """SELECT l.id, l.coupon_id, l.verdict, t.initials, l.looked_at FROM coupon_look l JOIN technician t ON t.id = l.technician_id
  WHERE l.withdrawn_at IS NULL"""


def looks(db: sqlite3.Connection, coupon_ids: list[str]) -> dict[str, Look]:
    """The looks that stand, by coupon."""
    rows = many(db, Look, f"{_LOOK} AND l.coupon_id IN ({marks(coupon_ids)})", coupon_ids)
    return {row.coupon_id: row for row in rows}


def look(db: sqlite3.Connection, coupon_id: str) -> Look | None:
    """The look that stands for a coupon."""
    return one(db, Look, f"{_LOOK} AND l.coupon_id = ?", (coupon_id,))
