"""Long work: queued in a table, done by one worker thread, with progress and cancel."""

from __future__ import annotations

import json
import logging
import sqlite3
import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any, Literal

from pydantic import Field

from ...core.contract import Contract, Problem
from ...store import shelf
from ...store.database import connect, writing
from ...store.lab import jobs as store
from ...store.prints import virtual as virtual_prints
from ...store.rows import insert, update
from ..climate import imports, probes
from ..files import bundles
from ..plan import planning
from ..prints import virtual
from ..reading import trays
from ..unit_of_work import Conflict, NotFound, UnitOfWork, View, present
from . import records
from .chores import Chores

Progress = Callable[[float, str], None]
log = logging.getLogger(__name__)


# While nothing else is to do, the worker reads the probes that have a driver.
PROBES_EVERY_S = 60.0
AGAIN_AFTER_S = 1.0


class Cancelled(Exception):
    """The person asked for the job to stop."""


class JobView(View):
    """How far a job is, and what came of it."""

    id: str
    kind: str
    state: Literal["queued", "running", "done", "failed", "cancelled"]
    progress: float
    message: str
    result: dict[str, Any] | None
    fields: dict[str, str] = Field(
        default_factory=dict, description="What a job that failed was refused for, by the field that would allow it"
    )
    created_at: str
    ended_at: str | None


class JobInput(Contract):
    """The work that is to be done."""

    kind: Literal["verify", "export-lab"]


WORK: dict[str, Callable[[UnitOfWork, Progress, dict[str, Any]], dict[str, Any]]] = {
    "verify": records.verify,
    "virtual-print": virtual.run,
    "probe-import": imports.run,
    "export-lab": bundles.export,
    "preview-bundle": bundles.preview,
    "import-bundle": bundles.take_in,
    "plan": planning.run,
    "read-tray": trays.run,
}


def start(work: UnitOfWork, request: JobInput) -> JobView:
    """Queue long work."""
    return queue(work, request.kind, {})


def print_virtually(work: UnitOfWork, request: virtual.VirtualInput) -> JobView:
    """Queue a print on a simulated printer; one at a time is waited for or running."""
    virtual.check(work, request)
    order = virtual.VirtualOrder(**request.model_dump(), initials=work.initials)
    return queue(work, "virtual-print", order.model_dump())


def import_samples(work: UnitOfWork, probe_id: str, request: imports.ImportInput) -> JobView:
    """Queue the import of a logger's file."""
    imports.check(work, probe_id, request)
    order = imports.ImportOrder(**request.model_dump(), probe_id=probe_id, initials=work.initials)
    return queue(work, "probe-import", order.model_dump())


def read_tray(work: UnitOfWork, calibration_id: str, content: bytes, scanner_dpi: float | None) -> JobView:
    """Queue the reading of a picture with several coupons."""
    return queue(work, "read-tray", trays.receive(work, calibration_id, content, scanner_dpi).model_dump())


def queue(work: UnitOfWork, kind: str, request: dict[str, Any]) -> JobView:
    """Put work in the queue; a print under way is not queued twice.

    Where nobody works yet, anybody may: that is how another lab's records come into an empty one.
    """
    with work.write(by_anybody=not shelf.technicians(work.db)) as answer:
        if kind == "virtual-print" and request["print_id"] in virtual_prints.under_way(work.db):
            raise Conflict("This print is under way already.")
        job_id = work.new_id()
        insert(work.db, "job", id=job_id, kind=kind, state="queued", input=request, created_at=work.now())
        return answer(job(work, job_id))


def job(work: UnitOfWork, job_id: str) -> JobView:
    """One job."""
    view = JobView.model_validate(present(store.job(work.db, job_id), "job"))
    if view.state == "failed" and view.result is not None:
        return view.model_copy(update={"result": None, "fields": view.result["fields"]})
    return view


def cancel(work: UnitOfWork, job_id: str) -> JobView:
    """Stop a job; nothing of it is kept."""
    with work.write() as answer:
        row = present(store.job(work.db, job_id), "job")
        if row.state not in ("queued", "running"):
            raise Conflict(f"This job is {row.state} already.")
        update(work.db, "job", job_id, cancel_asked=True)
        return answer(job(work, job_id))


class HandedBack(Exception):
    """The server stops: the job waits in the queue for the next one."""


class Worker:
    """One thread that takes queued jobs in order. Jobs found running at start were cut off: they failed."""

    def __init__(self, path: Path, make_work: Callable[[Any], UnitOfWork], chores: Chores | None = None) -> None:
        self.path, self.make_work, self.chores = path, make_work, chores
        self.begun = time.monotonic()
        self.wake = threading.Event()
        self._stopping = False
        self._pulse = time.monotonic()
        self._thread = threading.Thread(target=self._run, name="jobs", daemon=True)

    def start(self) -> None:
        """Begin to work through the queue."""
        self._thread.start()

    def stop(self) -> None:
        """Stop, and wait ten seconds at most for what is at hand."""
        self._stopping = True
        self.wake.set()
        self._thread.join(timeout=10)

    def silent_s(self) -> float | None:
        """Seconds since it last did something; None when it does nothing any more."""
        return time.monotonic() - self._pulse if self._thread.is_alive() else None

    def _run(self) -> None:
        db = connect(self.path)
        work = self.make_work(db)
        self._surely(lambda: self._cut_off(work))
        while not self._stopping:
            # Whatever goes wrong with one job or one probe, the next has its turn.
            try:
                self._next(work)
            except Exception:
                log.exception("The worker goes on after an error nobody foresaw")
                self.wake.wait(AGAIN_AFTER_S)
        db.close()

    def _cut_off(self, work: UnitOfWork) -> None:
        with writing(work.db):
            store.cut_off(work.db)

    def _next(self, work: UnitOfWork) -> None:
        """The job that has waited longest, or a look at the probes."""
        self._pulse = time.monotonic()
        row = store.claim(work.db)
        if row is not None:
            self._do(work, row)
            return
        if self.chores is not None:
            self.chores.if_due(work)
        if not self.wake.wait(PROBES_EVERY_S):
            probes.read_all(work)
        self.wake.clear()

    def _surely(self, step: Callable[[], None]) -> None:
        """Try until it is written, or the server stops: the file may be locked or the disk full for a while."""
        while True:
            try:
                return step()
            except sqlite3.OperationalError:
                if self._stopping:
                    raise
                log.exception("The worker cannot write; it tries again")
                self.wake.wait(AGAIN_AFTER_S)

    def _do(self, work: UnitOfWork, row: store.JobRow) -> None:
        def progress(share: float, message: str) -> None:
            """Note how far a job is; raises when it was cancelled."""
            self._pulse = time.monotonic()
            with writing(work.db):
                update(work.db, "job", row.id, progress=min(share, 1.0), message=message)
            stored = store.job(work.db, row.id)
            if stored is not None and stored.cancel_asked:
                raise Cancelled
            if self._stopping:
                raise HandedBack

        state, message, result = "done", "", None
        work.initials = None
        try:
            progress(0, "Starting")
            result = WORK[row.kind](work, progress, row.input or {})
        except Cancelled:
            state, message = "cancelled", "Stopped as asked."
        except HandedBack:
            with writing(work.db):
                update(
                    work.db, "job", row.id, state="queued", progress=0.0, message="Waits for the server to start again"
                )
            return
        except (Conflict, Problem) as error:
            state, message, result = "failed", error.message, {"fields": error.fields}
        except NotFound as error:
            state, message = "failed", str(error)
        except Exception as error:  # a job must never take the worker down
            log.exception("The job %s (%s) ended in an error nobody foresaw", row.id, row.kind)
            state, message = "failed", f"{type(error).__name__}: {error}"
        columns: dict[str, Any] = {
            "state": state,
            "result": None if result is None else json.dumps(result),
            "ended_at": work.now(),
        }
        if message:
            columns["message"] = message
        self._surely(lambda: self._note(work, row.id, columns))

    def _note(self, work: UnitOfWork, job_id: str, columns: dict[str, Any]) -> None:
        with writing(work.db):
            update(work.db, "job", job_id, **columns)
