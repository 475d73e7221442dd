"""What a person adds to the work itself: tasks of their own, when a job is needed by, a printer that is down."""

from __future__ import annotations

from typing import Annotated

from pydantic import AwareDatetime, Field, StringConstraints

from ...core.contract import Contract, Problem
from ...store import plan as store
from ...store import shelf
from ...store.codes import next_code
from ...store.rows import insert, update
from ..both_versions import same_version
from ..shelf.entry import Note, Version, version_of
from ..unit_of_work import Conflict, UnitOfWork, iso, present
from .planning import WorkPlan, view


class OwnTaskInput(Contract):
    """A task of one's own, such as ordering resin."""

    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
    minutes: int = Field(15, ge=1, le=1440, description="Minutes of a person")
    due_at: AwareDatetime | None = Field(None, description="When it is needed by")
    note: Note = ""
    version: Version = None


def listed(work: UnitOfWork) -> list[store.OwnTask]:
    """Tasks of one's own that are not done."""
    return store.own_tasks(work.db)


def add(work: UnitOfWork, request: OwnTaskInput) -> store.OwnTask:
    """Add a task of one's own."""
    with work.write() as answer:
        task_id = work.new_id()
        insert(
            work.db,
            "own_task",
            id=task_id,
            code=next_code(work.db, "O"),
            name=request.name,
            minutes=request.minutes,
            due_at=iso(request.due_at) if request.due_at else None,
            note=request.note,
            technician_id=work.technician_id(),
            created_at=work.now(),
        )
        return answer(present(store.own_task(work.db, task_id), "task"))


def change(work: UnitOfWork, task_id: str, request: OwnTaskInput) -> store.OwnTask:
    """Change a task of one's own."""
    with work.write() as answer:
        row = present(store.own_task(work.db, task_id), "task")
        same_version(row, version_of(request.version), row.name, request)
        due_at = iso(request.due_at) if request.due_at else None
        columns = request.model_dump(exclude={"version", "due_at"})
        update(work.db, "own_task", task_id, version=row.version + 1, due_at=due_at, **columns)
        return answer(present(store.own_task(work.db, task_id), "task"))


def withdraw(work: UnitOfWork, task_id: str) -> store.OwnTask:
    """Take a task of one's own out of the plan."""
    with work.write() as answer:
        present(store.own_task(work.db, task_id), "task")
        update(work.db, "own_task", task_id, withdrawn_at=work.now())
        return answer(present(store.own_task(work.db, task_id), "task"))


def restore(work: UnitOfWork, task_id: str) -> store.OwnTask:
    """Bring a task of one's own back."""
    with work.write() as answer:
        present(store.own_task(work.db, task_id), "task")
        update(work.db, "own_task", task_id, withdrawn_at=None)
        return answer(present(store.own_task(work.db, task_id), "task"))


class DueInput(Contract):
    """When a job is needed by."""

    job: str = Field(min_length=1, max_length=40, description="Code of the calibration, test or set")
    due_at: AwareDatetime | None = Field(None, description="Null: no longer by any date")


def set_due(work: UnitOfWork, request: DueInput) -> WorkPlan:
    """Say when a job is needed by."""
    with work.write() as answer:
        due_at = iso(request.due_at) if request.due_at else None
        store.put_due(work.db, request.job, due_at, work.technician_id(), work.now())
        return answer(view(work))


class DownInput(Contract):
    """Why a printer cannot be used, and until when."""

    reason: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=200)]
    until_at: AwareDatetime | None = Field(None, description="When it is likely back; not known when not given")


def down(work: UnitOfWork, printer_id: str, request: DownInput) -> WorkPlan:
    """Note that a printer is down: nothing is planned on it.

    Raises
    ------
    Problem
        When it is to be back in the past.
    Conflict
        When it is down already.
    """
    with work.write() as answer:
        printer = present(shelf.printer(work.db, printer_id), "printer")
        if any(row.printer_id == printer_id for row in store.printers_down(work.db)):
            raise Conflict(f"{printer.name} is down already.")
        if request.until_at is not None and request.until_at <= work.clock():
            message = "That is past: leave it empty where that is not known."
            raise Problem(message, {"until_at": message})
        insert(
            work.db,
            "printer_down",
            id=work.new_id(),
            printer_id=printer_id,
            from_at=work.now(),
            until_at=iso(request.until_at) if request.until_at else None,
            reason=request.reason,
            technician_id=work.technician().id,
        )
        return answer(view(work))


def back(work: UnitOfWork, printer_id: str) -> WorkPlan:
    """Note that a printer can be used again."""
    with work.write() as answer:
        printer = present(shelf.printer(work.db, printer_id), "printer")
        row = next((row for row in store.printers_down(work.db) if row.printer_id == printer_id), None)
        if row is None:
            raise Conflict(f"{printer.name} is not down.")
        update(work.db, "printer_down", row.id, ended_at=work.now())
        return answer(view(work))
