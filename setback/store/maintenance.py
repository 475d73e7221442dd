"""Copies of the database file: made while it is in use, checked before they replace it."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path


class NotADatabase(Exception):
    """The file is not a Setback database."""


def copy_to(path: Path, target: Path) -> None:
    """A consistent copy of the database, even while it is being written."""
    target.unlink(missing_ok=True)
    with closing(sqlite3.connect(path)) as source, closing(sqlite3.connect(target)) as kept:
        source.backup(kept)


def restore_from(source: Path, path: Path) -> Path | None:
    """Replace the database by a checked copy of ``source``; the old file is kept and its path returned.

    Raises
    ------
    NotADatabase
        When the source is damaged or of another kind; nothing is touched then.
    """
    try:
        with closing(sqlite3.connect(f"file:{source}?mode=ro", uri=True)) as db:
            intact = db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
            ours = db.execute("SELECT 1 FROM sqlite_master WHERE name = 'parameter_set'").fetchone() is not None
    except sqlite3.DatabaseError:
        intact = ours = False
    if not intact or not ours:
        raise NotADatabase(f"{source} is no intact Setback database. Nothing was changed.")
    kept = None
    if path.exists():
        kept = path.with_name(f"{path.stem}.before-restore{path.suffix}")
        copy_to(path, kept)
        for part in (path, path.with_name(path.name + "-wal"), path.with_name(path.name + "-shm")):
            part.unlink(missing_ok=True)
    path.parent.mkdir(parents=True, exist_ok=True)
    copy_to(source, path)
    return kept
