"""A print came out, and was taken back: the one way for coupons, specimens, parts of the log and the virtual printer."""

from __future__ import annotations

from typing import Any

from pydantic import Field

from ...core.contract import Contract, Problem
from ...store import shelf
from ...store.calibrate import calibrations as store
from ...store.prints import log, virtual
from ...store.rows import update
from ...store.terms import Outcome, TempPlace
from ..climate.gate import pass_gate
from ..climate.probes import resin_at
from ..shelf.entry import Note
from ..unit_of_work import Conflict, UnitOfWork, present
from .gates import check_gates


class Conditions(Contract):
    """How warm it was when a print began and ended, and what was seen: the same whatever was printed."""

    temp_c: float | None = Field(None, ge=-20, le=80, description="At the start, °C")
    temp_place: TempPlace | None = Field(None, description="Where that was measured; both or neither")
    temp_end_c: float | None = Field(
        None, ge=-20, le=80, description="Of the resin at the end, °C; from its probe when not given"
    )
    seen: Note = Field("", description="What was noticed about it")
    outside_band: Note = Field("", description="Why it was printed outside its set's temperature band")


class PrintedInput(Conditions):
    """How a planned print came out: conditions, outcome, millilitres."""

    outcome: Outcome = "whole"
    volume_ml: float | None = Field(
        None, ge=0, le=50_000, description="As used; the planned millilitres when not given"
    )
    bottle_id: str | None = Field(
        None, max_length=40, description="Bottle the resin came out of: its level goes down by what was used"
    )


class PrintedTogether(Conditions):
    """Several planned prints that came out alike: the same temperature and outcome, each with its planned millilitres."""

    print_ids: list[str] = Field(min_length=1, max_length=60)
    outcome: Outcome = "whole"
    bottle_id: str | None = Field(
        None, max_length=40, description="Bottle the resin came out of: its level goes down by what was planned"
    )


class Prints(Contract):
    """Several prints by their ids."""

    print_ids: list[str] = Field(min_length=1, max_length=60)


def record_print(work: UnitOfWork, print_id: str, request: PrintedInput) -> None:
    """Note that a planned print came out, inside whoever's transaction.

    Raises
    ------
    Problem
        When a temperature lacks its place, or a place its temperature; when the bottle holds less than was used.
    Conflict
        When it cannot have been printed: see :func:`check_before`.
    """
    check_temperature(request)
    row = present(store.print_row(work.db, print_id), "print")
    crossed = check_before(work, row, request)
    end_c = request.temp_end_c
    used_ml = row.volume_ml if request.volume_ml is None else request.volume_ml
    if request.bottle_id is not None:
        take_from_bottle(work, request.bottle_id, used_ml)
    update(
        work.db,
        "print",
        print_id,
        status="printed",
        printed_at=work.entered(),
        temp_c=request.temp_c,
        temp_place=request.temp_place,
        technician_id=work.technician().id,
        outcome=request.outcome,
        seen=request.seen,
        screen_hours=present(shelf.printer(work.db, row.printer_id), "printer").screen_hours,
        volume_ml=used_ml,
        bottle_id=request.bottle_id,
        taken_ml=used_ml if request.bottle_id is not None else None,
        temp_end_c=resin_at(work, row.printer_id, int(work.clock().timestamp())) if end_c is None else end_c,
        outside_band=crossed,
    )
    log.remember_material(work.db, print_id)


def check_before(work: UnitOfWork, row: store.PrintRow, conditions: Conditions) -> dict[str, Any] | None:
    """Everything that must hold before a print; what is recorded of one outside its set's band, None inside it.

    Raises
    ------
    Conflict
        When it is printed already, its printer is retired, a gate of the printer is shut, or nobody said why it is printed outside
        its set's band.
    """
    if row.status != "planned":
        raise Conflict(f"{row.code} is {row.status} already.")
    printer = present(shelf.printer(work.db, row.printer_id), "printer")
    if printer.retired_at is not None:
        raise Conflict(f"{printer.name} is retired: nothing can be printed on it.")
    check_gates(work, printer.id, row.lift_suppressed)
    return pass_gate(work, store.set_behind(work.db, row.id), conditions.temp_c, conditions.outside_band)


def undo_print(work: UnitOfWork, print_id: str) -> None:
    """Take back that a print came out, with all that was noted of it, inside whoever's transaction.

    It is planned again; whoever calls it knows whether something was read off it. A print of parts is withdrawn instead.
    """
    row = present(store.print_row(work.db, print_id), "print")
    if row.status != "printed":
        raise Conflict(f"{row.code} is {row.status}.")
    virtual.forget(work.db, print_id, work.now())
    if row.bottle_id is not None and row.taken_ml is not None:
        shelf.pour_into_bottle(work.db, row.bottle_id, row.taken_ml)
    update(
        work.db,
        "print",
        print_id,
        status="planned",
        printed_at=None,
        temp_c=None,
        temp_place=None,
        temp_end_c=None,
        outcome=None,
        bottle_id=None,
        taken_ml=None,
        seen="",
        screen_hours=None,
        outside_band=None,
        searched_at=None,
        searched_by=None,
        lift_back_at=None,
        lift_back_by=None,
    )


def take_from_bottle(work: UnitOfWork, bottle_id: str, used_ml: float) -> None:
    """Take what was used out of a bottle; refuse where it holds less."""
    bottle = present(shelf.bottle(work.db, bottle_id), "bottle")
    if bottle.left_ml < used_ml - 1e-6:
        message = f"{bottle.code} holds {bottle.left_ml:.0f} ml by its record. Correct its level on the Shelf, or leave it out."
        raise Problem(message, {"bottle_id": message, "volume_ml": message})
    shelf.draw_from_bottle(work.db, bottle_id, used_ml)


def check_temperature(conditions: Conditions) -> None:
    """Refuse a temperature without its place, and a place without its temperature."""
    if (conditions.temp_c is None) != (conditions.temp_place is None):
        missing = "temp_place" if conditions.temp_place is None else "temp_c"
        message = "Say where the temperature was measured." if missing == "temp_place" else "Give the temperature."
        raise Problem(message, {missing: message})
