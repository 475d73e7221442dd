"""How a print of parts came out: reported, corrected, withdrawn; everything it feeds follows."""

from __future__ import annotations

from datetime import datetime, timedelta

from pydantic import AwareDatetime, Field

from ...core.contract import Contract, Problem
from ...core.printing.settings import Settings, light_share
from ...core.prints.symptoms import leave_pieces
from ...store import shelf
from ...store.prints import log
from ...store.rows import insert, update
from ...store.sets import parameter_sets
from ..both_versions import Stale, differences
from ..climate.probes import resin_at
from ..reading.readings import Reason
from ..shelf.entry import Note
from ..unit_of_work import Conflict, UnitOfWork, iso, present
from .parts import CountedPart, SymptomKey, as_counted, counted, keep_parts, outcome_of
from .record import take_from_bottle
from .starting import check_alone, check_moment, in_words

LONGEST = timedelta(days=14)
"""No print takes longer; a start before that is a slip of the day."""


class ReportFields(Contract):
    """What is said of a print of parts when it came out."""

    finished_at: AwareDatetime | None = Field(None, description="When it ended; now when not given")
    symptoms: list[SymptomKey] = Field([], max_length=20, description="What was seen on it")
    seen: Note = ""
    pieces_lost: bool | None = Field(
        None, description="Whether cured pieces may lie in the vat; by what was seen when not given"
    )
    volume_ml: float | None = Field(None, ge=0, le=50_000, description="As planned when not given")
    minutes: float | None = Field(None, ge=0, le=20_000, description="As planned, or from start to end, when not given")
    temp_end_c: float | None = Field(
        None, ge=-20, le=80, description="Of the resin at the end, °C; from its probe when not given"
    )
    dry_min: float | None = Field(None, ge=0, le=10_000, description="Minutes it dried; not noted when not given")
    cure_min: float | None = Field(None, ge=0, le=1_000, description="Minutes it was cured; not noted when not given")


class ReportInput(ReportFields):
    """How a print came out; without parts all of them as the outcome says."""

    parts: list[CountedPart] = Field([], max_length=60, description="As planned, all whole, when none are given")


class CorrectionInput(ReportInput):
    """A report that supersedes the newest one."""

    reason: Reason
    number: int = Field(ge=1, description="Number of the report that is corrected")


def report(work: UnitOfWork, print_id: str, request: ReportInput, reason: str = "") -> None:
    """Keep how a print came out, inside whoever's transaction.

    Raises
    ------
    Problem
        When it ended before it began, in the future or while another print ran; when more parts are whole than were printed; when its
        bottle holds less than was used.
    """
    row = present(log.one_print(work.db, print_id), "print")
    finished_at = iso(request.finished_at) if request.finished_at is not None else work.entered()
    check_moment(work, finished_at, "finished_at")
    if row.started_at is not None:
        if finished_at < row.started_at:
            message = f"It started {in_words(row.started_at)}: it cannot have ended before."
            raise Problem(message, {"finished_at": message})
        if datetime.fromisoformat(finished_at) - datetime.fromisoformat(row.started_at) > LONGEST:
            message = f"It would have run since {in_words(row.started_at)}: check the day."
            raise Problem(message, {"finished_at": message, "started_at": message})
        printer = present(shelf.printer(work.db, row.printer_id), "printer")
        check_alone(work, printer, row.started_at, finished_at, row.id)
    parts = counted(
        request.parts or [as_counted(part) for part in log.newest_parts(work.db, [row.id])], request.symptoms
    )
    outcome = outcome_of(parts)
    report_id = work.new_id()
    insert(
        work.db,
        "print_report",
        id=report_id,
        print_id=row.id,
        number=len(log.reports(work.db, row.id)) + 1,
        finished_at=finished_at,
        outcome=outcome,
        symptoms=request.symptoms,
        seen=request.seen,
        pieces_lost=_leaves_pieces(request, parts),
        volume_ml=row.volume_ml if request.volume_ml is None else request.volume_ml,
        duration_s=_duration_s(row, request, finished_at),
        temp_end_c=_at_end(work, row, request, finished_at),
        dry_min=request.dry_min,
        cure_min=request.cure_min,
        reason=reason,
        technician_id=work.technician().id,
        recorded_at=work.now(),
    )
    keep_parts(work, row.id, report_id, parts)
    apply(work, row.id)


def _leaves_pieces(request: ReportInput, parts: list[CountedPart]) -> bool:
    if request.pieces_lost is not None:
        return request.pieces_lost
    only_over = all((part.whole or 0) + part.over == part.printed for part in parts)
    return leave_pieces(request.symptoms) and not only_over


def _duration_s(row: log.LoggedPrint, request: ReportInput, finished_at: str) -> float:
    if request.minutes is not None:
        return 60 * request.minutes
    if request.finished_at is not None and row.started_at is not None:
        return (datetime.fromisoformat(finished_at) - datetime.fromisoformat(row.started_at)).total_seconds()
    return row.duration_s


def _at_end(work: UnitOfWork, row: log.LoggedPrint, request: ReportInput, finished_at: str) -> float | None:
    if request.temp_end_c is not None:
        return request.temp_end_c
    return resin_at(work, row.printer_id, int(datetime.fromisoformat(finished_at).timestamp()))


def apply(work: UnitOfWork, print_id: str) -> None:
    """Let the newest report count: outcome, resin out of its bottle, light on its screen."""
    row = present(log.one_print(work.db, print_id), "print")
    newest = log.reports(work.db, print_id)[0]
    printer = present(shelf.printer(work.db, row.printer_id), "printer")
    if row.bottle_id is not None:
        take_from_bottle(work, row.bottle_id, newest.volume_ml)
    light_s = _light_s(work, row, newest)
    if light_s:
        log.add_screen_hours(work.db, printer.id, light_s / 3600)
    update(
        work.db,
        "print",
        print_id,
        status="printed",
        printed_at=newest.finished_at,
        outcome=newest.outcome,
        seen=newest.seen,
        pieces_lost=newest.pieces_lost,
        volume_ml=newest.volume_ml,
        duration_s=newest.duration_s,
        temp_end_c=newest.temp_end_c,
        technician_id=work.technician().id,
        screen_hours=printer.screen_hours,
        taken_ml=newest.volume_ml if row.bottle_id is not None else None,
        light_s=light_s,
    )


def take_back(work: UnitOfWork, print_id: str) -> None:
    """Let the report of a print no longer count, inside whoever's transaction: bottle and screen get theirs back."""
    fed = log.what_it_fed(work.db, print_id)
    row = present(log.one_print(work.db, print_id), "print")
    if row.bottle_id is not None and fed.taken_ml:
        shelf.pour_into_bottle(work.db, row.bottle_id, fed.taken_ml)
    if fed.light_s:
        log.add_screen_hours(work.db, row.printer_id, -fed.light_s / 3600)
    update(
        work.db,
        "print",
        print_id,
        status="cancelled",
        printed_at=None,
        outcome=None,
        taken_ml=None,
        light_s=None,
        temp_end_c=None,
        screen_hours=None,
    )


def correct(work: UnitOfWork, print_id: str, request: CorrectionInput) -> None:
    """Supersede the newest report, inside whoever's transaction.

    Raises
    ------
    Conflict
        When somebody else corrected it meanwhile, or it does not count.
    """
    row = present(log.one_print(work.db, print_id), "print")
    reports = log.reports(work.db, row.id)
    if row.status != "printed" or not reports:
        raise Conflict(f"{row.code} has no report that counts.")
    if reports[0].number != request.number:
        message = (
            f"{reports[0].initials} corrected {row.code} meanwhile. Look at that first; what you entered is kept here."
        )
        raise Stale(message, differences(request.model_dump(), reports[0].model_dump()), {"number": reports[0].number})
    take_back(work, row.id)
    report(work, row.id, ReportInput(**request.model_dump(exclude={"reason", "number"})), request.reason)


def withdraw(work: UnitOfWork, print_id: str, reason: str) -> None:
    """Let a print no longer count, with a reason, inside whoever's transaction."""
    row = present(log.one_print(work.db, print_id), "print")
    reports = log.reports(work.db, row.id)
    if row.status == "cancelled":
        raise Conflict(f"{row.code} is withdrawn already.")
    if row.status == "printed":
        take_back(work, row.id)
    else:
        update(work.db, "print", row.id, status="cancelled")
    if reports:
        update(
            work.db,
            "print_report",
            reports[0].id,
            withdrawn_at=work.now(),
            withdrawn_by=work.technician().id,
            withdrawn_reason=reason,
        )


def restore(work: UnitOfWork, print_id: str) -> None:
    """Let a withdrawn print count again, inside whoever's transaction; one nobody reported on runs again."""
    row = present(log.one_print(work.db, print_id), "print")
    if row.status != "cancelled":
        raise Conflict(f"{row.code} is not withdrawn.")
    reports = log.reports(work.db, row.id)
    if row.started_at is not None:
        printer = present(shelf.printer(work.db, row.printer_id), "printer")
        check_alone(work, printer, row.started_at, reports[0].finished_at if reports else None, row.id)
    if not reports:
        update(work.db, "print", row.id, status="planned")
        return
    update(work.db, "print_report", reports[0].id, withdrawn_at=None, withdrawn_by=None, withdrawn_reason=None)
    apply(work, row.id)


def _light_s(work: UnitOfWork, row: log.LoggedPrint, newest: log.Report) -> float | None:
    """Seconds of light the print added to its screen; None where that is not known, or is in a later reading of its hours."""
    if not newest.duration_s or row.exposure_s is None:
        return None
    if log.hours_known_since(work.db, row.printer_id, newest.finished_at):
        return None
    settings = log.settings_of(work.db, row.id)
    if settings is None and row.set_code is not None:
        settings = present(parameter_sets.parameter_set(work.db, row.set_code), "set").settings
    if settings is None:
        return None
    return newest.duration_s * light_share(Settings.model_validate(settings), row.exposure_s)
