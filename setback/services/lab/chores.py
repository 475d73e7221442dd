"""What the server does by itself once in a while: a copy a day, a walk through all records, and clearing up what nobody needs."""

from __future__ import annotations

import logging
import time
from collections.abc import Callable
from datetime import UTC, datetime, timedelta

from ...store import copies
from ...store.climate import probes
from ...store.database import files_beside
from ...store.lab import answers, settings
from ...store.maintenance import NotCopied, copy_of_the_day
from ..unit_of_work import UnitOfWork, iso
from . import records

log = logging.getLogger(__name__)

EVERY_S = 3600.0
ANSWERS_KEPT = timedelta(days=7)
FILES_KEPT_S = 2 * 86_400.0
WALK_EVERY = timedelta(hours=20)


def do_all(work: UnitOfWork) -> None:
    """Every chore that is due; one that fails is told and keeps none of the others. A demo is worth no copies."""
    is_demo = settings.value(work.db, "demo") is not None
    for chore in (clear_answers, clear_files, walk) if is_demo else (copy, clear_answers, clear_files, walk):
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


def clear_answers(work: UnitOfWork) -> None:
    """Answers to requests that nobody repeats any more."""
    with work.keeping():
        answers.expire(work.db, iso(work.clock() - ANSWERS_KEPT))


def clear_files(work: UnitOfWork) -> None:
    """Exports that were fetched, bundles that were not taken in, and files no row knows, once they are two days old."""
    known = probes.files_known(work.db)
    now = time.time()
    for file in files_beside(work.db).iterdir():
        if file.is_file() and file.name not in known and now - file.stat().st_mtime > FILES_KEPT_S:
            file.unlink(missing_ok=True)


def walk(work: UnitOfWork) -> None:
    """Whether all records are what was entered, once when the server starts and once a day."""
    last = (settings.value(work.db, records.STANDING) or {}).get("checked_at")
    if last is None or work.clock() - datetime.fromisoformat(last) > WALK_EVERY:
        records.verify(work, lambda share, message: None, {})


class Chores:
    """Says when the chores are due: at once when the server starts, then every hour."""

    def __init__(self, do: Callable[[UnitOfWork], None] = do_all) -> None:
        self._do = do
        self._next_at = 0.0

    def if_due(self, work: UnitOfWork) -> None:
        """Do them when their time has come."""
        if time.monotonic() >= self._next_at:
            self._next_at = time.monotonic() + EVERY_S
            self._do(work)
