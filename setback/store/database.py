"""Open the database file, bring it up to date, and run transactions."""

from __future__ import annotations

import os
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from datetime import UTC, datetime
from importlib.resources import files
from pathlib import Path
from threading import Lock
from typing import Any

from . import copies, journal
from .changes import log_of
from .names import by_name
from .touched import Recorded

MIGRATIONS = files("setback.store") / "migrations"
TakesNoWriting = sqlite3.OperationalError
"""Raised by a write where the disk is full, the file is locked for long, or may not be written."""
PATIENCE_S = 10
"""How long a write waits for another one."""
CACHE_KB = 4000
"""Of the file, for each connection: with SQLite's usual 2,000 a list of fifty calibrations reads its pages again in a shop of ten years."""


def connect(
    path: Path | str, any_thread: bool = False, *, keeps_journal: bool = True, must_exist: bool = False
) -> Recorded:
    """One connection with foreign keys on and explicit transactions; the file keeps its journal mode by itself (:func:`migrate`).

    ``any_thread``: it may be used by one thread after another, never by two at a time. ``keeps_journal``: what it writes
    is entered there. ``must_exist``: a file that is gone is not made anew.
    """
    may_be_written = can_be_written(Path(path))
    # Where nothing can be written beside the file, nobody else writes it either: it is read as it lies.
    way = "ro&immutable=1" if not may_be_written else "rw" if must_exist else "rwc"
    db = sqlite3.connect(
        f"{Path(path).resolve().as_uri()}?mode={way}",
        timeout=PATIENCE_S,
        isolation_level=None,
        check_same_thread=not any_thread,
        factory=Recorded,
        cached_statements=1000,
        uri=True,
    )
    db.row_factory = sqlite3.Row
    db.create_collation("BY_NAME", by_name)
    db.execute("PRAGMA foreign_keys = ON")
    db.execute(f"PRAGMA cache_size = -{CACHE_KB}")
    if not may_be_written:
        return db
    # What was acknowledged is on the disk, also when the power goes.
    db.execute("PRAGMA synchronous = FULL")
    db.changes = log_of(Path(path))
    if keeps_journal:
        journal.watch(db)
    return db


def can_be_written(path: Path) -> bool:
    """Whether a database, there or not yet, can be written where it lies; SQLite needs the folder too."""
    if not path.exists():
        return True
    is_allowed = os.access(path, os.W_OK) and os.access(path.parent, os.W_OK)
    return is_allowed and not os.statvfs(path).f_flag & os.ST_RDONLY if hasattr(os, "statvfs") else is_allowed


class Connections:
    """Connections to one file, each lent to one request at a time and kept for the next.

    A new connection reads the description of all tables before its first query, which takes longer than most requests.
    """

    def __init__(self, path: Path, most: int = 8) -> None:
        self._path, self._most = path, most
        self._idle: list[Recorded] = []
        self._file: tuple[int, int] | None = None
        self._lock = Lock()

    def lend(self) -> Recorded:
        """A connection that nobody else uses until it is taken back. Where the file was replaced, those to the old one are closed."""
        with self._lock:
            now = self._file_now()
            if now != self._file:
                self._close_idle()
                self._file = now
            if self._idle:
                return self._idle.pop()
        return connect(self._path, any_thread=True, must_exist=True)

    def take_back(self, db: Recorded) -> None:
        """Keep a connection for the next request, with nothing of the last one left on it."""
        try:
            if db.in_transaction:
                db.execute("ROLLBACK")
            has_own_tables = (
                db.execute("SELECT 1 FROM temp.sqlite_master WHERE type = 'table' LIMIT 1").fetchone() is not None
            )
        except sqlite3.Error:  # Whatever is wrong with it, the next request shall not have it.
            db.close()
            return
        db.forget_statements()
        with self._lock:
            if not has_own_tables and len(self._idle) < self._most and self._file_now() == self._file:
                self._idle.append(db)
                return
        db.close()

    def close(self) -> None:
        """Close those that are not lent."""
        with self._lock:
            self._close_idle()

    def _close_idle(self) -> None:
        while self._idle:
            self._idle.pop().close()

    def _file_now(self) -> tuple[int, int] | None:
        """Which file lies at the path, so that a restored one is noticed."""
        try:
            status = self._path.stat()
        except FileNotFoundError:
            return None
        return status.st_dev, status.st_ino


@contextmanager
def writing(db: sqlite3.Connection) -> Iterator[sqlite3.Connection]:
    """A write transaction that takes its lock at once; rolled back when the block raises, entered in the journal when it does not."""
    db.execute("BEGIN IMMEDIATE")
    if isinstance(db, Recorded):
        db.written_now.clear()
    try:
        yield db
        if isinstance(db, Recorded):
            journal.seal(db)
        db.execute("COMMIT")
        if isinstance(db, Recorded):
            db.put_on_the_disk()
    except BaseException:
        if db.in_transaction:
            db.execute("ROLLBACK")
        if isinstance(db, Recorded):
            db.taken_back()
        raise


@contextmanager
def piece_of_writing(db: sqlite3.Connection) -> Iterator[None]:
    """A part of a transaction that is taken back alone when the block raises."""
    db.execute("SAVEPOINT piece")
    try:
        yield
    except BaseException:
        db.execute("ROLLBACK TO piece")
        if isinstance(db, Recorded):
            db.watched.clear()
        raise
    finally:
        db.execute("RELEASE piece")


@contextmanager
def reading(db: sqlite3.Connection) -> Iterator[sqlite3.Connection]:
    """A connection of its own to the same file that sees everything as of one moment, while others go on writing."""
    with closing(connect(file_of(db))) as own:
        own.execute("BEGIN")
        yield own


def see_one_moment(db: sqlite3.Connection) -> None:
    """Read everything from here on as of one moment."""
    db.execute("BEGIN")


def let_go(db: sqlite3.Connection) -> bool:
    """End the moment that is seen, if there is one; whether there was."""
    was_held = db.in_transaction
    if was_held:
        db.execute("COMMIT")
    return was_held


def can_write(db: sqlite3.Connection) -> None:
    """Take the lock of a write and give it back; raises what a write would."""
    db.execute("PRAGMA busy_timeout = 500")
    try:
        db.execute("BEGIN IMMEDIATE")
        db.execute("ROLLBACK")
    finally:
        db.execute(f"PRAGMA busy_timeout = {PATIENCE_S * 1000}")


def put_together(path: Path) -> None:
    """Bring everything that was written into the one file, so that it can be copied by itself after the server stopped."""
    if not can_be_written(path):
        return
    with closing(connect(path)) as db:
        db.execute("PRAGMA wal_checkpoint(TRUNCATE)")


def tidy_up(db: sqlite3.Connection) -> None:
    """Put everything into the one file and count its rows, after a great deal was written."""
    db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    db.execute("ANALYZE")


def _steps() -> list[Any]:
    return sorted((entry for entry in MIGRATIONS.iterdir() if entry.name.endswith(".sql")), key=lambda e: e.name)


def newest_schema() -> int:
    """The schema this version writes."""
    return len(_steps())


def migrate(path: Path, upto: int | None = None) -> list[str]:
    """Apply the migrations the file has not seen, in order; a copy of the file is kept before the first.

    A new file has nothing to keep: no copy is made of it. ``upto`` stops at an older schema.

    Returns
    -------
    list of str
        Names of the migrations applied.

    Raises
    ------
    RuntimeError
        When the file was written by a newer version of Setback.
    """
    steps = _steps()
    if not can_be_written(path):
        _refuse_another_schema(path, len(steps))
        return []
    path.parent.mkdir(parents=True, exist_ok=True)
    db = connect(path, keeps_journal=False)
    try:
        db.execute("PRAGMA journal_mode = WAL")
        file_version = int(db.execute("PRAGMA user_version").fetchone()[0])
        if file_version > len(steps):
            raise RuntimeError(
                f"{path.name} was written by a newer Setback (schema {file_version}). Update Setback first."
            )
        is_behind = file_version < (upto or len(steps)) and journal.has_begun(db)
        # Records that are astray before it are so after it: a migration makes nothing good.
        astray = set(journal.differences(db)) if is_behind else set()
        applied: list[str] = []
        for number, step in enumerate(steps, 1):
            if number <= file_version or (upto is not None and number > upto):
                continue
            if file_version and not applied:
                _copy(db, copies.before_migration(path, number, datetime.now(UTC).date()))
            _apply(db, step.read_text(), number)
            applied.append(step.name)
        if is_behind:
            journal.take_over(db, {(kind, record) for kind, record, _ in set(journal.differences(db)) - astray})
        return applied
    finally:
        db.close()


def _refuse_another_schema(path: Path, newest: int) -> None:
    with closing(connect(path)) as db:
        file_version = int(db.execute("PRAGMA user_version").fetchone()[0])
    if file_version != newest:
        raise RuntimeError(
            f"{path.name} is of schema {file_version} and may not be written: it cannot be brought to {newest}."
        )


def _apply(db: sqlite3.Connection, script: str, number: int) -> None:
    """One migration in one transaction. Foreign keys rest meanwhile, so that a table may be built anew.

    Raises
    ------
    RuntimeError
        When it would leave a row that points nowhere; nothing is changed then.
    """
    db.execute("PRAGMA foreign_keys = OFF")
    try:
        with writing(db):
            for statement in _statements(script):
                db.execute(statement)
            astray = db.execute("PRAGMA foreign_key_check").fetchone()
            if astray is not None:
                raise RuntimeError(f"Schema {number} would leave rows of {astray[0]} that point nowhere.")
            db.execute(f"PRAGMA user_version = {number}")
    finally:
        db.execute("PRAGMA foreign_keys = ON")


def _copy(db: sqlite3.Connection, target: Path) -> None:
    """A copy under its name once it is whole; an earlier one of the same day and schema stays."""
    if target.exists():
        return
    target.parent.mkdir(parents=True, exist_ok=True)
    half = target.with_name(f"{target.name}.part")
    half.unlink(missing_ok=True)
    with closing(sqlite3.connect(half)) as copy:
        db.backup(copy)
    half.rename(target)


def _statements(script: str) -> Iterator[str]:
    """Single statements of a script; triggers, which hold semicolons, stay whole."""
    pending = ""
    for line in script.splitlines(keepends=True):
        pending += line
        if sqlite3.complete_statement(pending):
            yield pending
            pending = ""


def files_beside(db: sqlite3.Connection) -> Path:
    """The folder for files that belong to a database; made when it is first asked for."""
    main_file = file_of(db)
    folder = main_file.with_name(f"{main_file.stem}-files")
    folder.mkdir(exist_ok=True)
    return folder


def file_of(db: sqlite3.Connection) -> Path:
    """The database file of a connection."""
    return Path(db.execute("PRAGMA database_list").fetchone()[2])
