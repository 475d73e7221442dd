"""Which tables a piece of work read and wrote, told from the statements it ran, and which records it touched.

A page keeps what it was told. With this it asks anew for what a change touched, and for nothing else. The records are for
the journal, which notes who wrote them and when.
"""

from __future__ import annotations

import re
import sqlite3
from collections.abc import Callable
from datetime import UTC, datetime
from functools import lru_cache
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from .changes import ChangeLog
    from .lab_key import Signer

_WRITTEN = re.compile(
    r"\b(?:insert(?: or \w+)? into|replace into|update(?: or \w+)?|delete from)\s+(?:main\.)?(?!set\b)(\w+)"
)
_WORDS = re.compile(r"\w+")


class Recorded(sqlite3.Connection):
    """A connection that keeps the statements it has run since :meth:`forget_statements`."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.statements: set[str] = set()
        self.noted: set[tuple[str, str]] = set()
        """Records of evidence that were written since the last transaction ended, as kind and key."""
        self.watched: set[str] = set()
        """Tables that were written to since the connection was opened: each was made ready to be noted."""
        self.before_writing: Callable[[str], None] | None = None
        """Called once with each table, before the first statement that writes to it."""
        self.moment: Callable[[], datetime] = lambda: datetime.now(UTC)
        self.initials: str | None = None
        self.tab: str | None = None
        """The tab of a browser that asks, where it says so: it need not be told of its own changes."""
        self.changes: ChangeLog | None = None
        self.written_now: set[str] = set()
        """Tables that were written to in the transaction at hand."""
        self.signer: Signer | None = None

    def execute(self, sql: str, *args: Any) -> sqlite3.Cursor:
        """As :meth:`sqlite3.Connection.execute`."""
        self._look_at(sql)
        return super().execute(sql, *args)

    def executemany(self, sql: str, *args: Any) -> sqlite3.Cursor:
        """As :meth:`sqlite3.Connection.executemany`."""
        self._look_at(sql)
        return super().executemany(sql, *args)

    def _look_at(self, sql: str) -> None:
        self.statements.add(sql)
        self.written_now |= _written(sql)
        if self.before_writing is not None:
            for table in _written(sql) - self.watched:
                self.watched.add(table)
                self.before_writing(table)

    def taken_back(self) -> None:
        """A transaction was rolled back: what was noted in it, and what was made ready for that, is gone."""
        self.noted.clear()
        self.watched.clear()

    def put_on_the_disk(self) -> None:
        """A transaction was committed: whoever follows the changes of the file hears of it."""
        if self.changes is not None:
            self.changes.note(self.written_now, self.initials, self.tab)
        self.written_now.clear()

    def note(self, kind: str, record: Any) -> None:
        """Called by the database for every record a statement touches."""
        self.noted.add((kind, str(record)))

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
