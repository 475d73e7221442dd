"""A printer's plate: how even its light is, where its marks are, and which part of it may be used."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ...core.contract import LONGEST_S, SHORTEST_S, Contract, Problem, Seconds
from ...core.plate.uniformity import PlateUniformityInput, PlateUniformityResult, Reading, plate_uniformity
from ...store import plate as store
from ...store import shelf
from ...store.rows import insert, update
from ..shelf.entry import Note
from ..unit_of_work import UnitOfWork, View, present


class PlateMapInput(Contract):
    """Light meter readings over the plate, in any unit."""

    source: Literal["light meter", "grid coupon"] = "light meter"
    readings: list[list[Reading]] = Field(min_length=1, max_length=20)
    reference_cell: tuple[int, int] | None = None
    note: Note = ""


class DefectInput(Contract):
    """A mark on the screen or film, and where it lies, mm."""

    x_mm: float = Field(ge=0, le=2000)
    y_mm: float = Field(ge=0, le=2000)
    width_mm: float = Field(2, gt=0, le=2000)
    height_mm: float = Field(2, gt=0, le=2000)
    note: Annotated[str, StringConstraints(strip_whitespace=True, min_length=2, max_length=500)]


class PlateQuery(Contract):
    """The exposure and window that are held against the map."""

    exposure_s: Seconds | None = None
    window_lower_s: Seconds | None = None
    window_upper_s: Seconds | None = None


class PlateView(View):
    """Everything known of a plate; ``result`` when an exposure and its window are given."""

    printer_id: str
    printer: str
    plate_x_mm: float
    plate_y_mm: float
    map: store.PlateMap | None
    result: PlateUniformityResult | None
    defects: list[store.Defect]
    sets: list[store.PlateSet] = Field(description="Issued sets a plate can be judged at")
    grids: list[str] = Field(description="Grid coupons that are read and can become a map")


def plate(work: UnitOfWork, printer_id: str, query: PlateQuery) -> PlateView:
    """The light over a printer's plate."""
    printer = present(shelf.printer(work.db, printer_id), "printer")
    newest = store.newest_map(work.db, printer_id)
    return PlateView(
        printer_id=printer.id,
        printer=printer.name,
        plate_x_mm=printer.plate_x_mm,
        plate_y_mm=printer.plate_y_mm,
        map=newest if newest else None,
        result=result_of(newest, query) if newest else None,
        defects=store.defects(work.db, printer_id),
        sets=store.sets_of(work.db, printer_id),
        grids=store.read_grids(work.db, printer_id),
    )


def result_of(light_map: store.PlateMap, query: PlateQuery) -> PlateUniformityResult:
    """Without a window the doses alone: every cell counts as inside."""
    exposure = query.exposure_s or 1.0
    return plate_uniformity(
        PlateUniformityInput(
            readings=light_map.readings,
            exposure_s=exposure,
            window_lower_s=query.window_lower_s or max(exposure / 1000, SHORTEST_S),
            window_upper_s=query.window_upper_s or min(exposure * 1000, LONGEST_S),
            reference_cell=_cell(light_map),
        )
    )


def relative_dose(light_map: store.PlateMap) -> list[list[float]]:
    """Light of each cell of a map, relative to where coupons stand."""
    return result_of(light_map, PlateQuery()).relative_dose


def _cell(light_map: store.PlateMap) -> tuple[int, int] | None:
    if light_map.reference_row is None or light_map.reference_column is None:
        return None
    return light_map.reference_row, light_map.reference_column


def add_map(work: UnitOfWork, printer_id: str, request: PlateMapInput) -> PlateView:
    """Keep a map of light; the one before stays in the records.

    Raises
    ------
    Problem
        When the grid is ragged or the reference cell is not on it.
    """
    plate_uniformity(
        PlateUniformityInput(
            readings=request.readings,
            exposure_s=1,
            window_lower_s=0.5,
            window_upper_s=2,
            reference_cell=request.reference_cell,
        )
    )
    if len(request.readings) * len(request.readings[0]) < 4:
        message = "A map needs two rows and two columns at least."
        raise Problem(message, {"readings": message})
    with work.write() as answer:
        technician = work.technician()
        present(shelf.printer(work.db, printer_id), "printer")
        row, column = request.reference_cell or (None, None)
        insert(
            work.db,
            "plate_map",
            id=work.new_id(),
            printer_id=printer_id,
            source=request.source,
            readings=request.readings,
            reference_row=row,
            reference_column=column,
            note=request.note,
            technician_id=technician.id,
            measured_at=work.now(),
        )
        return answer(plate(work, printer_id, PlateQuery()))


def retire_map(work: UnitOfWork, map_id: str) -> PlateView:
    """Let a map count no more."""
    with work.write() as answer:
        stored = present(store.plate_map(work.db, map_id), "map")
        update(work.db, "plate_map", map_id, retired_at=work.now())
        return answer(plate(work, stored.printer_id, PlateQuery()))


def restore_map(work: UnitOfWork, map_id: str) -> PlateView:
    """Let a retired map count again."""
    with work.write() as answer:
        stored = present(store.plate_map(work.db, map_id), "map")
        update(work.db, "plate_map", map_id, retired_at=None)
        return answer(plate(work, stored.printer_id, PlateQuery()))


def add_defect(work: UnitOfWork, printer_id: str, request: DefectInput) -> PlateView:
    """Put a mark of screen or film on the map: layouts keep coupons off it."""
    with work.write() as answer:
        printer = present(shelf.printer(work.db, printer_id), "printer")
        if (
            request.x_mm + request.width_mm > printer.plate_x_mm
            or request.y_mm + request.height_mm > printer.plate_y_mm
        ):
            message = f"The mark lies outside the plate of {printer.plate_x_mm:g} × {printer.plate_y_mm:g} mm."
            raise Problem(message, {"x_mm": message})
        insert(
            work.db,
            "defect",
            id=work.new_id(),
            printer_id=printer_id,
            technician_id=work.technician_id(),
            seen_at=work.now(),
            **request.model_dump(),
        )
        return answer(plate(work, printer_id, PlateQuery()))


def retire_defect(work: UnitOfWork, defect_id: str) -> PlateView:
    """Note that a mark is gone."""
    with work.write() as answer:
        stored = present(store.defect(work.db, defect_id), "mark")
        update(work.db, "defect", defect_id, retired_at=work.now())
        return answer(plate(work, stored.printer_id, PlateQuery()))


def restore_defect(work: UnitOfWork, defect_id: str) -> PlateView:
    """Note that a mark is still there."""
    with work.write() as answer:
        stored = present(store.defect(work.db, defect_id), "mark")
        update(work.db, "defect", defect_id, retired_at=None)
        return answer(plate(work, stored.printer_id, PlateQuery()))
