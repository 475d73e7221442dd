"""First layer: tries of the base exposure, rated by grip."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..core.contract import Contract, Millimetres, Problem, Seconds
from ..core.first_layer import GRIPS, BaseTry, FirstLayerInput, FirstLayerResult, first_layer
from ..core.settings import Settings
from ..core.steps import round_to_step
from ..store import calibrations as store
from ..store import shelf, stages
from ..store.codes import next_code
from ..store.rows import insert, update
from .bench import Bench, Conflict, View, present
from .depth import curve_of, depth
from .readings import Reason
from .shelf.entry import Note

THICKEST_MM = 3.0


class BaseTryInput(Contract):
    base_exposure_s: Seconds
    rating: Annotated[int, Field(ge=0, le=4)]
    thickness_mm: Millimetres | None = None
    foot_mm: Millimetres | None = None
    above_mm: Millimetres | None = None
    checked: list[Literal["level", "zero", "resin", "bubbles", "scuffed"]] = Field(default_factory=list)
    note: Note = ""


class TryView(View):
    id: str
    code: str
    base_exposure_s: float
    rating: int
    thickness_mm: float | None
    foot_mm: float | None
    above_mm: float | None
    checked: list[str]
    note: str
    initials: str
    tried_at: str


class FirstLayerView(View):
    calibration_id: str
    exposure_step_s: float
    layer_height_um: float
    tries: list[TryView]
    grips: list[str] = Field(description="What each rating means, 0 to 4")
    advice: FirstLayerResult
    normal_exposure_s: float | None = Field(description="What the multiple is taken of")
    normal_from: str | None
    base_layers: int
    transition_layers: int


def view(bench: Bench, calibration_id: str) -> FirstLayerView:
    """Tries so far and what to do next."""
    row = present(store.calibration(bench.db, calibration_id), "calibration")
    printer = present(shelf.printer(bench.db, row.printer_id), "printer")
    tries = stages.base_tries(bench.db, calibration_id)
    settings = Settings.model_validate(store.arms(bench.db, calibration_id)[0].settings)
    normal, source = _normal(bench, row, printer.exposure_step_s)
    advice = first_layer(
        FirstLayerInput(
            tries=[BaseTry.model_validate({name: getattr(t, name) for name in BaseTry.model_fields}) for t in tries],
            layer_height_um=row.layer_height_um, exposure_step_s=printer.exposure_step_s, normal_exposure_s=normal,
        )
    )  # fmt: skip
    return FirstLayerView(
        calibration_id=row.id, exposure_step_s=printer.exposure_step_s, layer_height_um=row.layer_height_um,
        tries=[TryView.model_validate(t) for t in tries], grips=list(GRIPS), advice=advice, normal_exposure_s=normal,
        normal_from=source, base_layers=settings.base_layers, transition_layers=settings.transition_layers,
    )  # fmt: skip


def _normal(bench: Bench, row: store.Calibration, step_s: float) -> tuple[float | None, str | None]:
    """A normal exposure to take the multiple of: the working curve's, else the middle of the range."""
    curve, _ = curve_of(bench, row, depth(bench, row.id).squares)
    own = next((x for x in curve.layer_exposures if x.layer_height_um == row.layer_height_um), None) if curve else None
    if own is not None:
        return round_to_step(own.exposure_s, step_s), "working curve"
    return round_to_step((row.low_s * row.high_s) ** 0.5, step_s), "middle of the range"


def add_try(bench: Bench, calibration_id: str, given: BaseTryInput) -> FirstLayerView:
    """Record one try."""
    _check(given)
    with bench.write() as answer:
        who = bench.technician()
        row = present(store.calibration(bench.db, calibration_id), "calibration")
        if row.closed_at is not None:
            raise Conflict(f"{row.code} is closed.")
        insert(
            bench.db, "base_try", id=bench.new_id(), code=next_code(bench.db, "F"), calibration_id=calibration_id,
            technician_id=who.id, tried_at=bench.now(), **given.model_dump(),
        )  # fmt: skip
        return answer(view(bench, calibration_id))


def _check(given: BaseTryInput) -> None:
    if given.rating == 0 and given.thickness_mm is not None:
        said = "A square that stayed in the vat has no thickness on the plate."
        raise Problem(said, {"thickness_mm": said})
    if given.rating > 0 and given.thickness_mm is None:
        said = "Measure the square: a rating without its thickness does not tell the Z offset."
        raise Problem(said, {"thickness_mm": said})
    if given.thickness_mm is not None and given.thickness_mm > THICKEST_MM:
        meant = round(given.thickness_mm / 1000, 4)
        said = f"{given.thickness_mm:g} mm is no first layer. Was {given.thickness_mm:g} µm ({meant:g} mm) meant?"
        raise Problem(said, {"thickness_mm": said}, {"thickness_mm": meant})
    if (given.foot_mm is None) != (given.above_mm is None):
        said = "Measure both: the foot and the width above it."
        raise Problem(said, {"foot_mm" if given.foot_mm is None else "above_mm": said})


def withdraw_try(bench: Bench, try_id: str, reason: Reason) -> FirstLayerView:
    with bench.write() as answer:
        row = present(stages.base_try(bench.db, try_id), "try")
        if row.withdrawn_at is not None:
            raise Conflict(f"{row.code} is withdrawn already.")
        update(bench.db, "base_try", try_id, withdrawn_at=bench.now(), withdrawn_reason=reason)
        return answer(view(bench, row.calibration_id))


def restore_try(bench: Bench, try_id: str) -> FirstLayerView:
    with bench.write() as answer:
        row = present(stages.base_try(bench.db, try_id), "try")
        update(bench.db, "base_try", try_id, withdrawn_at=None, withdrawn_reason=None)
        return answer(view(bench, row.calibration_id))
