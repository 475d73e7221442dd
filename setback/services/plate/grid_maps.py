"""A plate map from a grid coupon: its pads' growth, turned into light by the growth of the same arm's coupons."""

from __future__ import annotations

import math

from pydantic import Field

from ...core.contract import Contract, Problem
from ...core.plate.grid_map import dose_from_growth
from ...core.window.contract import WindowResult
from ...store.calibrate import calibrations as store
from ...store.reading import readings
from ..calibrate import assessment
from ..unit_of_work import Conflict, UnitOfWork, present
from .light_maps import PlateMapInput, PlateView, add_map

PADS = 3
MIDDLE = (1, 1)


class GridInput(Contract):
    """The grid coupon whose readings become a map."""

    coupon: str = Field(max_length=20, description="Code of a grid coupon that is read")


def map_from_grid(work: UnitOfWork, printer_id: str, request: GridInput) -> PlateView:
    """Keep a map made of a grid coupon; the coupons of the arm stood in the middle.

    Raises
    ------
    Problem
        When the coupon is no grid of this printer, or a bar of it was not measured.
    Conflict
        When the arm's coupons do not yet say how growth follows exposure.
    """
    row = store.coupon(work.db, request.coupon)
    arm = store.arm(work.db, row.arm_id) if row else None
    calibration = store.calibration(work.db, arm.calibration_id) if arm else None
    if row is None or arm is None or calibration is None or row.kind != "grid" or calibration.printer_id != printer_id:
        message = f"{request.coupon} is no grid coupon of this printer."
        raise Problem(message, {"coupon": message})
    current = readings.current(work.db, [row.id])
    bars = {
        f.feature_key: 500 * (f.measured_mm - f.size_mm)
        for f in readings.features(work.db, [r.id for r in current])
        if f.kind == "outer" and f.measured_mm is not None
    }
    keys = [[f"outer-{i + 1}{j + 1}" for j in range(PADS)] for i in range(PADS)]
    missing = [key for line in keys for key in line if key not in bars]
    if missing:
        message = f"{len(missing)} of {PADS * PADS} bars of {row.code} are not measured."
        raise Problem(message, {"coupon": message})
    arms = assessment.arms(work, calibration, False)
    slope = _slope(present(next((a for a in arms if a.id == arm.id), None), "arm").window)
    if slope is None:
        message = "Read flat coupons at two exposures in this arm first: they say how growth follows exposure."
        raise Conflict(message)
    doses = dose_from_growth([[bars[key] for key in line] for line in keys], slope)
    note = f"{row.code}, {row.exposure_s:g} s, {calibration.code}"
    return add_map(
        work, printer_id, PlateMapInput(source="grid coupon", readings=doses, reference_cell=MIDDLE, note=note)
    )


def _slope(window: WindowResult | None) -> float | None:
    """Growth per unit of ln t, µm, from what the window predicts."""
    grown = [p for p in window.predictions if p.growth_um is not None] if window else []
    if len(grown) < 2:
        return None
    low, high = min(grown, key=lambda p: p.exposure_s), max(grown, key=lambda p: p.exposure_s)
    if high.exposure_s <= low.exposure_s or low.growth_um is None or high.growth_um is None:
        return None
    return (high.growth_um - low.growth_um) / math.log(high.exposure_s / low.exposure_s)
