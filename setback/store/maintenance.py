"""Copies of the database file: made while it is in use, checked before they replace it."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path


class NotADatabase(Exception):
    """The file is not a Setback database."""


class OntoItself(Exception):
    """A copy would replace the very file it is made from."""


def files_of(path: Path) -> list[Path]:
    """The database file and what SQLite keeps beside it while it is open."""
    return [path, *(path.with_name(path.name + suffix) for suffix in ("-wal", "-shm"))]


def copy_to(path: Path, target: Path) -> None:
    """A consistent copy of the database, even while it is being written.

    Raises
    ------
    OntoItself
        When the target is the database itself, by whatever name; nothing is touched then.
    """
    if any(_same(part, target) for part in files_of(path)):
        raise OntoItself(f"{target} is the database itself. Name another file; nothing was changed.")
    target.unlink(missing_ok=True)
    with closing(sqlite3.connect(path)) as source, closing(sqlite3.connect(target)) as target_db:
        source.backup(target_db)


def restore_from(source: Path, path: Path) -> Path | None:
    """Replace the database by a checked copy of ``source``; the old file is kept and its path returned.

    Raises
    ------
    NotADatabase
        When the source is damaged or of another kind; nothing is touched then.
    OntoItself
        When the source is the database itself; nothing is touched then.
    """
    if any(_same(part, source) for part in files_of(path)):
        raise OntoItself(f"{source} is the database itself. Name a backup; nothing was changed.")
    try:
        with closing(sqlite3.connect(f"file:{source}?mode=ro", uri=True)) as db:
            intact = db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
            ours = db.execute("SELECT 1 FROM sqlite_master WHERE name = 'parameter_set'").fetchone() is not None
    except sqlite3.DatabaseError:
        intact = ours = False
    if not intact or not ours:
        raise NotADatabase(f"{source} is no intact Setback database. Nothing was changed.")
    kept_copy = None
    if path.exists():
        kept_copy = path.with_name(f"{path.stem}.before-restore{path.suffix}")
        copy_to(path, kept_copy)
        for part in files_of(path):
            part.unlink(missing_ok=True)
    path.parent.mkdir(parents=True, exist_ok=True)
    copy_to(source, path)
    return kept_copy


def _same(first: Path, other: Path) -> bool:
    """Whether two paths lead to one file, through links too."""
    if first.exists() and other.exists():
        return first.samefile(other)
    return first.resolve() == other.resolve()
