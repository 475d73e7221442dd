"""Signed qualifications: append-only, chained by SHA-256."""

from __future__ import annotations

import hashlib
import json
import sqlite3
from typing import Any

from ..rows import Row, insert, many, marks, one

GENESIS = "0" * 64


class QualificationRow(Row):
    id: str
    code: str
    chain: int
    brief_version_id: str
    parameter_set_id: str
    verdict: str
    scope: str
    input: dict[str, Any]
    result: dict[str, Any]
    evidence_hash: str
    technician_id: str
    signed_at: str
    core_version: str
    previous_hash: str
    hash: str


class SignedLine(Row):
    """A signed qualification as lists show it."""

    id: str
    code: str
    brief_id: str
    brief_code: str
    brief: str
    brief_version: int
    newest_version: int
    parameter_set_id: str
    set_code: str
    material: str
    printer: str
    verdict: str
    initials: str
    signed_at: str


def hash_of(row: QualificationRow) -> str:
    """SHA-256 over the canonical JSON of everything but the hash itself; the previous hash is part of it."""
    content = {name: value for name, value in vars(row).items() if name != "hash"}
    return hashlib.sha256(json.dumps(content, sort_keys=True, separators=(",", ":")).encode()).hexdigest()


def append(db: sqlite3.Connection, row: QualificationRow) -> None:
    insert(db, "qualification", **vars(row))


def last_link(db: sqlite3.Connection) -> tuple[int, str]:
    row = db.execute("SELECT chain, hash FROM qualification ORDER BY chain DESC LIMIT 1").fetchone()
    return (int(row[0]), str(row[1])) if row else (0, GENESIS)


def links(db: sqlite3.Connection, after: int, limit: int) -> list[QualificationRow]:
    sql = "SELECT * FROM qualification WHERE chain > ? ORDER BY chain LIMIT ?"
    return many(db, QualificationRow, sql, (after, limit))


def qualification(db: sqlite3.Connection, id_or_code: str) -> QualificationRow | None:
    sql = "SELECT * FROM qualification WHERE id = ? OR code = ?"
    return one(db, QualificationRow, sql, (id_or_code, id_or_code.upper()))


_SIGNED = """SELECT q.id, q.code, b.id AS brief_id, b.code AS brief_code, b.name AS brief, v.version AS brief_version,
  (SELECT max(version) FROM brief_version WHERE brief_id = b.id) AS newest_version, q.parameter_set_id, s.code AS set_code,
  m.name AS material, p.name AS printer, q.verdict, t.initials, q.signed_at
FROM qualification q JOIN brief_version v ON v.id = q.brief_version_id JOIN brief b ON b.id = v.brief_id
JOIN parameter_set s ON s.id = q.parameter_set_id JOIN material m ON m.id = s.material_id
JOIN printer p ON p.id = s.printer_id JOIN technician t ON t.id = q.technician_id"""


def signed(db: sqlite3.Connection, before: str, limit: int) -> list[SignedLine]:
    """Newest first."""
    sql = f"{_SIGNED} WHERE (? = '' OR q.signed_at < ?) ORDER BY q.signed_at DESC, q.chain DESC LIMIT ?"
    return many(db, SignedLine, sql, (before, before, limit))


def signed_one(db: sqlite3.Connection, id_or_code: str) -> SignedLine | None:
    return one(db, SignedLine, f"{_SIGNED} WHERE q.id = ? OR q.code = ?", (id_or_code, id_or_code.upper()))


def of_sets(db: sqlite3.Connection, set_ids: list[str]) -> list[SignedLine]:
    sql = f"{_SIGNED} WHERE q.parameter_set_id IN ({marks(set_ids)}) ORDER BY q.chain DESC"
    return many(db, SignedLine, sql, set_ids)
