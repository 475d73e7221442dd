"""Whether the server can do its work: write, go through its queue, and find room on the disk."""

from __future__ import annotations

import shutil
import sqlite3
from pathlib import Path

from ...store.database import Connections, can_write
from ..unit_of_work import View
from .jobs import Worker

LEAST_FREE_BYTES = 200_000_000
LONGEST_SILENCE_S = 180.0


class Check(View):
    """One thing that must hold, and what is wrong where it does not."""

    name: str
    ok: bool
    words: str


def checks(path: Path, connections: Connections, worker: Worker | None) -> list[Check]:
    """Every check, in the order in which they matter."""
    return [_write(connections), _room(path), *([_pulse(worker)] if worker else [])]


def _write(connections: Connections) -> Check:
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
