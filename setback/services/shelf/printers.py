"""Printers: light, pixel, plate, vat, and how their delay is counted."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ...core.contract import Contract, Problem
from ...store import shelf
from ...store.codes import next_code
from ...store.rows import insert, update
from ...store.terms import LightEngine
from ..both_versions import same_version
from ..unit_of_work import UnitOfWork, present
from .entry import Name, Note, Page, Version, free_name, version_of

LARGEST_VAT_ML = 50_000


class PrinterInput(Contract):
    """A printer: plate, pixel, steps, motion."""

    name: Name
    light_engine: LightEngine
    light_power_adjustable: bool = False
    pixel_um: float = Field(ge=5, le=200)
    plate_x_mm: float = Field(ge=40, le=2000)
    plate_y_mm: float = Field(ge=30, le=2000)
    vat_capacity_ml: float = Field(gt=0, le=LARGEST_VAT_ML)
    fill_line_ml: Annotated[float, Field(gt=0, le=LARGEST_VAT_ML)] | None = Field(
        None, description="Most of what the vat holds when not given"
    )
    exposure_step_s: float = Field(ge=0.001, le=5)
    screen_hours: float = Field(0, ge=0, le=100_000)
    several_exposures: bool = False
    suppresses_lift: bool = False
    delay_includes_motion: bool = False
    simulated: bool = Field(False, description="A virtual printer; chosen when it is added, never changed")
    note: Note = ""
    version: Version = None


def printers(work: UnitOfWork, page: Page) -> list[shelf.Printer]:
    """Printers, by name."""
    return shelf.printers(work.db, page.retired, page.after, page.limit)


def printer(work: UnitOfWork, printer_id: str) -> shelf.Printer:
    """One printer."""
    return present(shelf.printer(work.db, printer_id), "printer")


def add_printer(work: UnitOfWork, request: PrinterInput) -> shelf.Printer:
    """Add a printer."""
    with work.write() as answer:
        return answer(put_printer(work, request))


def put_printer(work: UnitOfWork, request: PrinterInput) -> shelf.Printer:
    """A printer onto the shelf, inside whoever's transaction."""
    _check_printer(request)
    free_name(work, "printer", request.name, None)
    printer_id = work.new_id()
    insert(
        work.db,
        "printer",
        id=printer_id,
        code=next_code(work.db, "P"),
        created_at=work.now(),
        **_columns(request),
    )
    return printer(work, printer_id)


def change_printer(work: UnitOfWork, printer_id: str, request: PrinterInput) -> shelf.Printer:
    """Change a printer."""
    _check_printer(request)
    with work.write() as answer:
        stored = printer(work, printer_id)
        same_version(stored, version_of(request.version), stored.name, request)
        if stored.simulated != request.simulated:
            message = "A printer stays what it was added as: add another one."
            raise Problem(message, {"simulated": message})
        free_name(work, "printer", request.name, printer_id)
        update(work.db, "printer", printer_id, version=stored.version + 1, **_columns(request))
        return answer(printer(work, printer_id))


FILLED = 0.85
"""The share of a vat that its fill line is taken to be at until somebody looks."""


def _columns(request: PrinterInput) -> dict[str, object]:
    fill_ml = request.fill_line_ml if request.fill_line_ml is not None else round(FILLED * request.vat_capacity_ml, 1)
    return {**request.model_dump(exclude={"version"}), "fill_line_ml": fill_ml}


def _check_printer(request: PrinterInput) -> None:
    if request.fill_line_ml is not None and request.fill_line_ml > request.vat_capacity_ml:
        message = f"The fill line cannot be above the vat's {request.vat_capacity_ml:g} ml."
        raise Problem(message, {"fill_line_ml": message})
