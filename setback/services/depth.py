"""Depth of cure: squares planned by time, measured by calipers, and the curve they make."""

from __future__ import annotations

import math
from typing import Annotated

from pydantic import Field

from ..core.contract import Contract, Problem, Seconds
from ..core.steps import round_to_step
from ..core.window.lanes import CureCurve
from ..core.window.remedies import thicker_um
from ..core.working_curve import DepthPoint, WorkingCurveInput, WorkingCurveResult, working_curve
from ..store import calibrations as store
from ..store import shelf, stages
from ..store.codes import next_code
from ..store.rows import insert, update
from .bench import Bench, Conflict, View, present
from .readings import Reason
from .shelf.entry import Note

THICKEST_MM = 4.0
# Squares spread over the logarithm of time, around and above a normal exposure.
SPREAD = (1.5, 3.0, 6.0, 12.0)


class SquaresInput(Contract):
    exposures_s: list[Seconds] = Field(min_length=1, max_length=12)


class DepthReadingInput(Contract):
    thicknesses_mm: list[Annotated[float, Field(gt=0, le=10_000)]] = Field(min_length=1, max_length=12)
    temp_c: float | None = Field(None, ge=-20, le=80)
    note: Note = ""
    supersedes_id: str | None = None
    reason: Reason | None = Field(None, description="Why the earlier reading is corrected")


class DepthSettings(Contract):
    irradiance_mw_cm2: Annotated[float, Field(gt=0, le=10_000)] | None = None
    min_overcure_um: Annotated[float, Field(ge=0, le=5000)] | None = Field(
        None, description="Least cure beyond the layer; makes the cure lane"
    )


class SquareView(View):
    id: str
    code: str
    exposure_s: float
    thicknesses_mm: list[float]
    mean_mm: float | None
    spread_um: float | None = Field(description="Largest less smallest reading of the square")
    temp_c: float | None
    note: str
    initials: str | None
    read_at: str | None
    reading_id: str | None
    earlier: int = Field(description="How many readings were superseded")


class DepthView(View):
    calibration_id: str
    exposure_step_s: float
    squares: list[SquareView]
    irradiance_mw_cm2: float | None
    min_overcure_um: float | None
    curve: WorkingCurveResult | None
    refused: str | None = Field(description="Why there is no curve yet")
    suggested_s: list[float] = Field(
        description="Times worth a square: spread at first, then nearer to what was not reached"
    )
    thicker_um: float | None = Field(description="A thicker layer that helps a clear resin")
    volume_ml: float = Field(description="Of one square")


def depth(bench: Bench, calibration_id: str) -> DepthView:
    """The squares of a calibration and their curve."""
    row = present(store.calibration(bench.db, calibration_id), "calibration")
    printer = present(shelf.printer(bench.db, row.printer_id), "printer")
    squares = _squares(bench, calibration_id)
    curve, refused = curve_of(bench, row, squares)
    middle = math.sqrt(row.low_s * row.high_s)
    times = [k * middle for k in SPREAD]
    if squares:
        waiting = any(s.mean_mm is None for s in squares)
        times = [] if curve is None or waiting else _nearer(curve, row.layer_height_um)
    suggested = [max(round_to_step(t, printer.exposure_step_s), printer.exposure_step_s) for t in times]
    return DepthView(
        calibration_id=row.id,
        exposure_step_s=printer.exposure_step_s,
        squares=squares,
        irradiance_mw_cm2=row.irradiance_mw_cm2,
        min_overcure_um=row.min_overcure_um,
        curve=curve,
        refused=refused,
        suggested_s=suggested,
        thicker_um=_thicker(curve, row.layer_height_um),
        volume_ml=0.05,
    )


def curve_of(
    bench: Bench, row: store.Calibration, squares: list[SquareView]
) -> tuple[WorkingCurveResult | None, str | None]:
    """The working curve of squares that were measured; a point is the mean of a square's readings."""
    points = [DepthPoint(exposure_s=s.exposure_s, depth_mm=s.mean_mm) for s in squares if s.mean_mm is not None]
    if not points:
        return None, None
    heights = sorted({*stages.layer_heights(bench.db), row.layer_height_um})
    try:
        given = WorkingCurveInput(points=points, irradiance_mw_cm2=row.irradiance_mw_cm2, layer_heights_um=heights)
        curve = working_curve(given)
        if curve.character == "clear" and (thicker := thicker_um(row.layer_height_um)) not in heights:
            # A thicker layer helps a resin that blooms: what it would need stands beside the others.
            curve = working_curve(given.model_copy(update={"layer_heights_um": sorted([*heights, thicker])}))
        return curve, None
    except Problem as problem:
        return None, problem.fields.get("points", problem.message)


def _nearer(curve: WorkingCurveResult, layer_height_um: float) -> list[float]:
    """The time of the depth this layer needs, when no square came near it."""
    return [
        one.exposure_s for one in curve.layer_exposures if one.layer_height_um == layer_height_um and one.extrapolated
    ]


def _thicker(curve: WorkingCurveResult | None, layer_height_um: float) -> float | None:
    if curve is None or curve.character != "clear":
        return None
    return min(
        (one.layer_height_um for one in curve.layer_exposures if one.layer_height_um > layer_height_um), default=None
    )


def cure_curve(bench: Bench, row: store.Calibration) -> CureCurve | None:
    """What the cure lane rests on: the working curve, when the parts ask for a least overcure."""
    if row.min_overcure_um is None:
        return None
    curve, _ = curve_of(bench, row, _squares(bench, row.id))
    if curve is None:
        return None
    return CureCurve(
        penetration_depth_mm=curve.penetration_depth_mm, critical_exposure_s=curve.critical_exposure_s,
        layer_height_um=row.layer_height_um, min_overcure_um=row.min_overcure_um,
    )  # fmt: skip


def plan_squares(bench: Bench, calibration_id: str, given: SquaresInput) -> DepthView:
    """Plan squares by time. They are exposed onto the film without the plate."""
    with bench.write() as answer:
        row = _open(bench, calibration_id)
        printer = present(shelf.printer(bench.db, row.printer_id), "printer")
        for i, exposure in enumerate(given.exposures_s):
            nearest = max(round_to_step(exposure, printer.exposure_step_s), printer.exposure_step_s)
            if abs(nearest - exposure) > 1e-9:
                said = (
                    f"{printer.name} sets whole steps of {printer.exposure_step_s:g} s: {nearest:g} s is the nearest."
                )
                raise Problem(said, {f"exposures_s.{i}": said}, {f"exposures_s.{i}": nearest})
        for exposure in given.exposures_s:
            insert(
                bench.db, "depth_square", id=bench.new_id(), code=next_code(bench.db, "D"), calibration_id=row.id,
                exposure_s=exposure, planned_at=bench.now(),
            )  # fmt: skip
        return answer(depth(bench, calibration_id))


def measure(bench: Bench, square_id: str, given: DepthReadingInput) -> DepthView:
    """Record the caliper readings of a square; later ones supersede earlier ones and say why."""
    for i, thickness in enumerate(given.thicknesses_mm):
        if thickness > THICKEST_MM:
            meant = round(thickness / 1000, 4)
            said = f"{thickness:g} mm is no depth of cure. Was {thickness:g} µm ({meant:g} mm) meant?"
            raise Problem(said, {f"thicknesses_mm.{i}": said}, {f"thicknesses_mm.{i}": meant})
    with bench.write() as answer:
        who = bench.technician()
        square = present(stages.square(bench.db, square_id), "square")
        held = stages.depth_readings(bench.db, [square_id])
        newest = held[-1] if held else None
        if (newest.id if newest else None) != given.supersedes_id:
            raise Conflict(f"{square.code} was measured meanwhile. Reload to see it, then correct it with a reason.")
        if newest is not None and given.reason is None:
            said = "Say why the earlier reading is corrected."
            raise Problem(said, {"reason": said})
        insert(
            bench.db, "depth_reading", id=bench.new_id(), square_id=square_id, thicknesses_mm=given.thicknesses_mm,
            temp_c=given.temp_c, note=given.note, technician_id=who.id, read_at=bench.now(),
            supersedes_id=given.supersedes_id, reason=given.reason if newest else None,
        )  # fmt: skip
        return answer(depth(bench, square.calibration_id))


def remove_square(bench: Bench, square_id: str, reason: str) -> DepthView:
    """Take a square out: torn, lost, or never exposed."""
    with bench.write() as answer:
        square = present(stages.square(bench.db, square_id), "square")
        if square.gone_at is not None:
            raise Conflict(f"{square.code} is out already.")
        update(bench.db, "depth_square", square_id, gone_at=bench.now(), gone_reason=reason)
        return answer(depth(bench, square.calibration_id))


def restore_square(bench: Bench, square_id: str) -> DepthView:
    with bench.write() as answer:
        square = present(stages.square(bench.db, square_id), "square")
        update(bench.db, "depth_square", square_id, gone_at=None, gone_reason=None)
        return answer(depth(bench, square.calibration_id))


def change_settings(bench: Bench, calibration_id: str, given: DepthSettings) -> DepthView:
    """Irradiance, for Ec; least overcure, for the cure lane."""
    with bench.write() as answer:
        _open(bench, calibration_id)
        update(bench.db, "calibration", calibration_id, **given.model_dump())
        return answer(depth(bench, calibration_id))


def _open(bench: Bench, calibration_id: str) -> store.Calibration:
    row = present(store.calibration(bench.db, calibration_id), "calibration")
    if row.closed_at is not None:
        raise Conflict(f"{row.code} is closed.")
    return row


def _squares(bench: Bench, calibration_id: str) -> list[SquareView]:
    rows = stages.squares(bench.db, calibration_id)
    readings: dict[str, list[stages.DepthReading]] = {}
    for reading in stages.depth_readings(bench.db, [row.id for row in rows]):
        readings.setdefault(reading.square_id, []).append(reading)
    return [_square(row, readings.get(row.id, [])) for row in rows]


def _square(row: stages.DepthSquare, readings: list[stages.DepthReading]) -> SquareView:
    newest = readings[-1] if readings else None
    values = newest.thicknesses_mm if newest else []
    return SquareView(
        id=row.id, code=row.code, exposure_s=row.exposure_s, thicknesses_mm=values,
        mean_mm=sum(values) / len(values) if values else None,
        spread_um=1000 * (max(values) - min(values)) if len(values) > 1 else None,
        temp_c=newest.temp_c if newest else None, note=newest.note if newest else "",
        initials=newest.initials if newest else None, read_at=newest.read_at if newest else None,
        reading_id=newest.id if newest else None, earlier=max(len(readings) - 1, 0),
    )  # fmt: skip
