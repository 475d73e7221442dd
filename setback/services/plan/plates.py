"""Prints that can share a plate: of different jobs, with one material, printer, layer height, settings and finish."""

from __future__ import annotations

from functools import cache

from ...core.plan.steps import prints_of
from ...core.printing.settings import Settings
from ...core.testing.methods import METHODS
from ...coupon import KINDS
from ...coupon.plate import lie_together
from ...store import plan as store

MOST_ON_PLATE = 6

Ticks = dict[tuple[str, str], store.Tick]
"""Of each print and step that was begun or done."""


def ticks_of_prints(ticks: list[store.Tick]) -> Ticks:
    """Ticks by print and step; one of a shared plate stands for each print on it."""
    rows: Ticks = {}
    for tick in ticks:
        prints, step = prints_of(tick.task_key)
        rows |= {(print_code, step): tick for print_code in prints}
    return rows


def shared_plates(rows: list[store.PrintToDo], ticks: Ticks) -> list[list[store.PrintToDo]]:
    """Prints by the plate they are on, in their order.

    What was begun together stays together until it is read. What is only planned shares a plate when everything but the job is the
    same and the pieces lie beside each other; two prints of one job never do, as they are planned apart for a reason.
    """
    plates: list[list[store.PrintToDo]] = []
    for row in rows:
        plate = next((plate for plate in plates if _together(plate, row, ticks)), None)
        if plate is None:
            plates.append([row])
        else:
            plate.append(row)
    return plates


def _together(plate: list[store.PrintToDo], row: store.PrintToDo, ticks: Ticks) -> bool:
    first = plate[0]
    first_tick, row_tick = ticks.get((first.code, "print")), ticks.get((row.code, "print"))
    if first_tick is not None or row_tick is not None:
        return (
            first_tick is not None
            and row_tick is not None
            and first_tick.id == row_tick.id
            and first.status == row.status
        )
    return (
        _alike(first) is not None
        and _alike(first) == _alike(row)
        and len(plate) < MOST_ON_PLATE
        and _job(row) not in {_job(other) for other in plate}
        and lie_together(
            [size for other in (*plate, row) for size in _sizes_mm(other)], (row.plate_x_mm, row.plate_y_mm)
        )
    )


def _alike(row: store.PrintToDo) -> tuple[object, ...] | None:
    """What prints on one plate have in common; none for a print that has its plate for itself."""
    is_open = row.status == "planned" and row.started_at is None and row.way == "separate" and row.plates == 1
    if not is_open or not _sizes_mm(row) or row.layer_height_um is None or row.settings is None:
        return None
    exposures = () if row.several_exposures else tuple(row.exposures_s)
    if len(exposures) > 1 or None in exposures:
        return None
    settings = Settings.model_validate_json(row.settings).model_dump_json()
    return (row.printer_id, row.material_id, row.bottle_id, row.layer_height_um, settings, row.route_id, exposures)


def _job(row: store.PrintToDo) -> str:
    return row.calibration_code or row.test_code or row.code


def _sizes_mm(row: store.PrintToDo) -> list[tuple[float, float]]:
    """Width and height of every piece on a print; empty where they are not known."""
    if row.coupon_sizes_mm:
        return row.coupon_sizes_mm
    specimen = METHODS[row.method].specimen if row.method in METHODS else None
    return [_specimen_mm(specimen, row.pixel_um / 1000)] * row.specimens if specimen else []


@cache
def _specimen_mm(kind: str, pixel_mm: float) -> tuple[float, float]:
    specimen = KINDS[kind](pixel_mm, 0.3)
    return (specimen.width_mm, specimen.height_mm)
