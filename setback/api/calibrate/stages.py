"""The stages around range finding: depth, first layer, arms side by side."""

from __future__ import annotations

from typing import Any

from pydantic import Field

from ...core.contract import Contract
from ...services.calibrate import arms, base_rules, depth, first_layer, sources, starting
from ...services.calibrate.calibrations import CalibrationView
from ...services.calibrate.planning import Planned
from ...services.prints import virtual
from ...services.reading.readings import ReasonInput
from ..wiring import Blueprint, takes, work

blueprint = Blueprint("stages", __name__, url_prefix="/api", tag="Calibrate")


@blueprint.get("/calibrations/<calibration_id>/depth")
@blueprint.output(depth.DepthView)
def depth_of(calibration_id: str) -> Any:
    """Depth squares, their readings and the working curve."""
    return depth.depth(work(), calibration_id)


@blueprint.post("/calibrations/<calibration_id>/depth-squares")
@takes(blueprint, depth.SquaresInput)
@blueprint.output(depth.DepthView, status_code=201)
def plan_squares(calibration_id: str, body: depth.SquaresInput) -> Any:
    """Plan squares at several exposures."""
    return depth.plan_squares(work(), calibration_id, body)


@blueprint.put("/calibrations/<calibration_id>/depth")
@takes(blueprint, depth.DepthChange)
@blueprint.output(depth.DepthView)
def depth_settings(calibration_id: str, body: depth.DepthChange) -> Any:
    """Set irradiance and layer heights that the working curve is asked about."""
    return depth.change_settings(work(), calibration_id, body)


@blueprint.post("/depth-squares/<square_id>/readings")
@takes(blueprint, depth.DepthReadingInput)
@blueprint.output(depth.DepthView, status_code=201)
def measure(square_id: str, body: depth.DepthReadingInput) -> Any:
    """Note the thickness of a square, mm."""
    return depth.measure(work(), square_id, body)


@blueprint.post("/depth-squares/<square_id>/gone")
@takes(blueprint, ReasonInput)
@blueprint.output(depth.DepthView)
def remove_square(square_id: str, body: ReasonInput) -> Any:
    """Leave a square out, with a reason."""
    return depth.remove_square(work(), square_id, body.reason)


@blueprint.post("/depth-squares/<square_id>/found")
@blueprint.output(depth.DepthView)
def restore_square(square_id: str) -> Any:
    """Let a square count again."""
    return depth.restore_square(work(), square_id)


@blueprint.post("/depth-squares/<square_id>/virtual-reading")
@blueprint.output(virtual.VirtualThickness)
def virtual_thickness(square_id: str) -> Any:
    """The thickness that the virtual printer gives a square."""
    return virtual.thickness(work(), square_id)


@blueprint.get("/calibrations/<calibration_id>/first-layer")
@blueprint.output(first_layer.FirstLayerView)
def first_layer_of(calibration_id: str) -> Any:
    """Tries of the first layer, and what follows from them."""
    return first_layer.view(work(), calibration_id)


@blueprint.post("/calibrations/<calibration_id>/base-tries")
@takes(blueprint, first_layer.BaseTryInput)
@blueprint.output(first_layer.FirstLayerView, status_code=201)
def add_try(calibration_id: str, body: first_layer.BaseTryInput) -> Any:
    """Note a try of the first layer: exposure, grip, height."""
    return first_layer.add_try(work(), calibration_id, body)


@blueprint.post("/base-tries/<try_id>/withdraw")
@takes(blueprint, ReasonInput)
@blueprint.output(first_layer.FirstLayerView)
def withdraw_try(try_id: str, body: ReasonInput) -> Any:
    """Withdraw a try, with a reason."""
    return first_layer.withdraw_try(work(), try_id, body.reason)


@blueprint.post("/base-tries/<try_id>/restore")
@blueprint.output(first_layer.FirstLayerView)
def restore_try(try_id: str) -> Any:
    """Let a withdrawn try count again."""
    return first_layer.restore_try(work(), try_id)


@blueprint.get("/calibrations/<calibration_id>/arms")
@blueprint.output(arms.ComparisonView)
def compare(calibration_id: str) -> Any:
    """Arms of a calibration side by side."""
    return arms.comparison(work(), calibration_id)


@blueprint.post("/calibrations/<calibration_id>/rest-arms")
@takes(blueprint, arms.RestsInput)
@blueprint.output(Planned, status_code=201)
def start_rests(calibration_id: str, body: arms.RestsInput) -> Any:
    """Begin arms with other rests, and plan their coupons."""
    return arms.start_rests(work(), calibration_id, body)


class ArmQuery(Contract):
    """Which arm is asked about."""

    arm: int | None = Field(None, ge=1, description="Number of the arm; the first when not given")


@blueprint.get("/calibration-start")
@takes(blueprint, starting.StartQuery, "query")
@blueprint.output(starting.StartView)
def start(query: starting.StartQuery) -> Any:
    """What a calibration of this pair would begin from."""
    return starting.start(work(), query)


@blueprint.get("/calibrations/<calibration_id>/sources")
@takes(blueprint, ArmQuery, "query")
@blueprint.output(sources.SourcesView)
def sources_of(calibration_id: str, query: ArmQuery) -> Any:
    """Ranges to begin from, by how far each is trusted."""
    return sources.sources(work(), calibration_id, query.arm)


@blueprint.get("/calibrations/<calibration_id>/borrowed-range")
@takes(blueprint, sources.BorrowedQuery, "query")
@blueprint.output(sources.BorrowedRange)
def borrowed(calibration_id: str, query: sources.BorrowedQuery) -> Any:
    """The range round a number that was borrowed."""
    return sources.borrowed(work(), calibration_id, query)


@blueprint.put("/calibrations/<calibration_id>/range")
@takes(blueprint, sources.RangeInput)
@blueprint.output(CalibrationView)
def choose_range(calibration_id: str, body: sources.RangeInput) -> Any:
    """Choose the range the ladder covers."""
    return sources.choose(work(), calibration_id, body)


@blueprint.get("/base-rules")
@blueprint.output(base_rules.BaseRules)
def rules_of_base() -> Any:
    """How a base exposure is reckoned before anything was tried."""
    return base_rules.view(work())


@blueprint.put("/base-rules")
@takes(blueprint, base_rules.BaseRules)
@blueprint.output(base_rules.BaseRules)
def change_rules_of_base(body: base_rules.BaseRules) -> Any:
    """Set how a base exposure is reckoned before anything was tried."""
    return base_rules.change(work(), body)
