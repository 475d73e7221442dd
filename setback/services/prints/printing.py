"""What becomes of a planned print: printed, taken back, and both undone."""

from __future__ import annotations

from ...store import testing
from ...store.calibrate import calibrations as store
from ...store.reading import readings
from ...store.rows import update
from ...store.terms import PrintStatus, TempPlace
from ..unit_of_work import Conflict, UnitOfWork, View, present
from . import reporting
from .record import PrintedInput, PrintedTogether, Prints, record_print, undo_print


class PrintState(View):
    """A planned print as it stands."""

    id: str
    code: str
    status: PrintStatus
    printed_at: str | None
    temp_c: float | None
    temp_place: TempPlace | None


def printed(work: UnitOfWork, print_id: str, request: PrintedInput) -> PrintState:
    """Note that a print came out, and how warm it was and where that was measured."""
    with work.write() as answer:
        record_print(work, print_id, request)
        return answer(_state(work, print_id))


def all_printed(work: UnitOfWork, request: PrintedTogether) -> Prints:
    """Note that several prints came out alike: all of them, or none."""
    one = PrintedInput(**request.model_dump(exclude={"print_ids"}), volume_ml=None)
    with work.write() as answer:
        for print_id in dict.fromkeys(request.print_ids):
            record_print(work, print_id, one)
        return answer(Prints(print_ids=request.print_ids))


def all_unprinted(work: UnitOfWork, request: Prints) -> Prints:
    """Undo :func:`all_printed`, while nothing was read off any of them."""
    with work.write() as answer:
        for print_id in dict.fromkeys(request.print_ids):
            present(store.print_row(work.db, print_id), "print")
            _nothing_read(work, print_id)
            undo_print(work, print_id)
        return answer(request)


def unprinted(work: UnitOfWork, print_id: str) -> PrintState:
    """Undo :func:`printed`, while nothing was read."""
    with work.write() as answer:
        row = present(store.print_row(work.db, print_id), "print")
        if row.of_parts:
            reporting.withdraw(work, print_id, "Taken back.")
            return answer(_state(work, print_id))
        _nothing_read(work, print_id)
        undo_print(work, print_id)
        return answer(_state(work, print_id))


def cancel(work: UnitOfWork, print_id: str) -> PrintState:
    """Take back a planned print; its coupon code is not used again."""
    with work.write() as answer:
        row = present(store.print_row(work.db, print_id), "print")
        if row.status != "planned":
            raise Conflict(f"{row.code} is {row.status}: only a planned print can be cancelled.")
        update(work.db, "print", print_id, status="cancelled")
        return answer(_state(work, print_id))


def reinstate(work: UnitOfWork, print_id: str) -> PrintState:
    """Undo :func:`cancel`."""
    with work.write() as answer:
        row = present(store.print_row(work.db, print_id), "print")
        if row.status != "cancelled":
            raise Conflict(f"{row.code} is {row.status}.")
        if row.of_parts:
            reporting.restore(work, print_id)
        else:
            update(work.db, "print", print_id, status="planned")
        return answer(_state(work, print_id))


def _state(work: UnitOfWork, print_id: str) -> PrintState:
    return PrintState.model_validate(store.print_row(work.db, print_id))


def _nothing_read(work: UnitOfWork, print_id: str) -> None:
    coupon_ids = [coupon.id for coupon in store.coupons_of_print(work.db, print_id)]
    if readings.current(work.db, coupon_ids):
        raise Conflict("Its coupon is read already: withdraw the reading first.")
    if testing.read_off_print(work.db, print_id):
        raise Conflict("Its specimens are read already: withdraw the readings first.")
