"""The log of prints: what runs, what came out on which days, and one print with all that is known of it."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any

from pydantic import Field

from ...core.climate.band import outside
from ...core.contract import Contract
from ...core.prints.symptoms import SYMPTOMS, Symptom
from ...store.prints import log as store
from ...store.rows import update
from ...store.sets import parameter_sets
from ...store.terms import BandSide, Outcome
from ..unit_of_work import Conflict, UnitOfWork, View, iso, present
from . import reporting, starting
from .parts import CountedPart, keep_parts

DAYS_SHOWN, MOST_MARKS = 56, 4000
MOST_COUNTED = 10_000
"""How far prints are counted to say how many there are: a longer history would be walked through for a number nobody needs."""
FOLLOWED = 3
"""Prints on the same printer that are shown behind one."""


class LogInput(starting.StartFields, reporting.ReportFields):
    """A print of parts that came out, in one step."""

    parts: list[CountedPart] = Field(min_length=1, max_length=60)


class LogFilters(Contract):
    """Which prints are shown; those that are not given leave nothing out."""

    printer: str | None = Field(None, max_length=40, description="Id of a printer")
    material: str | None = Field(None, max_length=40, description="Id of a material")
    bottle: str | None = Field(None, max_length=40, description="Id of a bottle")
    set_code: str | None = Field(None, max_length=20, description="Code of a set")
    film: str | None = Field(
        None, max_length=40, description="Id of the event of a printer from which on, to the next of its kind"
    )
    outcome: Outcome | None = None
    since: str | None = Field(None, max_length=30, description="First day, ISO 8601")
    until: str | None = Field(None, max_length=30, description="Day behind the last one, ISO 8601")
    parts: bool = Field(False, description="Prints of parts only")
    failed: bool = Field(False, description="Only prints that left parts missing")


class LogView(store.LoggedPrint):
    """A print with its parts."""

    parts: list[store.Part] = []


class LogPage(View):
    """Some of the log's prints, newest first, and how many there are."""

    items: list[LogView]
    total: int
    and_more: bool = Field(description="There are more than the total: beyond ten thousand nobody counts")


class DaysOfLog(View):
    """Weeks of the log, each print a mark on its day."""

    first_day: str | None = Field(description="Midnight UTC of the first day, ISO 8601; null while nothing is shown")
    days: int = Field(description="How many days are shown")
    prints: list[store.DayPrint]
    more: bool = Field(description="More prints than are drawn")


class Followed(View):
    """A print that came out on the same printer afterwards."""

    code: str
    printed_at: str
    material: str | None
    exposure_s: float | None
    outcome: Outcome | None


class SetLimits(View):
    """What the set a print followed is meant for."""

    code: str
    exposure_s: float
    temp_low_c: float | None
    temp_high_c: float | None
    side: BandSide | None = Field(description="On which side of its band the print began; null inside it, or not noted")


class PrintPage(LogView):
    """One print: its conditions beside its set's limits, reports, photos and what followed."""

    settings: dict[str, Any] | None = Field(description="Trial settings other than exposure and layer")
    set_limits: SetLimits | None
    planned: list[store.Part]
    reports: list[store.Report]
    photos: list[store.PrintPhoto]
    followed: list[Followed]
    symptoms: list[Symptom] = Field(description="What was seen, of the newest report")


class SymptomList(View):
    """Everything that can be seen on a print."""

    items: list[Symptom]


def symptoms() -> SymptomList:
    """What can be seen on a print, in the order it is offered."""
    return SymptomList(items=list(SYMPTOMS.values()))


def days(work: UnitOfWork, filters: LogFilters) -> DaysOfLog:
    """Eight weeks that end with the newest print, or with the day before ``until``."""
    asked_for = _wanted(work, filters)
    newest = store.newest_at(work.db, asked_for)
    if newest is None:
        return DaysOfLog(first_day=None, days=0, prints=[], more=False)
    last = datetime.fromisoformat(newest).replace(hour=0, minute=0, second=0)
    since, until = iso(last - timedelta(days=DAYS_SHOWN - 1)), iso(last + timedelta(days=1))
    prints = store.on_days(work.db, asked_for, since, until, MOST_MARKS + 1)
    return DaysOfLog(first_day=since, days=DAYS_SHOWN, prints=prints[:MOST_MARKS], more=len(prints) > MOST_MARKS)


def logged(work: UnitOfWork, filters: LogFilters, before: str, limit: int) -> LogPage:
    """Prints that came out, newest first, those before the one of this id."""
    if before:
        present(store.one_print(work.db, before), "print")
    asked_for = _wanted(work, filters)
    rows = store.logged(work.db, asked_for, before, limit)
    total = store.how_many(work.db, asked_for, MOST_COUNTED + 1)
    return LogPage(items=_with_parts(work, rows), total=min(total, MOST_COUNTED), and_more=total > MOST_COUNTED)


def running(work: UnitOfWork) -> list[LogView]:
    """Prints that were started and nobody reported on."""
    return _with_parts(work, store.running(work.db))


def page(work: UnitOfWork, id_or_code: str) -> PrintPage:
    """One print with all that is known of it."""
    row = present(store.one_print(work.db, id_or_code), "print")
    reports = store.reports(work.db, row.id)
    set_row = parameter_sets.parameter_set(work.db, row.set_code) if row.set_code else None
    return PrintPage(
        **_with_parts(work, [row])[0].model_dump(),
        settings=store.settings_of(work.db, row.id),
        set_limits=_limits(set_row, row.temp_c) if set_row else None,
        planned=store.planned_parts(work.db, row.id),
        reports=reports,
        photos=store.photos(work.db, row.id),
        followed=[
            Followed.model_validate(row_behind.model_dump(include=set(Followed.model_fields)))
            for row_behind in store.behind(work.db, row.printer_id, row.printed_at, FOLLOWED)
        ]
        if row.printed_at
        else [],
        symptoms=[SYMPTOMS[key] for key in reports[0].symptoms] if reports else [],
    )


def start(work: UnitOfWork, request: starting.StartInput) -> LogView:
    """A print of parts starts."""
    with work.write() as answer:
        return answer(_view(work, starting.start(work, request)))


def log(work: UnitOfWork, request: LogInput) -> LogView:
    """Log a print of parts that came out, in one step."""
    with work.write() as answer:
        start_fields = starting.StartFields(**request.model_dump(include=set(starting.StartFields.model_fields)))
        report_fields = request.model_dump(include=set(reporting.ReportInput.model_fields))
        started_at = iso(request.started_at) if request.started_at is not None else None
        finished_at = iso(request.finished_at) if request.finished_at is not None else None
        print_id = starting.put(
            work, start_fields, started_at, request.volume_ml or 0.0, 60 * (request.minutes or 0), finished_at
        )
        keep_parts(work, print_id, None, request.parts)
        reporting.report(work, print_id, reporting.ReportInput(**report_fields))
        return answer(_view(work, print_id))


def finish(work: UnitOfWork, print_id: str, request: reporting.ReportInput) -> LogView:
    """Report how a print that was started came out.

    Raises
    ------
    Conflict
        When somebody reported on it already, or it was withdrawn.
    """
    with work.write() as answer:
        row = present(store.one_print(work.db, print_id), "print")
        if row.status == "printed":
            message = f"{row.initials} reported on {row.code} already: {row.outcome}. Correct that if it was otherwise."
            raise Conflict(message, {"number": message})
        if row.status == "cancelled" or not row.of_parts:
            raise Conflict(f"{row.code} does not wait for its outcome.")
        reporting.report(work, row.id, request)
        return answer(_view(work, row.id))


def correct(work: UnitOfWork, print_id: str, request: reporting.CorrectionInput) -> LogView:
    """Supersede what was reported, with a reason."""
    with work.write() as answer:
        row = present(store.one_print(work.db, print_id), "print")
        reporting.correct(work, row.id, request)
        return answer(_view(work, row.id))


def withdraw(work: UnitOfWork, print_id: str, reason: str) -> LogView:
    """Let a print no longer count; bottle, screen, vat and success follow."""
    with work.write() as answer:
        row = present(store.one_print(work.db, print_id), "print")
        if not row.of_parts:
            raise Conflict(f"{row.code} is a print of coupons or specimens: cancel it where it was planned.")
        reporting.withdraw(work, row.id, reason)
        return answer(_view(work, row.id))


def restore(work: UnitOfWork, print_id: str) -> LogView:
    """Let a withdrawn print count again."""
    with work.write() as answer:
        row = present(store.one_print(work.db, print_id), "print")
        if not row.of_parts:
            raise Conflict(f"{row.code} is a print of coupons or specimens: plan it again where it belongs.")
        reporting.restore(work, row.id)
        return answer(_view(work, row.id))


def vat_searched(work: UnitOfWork, print_id: str) -> LogView:
    """Somebody searched the vat and checked the film after missing parts."""
    with work.write() as answer:
        technician = work.technician()
        row = present(store.one_print(work.db, print_id), "print")
        if row.outcome not in ("missing parts", "failed") or not row.pieces_lost or row.searched_at is not None:
            raise Conflict(f"{row.code} does not wait for that.")
        update(work.db, "print", row.id, searched_at=work.now(), searched_by=technician.id)
        return answer(_view(work, row.id))


def lift_back(work: UnitOfWork, print_id: str) -> LogView:
    """Somebody switched the lift back on."""
    with work.write() as answer:
        technician = work.technician()
        row = present(store.one_print(work.db, print_id), "print")
        if not row.lift_suppressed or row.lift_back_at is not None:
            raise Conflict(f"{row.code} does not wait for that.")
        update(work.db, "print", row.id, lift_back_at=work.now(), lift_back_by=technician.id)
        return answer(_view(work, row.id))


def _wanted(work: UnitOfWork, filters: LogFilters) -> dict[str, Any]:
    """The filters that leave something out, as the store names them."""
    limits = {name: value for name, value in filters.model_dump(exclude={"film"}).items() if value not in (None, False)}
    if filters.film is not None:
        film = present(store.period(work.db, filters.film), "event")
        limits |= {"printer": film.printer_id, "since": film.since}
        if film.until is not None:
            limits["until"] = film.until
    return limits


def _limits(set_row: parameter_sets.SetRow, temp_c: float | None) -> SetLimits:
    low, high = set_row.temp_low_c, set_row.temp_high_c
    side = None if temp_c is None else outside(temp_c, low, high)
    return SetLimits(code=set_row.code, exposure_s=set_row.exposure_s, temp_low_c=low, temp_high_c=high, side=side)


def _with_parts(work: UnitOfWork, rows: list[store.LoggedPrint]) -> list[LogView]:
    parts: dict[str, list[store.Part]] = {}
    for part in store.newest_parts(work.db, [row.id for row in rows]):
        parts.setdefault(part.print_id, []).append(part)
    return [LogView.model_validate({**row.model_dump(), "parts": parts.get(row.id, [])}) for row in rows]


def _view(work: UnitOfWork, print_id: str) -> LogView:
    return _with_parts(work, [present(store.one_print(work.db, print_id), "print")])[0]
