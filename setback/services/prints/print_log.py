"""The log of prints: short entries with their conditions."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Annotated

from pydantic import Field, StringConstraints

from ...core.contract import Contract, Problem
from ...store import shelf
from ...store.codes import next_code
from ...store.prints import prints
from ...store.rows import insert, update
from ...store.sets import parameter_sets
from ...store.terms import Outcome, PartOutcome
from ..shelf.entry import Note
from ..unit_of_work import Conflict, UnitOfWork, View, iso, present
from .record import Conditions, PrintedInput, record_print


class PrintedPartInput(Contract):
    """Parts of one kind in a print, and how many succeeded."""

    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]
    place: Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)] = ""
    outcome: PartOutcome = "whole"


class LogInput(Conditions):
    """A print of parts, outside a campaign."""

    printer_id: str = Field(max_length=40)
    set_code: str | None = Field(None, max_length=20, description="The issued set; or say the trial settings")
    settings_note: Note = ""
    volume_ml: float = Field(0, ge=0, le=50_000)
    parts: list[PrintedPartInput] = Field(min_length=1, max_length=60)
    lift_suppressed: bool = False


class LogView(prints.LoggedPrint):
    """A logged print."""

    parts: list[prints.PrintedPart] = []


class LogPage(View):
    """Some of the log's prints, newest first, and how many there are."""

    items: list[LogView]
    total: int


class DaysOfLog(View):
    """The newest weeks of the log, each print a mark on its day."""

    first_day: str | None = Field(description="Midnight UTC of the first day, ISO 8601; null while the log is empty")
    days: int = Field(description="How many days are shown")
    prints: list[prints.DayPrint]


DAYS_SHOWN, MOST_MARKS = 56, 2000


def days(work: UnitOfWork) -> DaysOfLog:
    """Eight weeks that end with the newest print."""
    newest = prints.newest_at(work.db)
    if newest is None:
        return DaysOfLog(first_day=None, days=0, prints=[])
    last = datetime.fromisoformat(newest).replace(hour=0, minute=0, second=0)
    first = iso(last - timedelta(days=DAYS_SHOWN - 1))
    return DaysOfLog(first_day=first, days=DAYS_SHOWN, prints=prints.since(work.db, first, MOST_MARKS))


def logged(work: UnitOfWork, before: str, limit: int, failed: bool = False) -> LogPage:
    """Prints that came out, newest first, those before the one of this id; only failures where asked for."""
    if before:
        present(prints.one_logged(work.db, before), "print")
    rows = prints.logged(work.db, before, limit, failed)
    parts: dict[str, list[prints.PrintedPart]] = {}
    for part in prints.parts(work.db, [row.id for row in rows]):
        parts.setdefault(part.print_id, []).append(part)
    views = [LogView.model_validate(row).model_copy(update={"parts": parts.get(row.id, [])}) for row in rows]
    return LogPage(items=views, total=prints.how_many_logged(work.db, failed))


def log(work: UnitOfWork, request: LogInput) -> LogView:
    """Log a print of parts.

    Raises
    ------
    Conflict
        While a gate of this printer is shut: the vat is not searched, or the lift is not back on.
    """
    with work.write() as answer:
        printer = present(shelf.printer(work.db, request.printer_id), "printer")
        set_row = parameter_sets.parameter_set(work.db, request.set_code) if request.set_code else None
        if request.set_code and (set_row is None or set_row.printer_id != printer.id):
            message = f"There is no set {request.set_code} of {printer.name}."
            raise Problem(message, {"set_code": message})
        print_id = work.new_id()
        insert(
            work.db,
            "print",
            id=print_id,
            code=next_code(work.db, "J"),
            printer_id=printer.id,
            status="planned",
            planned_at=work.now(),
            volume_ml=request.volume_ml,
            duration_s=0,
            parameter_set_id=set_row.id if set_row else None,
            settings_note=request.settings_note,
            lift_suppressed=request.lift_suppressed,
        )
        conditions = request.model_dump(include=set(Conditions.model_fields))
        record_print(work, print_id, PrintedInput(**conditions, outcome=_outcome(request.parts)))
        for part in request.parts:
            insert(work.db, "print_part", id=work.new_id(), print_id=print_id, **part.model_dump())
        return answer(_view(work, print_id))


def _outcome(parts: list[PrintedPartInput]) -> Outcome:
    outcomes = {part.outcome for part in parts}
    if outcomes == {"whole"}:
        return "whole"
    return "failed" if outcomes == {"missing"} else "missing parts"


def vat_searched(work: UnitOfWork, print_id: str) -> LogView:
    """Somebody searched the vat and checked the film after missing parts."""
    with work.write() as answer:
        technician = work.technician()
        row = present(prints.one_logged(work.db, print_id), "print")
        if row.outcome not in ("missing parts", "failed") or row.searched_at is not None:
            raise Conflict(f"{row.code} does not wait for that.")
        update(work.db, "print", print_id, searched_at=work.now(), searched_by=technician.id)
        return answer(_view(work, print_id))


def lift_back(work: UnitOfWork, print_id: str) -> LogView:
    """Somebody switched the lift back on."""
    with work.write() as answer:
        technician = work.technician()
        row = present(prints.one_logged(work.db, print_id), "print")
        if not row.lift_suppressed or row.lift_back_at is not None:
            raise Conflict(f"{row.code} does not wait for that.")
        update(work.db, "print", print_id, lift_back_at=work.now(), lift_back_by=technician.id)
        return answer(_view(work, print_id))


def _view(work: UnitOfWork, print_id: str) -> LogView:
    row = present(prints.one_logged(work.db, print_id), "print")
    parts = prints.parts(work.db, [print_id])
    return LogView.model_validate(row).model_copy(update={"parts": parts})
