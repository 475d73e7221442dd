"""Briefs and their versions; a version is never edited."""

from __future__ import annotations

import sqlite3
from typing import Any

from ..rows import Row, many, marks, one


class BriefRow(Row):
    id: str
    code: str
    name: str
    retired_at: str | None
    version_id: str
    version: int
    use: str
    requirements: list[dict[str, Any]]
    initials: str
    created_at: str


_BRIEF = """
SELECT b.id, b.code, b.name, b.retired_at, v.id AS version_id, v.version, v.use, v.requirements, t.initials, v.created_at
FROM brief b JOIN brief_version v ON v.brief_id = b.id JOIN technician t ON t.id = v.technician_id"""
_NEWEST = "v.version = (SELECT max(version) FROM brief_version WHERE brief_id = b.id)"


def briefs(db: sqlite3.Connection, retired: bool, after: str, limit: int) -> list[BriefRow]:
    """The newest version of each, by name."""
    condition = "NOT NULL" if retired else "NULL"
    sql = f"""{_BRIEF} WHERE {_NEWEST} AND b.retired_at IS {condition} AND b.name > ? COLLATE NOCASE
      ORDER BY b.name COLLATE NOCASE LIMIT ?"""
    return many(db, BriefRow, sql, (after, limit))


def brief(db: sqlite3.Connection, id_or_code: str) -> BriefRow | None:
    return one(db, BriefRow, f"{_BRIEF} WHERE {_NEWEST} AND (b.id = ? OR b.code = ?)", (id_or_code, id_or_code))


def versions(db: sqlite3.Connection, version_ids: list[str]) -> dict[str, BriefRow]:
    rows = many(db, BriefRow, f"{_BRIEF} WHERE v.id IN ({marks(version_ids)})", version_ids)
    return {row.version_id: row for row in rows}


def history(db: sqlite3.Connection, brief_id: str) -> list[BriefRow]:
    return many(db, BriefRow, f"{_BRIEF} WHERE b.id = ? ORDER BY v.version DESC", (brief_id,))
