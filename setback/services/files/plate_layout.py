"""Where the coupons of one plate lie: shuffled, off known marks, with the light of each place."""

from __future__ import annotations

from dataclasses import dataclass

from ...core.calibrate.ways import shuffle_again
from ...core.contract import Problem
from ...core.plate.uniformity import dose_at
from ...coupon import Coupon, Unfit
from ...coupon.plate import GAP_MM, MARGIN_MM, places, shuffled
from ...store import plate as plates
from ...store import shelf
from ..plate.light_maps import relative_dose
from ..unit_of_work import UnitOfWork


@dataclass(frozen=True)
class Spot:
    """A coupon's corner from the plate's corner, and its light relative to where coupons stand."""

    exposure_s: float
    x_mm: float
    y_mm: float
    dose_ratio: float | None


@dataclass(frozen=True)
class Layout:
    """Where coupons lie on a plate, and how many would fit."""

    spots: list[Spot]
    fits: int
    repeats: int
    keep_off: list[tuple[float, float, float, float]]


def lay(
    work: UnitOfWork, printer: shelf.Printer, coupon: Coupon, exposures_s: list[float], repeats: int | None, seed: int
) -> Layout:
    """Shuffle a ladder over a plate.

    Parameters
    ----------
    repeats : int, optional
        How often each exposure is there; as often as fits, three at most, when not given.

    Raises
    ------
    Problem
        When the ladder does not fit; says how many do.
    """
    plate = (printer.plate_x_mm, printer.plate_y_mm)
    keep_off = [(d.x_mm, d.y_mm, d.width_mm, d.height_mm) for d in plates.defects(work.db, printer.id)]
    free = places(coupon.width_mm, coupon.height_mm, plate, printer.pixel_um / 1000, keep_off)
    times = repeats if repeats is not None else shuffle_again(len(free), len(exposures_s))
    exposures = sorted(exposures_s) * times
    try:
        corners = shuffled(free, len(exposures), seed)
    except Unfit as unfit:
        field = "repeats" if times > 1 else "exposures_s"
        raise Problem(unfit.message, {field: unfit.message}) from None
    light_map = plates.newest_map(work.db, printer.id)
    light = relative_dose(light_map) if light_map else None
    spots = []
    for exposure, (x, y) in zip(exposures, corners, strict=True):
        across, down = (x + coupon.width_mm / 2) / plate[0], (y + coupon.height_mm / 2) / plate[1]
        spots.append(Spot(exposure, x, y, round(dose_at(light, across, down), 4) if light else None))
    return Layout(spots, len(free), times, keep_off)


def row_of_areas(printer: shelf.Printer, area: Coupon, exposures_s: list[float]) -> Layout:
    """The areas of a dose strip side by side in rising exposure, in the middle of the plate."""
    along = len(exposures_s) * area.width_mm
    room = printer.plate_x_mm - 2 * MARGIN_MM
    if along > room or area.height_mm > printer.plate_y_mm - 2 * MARGIN_MM:
        fits = int(room // area.width_mm)
        message = f"{len(exposures_s)} areas do not fit side by side on this plate: {fits} fit."
        raise Problem(message, {"exposures_s": message})
    pixel = printer.pixel_um / 1000
    left, top = (printer.plate_x_mm - along) / 2, (printer.plate_y_mm - area.height_mm) / 2
    spots = [
        Spot(t, round(round((left + i * area.width_mm) / pixel) * pixel, 6), round(round(top / pixel) * pixel, 6), None)
        for i, t in enumerate(sorted(exposures_s))
    ]
    return Layout(spots, int(room // (area.width_mm + GAP_MM)), 1, [])
