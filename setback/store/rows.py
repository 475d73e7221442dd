"""Rows to dataclasses and back: the one way every query module reads and writes."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import fields
from functools import cache
from typing import Any, TypeVar, get_type_hints

Row = TypeVar("Row")
Values = Sequence[Any] | Mapping[str, Any]


@cache
def _readers(kind: type[Any]) -> dict[str, Any]:
    """How each field of a dataclass is read from its column: flags and JSON need it, the rest does not."""
    hints = get_type_hints(kind)
    readers: dict[str, Any] = {}
    for field in fields(kind):
        text = str(hints[field.name])
        if hints[field.name] is bool or text.startswith("bool |"):
            readers[field.name] = lambda value: None if value is None else bool(value)
        elif text.startswith(("dict", "list")):
            readers[field.name] = lambda value: None if value is None else json.loads(value)
    return readers


def many(db: sqlite3.Connection, kind: type[Row], sql: str, values: Values = ()) -> list[Row]:
    """All rows of a query as dataclasses; columns and fields carry the same names."""
    readers = _readers(kind)  # type: ignore[arg-type]
    cursor = db.execute(sql, values)
    names = [column[0] for column in cursor.description]
    to_read = [(place, readers[name]) for place, name in enumerate(names) if name in readers]
    rows = []
    for row in cursor:
        columns = list(row)
        for place, read in to_read:
            columns[place] = read(columns[place])
        rows.append(kind(**dict(zip(names, columns, strict=True))))
    return rows


def one(db: sqlite3.Connection, kind: type[Row], sql: str, values: Values = ()) -> Row | None:
    """The first row of a query as a dataclass, or None."""
    rows = many(db, kind, sql, values)
    return rows[0] if rows else None


def insert(db: sqlite3.Connection, table: str, **columns: Any) -> None:
    """Add one row; lists, dicts and flags are stored as JSON and integers."""
    names = ", ".join(columns)
    marks = ", ".join("?" for _ in columns)
    db.execute(f"INSERT INTO {table} ({names}) VALUES ({marks})", [_stored(v) for v in columns.values()])


def update(db: sqlite3.Connection, table: str, row_id: str, **columns: Any) -> None:
    """Change columns of the row with this id (column ``id``)."""
    names = ", ".join(f"{name} = ?" for name in columns)
    db.execute(f"UPDATE {table} SET {names} WHERE id = ?", [*(_stored(v) for v in columns.values()), row_id])


def marks(values: Sequence[Any]) -> str:
    """Placeholders for an IN list."""
    return ", ".join("?" for _ in values) or "NULL"


def _stored(value: Any) -> Any:
    if isinstance(value, bool):
        return int(value)
    if isinstance(value, dict | list):
        return json.dumps(value, separators=(",", ":"), sort_keys=True)
    return value
