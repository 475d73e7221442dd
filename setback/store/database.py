"""Open the database file, bring it up to date, and run transactions."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from importlib.resources import files
from pathlib import Path

MIGRATIONS = files("setback.store") / "migrations"


def connect(path: Path | str) -> sqlite3.Connection:
    """One connection with foreign keys on and explicit transactions."""
    db = sqlite3.connect(path, timeout=10, isolation_level=None)
    db.row_factory = sqlite3.Row
    db.executescript("PRAGMA journal_mode = WAL; PRAGMA foreign_keys = ON; PRAGMA synchronous = NORMAL;")
    return db


@contextmanager
def writing(db: sqlite3.Connection) -> Iterator[sqlite3.Connection]:
    """A write transaction that takes its lock at once; rolled back when the block raises."""
    db.execute("BEGIN IMMEDIATE")
    try:
        yield db
    except BaseException:
        db.execute("ROLLBACK")
        raise
    db.execute("COMMIT")


def migrate(path: Path) -> list[str]:
    """Apply the migrations the file has not seen, in order; a copy of the file is kept before each.

    Returns
    -------
    list of str
        Names of the migrations applied.

    Raises
    ------
    RuntimeError
        When the file was written by a newer version of Setback.
    """
    path.parent.mkdir(parents=True, exist_ok=True)
    steps = sorted((entry for entry in MIGRATIONS.iterdir() if entry.name.endswith(".sql")), key=lambda e: e.name)
    db = connect(path)
    try:
        seen = int(db.execute("PRAGMA user_version").fetchone()[0])
        if seen > len(steps):
            raise RuntimeError(f"{path.name} was written by a newer Setback (schema {seen}). Update Setback first.")
        applied = []
        for number, step in enumerate(steps, 1):
            if number <= seen:
                continue
            if seen or number > 1:
                _copy(db, path.with_name(f"{path.stem}.before-{step.name[:4]}{path.suffix}"))
            with writing(db):
                for statement in _statements(step.read_text()):
                    db.execute(statement)
                db.execute(f"PRAGMA user_version = {number}")
            applied.append(step.name)
        return applied
    finally:
        db.close()


def _copy(db: sqlite3.Connection, target: Path) -> None:
    kept = sqlite3.connect(target)
    with kept:
        db.backup(kept)
    kept.close()


def _statements(script: str) -> Iterator[str]:
    """Single statements of a script; triggers, which hold semicolons, stay whole."""
    held = ""
    for line in script.splitlines(keepends=True):
        held += line
        if sqlite3.complete_statement(held):
            yield held
            held = ""
