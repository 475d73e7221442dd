"""What becomes of a planned print: printed, taken back, and both undone."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ...core.contract import Contract
from ...store import shelf
from ...store.calibrate import calibrations as store
from ...store.prints import virtual
from ...store.reading import readings
from ...store.rows import update
from ..climate.gate import pass_gate
from ..climate.probes import resin_at
from ..shelf.entry import Note
from ..unit_of_work import Conflict, UnitOfWork, View, present
from .gates import check_gates
from .print_log import check_temperature


class PrintedInput(Contract):
    """How a planned print came out: temperature, millilitres, missing parts."""

    temp_c: float | None = Field(None, ge=-20, le=80)
    temp_place: Literal["room", "chamber air", "resin"] | None = None
    outcome: Literal["whole", "missing parts", "failed"] = "whole"
    seen: Note = ""
    volume_ml: float | None = Field(
        None, ge=0, le=50_000, description="As used; the planned millilitres when not given"
    )
    outside_band: Note = Field("", description="Why a check coupon was printed outside its set's temperature band")


class PrintState(View):
    """A planned print as it stands."""

    id: str
    code: str
    status: str
    printed_at: str | None
    temp_c: float | None
    temp_place: str | None


def printed(work: UnitOfWork, print_id: str, request: PrintedInput) -> PrintState:
    """Note that a print came out, and how warm it was and where that was measured."""
    check_temperature(request.temp_c, request.temp_place)
    with work.write() as answer:
        mark_printed(work, print_id, request)
        return answer(_state(work, print_id))


def mark_printed(work: UnitOfWork, print_id: str, request: PrintedInput) -> None:
    """The write of :func:`printed`, for whoever has a transaction open."""
    row = present(store.print_row(work.db, print_id), "print")
    if row.status != "planned":
        raise Conflict(f"{row.code} is {row.status} already.")
    printer = present(shelf.printer(work.db, row.printer_id), "printer")
    if printer.retired_at is not None:
        raise Conflict(f"{printer.name} is retired: nothing can be printed on it.")
    check_gates(work, printer.id, row.lift_suppressed)
    crossed = pass_gate(work, store.set_behind(work.db, print_id), request.temp_c, request.outside_band)
    update(
        work.db,
        "print",
        print_id,
        status="printed",
        printed_at=work.now(),
        temp_c=request.temp_c,
        temp_place=request.temp_place,
        technician_id=work.technician_id() or row.technician_id,
        outcome=request.outcome,
        seen=request.seen,
        screen_hours=printer.screen_hours,
        volume_ml=row.volume_ml if request.volume_ml is None else request.volume_ml,
        temp_end_c=resin_at(work, printer.id, int(work.clock().timestamp())),
        outside_band=crossed,
    )


def unprinted(work: UnitOfWork, print_id: str) -> PrintState:
    """Undo :func:`printed`, while nothing was read."""
    with work.write() as answer:
        row = present(store.print_row(work.db, print_id), "print")
        if row.status != "printed":
            raise Conflict(f"{row.code} is {row.status}.")
        _nothing_read(work, print_id)
        virtual.forget(work.db, print_id, work.now())
        update(
            work.db,
            "print",
            print_id,
            status="planned",
            printed_at=None,
            temp_c=None,
            temp_place=None,
            outcome=None,
            seen="",
            searched_at=None,
            searched_by=None,
            temp_end_c=None,
            outside_band=None,
        )
        return answer(_state(work, print_id))


def cancel(work: UnitOfWork, print_id: str) -> PrintState:
    """Take back a planned print; its coupon code is not used again."""
    with work.write() as answer:
        row = present(store.print_row(work.db, print_id), "print")
        if row.status != "planned":
            raise Conflict(f"{row.code} is {row.status}: only a planned print can be taken back.")
        update(work.db, "print", print_id, status="cancelled")
        return answer(_state(work, print_id))


def reinstate(work: UnitOfWork, print_id: str) -> PrintState:
    """Undo :func:`cancel`."""
    with work.write() as answer:
        row = present(store.print_row(work.db, print_id), "print")
        if row.status != "cancelled":
            raise Conflict(f"{row.code} is {row.status}.")
        update(work.db, "print", print_id, status="planned")
        return answer(_state(work, print_id))


def _state(work: UnitOfWork, print_id: str) -> PrintState:
    return PrintState.model_validate(store.print_row(work.db, print_id))


def _nothing_read(work: UnitOfWork, print_id: str) -> None:
    coupon_ids = [coupon.id for coupon in store.coupons_of_print(work.db, print_id)]
    if readings.current(work.db, coupon_ids):
        raise Conflict("Its coupon is read already: withdraw the reading first.")
