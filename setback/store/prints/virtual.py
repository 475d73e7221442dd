"""What the virtual printer hid when it printed."""

from __future__ import annotations

import sqlite3
from typing import Any

from ..rows import Row, one


class VirtualPrint(Row):
    print_id: str
    seed: int
    hidden: dict[str, Any]
    printed_at: str


def virtual_print(db: sqlite3.Connection, print_id: str) -> VirtualPrint | None:
    return one(db, VirtualPrint, "SELECT * FROM virtual_print WHERE print_id = ?", (print_id,))


def forget(db: sqlite3.Connection, print_id: str, at: str) -> None:
    """Undo a virtual print: its truth goes, its photos are retired. Prints on real printers have none."""
    if db.execute("DELETE FROM virtual_print WHERE print_id = ?", (print_id,)).rowcount:
        sql = """UPDATE photo SET retired_at = ? WHERE retired_at IS NULL AND coupon_id IN
          (SELECT k.id FROM coupon k JOIN plate l ON l.id = k.plate_id WHERE l.print_id = ?)"""
        db.execute(sql, (at, print_id))


def under_way(db: sqlite3.Connection) -> dict[str, str]:
    """Jobs that print virtually now or soon, by print."""
    sql = """SELECT json_extract(input, '$.print_id'), id FROM job
      WHERE kind = 'virtual-print' AND state IN ('queued', 'running')"""
    return {row[0]: row[1] for row in db.execute(sql)}
