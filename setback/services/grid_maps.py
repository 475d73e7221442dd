"""A plate map from a grid coupon: its pads' growth, turned into light by the growth of the same arm's coupons."""

from __future__ import annotations

import math

from pydantic import Field

from ..core.contract import Contract, Problem
from ..core.grid_map import dose_from_growth
from ..core.window.contract import WindowResult
from ..store import calibrations as store
from ..store import readings
from . import assessment
from .bench import Bench, Conflict, present
from .plates import PlateMapInput, PlateView, add_map

PADS = 3
MIDDLE = (1, 1)


class GridInput(Contract):
    coupon: str = Field(max_length=20, description="Code of a grid coupon that is read")


def map_from_grid(bench: Bench, printer_id: str, given: GridInput) -> PlateView:
    """Keep a map made of a grid coupon; the coupons of the arm stood in the middle.

    Raises
    ------
    Problem
        When the coupon is no grid of this printer, or a bar of it was not measured.
    Conflict
        When the arm's coupons do not yet say how growth follows exposure.
    """
    row = store.coupon(bench.db, given.coupon)
    arm = store.arm(bench.db, row.arm_id) if row else None
    calibration = store.calibration(bench.db, arm.calibration_id) if arm else None
    if row is None or arm is None or calibration is None or row.kind != "grid" or calibration.printer_id != printer_id:
        said = f"{given.coupon} is no grid coupon of this printer."
        raise Problem(said, {"coupon": said})
    current = readings.current(bench.db, [row.id])
    bars = {
        f.feature_key: 500 * (f.measured_mm - f.size_mm)
        for f in readings.features(bench.db, [r.id for r in current])
        if f.kind == "outer" and f.measured_mm is not None
    }
    wanted = [[f"outer-{i + 1}{j + 1}" for j in range(PADS)] for i in range(PADS)]
    missing = [key for line in wanted for key in line if key not in bars]
    if missing:
        said = f"{len(missing)} of {PADS * PADS} bars of {row.code} are not measured."
        raise Problem(said, {"coupon": said})
    arms = assessment.arms(bench, calibration, False)
    slope = _slope(present(next((a for a in arms if a.id == arm.id), None), "arm").window)
    if slope is None:
        said = "Read flat coupons at two exposures in this arm first: they say how growth follows exposure."
        raise Conflict(said)
    doses = dose_from_growth([[bars[key] for key in line] for line in wanted], slope)
    note = f"{row.code}, {row.exposure_s:g} s, {calibration.code}"
    return add_map(
        bench, printer_id, PlateMapInput(source="grid coupon", readings=doses, reference_cell=MIDDLE, note=note)
    )


def _slope(window: WindowResult | None) -> float | None:
    """Growth per unit of ln t, µm, from what the window predicts."""
    told = [p for p in window.predictions if p.growth_um is not None] if window else []
    if len(told) < 2:
        return None
    low, high = min(told, key=lambda p: p.exposure_s), max(told, key=lambda p: p.exposure_s)
    if high.exposure_s <= low.exposure_s or low.growth_um is None or high.growth_um is None:
        return None
    return (high.growth_um - low.growth_um) / math.log(high.exposure_s / low.exposure_s)
