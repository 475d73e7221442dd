"""Rows of an older schema, brought up to date in a database of their own before a lab takes them in."""

from __future__ import annotations

import sqlite3
from collections.abc import Callable, Iterable, Iterator, Mapping
from contextlib import closing, contextmanager
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from ..database import connect, migrate, writing
from .bundles import CHUNK, STAYS, DoesNotFit, columns, tables


@contextmanager
def brought_up_to_date(
    version: int, names: Iterable[str], rows: Callable[[str], Iterable[Mapping[str, Any]]]
) -> Iterator[sqlite3.Connection]:
    """A database that lives as long as the block, with the rows of today's schema that come of rows of an older one.

    What stays on its machine is left behind: older versions let it leave.

    Raises
    ------
    DoesNotFit
        When a table is not of that schema, or a row breaks a rule of it.
    KeyError
        When a row lacks a column, or has one too many.
    """
    with TemporaryDirectory(prefix="setback-") as folder:
        path = Path(folder) / "older.db"
        migrate(path, upto=version)
        with closing(connect(path, keeps_journal=False)) as db:
            known = {*tables(db), *STAYS}
            db.execute("PRAGMA foreign_keys = OFF")
            try:
                with writing(db):
                    for name in names:
                        if name not in known:
                            raise DoesNotFit(f"{name} was no table of schema {version}")
                        if name not in STAYS:
                            _fill(db, name, rows(name))
            except sqlite3.IntegrityError as error:
                raise DoesNotFit(str(error)) from None
        try:
            migrate(path)
        except RuntimeError as error:  # A row that points nowhere.
            raise DoesNotFit(str(error)) from None
        with closing(connect(path, keeps_journal=False)) as db:
            yield db


def _fill(db: sqlite3.Connection, table: str, rows: Iterable[Mapping[str, Any]]) -> None:
    names = [column.name for column in columns(db, table)]
    sql = f"INSERT OR REPLACE INTO {table} ({', '.join(names)}) VALUES ({', '.join('?' * len(names))})"
    chunk: list[list[Any]] = []
    for row in rows:
        if set(row) != set(names):
            raise KeyError(sorted(set(row) ^ set(names))[0])
        chunk.append([row[name] for name in names])
        if len(chunk) == CHUNK:
            db.executemany(sql, chunk)
            chunk = []
    db.executemany(sql, chunk)
