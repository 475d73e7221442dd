"""What was written lately, by table: so that a page that is open elsewhere hears of it within seconds.

It is kept in memory, for each file, by the process that serves it. A command in another process (setback user) is heard of when a page next asks.
"""

from __future__ import annotations

import secrets
import threading
from collections import deque
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path

KEPT = 500
"""Changes that are remembered; a page that slept through more asks for everything anew."""


@dataclass(frozen=True)
class Change:
    """One transaction: its number, the tables it wrote, who asked for it, and from which tab of a browser."""

    number: int
    tables: frozenset[str]
    initials: str | None
    tab: str | None


@dataclass(frozen=True)
class Since:
    """What came after a place in the log."""

    place: str
    tables: frozenset[str] | None
    """None: more than is remembered, so everything."""
    initials: list[str]


class ChangeLog:
    """The changes of one file since this process began, each with a number."""

    def __init__(self) -> None:
        self._began = secrets.token_hex(4)
        self._changes: deque[Change] = deque(maxlen=KEPT)
        self._number = 0
        self._lock = threading.Lock()

    def note(self, tables: Iterable[str], initials: str | None = None, tab: str | None = None) -> None:
        """Note a transaction that is on the disk."""
        written = frozenset(tables)
        if not written:
            return
        with self._lock:
            self._number += 1
            self._changes.append(Change(self._number, written, initials, tab))

    def since(self, place: str, tab: str | None = None) -> Since:
        """What others than a tab wrote after a place; everything where that is of another process, or too long ago."""
        with self._lock:
            now = f"{self._began}-{self._number}"
            began, _, number = place.partition("-")
            oldest = self._changes[0].number if self._changes else self._number + 1
            is_known = began == self._began and number.isdigit() and oldest - 1 <= int(number) <= self._number
            if not is_known:
                return Since(now, None, [])
            later = [change for change in self._changes if change.number > int(number) and change.tab != (tab or "")]
        tables = {table for change in later for table in change.tables}
        return Since(now, frozenset(tables), sorted({change.initials for change in later if change.initials}))


_LOGS: dict[Path, ChangeLog] = {}


def log_of(path: Path) -> ChangeLog:
    """The changes of a file in this process."""
    return _LOGS.setdefault(path.resolve(), ChangeLog())
