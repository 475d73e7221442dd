"""Printers: light, pixel, plate, vat, and how their delay is counted."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ...core.contract import Contract, Problem
from ...store import shelf
from ...store.codes import next_code
from ...store.rows import insert, update
from ..bench import Bench, View, present, same_version
from .entry import Name, Note, Page, Version, free_name, version_of


class PrinterInput(Contract):
    name: Name
    light_engine: Literal["mono screen", "colour screen", "projector", "laser"]
    light_power_adjustable: bool = False
    pixel_um: float = Field(ge=5, le=200)
    plate_x_mm: float = Field(ge=40, le=2000)
    plate_y_mm: float = Field(ge=30, le=2000)
    vat_capacity_ml: float = Field(gt=0, le=50_000)
    fill_line_ml: float = Field(gt=0, le=50_000)
    exposure_step_s: float = Field(ge=0.001, le=5)
    screen_hours: float = Field(0, ge=0, le=100_000)
    several_exposures: bool = False
    suppresses_lift: bool = False
    delay_includes_motion: bool = False
    simulated: bool = Field(False, description="A virtual printer; chosen when it is added, never changed")
    note: Note = ""
    version: Version = None


class PrinterView(View):
    id: str
    code: str
    name: str
    light_engine: str
    light_power_adjustable: bool
    pixel_um: float
    plate_x_mm: float
    plate_y_mm: float
    vat_capacity_ml: float
    fill_line_ml: float
    exposure_step_s: float
    screen_hours: float
    several_exposures: bool
    suppresses_lift: bool
    delay_includes_motion: bool
    simulated: bool
    note: str
    version: int
    created_at: str
    retired_at: str | None


def printers(bench: Bench, page: Page) -> list[PrinterView]:
    rows = shelf.printers(bench.db, page.retired, page.after, page.limit)
    return [PrinterView.model_validate(row) for row in rows]


def printer(bench: Bench, printer_id: str) -> PrinterView:
    return PrinterView.model_validate(present(shelf.printer(bench.db, printer_id), "printer"))


def add_printer(bench: Bench, given: PrinterInput) -> PrinterView:
    _check_printer(given)
    with bench.write() as answer:
        free_name(bench, "printer", given.name, None)
        printer_id = bench.new_id()
        insert(
            bench.db, "printer", id=printer_id, code=next_code(bench.db, "P"), created_at=bench.now(),
            **given.model_dump(exclude={"version"}),
        )  # fmt: skip
        return answer(printer(bench, printer_id))


def change_printer(bench: Bench, printer_id: str, given: PrinterInput) -> PrinterView:
    _check_printer(given)
    with bench.write() as answer:
        held = printer(bench, printer_id)
        same_version(held.version, version_of(given.version), held.name)
        if held.simulated != given.simulated:
            said = "A printer stays what it was added as: add another one."
            raise Problem(said, {"simulated": said})
        free_name(bench, "printer", given.name, printer_id)
        update(bench.db, "printer", printer_id, version=held.version + 1, **given.model_dump(exclude={"version"}))
        return answer(printer(bench, printer_id))


def _check_printer(given: PrinterInput) -> None:
    if given.fill_line_ml > given.vat_capacity_ml:
        said = f"The fill line cannot be above the vat's {given.vat_capacity_ml:g} ml."
        raise Problem(said, {"fill_line_ml": said})
