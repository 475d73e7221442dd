"""What becomes of a planned print: printed, taken back, and both undone."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ..core.contract import Contract
from ..store import calibrations as store
from ..store import readings, shelf, virtual
from ..store.rows import update
from .bench import Bench, Conflict, View, present
from .climate.gate import pass_gate
from .climate.probes import resin_at
from .gates import check_gates
from .print_log import check_temperature
from .shelf.entry import Note


class PrintedInput(Contract):
    temp_c: float | None = Field(None, ge=-20, le=80)
    temp_place: Literal["room", "chamber air", "resin"] | None = None
    outcome: Literal["whole", "missing parts", "failed"] = "whole"
    seen: Note = ""
    volume_ml: float | None = Field(
        None, ge=0, le=50_000, description="As used; the planned millilitres when not given"
    )
    outside_band: Note = Field("", description="Why a check coupon was printed outside its set's temperature band")


class PrintState(View):
    id: str
    code: str
    status: str
    printed_at: str | None
    temp_c: float | None
    temp_place: str | None


def printed(bench: Bench, print_id: str, given: PrintedInput) -> PrintState:
    """Note that a print came out, and how warm it was and where that was measured."""
    check_temperature(given.temp_c, given.temp_place)
    with bench.write() as answer:
        mark_printed(bench, print_id, given)
        return answer(_state(bench, print_id))


def mark_printed(bench: Bench, print_id: str, given: PrintedInput) -> None:
    """The write of :func:`printed`, for whoever has a transaction open."""
    row = present(store.print_row(bench.db, print_id), "print")
    if row.status != "planned":
        raise Conflict(f"{row.code} is {row.status} already.")
    printer = present(shelf.printer(bench.db, row.printer_id), "printer")
    if printer.retired_at is not None:
        raise Conflict(f"{printer.name} is retired: nothing can be printed on it.")
    check_gates(bench, printer.id, row.lift_suppressed)
    crossed = pass_gate(bench, store.set_behind(bench.db, print_id), given.temp_c, given.outside_band)
    update(
        bench.db, "print", print_id, status="printed", printed_at=bench.now(), temp_c=given.temp_c,
        temp_place=given.temp_place, technician_id=bench.technician_id() or row.technician_id, outcome=given.outcome,
        seen=given.seen, screen_hours=printer.screen_hours, volume_ml=row.volume_ml if given.volume_ml is None else given.volume_ml,
        temp_end_c=resin_at(bench, printer.id, int(bench.clock().timestamp())), outside_band=crossed,
    )  # fmt: skip


def unprinted(bench: Bench, print_id: str) -> PrintState:
    """Undo :func:`printed`, while nothing was read."""
    with bench.write() as answer:
        row = present(store.print_row(bench.db, print_id), "print")
        if row.status != "printed":
            raise Conflict(f"{row.code} is {row.status}.")
        _nothing_read(bench, print_id)
        virtual.forget(bench.db, print_id, bench.now())
        update(
            bench.db, "print", print_id, status="planned", printed_at=None, temp_c=None, temp_place=None, outcome=None,
            seen="", searched_at=None, searched_by=None, temp_end_c=None, outside_band=None,
        )  # fmt: skip
        return answer(_state(bench, print_id))


def cancel(bench: Bench, print_id: str) -> PrintState:
    """Take back a planned print; its coupon code is not used again."""
    with bench.write() as answer:
        row = present(store.print_row(bench.db, print_id), "print")
        if row.status != "planned":
            raise Conflict(f"{row.code} is {row.status}: only a planned print can be taken back.")
        update(bench.db, "print", print_id, status="cancelled")
        return answer(_state(bench, print_id))


def reinstate(bench: Bench, print_id: str) -> PrintState:
    """Undo :func:`cancel`."""
    with bench.write() as answer:
        row = present(store.print_row(bench.db, print_id), "print")
        if row.status != "cancelled":
            raise Conflict(f"{row.code} is {row.status}.")
        update(bench.db, "print", print_id, status="planned")
        return answer(_state(bench, print_id))


def _state(bench: Bench, print_id: str) -> PrintState:
    return PrintState.model_validate(store.print_row(bench.db, print_id))


def _nothing_read(bench: Bench, print_id: str) -> None:
    coupon_ids = [coupon.id for coupon in store.coupons_of_print(bench.db, print_id)]
    if readings.current(bench.db, coupon_ids):
        raise Conflict("Its coupon is read already: withdraw the reading first.")
