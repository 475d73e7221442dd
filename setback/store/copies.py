"""Copies the application makes by itself: one a day and one before each migration, thinned out as they age.

Seven days, four weeks and twelve months are kept, the newest of each. They lie in a folder beside the database, or in one that the
environment names, such as on another disk.
"""

from __future__ import annotations

import os
import re
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from pathlib import Path

SETTING = "SETBACK_COPIES"
DAYS, WEEKS, MONTHS = 7, 4, 12


@dataclass(frozen=True, order=True)
class Copy:
    """A copy with the day it was made on; ``before``: the schema that came after it, of one made before a migration."""

    day: date
    path: Path
    before: int | None = None


def folder(path: Path) -> Path:
    """Where the copies of a database lie."""
    elsewhere = os.environ.get(SETTING)
    return Path(elsewhere) if elsewhere else path.with_name(f"{path.stem}-copies")


def daily(path: Path, day: date) -> Path:
    """The copy of a day."""
    return folder(path) / f"{path.stem}-{day.isoformat()}.db"


def before_migration(path: Path, schema: int, day: date) -> Path:
    """The copy from before a schema."""
    return folder(path) / f"{path.stem}-{day.isoformat()}-before-{schema:04d}.db"


def copies(path: Path, where: Path | None = None) -> list[Copy]:
    """All copies of a database, oldest first, in its own folder or another; whatever else lies there is none."""
    name = re.compile(rf"{re.escape(path.stem)}-(\d{{4}}-\d{{2}}-\d{{2}})(?:-before-(\d{{4}}))?\.db")
    all_copies = []
    for file in (where or folder(path)).glob("*.db"):
        parts = name.fullmatch(file.name)
        try:
            if parts:
                all_copies.append(Copy(date.fromisoformat(parts[1]), file, int(parts[2]) if parts[2] else None))
        except ValueError:  # No day of any calendar: not ours.
            continue
    return sorted(all_copies, key=lambda copy: (copy.day, copy.path))


def newest(path: Path) -> Copy | None:
    """The newest copy of a database, or None."""
    return next(reversed(copies(path)), None)


def days_kept(days: Iterable[date]) -> set[date]:
    """Which days keep their copies: the newest seven, and the newest day of each of the newest four weeks and twelve months."""
    newest_first = sorted(set(days), reverse=True)
    weeks: dict[tuple[int, int], date] = {}
    months: dict[tuple[int, int], date] = {}
    for day in newest_first:
        year, week, _ = day.isocalendar()
        weeks.setdefault((year, week), day)
        months.setdefault((day.year, day.month), day)
    return {*newest_first[:DAYS], *list(weeks.values())[:WEEKS], *list(months.values())[:MONTHS]}


def thin_out(path: Path, where: Path | None = None) -> list[Path]:
    """Remove copies that are no longer kept; which they were."""
    all_copies = copies(path, where)
    days = days_kept(copy.day for copy in all_copies)
    removed = [copy.path for copy in all_copies if copy.day not in days]
    for file in removed:
        file.unlink(missing_ok=True)
    return removed
