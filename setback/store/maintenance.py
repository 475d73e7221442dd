"""Copies of the database file: made while it is in use, checked before they take a place, and never half there.

A copy is written beside its place, checked, brought to the disk, and only then renamed: whatever fails before leaves what was there.
What it takes the place of is kept under a number.
"""

from __future__ import annotations

import errno
import os
import sqlite3
import time
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import dataclass
from datetime import date
from pathlib import Path
from tempfile import TemporaryDirectory

from . import copies
from .database import migrate, newest_schema
from .one_server import is_served

HALF = ".part"


class NotCopied(Exception):
    """A copy could not be made or put in place; what was there is as it was."""


class NotADatabase(NotCopied):
    """The file is not an intact Setback database of this version or an earlier one."""


class OntoItself(NotCopied):
    """A copy would replace the very file it is made from."""


class InUse(NotCopied):
    """A server has the database open."""


def files_of(path: Path) -> list[Path]:
    """The database file and what SQLite keeps beside it while it is open."""
    return [path, *(path.with_name(path.name + suffix) for suffix in ("-wal", "-shm"))]


def copy_to(path: Path, target: Path) -> Path | None:
    """A consistent copy of the database, even while it is being written; where an earlier copy went, if there was one.

    Raises
    ------
    OntoItself
        When the target is the database itself, by whatever name.
    NotADatabase
        When the database is damaged, or the target is a file that is no copy of ours.
    NotCopied
        When the disk is full or may not be written. Nothing is changed in any of these.
    """
    if any(_same(part, target) for part in files_of(path)):
        raise OntoItself(f"{target} is the database itself. Name another file; nothing was changed.")
    if target.exists() and target.stat().st_size and _what_is_wrong(target):
        raise NotADatabase(
            f"{target} is there already and is no backup of Setback. Name another file; nothing was changed."
        )
    with _put_in_place(target) as half:
        _copied(path, half)
        return _keep(target, target)


def copy_of_the_day(path: Path, day: date) -> Path | None:
    """The copy of a day in its folder; None where there is one already.

    Raises
    ------
    NotCopied
        As :func:`copy_to`.
    """
    target = copies.daily(path, day)
    if target.exists():
        return None
    try:
        target.parent.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise NotCopied(_why(error, target)) from error
    copy_to(path, target)
    return target


@dataclass(frozen=True)
class Rehearsed:
    """A copy that was put back in a scratch place, and how long that took."""

    copy: Path
    scratch: Path
    seconds: float


@contextmanager
def rehearsed(path: Path) -> Iterator[Rehearsed]:
    """The newest automatic copy, restored as it would be in earnest, for as long as the block runs.

    Raises
    ------
    NotCopied
        When there is no copy, or it is no intact database.
    """
    newest = copies.newest(path)
    if newest is None:
        raise NotCopied(f"There is no copy of {path} in {copies.folder(path)} yet: a server that runs makes one a day.")
    with TemporaryDirectory(prefix="setback-") as scratch_folder:
        scratch = Path(scratch_folder) / path.name
        begun = time.monotonic()
        restore_from(newest.path, scratch)
        migrate(scratch)
        yield Rehearsed(newest.path, scratch, time.monotonic() - begun)


def restore_from(source: Path, path: Path) -> Path | None:
    """Replace the database by a checked copy of ``source``; the old file is kept and its path returned.

    Raises
    ------
    InUse
        While a server has the database open.
    NotADatabase
        When the source is damaged, of another kind, or of a newer version.
    OntoItself
        When the source is the database itself.
    NotCopied
        When the disk is full or may not be written. Nothing is changed in any of these.
    """
    if any(_same(part, source) for part in files_of(path)):
        raise OntoItself(f"{source} is the database itself. Name a backup; nothing was changed.")
    wrong = _what_is_wrong(source)
    if wrong:
        raise NotADatabase(f"{source} {wrong}. Nothing was changed.")
    if is_served(path):
        raise InUse(f"A server has {path} open. Stop it first; nothing was changed.")
    path.parent.mkdir(parents=True, exist_ok=True)
    with _put_in_place(path) as half:
        _copied(source, half)
        kept_copy = None
        if path.exists():
            _close_up(path)
            kept_copy = _keep(path, path.with_name(f"{path.stem}.before-restore{path.suffix}"))
    return kept_copy


@contextmanager
def _put_in_place(target: Path) -> Iterator[Path]:
    """A file beside the target that takes its place when the block ends, and is gone when it raises."""
    half = target.with_name(target.name + HALF)
    half.unlink(missing_ok=True)
    try:
        yield half
        os.replace(half, target)
        _to_disk(target.parent)
    except NotCopied:
        raise
    except (OSError, sqlite3.Error) as error:
        raise NotCopied(_why(error, target)) from error
    finally:
        for part in files_of(half):
            part.unlink(missing_ok=True)


def _copied(source: Path, half: Path) -> None:
    try:
        with closing(sqlite3.connect(source)) as db, closing(sqlite3.connect(half)) as copy:
            db.backup(copy)
            # One file by itself, wherever it is taken.
            copy.execute("PRAGMA journal_mode = DELETE")
            intact = copy.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
    except sqlite3.DatabaseError as error:
        if isinstance(error, sqlite3.OperationalError):
            raise
        intact = False
    if not intact:
        raise NotADatabase(f"{source} is damaged: it could not be copied whole. Nothing was changed.")
    _to_disk(half)


def _what_is_wrong(path: Path) -> str | None:
    """Why a file cannot be a lab's; None where it is an intact one of this version or an earlier one."""
    try:
        with closing(sqlite3.connect(f"file:{path}?mode=ro", uri=True)) as db:
            intact = db.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
            ours = db.execute("SELECT 1 FROM sqlite_master WHERE name = 'parameter_set'").fetchone() is not None
            schema = int(db.execute("PRAGMA user_version").fetchone()[0])
    except sqlite3.Error:
        intact = ours = False
        schema = 0
    if not intact or not ours:
        return "is no intact Setback database"
    if schema > newest_schema():
        return f"was written by a newer Setback (schema {schema}). Update Setback first"
    return None


def _close_up(path: Path) -> None:
    """Bring everything into the one file, so that nothing of the old one lies beside the new one."""
    try:
        with closing(sqlite3.connect(path)) as db:
            db.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            db.execute("PRAGMA journal_mode = DELETE")
    except sqlite3.DatabaseError:  # It is damaged: that is why it is replaced. It is kept with what lies beside it.
        for part in files_of(path)[1:]:
            if part.exists():
                part.rename(
                    _free(part.with_name(f"{path.stem}.before-restore{path.suffix}{part.name[len(path.name) :]}"))
                )


def _keep(path: Path, name: Path) -> Path | None:
    """Give a file a second name, the first free number of one; None where there is none or it is empty.

    It stays under its own name until the new one takes that: at no moment is there none.
    """
    if not path.exists() or not path.stat().st_size:
        return None
    kept = _free(name)
    try:
        os.link(path, kept)
    except OSError:  # A disk without second names.
        os.replace(path, kept)
    return kept


def _free(name: Path) -> Path:
    """The name itself, or the first of name-2, name-3 … that is free."""
    number, free = 1, name
    while free.exists():
        number += 1
        free = name.with_name(f"{name.stem}-{number}{name.suffix}")
    return free


def _to_disk(path: Path) -> None:
    """What was written is on the disk when this returns, of a file or of a folder's names."""
    handle = os.open(path, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def _why(error: Exception, target: Path) -> str:
    text = str(error)
    if getattr(error, "errno", None) == errno.ENOSPC or "disk is full" in text:
        return f"The disk of {target} is full. What was there is as it was."
    if (
        getattr(error, "errno", None) in (errno.EACCES, errno.EROFS, errno.EPERM)
        or "readonly" in text
        or "unable to open" in text
    ):
        return f"{target} may not be written. What was there is as it was."
    return f"{target} could not be written ({text}). What was there is as it was."


def _same(first: Path, other: Path) -> bool:
    """Whether two paths lead to one file, through links too."""
    if first.exists() and other.exists():
        return first.samefile(other)
    return first.resolve() == other.resolve()
