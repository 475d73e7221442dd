"""Which tables a piece of work read and wrote, told from the statements it ran.

A page keeps what it was told. With this it asks anew for what a change touched, and for nothing else.
"""

from __future__ import annotations

import re
import sqlite3
from functools import lru_cache
from typing import Any

_WRITTEN = re.compile(r"\b(?:insert(?: or \w+)? into|replace into|update(?: or \w+)?|delete from)\s+(\w+)")
_WORDS = re.compile(r"\w+")


class Recorded(sqlite3.Connection):
    """A connection that keeps the statements it has run since :meth:`forget_statements`."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.statements: set[str] = set()

    def execute(self, sql: str, *args: Any) -> sqlite3.Cursor:
        """As :meth:`sqlite3.Connection.execute`."""
        self.statements.add(sql)
        return super().execute(sql, *args)

    def executemany(self, sql: str, *args: Any) -> sqlite3.Cursor:
        """As :meth:`sqlite3.Connection.executemany`."""
        self.statements.add(sql)
        return super().executemany(sql, *args)

    def forget_statements(self) -> None:
        """Begin anew."""
        self.statements.clear()

    def tables_read(self) -> set[str]:
        """Every table whose name stands in a statement: now and then one too many, never one too few."""
        return {word for sql in self.statements for word in _words(sql)} & self._tables()

    def tables_written(self) -> set[str]:
        """Every table a statement adds to, changes or deletes from."""
        return {word for sql in self.statements for word in _written(sql)} & self._tables()

    def _tables(self) -> set[str]:
        return {row[0] for row in super().execute("SELECT name FROM sqlite_master WHERE type = 'table'")}


@lru_cache(maxsize=2000)
def _words(sql: str) -> frozenset[str]:
    return frozenset(_WORDS.findall(sql.lower()))


@lru_cache(maxsize=2000)
def _written(sql: str) -> frozenset[str]:
    return frozenset(_WRITTEN.findall(sql.lower()))
