"""Whether the server can do its work: write, go through its queue, and find room on the disk."""

from __future__ import annotations

import shutil
import sqlite3
import time
from datetime import UTC, datetime
from pathlib import Path

from ...store import copies
from ...store.database import Connections, can_be_written, can_write
from ..unit_of_work import View
from .jobs import Worker

LEAST_FREE_BYTES = 200_000_000
LONGEST_SILENCE_S = 180.0
OLDEST_COPY_DAYS = 2
FIRST_COPY_WITHIN_S = 600.0


class Check(View):
    """One thing that must hold, and what is wrong where it does not."""

    name: str
    ok: bool
    words: str


def checks(path: Path, connections: Connections, worker: Worker | None, demo: bool = False) -> list[Check]:
    """Every check, in the order in which they matter."""
    of_worker = [_pulse(worker)] if worker else []
    of_chores = [_copy(path, worker)] if worker and worker.chores and not demo else []
    return [_write(path, connections), _room(path), *of_worker, *of_chores]


def _write(path: Path, connections: Connections) -> Check:
    if not can_be_written(path):
        return Check(name="write", ok=False, words="The database may not be written: it can be looked at.")
    try:
        db = connections.lend()
        try:
            can_write(db)
        finally:
            connections.take_back(db)
    except sqlite3.Error as error:
        return Check(name="write", ok=False, words=f"The database takes no writing: {error}.")
    return Check(name="write", ok=True, words="The database takes writing.")


def _room(path: Path) -> Check:
    free = shutil.disk_usage(path.parent).free
    words = f"{free / 1e9:.1f} GB are free on the disk of the database."
    return Check(name="disk", ok=free >= LEAST_FREE_BYTES, words=words)


def _pulse(worker: Worker) -> Check:
    silent = worker.silent_s()
    if silent is None:
        return Check(name="worker", ok=False, words="Nothing goes through the queue of long work.")
    is_alive = silent < LONGEST_SILENCE_S
    return Check(name="worker", ok=is_alive, words=f"Long work was looked after {silent:.0f} s ago.")


def _copy(path: Path, worker: Worker) -> Check:
    """The newest automatic copy; a server that has just begun may have none yet."""
    newest = copies.newest(path)
    if newest is None:
        has_just_begun = time.monotonic() - worker.begun < FIRST_COPY_WITHIN_S
        return Check(name="copy", ok=has_just_begun, words="There is no copy of the database yet.")
    is_fresh = (datetime.now(UTC).date() - newest.day).days <= OLDEST_COPY_DAYS
    return Check(name="copy", ok=is_fresh, words=f"The newest copy of the database is of {newest.day.isoformat()}.")
