"""Queries over issued parameter sets: append-only, chained by SHA-256."""

from __future__ import annotations

import hashlib
import json
import sqlite3
from typing import Any

from ..rows import Row, insert, many, marks, one
from ..terms import Policy

GENESIS = "0" * 64


class SetRow(Row):
    id: str
    code: str
    chain: int
    material_id: str
    printer_id: str
    layer_height_um: float
    version: int
    calibration_id: str
    arm_id: str
    finish_route_version_id: str | None
    bottle_id: str | None
    exposure_s: float
    policy: Policy
    reason: str
    settings: dict[str, Any]
    temp_low_c: float | None
    temp_high_c: float | None
    tip_proven_mm: float | None
    technician_id: str
    issued_at: str
    core_version: str
    input: dict[str, Any]
    result: dict[str, Any]
    previous_hash: str
    hash: str
    outside_reason: str | None = None
    """Why it was issued although the evidence did not offer it."""


class BoardSet(Row):
    """The newest set of a pair at a layer height, with what its cell shows."""

    id: str
    code: str
    material_id: str
    printer_id: str
    version: int
    exposure_s: float
    policy: Policy
    issued_at: str
    temp_low_c: float | None
    temp_high_c: float | None
    lower_s: float | None
    upper_s: float | None
    latitude_pct: float | None


def hash_of(row: SetRow) -> str:
    """SHA-256 over the canonical JSON of everything but the hash itself; the previous hash is part of it.

    A reason counts only where there is one: sets issued before reasons were kept have the hash they were issued with.
    """
    content = {name: value for name, value in vars(row).items() if name != "hash"}
    if row.outside_reason is None:
        del content["outside_reason"]
    return hashlib.sha256(json.dumps(content, sort_keys=True, separators=(",", ":")).encode()).hexdigest()


def append(db: sqlite3.Connection, row: SetRow) -> None:
    insert(db, "parameter_set", **vars(row))


def last_link(db: sqlite3.Connection) -> tuple[int, str]:
    """Chain number and hash of the newest set; (0, zeros) in an empty lab."""
    row = db.execute("SELECT chain, hash FROM parameter_set ORDER BY chain DESC LIMIT 1").fetchone()
    return (0, GENESIS) if row is None else (int(row[0]), str(row[1]))


def last_version(db: sqlite3.Connection, material_id: str, printer_id: str, layer_height_um: float) -> int:
    sql = "SELECT coalesce(max(version), 0) FROM parameter_set WHERE material_id = ? AND printer_id = ? AND layer_height_um = ?"
    return int(db.execute(sql, (material_id, printer_id, layer_height_um)).fetchone()[0])


def parameter_set(db: sqlite3.Connection, id_or_code: str) -> SetRow | None:
    return one(db, SetRow, "SELECT * FROM parameter_set WHERE id = ? OR code = ?", (id_or_code, id_or_code.upper()))


def by_ids(db: sqlite3.Connection, set_ids: list[str]) -> dict[str, SetRow]:
    rows = many(db, SetRow, f"SELECT * FROM parameter_set WHERE id IN ({marks(set_ids)})", set_ids)
    return {row.id: row for row in rows}


def of_calibration(db: sqlite3.Connection, calibration_id: str) -> list[SetRow]:
    """Newest first."""
    sql = "SELECT * FROM parameter_set WHERE calibration_id = ? ORDER BY version DESC"
    return many(db, SetRow, sql, (calibration_id,))


def newest_of_materials(db: sqlite3.Connection, printer_id: str) -> list[SetRow]:
    """The newest set of each material on a printer."""
    sql = """SELECT * FROM parameter_set s WHERE printer_id = ? AND chain = (SELECT max(chain) FROM parameter_set o
      WHERE o.printer_id = s.printer_id AND o.material_id = s.material_id)"""
    return many(db, SetRow, sql, (printer_id,))


def links(db: sqlite3.Connection, after: int, limit: int) -> list[SetRow]:
    """Sets in the order of the chain."""
    return many(db, SetRow, "SELECT * FROM parameter_set WHERE chain > ? ORDER BY chain LIMIT ?", (after, limit))


def board(db: sqlite3.Connection, layer_height_um: float) -> list[BoardSet]:
    """The newest set of every pair at one layer height."""
    sql = """
SELECT s.id, s.code, s.material_id, s.printer_id, s.version, s.exposure_s, s.policy, s.issued_at, s.temp_low_c,
  s.temp_high_c, w.lower_s, w.upper_s, w.latitude_pct
FROM newest_set n JOIN parameter_set s ON s.id = n.set_id JOIN set_window w ON w.set_id = s.id
WHERE n.layer_height_um = ?"""
    return many(db, BoardSet, sql, (layer_height_um,))


def versions(db: sqlite3.Connection, material_id: str, printer_id: str, layer_height_um: float) -> dict[int, str]:
    """Codes of all sets of a pair at a layer height by their version, newest first."""
    sql = """SELECT version, code FROM parameter_set WHERE material_id = ? AND printer_id = ? AND layer_height_um = ?
ORDER BY version DESC"""
    return {int(number): str(code) for number, code in db.execute(sql, (material_id, printer_id, layer_height_um))}
