"""A printer's plate: how even its light is, where its marks are, and which part of it may be used."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ..core.contract import Contract, Problem, Seconds
from ..core.plate_uniformity import PlateUniformityInput, PlateUniformityResult, Reading, plate_uniformity
from ..store import plates as store
from ..store import shelf
from ..store.rows import insert, update
from .bench import Bench, View, present
from .shelf.entry import Note


class PlateMapInput(Contract):
    source: Literal["light meter", "grid coupon"] = "light meter"
    readings: list[list[Reading]] = Field(min_length=1, max_length=20)
    reference_cell: tuple[int, int] | None = None
    note: Note = ""


class DefectInput(Contract):
    x_mm: float = Field(ge=0, le=2000)
    y_mm: float = Field(ge=0, le=2000)
    width_mm: float = Field(2, gt=0, le=2000)
    height_mm: float = Field(2, gt=0, le=2000)
    note: Annotated[str, StringConstraints(strip_whitespace=True, min_length=2, max_length=500)]


class PlateQuery(Contract):
    exposure_s: Seconds | None = None
    window_lower_s: Seconds | None = None
    window_upper_s: Seconds | None = None


class MapView(View):
    id: str
    source: str
    readings: list[list[float]]
    reference_row: int | None
    reference_column: int | None
    note: str
    initials: str
    measured_at: str


class DefectView(View):
    id: str
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float
    note: str
    seen_at: str


class PlateSet(View):
    code: str
    material: str
    layer_height_um: float
    exposure_s: float
    lower_s: float
    upper_s: float


class PlateView(View):
    """Everything known of a plate; ``result`` when an exposure and its window are given."""

    printer_id: str
    printer: str
    plate_x_mm: float
    plate_y_mm: float
    map: MapView | None
    result: PlateUniformityResult | None
    defects: list[DefectView]
    sets: list[PlateSet] = Field(description="Issued sets a plate can be judged at")
    grids: list[str] = Field(description="Grid coupons that are read and can become a map")


def plate(bench: Bench, printer_id: str, given: PlateQuery) -> PlateView:
    printer = present(shelf.printer(bench.db, printer_id), "printer")
    held = store.newest_map(bench.db, printer_id)
    return PlateView(
        printer_id=printer.id, printer=printer.name, plate_x_mm=printer.plate_x_mm, plate_y_mm=printer.plate_y_mm,
        map=MapView.model_validate(held) if held else None, result=result_of(held, given) if held else None,
        defects=[DefectView.model_validate(d) for d in store.defects(bench.db, printer_id)],
        sets=[PlateSet.model_validate(s) for s in store.sets_of(bench.db, printer_id)],
        grids=store.read_grids(bench.db, printer_id),
    )  # fmt: skip


def result_of(held: store.PlateMap, given: PlateQuery) -> PlateUniformityResult:
    """Without a window the doses alone: every cell counts as inside."""
    exposure = given.exposure_s or 1.0
    lower, upper = given.window_lower_s or exposure / 1000, given.window_upper_s or exposure * 1000
    return plate_uniformity(
        PlateUniformityInput(
            readings=held.readings, exposure_s=exposure, window_lower_s=lower, window_upper_s=upper,
            reference_cell=_cell(held),
        )
    )  # fmt: skip


def relative_dose(held: store.PlateMap) -> list[list[float]]:
    """Light of each cell of a map, relative to where coupons stand."""
    return result_of(held, PlateQuery()).relative_dose


def _cell(held: store.PlateMap) -> tuple[int, int] | None:
    if held.reference_row is None or held.reference_column is None:
        return None
    return held.reference_row, held.reference_column


def add_map(bench: Bench, printer_id: str, given: PlateMapInput) -> PlateView:
    """Keep a map of light; the one before stays in the records.

    Raises
    ------
    Problem
        When the grid is ragged or the reference cell is not on it.
    """
    plate_uniformity(
        PlateUniformityInput(
            readings=given.readings,
            exposure_s=1,
            window_lower_s=0.5,
            window_upper_s=2,
            reference_cell=given.reference_cell,
        )
    )
    if len(given.readings) * len(given.readings[0]) < 4:
        said = "A map needs two rows and two columns at least."
        raise Problem(said, {"readings": said})
    with bench.write() as answer:
        who = bench.technician()
        present(shelf.printer(bench.db, printer_id), "printer")
        row, column = given.reference_cell or (None, None)
        insert(
            bench.db, "plate_map", id=bench.new_id(), printer_id=printer_id, source=given.source, readings=given.readings,
            reference_row=row, reference_column=column, note=given.note, technician_id=who.id, measured_at=bench.now(),
        )  # fmt: skip
        return answer(plate(bench, printer_id, PlateQuery()))


def retire_map(bench: Bench, map_id: str) -> PlateView:
    with bench.write() as answer:
        held = present(store.plate_map(bench.db, map_id), "map")
        update(bench.db, "plate_map", map_id, retired_at=bench.now())
        return answer(plate(bench, held.printer_id, PlateQuery()))


def restore_map(bench: Bench, map_id: str) -> PlateView:
    with bench.write() as answer:
        held = present(store.plate_map(bench.db, map_id), "map")
        update(bench.db, "plate_map", map_id, retired_at=None)
        return answer(plate(bench, held.printer_id, PlateQuery()))


def add_defect(bench: Bench, printer_id: str, given: DefectInput) -> PlateView:
    """Put a mark of screen or film on the map: layouts keep coupons off it."""
    with bench.write() as answer:
        printer = present(shelf.printer(bench.db, printer_id), "printer")
        if given.x_mm + given.width_mm > printer.plate_x_mm or given.y_mm + given.height_mm > printer.plate_y_mm:
            said = f"The mark lies outside the plate of {printer.plate_x_mm:g} × {printer.plate_y_mm:g} mm."
            raise Problem(said, {"x_mm": said})
        insert(
            bench.db, "defect", id=bench.new_id(), printer_id=printer_id, technician_id=bench.technician_id(),
            seen_at=bench.now(), **given.model_dump(),
        )  # fmt: skip
        return answer(plate(bench, printer_id, PlateQuery()))


def retire_defect(bench: Bench, defect_id: str) -> PlateView:
    with bench.write() as answer:
        held = present(store.defect(bench.db, defect_id), "mark")
        update(bench.db, "defect", defect_id, retired_at=bench.now())
        return answer(plate(bench, held.printer_id, PlateQuery()))


def restore_defect(bench: Bench, defect_id: str) -> PlateView:
    with bench.write() as answer:
        held = present(store.defect(bench.db, defect_id), "mark")
        update(bench.db, "defect", defect_id, retired_at=None)
        return answer(plate(bench, held.printer_id, PlateQuery()))
