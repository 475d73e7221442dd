"""Depth of cure: squares planned by time, measured by calipers, and the curve they make."""

from __future__ import annotations

import math
from typing import Annotated

from pydantic import Field

from ...core.calibrate.working_curve import DepthPoint, WorkingCurveInput, WorkingCurveResult, working_curve
from ...core.contract import Contract, Problem, Seconds
from ...core.printing.steps import round_to_step
from ...core.window.lanes import CureCurve
from ...core.window.remedies import thicker_um
from ...store import shelf
from ...store.calibrate import calibrations as store
from ...store.calibrate import stages
from ...store.codes import next_code
from ...store.rows import insert, update
from ..both_versions import Stale, differences, same_version
from ..reading.readings import Reason
from ..shelf.entry import Note
from ..unit_of_work import Conflict, UnitOfWork, View, present

THICKEST_MM = 4.0
# Squares spread over the logarithm of time, around and above a normal exposure.
SPREAD = (1.5, 3.0, 6.0, 12.0)


class SquaresInput(Contract):
    """Exposures of the squares to plan, s."""

    exposures_s: list[Seconds] = Field(min_length=1, max_length=12)


class DepthReadingInput(Contract):
    """The thickness of a square, mm."""

    thicknesses_mm: list[Annotated[float, Field(gt=0, le=10_000)]] = Field(min_length=1, max_length=12)
    temp_c: float | None = Field(None, ge=-20, le=80)
    note: Note = ""
    supersedes_id: str | None = None
    reason: Reason | None = Field(None, description="Why the earlier reading is corrected")


class DepthSettings(Contract):
    """Irradiance and layer heights the working curve is asked about."""

    irradiance_mw_cm2: Annotated[float, Field(gt=0, le=10_000)] | None = None
    min_overcure_um: Annotated[float, Field(ge=0, le=5000)] | None = Field(
        None, description="Least cure beyond the layer; makes the cure lane"
    )


class DepthChange(DepthSettings):
    """Irradiance and least overcure, with the version of the calibration that is edited."""

    version: int


class SquareView(View):
    """A square with its exposure and readings."""

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
    """Squares, readings and the working curve."""

    calibration_id: str
    version: int = Field(description="Of the calibration")
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


def depth(work: UnitOfWork, calibration_id: str) -> DepthView:
    """The squares of a calibration and their curve."""
    row = present(store.calibration(work.db, calibration_id), "calibration")
    printer = present(shelf.printer(work.db, row.printer_id), "printer")
    squares = _squares(work, calibration_id)
    curve, refused = curve_of(work, row, squares)
    middle = math.sqrt(row.low_s * row.high_s)
    times = [k * middle for k in SPREAD]
    if squares:
        waiting = any(s.mean_mm is None for s in squares)
        times = [] if curve is None or waiting else _nearer(curve, row.layer_height_um)
    suggested = [max(round_to_step(t, printer.exposure_step_s), printer.exposure_step_s) for t in times]
    return DepthView(
        calibration_id=row.id,
        version=row.version,
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
    work: UnitOfWork, row: store.Calibration, squares: list[SquareView]
) -> tuple[WorkingCurveResult | None, str | None]:
    """The working curve of squares that were measured; a point is the mean of a square's readings."""
    points = [
        DepthPoint(exposure_s=s.exposure_s, depth_mm=s.mean_mm, square=s.code) for s in squares if s.mean_mm is not None
    ]
    if not points:
        return None, None
    heights = sorted({*stages.layer_heights(work.db), row.layer_height_um})
    try:
        inputs = WorkingCurveInput(points=points, irradiance_mw_cm2=row.irradiance_mw_cm2, layer_heights_um=heights)
        curve = working_curve(inputs)
        if curve.character == "clear" and (thicker := thicker_um(row.layer_height_um)) not in heights:
            # A thicker layer helps a resin that blooms: what it would need stands beside the others.
            curve = working_curve(inputs.model_copy(update={"layer_heights_um": sorted([*heights, thicker])}))
        return curve, None
    except Problem as problem:
        return None, problem.fields.get("points", problem.message)


def _nearer(curve: WorkingCurveResult, layer_height_um: float) -> list[float]:
    """The time of the depth this layer needs, when no square came near it."""
    return [
        layer.exposure_s
        for layer in curve.layer_exposures
        if layer.layer_height_um == layer_height_um and layer.extrapolated
    ]


def _thicker(curve: WorkingCurveResult | None, layer_height_um: float) -> float | None:
    if curve is None or curve.character != "clear":
        return None
    return min(
        (layer.layer_height_um for layer in curve.layer_exposures if layer.layer_height_um > layer_height_um),
        default=None,
    )


def cure_curve(work: UnitOfWork, row: store.Calibration) -> CureCurve | None:
    """What the cure lane rests on: the working curve, when the parts ask for a least overcure."""
    if row.min_overcure_um is None:
        return None
    curve, _ = curve_of(work, row, _squares(work, row.id))
    if curve is None:
        return None
    return CureCurve(
        penetration_depth_mm=curve.penetration_depth_mm,
        critical_exposure_s=curve.critical_exposure_s,
        layer_height_um=row.layer_height_um,
        min_overcure_um=row.min_overcure_um,
    )


def plan_squares(work: UnitOfWork, calibration_id: str, request: SquaresInput) -> DepthView:
    """Plan squares by time. They are exposed onto the film without the plate."""
    with work.write() as answer:
        row = _open(work, calibration_id)
        printer = present(shelf.printer(work.db, row.printer_id), "printer")
        for i, exposure in enumerate(request.exposures_s):
            nearest = max(round_to_step(exposure, printer.exposure_step_s), printer.exposure_step_s)
            if abs(nearest - exposure) > 1e-9:
                message = (
                    f"{printer.name} sets whole steps of {printer.exposure_step_s:g} s: {nearest:g} s is the nearest."
                )
                raise Problem(message, {f"exposures_s.{i}": message}, {f"exposures_s.{i}": nearest})
        for exposure in request.exposures_s:
            insert(
                work.db,
                "depth_square",
                id=work.new_id(),
                code=next_code(work.db, "D"),
                calibration_id=row.id,
                exposure_s=exposure,
                planned_at=work.now(),
            )
        return answer(depth(work, calibration_id))


def measure(work: UnitOfWork, square_id: str, request: DepthReadingInput) -> DepthView:
    """Record the caliper readings of a square; later ones supersede earlier ones and say why."""
    for i, thickness in enumerate(request.thicknesses_mm):
        if thickness > THICKEST_MM:
            likely_mm = round(thickness / 1000, 4)
            message = f"{thickness:g} mm is no depth of cure. Was {thickness:g} µm ({likely_mm:g} mm) meant?"
            raise Problem(message, {f"thicknesses_mm.{i}": message}, {f"thicknesses_mm.{i}": likely_mm})
    with work.write() as answer:
        technician = work.technician()
        square = present(stages.square(work.db, square_id), "square")
        readings = stages.depth_readings(work.db, [square_id])
        newest = readings[-1] if readings else None
        if (newest.id if newest else None) != request.supersedes_id:
            theirs = newest.thicknesses_mm if newest else []
            raise Stale(
                f"{square.code} was measured meanwhile{f' by {newest.initials}' if newest else ''}. "
                "Compare, then save yours over it with a reason.",
                differences({"thicknesses_mm": request.thicknesses_mm}, {"thicknesses_mm": theirs}),
                {"supersedes_id": newest.id if newest else None},
            )
        if newest is not None and request.reason is None:
            message = "Say why the earlier reading is corrected."
            raise Problem(message, {"reason": message})
        insert(
            work.db,
            "depth_reading",
            id=work.new_id(),
            square_id=square_id,
            thicknesses_mm=request.thicknesses_mm,
            temp_c=request.temp_c,
            note=request.note,
            technician_id=technician.id,
            read_at=work.entered(),
            supersedes_id=request.supersedes_id,
            reason=request.reason if newest else None,
        )
        return answer(depth(work, square.calibration_id))


def remove_square(work: UnitOfWork, square_id: str, reason: str) -> DepthView:
    """Take a square out: torn, lost, or never exposed."""
    with work.write() as answer:
        square = present(stages.square(work.db, square_id), "square")
        if square.gone_at is not None:
            raise Conflict(f"{square.code} is out already.")
        update(work.db, "depth_square", square_id, gone_at=work.now(), gone_reason=reason)
        return answer(depth(work, square.calibration_id))


def restore_square(work: UnitOfWork, square_id: str) -> DepthView:
    """Let a square count again."""
    with work.write() as answer:
        square = present(stages.square(work.db, square_id), "square")
        update(work.db, "depth_square", square_id, gone_at=None, gone_reason=None)
        return answer(depth(work, square.calibration_id))


def change_settings(work: UnitOfWork, calibration_id: str, request: DepthChange) -> DepthView:
    """Irradiance, for Ec; least overcure, for the cure lane."""
    with work.write() as answer:
        row = _open(work, calibration_id)
        same_version(row, request.version, row.code, request)
        settings = request.model_dump(exclude={"version"})
        update(work.db, "calibration", calibration_id, **settings, version=row.version + 1)
        return answer(depth(work, calibration_id))


def _open(work: UnitOfWork, calibration_id: str) -> store.Calibration:
    row = present(store.calibration(work.db, calibration_id), "calibration")
    if row.closed_at is not None:
        raise Conflict(f"{row.code} is closed.")
    return row


def _squares(work: UnitOfWork, calibration_id: str) -> list[SquareView]:
    rows = stages.squares(work.db, calibration_id)
    readings: dict[str, list[stages.DepthReading]] = {}
    for reading in stages.depth_readings(work.db, [row.id for row in rows]):
        readings.setdefault(reading.square_id, []).append(reading)
    return [_square(row, readings.get(row.id, [])) for row in rows]


def _square(row: stages.DepthSquare, readings: list[stages.DepthReading]) -> SquareView:
    newest = readings[-1] if readings else None
    values = newest.thicknesses_mm if newest else []
    return SquareView(
        id=row.id,
        code=row.code,
        exposure_s=row.exposure_s,
        thicknesses_mm=values,
        mean_mm=sum(values) / len(values) if values else None,
        spread_um=1000 * (max(values) - min(values)) if len(values) > 1 else None,
        temp_c=newest.temp_c if newest else None,
        note=newest.note if newest else "",
        initials=newest.initials if newest else None,
        read_at=newest.read_at if newest else None,
        reading_id=newest.id if newest else None,
        earlier=max(len(readings) - 1, 0),
    )
