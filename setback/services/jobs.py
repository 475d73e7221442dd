"""Long work: queued in a table, done by one worker thread, with progress and cancel."""

from __future__ import annotations

import json
import logging
import threading
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any, Literal

from pydantic import Field

from ..core.contract import Contract, Problem
from ..store import virtual as stored
from ..store.database import connect, writing
from ..store.rows import insert, one, update
from . import bundles, records, virtual
from .bench import Bench, Conflict, NotFound, View, present
from .climate import imports, probes

Progress = Callable[[float, str], None]
log = logging.getLogger(__name__)


# While nothing else is to do, the worker reads the probes that have a driver.
PROBES_EVERY_S = 60.0


class Cancelled(Exception):
    """The person asked for the job to stop."""


@dataclass(frozen=True)
class JobRow:
    id: str
    kind: str
    state: str
    progress: float
    message: str
    input: dict[str, Any] | None
    result: dict[str, Any] | None
    cancel_asked: bool
    created_at: str
    ended_at: str | None


class JobView(View):
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
    kind: Literal["verify", "export-lab"]


WORK: dict[str, Callable[[Bench, Progress, dict[str, Any]], dict[str, Any]]] = {
    "verify": records.verify,
    "virtual-print": virtual.run,
    "probe-import": imports.run,
    "export-lab": bundles.export,
    "preview-bundle": bundles.preview,
    "import-bundle": bundles.take_in,
}


def start(bench: Bench, given: JobInput) -> JobView:
    return queue(bench, given.kind, {})


def print_virtually(bench: Bench, given: virtual.VirtualInput) -> JobView:
    """Queue a print on a simulated printer; one at a time is waited for or running."""
    virtual.check(bench, given)
    order = virtual.VirtualOrder(**given.model_dump(), initials=bench.initials)
    return queue(bench, "virtual-print", order.model_dump())


def import_samples(bench: Bench, probe_id: str, given: imports.ImportInput) -> JobView:
    """Queue the import of a logger's file."""
    imports.check(bench, probe_id, given)
    order = imports.ImportOrder(**given.model_dump(), probe_id=probe_id, initials=bench.initials)
    return queue(bench, "probe-import", order.model_dump())


def queue(bench: Bench, kind: str, given: dict[str, Any]) -> JobView:
    """Put work in the queue; a print under way is not queued twice."""
    with bench.write() as answer:
        if kind == "virtual-print" and given["print_id"] in stored.under_way(bench.db):
            raise Conflict("This print is under way already.")
        job_id = bench.new_id()
        insert(bench.db, "job", id=job_id, kind=kind, state="queued", input=given, created_at=bench.now())
        return answer(job(bench, job_id))


def job(bench: Bench, job_id: str) -> JobView:
    view = JobView.model_validate(present(_row(bench, job_id), "job"))
    if view.state == "failed" and view.result is not None:
        return view.model_copy(update={"result": None, "fields": view.result["fields"]})
    return view


def cancel(bench: Bench, job_id: str) -> JobView:
    with bench.write() as answer:
        row = present(_row(bench, job_id), "job")
        if row.state not in ("queued", "running"):
            raise Conflict(f"This job is {row.state} already.")
        update(bench.db, "job", job_id, cancel_asked=True)
        return answer(job(bench, job_id))


def _row(bench: Bench, job_id: str) -> JobRow | None:
    return one(bench.db, JobRow, "SELECT * FROM job WHERE id = ?", (job_id,))


class Worker:
    """One thread that takes queued jobs in order. Jobs found running at start were cut off: they failed."""

    def __init__(self, path: Path, make_bench: Callable[[Any], Bench]) -> None:
        self.path, self.make_bench = path, make_bench
        self.wake = threading.Event()
        self._stopping = False
        self._thread = threading.Thread(target=self._run, name="jobs", daemon=True)

    def start(self) -> None:
        self._thread.start()

    def stop(self) -> None:
        self._stopping = True
        self.wake.set()
        self._thread.join(timeout=10)

    def _run(self) -> None:
        db = connect(self.path)
        bench = self.make_bench(db)
        with writing(db):
            db.execute("UPDATE job SET state = 'failed', message = 'The server stopped.' WHERE state = 'running'")
        while not self._stopping:
            row = one(db, JobRow, "SELECT * FROM job WHERE state = 'queued' ORDER BY created_at, rowid LIMIT 1")
            if row is None:
                if not self.wake.wait(PROBES_EVERY_S):
                    probes.read_all(bench)
                self.wake.clear()
                continue
            self._do(bench, row)
        db.close()

    def _do(self, bench: Bench, row: JobRow) -> None:
        def progress(share: float, message: str) -> None:
            with writing(bench.db):
                update(bench.db, "job", row.id, progress=min(share, 1.0), message=message)
            held = _row(bench, row.id)
            if held is not None and held.cancel_asked:
                raise Cancelled

        state, message, result = "done", "", None
        bench.initials = None
        try:
            with writing(bench.db):
                update(bench.db, "job", row.id, state="running")
            progress(0, "Starting")
            result = WORK[row.kind](bench, progress, row.input or {})
        except Cancelled:
            state, message = "cancelled", "Stopped as asked."
        except (Conflict, Problem) as error:
            state, message, result = "failed", error.message, {"fields": error.fields}
        except NotFound as error:
            state, message = "failed", str(error)
        except Exception as error:  # a job must never take the worker down
            log.exception("The job %s (%s) ended in an error nobody foresaw", row.id, row.kind)
            state, message = "failed", f"{type(error).__name__}: {error}"
        with writing(bench.db):
            kept = None if result is None else json.dumps(result)
            columns: dict[str, Any] = {"state": state, "result": kept, "ended_at": bench.now()}
            if message:
                columns["message"] = message
            update(bench.db, "job", row.id, **columns)
