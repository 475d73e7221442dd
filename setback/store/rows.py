"""Rows to models and back: the one way every query module reads and writes."""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Mapping, Sequence
from functools import cache
from types import UnionType
from typing import Any, TypeVar, Union, get_args, get_origin, get_type_hints

from pydantic import BaseModel, ConfigDict

Values = Sequence[Any] | Mapping[str, Any]


class Row(BaseModel):
    """Base of what a query returns: a field for every column, of the same name. The API may emit it; views extend it."""

    model_config = ConfigDict(frozen=True, from_attributes=True, extra="ignore", allow_inf_nan=False)


Kind = TypeVar("Kind", bound=Row)


@cache
def _in_json(kind: type[Row]) -> frozenset[str]:
    """Fields that are lists, dicts or rows of their own, which a column holds as JSON."""
    return frozenset(name for name, hint in get_type_hints(kind).items() if _is_structure(hint))


def _is_structure(hint: Any) -> bool:
    if isinstance(hint, UnionType) or get_origin(hint) is Union:
        return any(_is_structure(part) for part in get_args(hint))
    kind = get_origin(hint) or hint
    return isinstance(kind, type) and issubclass(kind, list | dict | Row)


def many(db: sqlite3.Connection, kind: type[Kind], sql: str, values: Values = ()) -> list[Kind]:
    """All rows of a query; columns and fields carry the same names."""
    cursor = db.execute(sql, values)
    names = [column[0] for column in cursor.description]
    in_json = _in_json(kind).intersection(names)
    rows = []
    for stored in cursor:
        row = dict(zip(names, stored, strict=True))
        for name in in_json:
            if row[name] is not None:
                row[name] = json.loads(row[name])
        rows.append(kind.model_validate(row))
    return rows


def one(db: sqlite3.Connection, kind: type[Kind], sql: str, values: Values = ()) -> Kind | None:
    """The first row of a query, or None."""
    rows = many(db, kind, sql, values)
    return rows[0] if rows else None


def first(db: sqlite3.Connection, sql: str, values: Values = ()) -> Any:
    """The first column of a query's first row, or None."""
    row = db.execute(sql, values).fetchone()
    return None if row is None else row[0]


def insert(db: sqlite3.Connection, table: str, **columns: Any) -> None:
    """Add one row; lists, dicts and flags are stored as JSON and integers."""
    names = ", ".join(columns)
    marks = ", ".join("?" for _ in columns)
    db.execute(f"INSERT INTO {table} ({names}) VALUES ({marks})", [_stored(v) for v in columns.values()])


def insert_many(db: sqlite3.Connection, table: str, rows: Sequence[Mapping[str, Any]]) -> None:
    """Add rows that all have the same columns; values as they are stored."""
    names = list(rows[0])
    db.executemany(f"INSERT INTO {table} ({', '.join(names)}) VALUES ({', '.join(f':{n}' for n in names)})", rows)


def update(db: sqlite3.Connection, table: str, row_id: str, **columns: Any) -> None:
    """Change columns of the row with this id."""
    names = ", ".join(f"{name} = ?" for name in columns)
    db.execute(f"UPDATE {table} SET {names} WHERE id = ?", [*(_stored(v) for v in columns.values()), row_id])


def delete(db: sqlite3.Connection, table: str, row_id: str, *, key: str = "id") -> None:
    """Remove the rows with this id: only for what is derived, or was never used. Evidence is withdrawn."""
    db.execute(f"DELETE FROM {table} WHERE {key} = ?", (row_id,))


def marks(values: Sequence[Any]) -> str:
    """Placeholders for an IN list."""
    return ", ".join("?" for _ in values) or "NULL"


def _stored(value: Any) -> Any:
    if isinstance(value, bool):
        return int(value)
    if isinstance(value, dict | list):
        return json.dumps(value, separators=(",", ":"), sort_keys=True)
    return value


def count_of(db: sqlite3.Connection, table: str) -> int:
    """Rows of a table, named by this code alone."""
    return int(db.execute(f"SELECT count(*) FROM {table}").fetchone()[0])
