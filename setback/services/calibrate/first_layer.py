"""First layer: tries of the base exposure, rated by grip."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ...core.calibrate.first_layer import GRIPS, BaseTry, FirstLayerInput, FirstLayerResult, first_layer
from ...core.contract import Contract, Millimetres, Problem, Seconds
from ...core.printing.settings import Settings
from ...core.printing.steps import round_to_step
from ...store import shelf
from ...store.calibrate import calibrations as store
from ...store.calibrate import stages
from ...store.codes import next_code
from ...store.rows import insert, update
from ..reading.readings import Reason
from ..shelf.entry import Note
from ..unit_of_work import Conflict, UnitOfWork, View, present
from .depth import curve_of, depth

THICKEST_MM = 3.0


class BaseTryInput(Contract):
    """A try of the first layer: exposure, grip and measured height."""

    base_exposure_s: Seconds
    rating: Annotated[int, Field(ge=0, le=4)]
    thickness_mm: Millimetres | None = None
    foot_mm: Millimetres | None = None
    above_mm: Millimetres | None = None
    checked: list[Literal["level", "zero", "resin", "bubbles", "scuffed"]] = Field(default_factory=list)
    note: Note = ""


class FirstLayerView(View):
    """Tries of the first layer, and what follows from them."""

    calibration_id: str
    exposure_step_s: float
    layer_height_um: float
    tries: list[stages.BaseTry]
    grips: list[str] = Field(description="What each rating means, 0 to 4")
    advice: FirstLayerResult
    normal_exposure_s: float | None = Field(description="What the multiple is taken of")
    normal_from: str | None
    base_layers: int
    transition_layers: int


def view(work: UnitOfWork, calibration_id: str) -> FirstLayerView:
    """Tries so far and what to do next."""
    row = present(store.calibration(work.db, calibration_id), "calibration")
    printer = present(shelf.printer(work.db, row.printer_id), "printer")
    tries = stages.base_tries(work.db, calibration_id)
    settings = Settings.model_validate(store.arms(work.db, calibration_id)[0].settings)
    normal, source = _normal(work, row, printer.exposure_step_s)
    advice = first_layer(
        FirstLayerInput(
            tries=[BaseTry.model_validate({name: getattr(t, name) for name in BaseTry.model_fields}) for t in tries],
            layer_height_um=row.layer_height_um,
            exposure_step_s=printer.exposure_step_s,
            normal_exposure_s=normal,
        )
    )
    return FirstLayerView(
        calibration_id=row.id,
        exposure_step_s=printer.exposure_step_s,
        layer_height_um=row.layer_height_um,
        tries=tries,
        grips=list(GRIPS),
        advice=advice,
        normal_exposure_s=normal,
        normal_from=source,
        base_layers=settings.base_layers,
        transition_layers=settings.transition_layers,
    )


def _normal(work: UnitOfWork, row: store.Calibration, step_s: float) -> tuple[float | None, str | None]:
    """A normal exposure to take the multiple of: the working curve's, else the middle of the range."""
    curve, _ = curve_of(work, row, depth(work, row.id).squares)
    of_height = (
        next((x for x in curve.layer_exposures if x.layer_height_um == row.layer_height_um), None) if curve else None
    )
    if of_height is not None:
        return round_to_step(of_height.exposure_s, step_s), "working curve"
    return round_to_step((row.low_s * row.high_s) ** 0.5, step_s), "middle of the range"


def add_try(work: UnitOfWork, calibration_id: str, request: BaseTryInput) -> FirstLayerView:
    """Record one try."""
    _check(request)
    with work.write() as answer:
        technician = work.technician()
        row = present(store.calibration(work.db, calibration_id), "calibration")
        if row.closed_at is not None:
            raise Conflict(f"{row.code} is closed.")
        insert(
            work.db,
            "base_try",
            id=work.new_id(),
            code=next_code(work.db, "F"),
            calibration_id=calibration_id,
            technician_id=technician.id,
            tried_at=work.now(),
            **request.model_dump(),
        )
        return answer(view(work, calibration_id))


def _check(request: BaseTryInput) -> None:
    if request.rating == 0 and request.thickness_mm is not None:
        message = "A square that stayed in the vat has no thickness on the plate."
        raise Problem(message, {"thickness_mm": message})
    if request.rating > 0 and request.thickness_mm is None:
        message = "Measure the square: a rating without its thickness does not tell the Z offset."
        raise Problem(message, {"thickness_mm": message})
    if request.thickness_mm is not None and request.thickness_mm > THICKEST_MM:
        likely_mm = round(request.thickness_mm / 1000, 4)
        message = (
            f"{request.thickness_mm:g} mm is no first layer. Was {request.thickness_mm:g} µm ({likely_mm:g} mm) meant?"
        )
        raise Problem(message, {"thickness_mm": message}, {"thickness_mm": likely_mm})
    if (request.foot_mm is None) != (request.above_mm is None):
        message = "Measure both: the foot and the width above it."
        raise Problem(message, {"foot_mm" if request.foot_mm is None else "above_mm": message})


def withdraw_try(work: UnitOfWork, try_id: str, reason: Reason) -> FirstLayerView:
    """Withdraw a try, with a reason."""
    with work.write() as answer:
        row = present(stages.base_try(work.db, try_id), "try")
        if row.withdrawn_at is not None:
            raise Conflict(f"{row.code} is withdrawn already.")
        update(work.db, "base_try", try_id, withdrawn_at=work.now(), withdrawn_reason=reason)
        return answer(view(work, row.calibration_id))


def restore_try(work: UnitOfWork, try_id: str) -> FirstLayerView:
    """Let a withdrawn try count again."""
    with work.write() as answer:
        row = present(stages.base_try(work.db, try_id), "try")
        update(work.db, "base_try", try_id, withdrawn_at=None, withdrawn_reason=None)
        return answer(view(work, row.calibration_id))
