"""One server for one database file: who has it is written beside it, and the lock goes with the process."""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from filelock import FileLock, Timeout


class ServedAlready(Exception):
    """Another process serves this file."""


def _lock(path: Path) -> FileLock:
    return FileLock(path.with_name(f"{path.name}.lock"), timeout=0)


def _note(path: Path) -> Path:
    return path.with_name(f"{path.name}.server")


@contextmanager
def serving(path: Path, address: str) -> Iterator[None]:
    """Keep every other server from a file while the block runs.

    Raises
    ------
    ServedAlready
        Saying which process has it, and where it answers.
    """
    path.parent.mkdir(parents=True, exist_ok=True)
    lock = _lock(path)
    try:
        lock.acquire()
    except Timeout:
        raise ServedAlready(f"{path} is served already, by {_who(path)}. Nothing was changed.") from None
    try:
        _note(path).write_text(f"process {os.getpid()} at {address}", encoding="utf-8")
        yield
    finally:
        _note(path).unlink(missing_ok=True)
        lock.release()


def is_served(path: Path) -> bool:
    """Whether a server has the file."""
    if not path.with_name(f"{path.name}.lock").exists():
        return False
    lock = _lock(path)
    try:
        lock.acquire()
    except Timeout:
        return True
    lock.release()
    return False


def _who(path: Path) -> str:
    try:
        return _note(path).read_text(encoding="utf-8")
    except OSError:
        return "another process"
