"""The demo file of the tests: built once, and kept until what it is made from changes. ``python -m tests.kept_demo`` builds it ahead."""

from __future__ import annotations

import hashlib
import os
from pathlib import Path

from filelock import FileLock

import setback
from setback.demo import build
from setback.store import lab_key
from setback.store.maintenance import files_of

PACKAGE = Path(setback.__file__).parent
KEPT = PACKAGE.parent / ".make" / "tests"
KEY = os.environ.setdefault("SETBACK_KEY", str(KEPT / "lab.key"))
"""One key for all labs of the tests: making one takes longer than most of them."""


def kept_demo() -> Path:
    """The demo file; copy it before changing it. Processes that ask at the same time wait for the first."""
    KEPT.mkdir(parents=True, exist_ok=True)
    path = KEPT / f"demo-{made_from()}.db"
    with FileLock(KEPT / "demo.lock"):
        _make_key()
        if not path.exists():
            for older in KEPT.glob("demo-*.db*"):
                older.unlink()
            half = KEPT / "half-built.db"
            for part in files_of(half):
                part.unlink(missing_ok=True)
            build(half)
            half.rename(path)
    return path


def make_key() -> None:
    """The key of the tests' labs; processes that ask at the same time wait for the first."""
    KEPT.mkdir(parents=True, exist_ok=True)
    with FileLock(KEPT / "demo.lock"):
        _make_key()


def _make_key() -> None:
    if not Path(KEY).exists():
        lab_key.make(Path(KEY))


def made_from() -> str:
    """What the demo follows from: the package's own files, and the versions of those it computes with."""
    seal = hashlib.sha256()
    for file in sorted(PACKAGE.rglob("*")):
        if file.suffix in (".py", ".sql", ".json") and "web" not in file.relative_to(PACKAGE).parts:
            seal.update(file.relative_to(PACKAGE).as_posix().encode() + file.read_bytes())
    seal.update((PACKAGE.parent / "requirements.lock").read_bytes())
    return seal.hexdigest()[:16]


if __name__ == "__main__":
    kept_demo()
