"""What the server does by itself once in a while: a copy a day, a walk through all records, and clearing up what nobody needs."""

from __future__ import annotations

import logging
import re
import time
from datetime import UTC, datetime, timedelta
from pathlib import Path

from ...store import copies
from ...store.climate import probes
from ...store.database import files_beside
from ...store.lab import answers, settings
from ...store.maintenance import NotCopied, copy_of_the_day, copy_to
from ..lab_settings import lab_settings
from ..unit_of_work import UnitOfWork, iso
from . import records

log = logging.getLogger(__name__)

EVERY_S = 3600.0
ANSWERS_KEPT = timedelta(days=7)
FILES_KEPT_S = 2 * 86_400.0
WALK_EVERY_S = 86_400.0
_OURS = re.compile(r"(?:export|import)-[0-9a-f-]{36}\.zip|[0-9a-f-]{36}\.(?:csv|samples|share)")
"""Names of files that Setback lays beside the database; whatever else lies there is somebody's."""


def do_all(work: UnitOfWork, walks: bool = True) -> None:
    """Every chore that is due; one that fails is told and keeps none of the others. A demo is worth no copies."""
    is_demo = settings.value(work.db, "demo") is not None
    for chore in (*(() if is_demo else (copy,)), clear_answers, clear_files, *((walk,) if walks else ())):
        try:
            chore(work)
        except Exception:
            log.exception("The chore %s failed; it is tried again within the hour", chore.__name__)


def copy(work: UnitOfWork) -> None:
    """The copy of the day, checked, and the older ones thinned out."""
    try:
        if copy_of_the_day(work.path, datetime.now(UTC).date()):
            copies.thin_out(work.path)
    except NotCopied as error:
        log.error("No copy was made today: %s", error)
    elsewhere = lab_settings(work).backup_folder
    if elsewhere:
        _copy_elsewhere(work.path, Path(elsewhere))


def _copy_elsewhere(path: Path, folder: Path) -> None:
    """The newest copy once more, in the folder that the lab names: a disk that breaks takes the copies beside the database with it."""
    newest = copies.newest(path)
    if newest is None or (folder / newest.path.name).exists():
        return
    try:
        copy_to(newest.path, folder / newest.path.name)
        copies.thin_out(path, folder)
    except (NotCopied, OSError) as error:
        log.error("No copy was laid into %s: %s", folder, error)


def clear_answers(work: UnitOfWork) -> None:
    """Answers to requests that nobody repeats any more."""
    with work.keeping():
        answers.expire(work.db, iso(work.clock() - ANSWERS_KEPT))


def clear_files(work: UnitOfWork) -> None:
    """Exports that were fetched, bundles that were not taken in, and files no row knows, once they are two days old."""
    known = probes.files_known(work.db)
    now = time.time()
    for file in files_beside(work.db).iterdir():
        if _OURS.fullmatch(file.name) and file.name not in known and now - file.stat().st_mtime > FILES_KEPT_S:
            file.unlink(missing_ok=True)


def walk(work: UnitOfWork) -> None:
    """Whether all records are what was entered."""
    records.verify(work, lambda share, message: None, {})


class Chores:
    """Says when the chores are due: at once when the server starts, then every hour; the walk through all records once a day.

    By a clock that nobody sets.
    """

    def __init__(self) -> None:
        self._next_at = self._next_walk_at = 0.0

    def if_due(self, work: UnitOfWork) -> None:
        """Do them when their time has come."""
        now = time.monotonic()
        if now >= self._next_at:
            walks = now >= self._next_walk_at
            self._next_at = now + EVERY_S
            if walks:
                self._next_walk_at = now + WALK_EVERY_S
            do_all(work, walks)
