"""Prints as they come out, what is checked before them, the gates they leave, and confirmations."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint
from pydantic import Field

from ..core.contract import Contract
from ..services.calibrate import confirm as confirming
from ..services.calibrate import preparation as preparing
from ..services.prints import gates, print_log, virtual_confirmation
from ..services.reading.readings import ReasonInput
from .wiring import list_of, takes, work

blueprint = APIBlueprint("print_log", __name__, url_prefix="/api", tag="Prints")


class LogQuery(Contract):
    """Which prints are listed."""

    before: str = Field("", max_length=40, description="Id of the last one seen")
    limit: int = Field(50, ge=1, le=200)
    failed: bool = Field(False, description="Only prints that left parts missing")


class ConfirmQuery(Contract):
    """The arm that is confirmed."""

    arm: int | None = Field(None, ge=1, le=1000, description="Number of the arm; the first when not given")


@blueprint.get("/prints")
@takes(blueprint, LogQuery, "query")
@blueprint.output(print_log.LogPage)
def logged(query: LogQuery) -> Any:
    """Prints of the log, newest first, and how many there are."""
    return print_log.logged(work(), query.before, query.limit, query.failed)


@blueprint.get("/print-days")
@blueprint.output(print_log.DaysOfLog)
def print_days() -> Any:
    """The newest weeks of the log, for a strip of days."""
    return print_log.days(work())


@blueprint.post("/prints")
@takes(blueprint, print_log.LogInput)
@blueprint.output(print_log.LogView, status_code=201)
def log(body: print_log.LogInput) -> Any:
    """Log a print of parts."""
    return print_log.log(work(), body)


@blueprint.get("/gates")
@blueprint.output(list_of(gates.GateView))
def open_gates() -> Any:
    """What stands in the way of the next print, by printer."""
    return {"items": gates.gates(work())}


@blueprint.post("/prints/<print_id>/vat-searched")
@blueprint.output(print_log.LogView)
def vat_searched(print_id: str) -> Any:
    """Note that the vat was searched for loose pieces."""
    return print_log.vat_searched(work(), print_id)


@blueprint.post("/prints/<print_id>/lift-back")
@blueprint.output(print_log.LogView)
def lift_back(print_id: str) -> Any:
    """Note that the lift is set back to its usual speed."""
    return print_log.lift_back(work(), print_id)


@blueprint.get("/calibrations/<calibration_id>/preparing")
@blueprint.output(preparing.Preparing)
def preparing_of(calibration_id: str) -> Any:
    """What was prepared before the first print, and what is due."""
    return preparing.preparing(work(), calibration_id)


@blueprint.post("/calibrations/<calibration_id>/preparing")
@takes(blueprint, preparing.PreparationInput)
@blueprint.output(preparing.Preparing, status_code=201)
def prepare(calibration_id: str, body: preparing.PreparationInput) -> Any:
    """Note that the checks before a print were done."""
    return preparing.prepare(work(), calibration_id, body)


@blueprint.get("/calibrations/<calibration_id>/confirm")
@takes(blueprint, ConfirmQuery, "query")
@blueprint.output(confirming.ConfirmView)
def confirmations(calibration_id: str, query: ConfirmQuery) -> Any:
    """Confirming prints of a calibration, and what is still needed."""
    return confirming.view(work(), calibration_id, query.arm)


@blueprint.post("/calibrations/<calibration_id>/confirm")
@takes(blueprint, confirming.ConfirmInput)
@blueprint.output(confirming.ConfirmView, status_code=201)
def confirm(calibration_id: str, body: confirming.ConfirmInput) -> Any:
    """Note a confirming print."""
    return confirming.confirm(work(), calibration_id, body)


@blueprint.post("/arms/<arm_id>/virtual-confirmation")
@takes(blueprint, virtual_confirmation.VirtualConfirmInput)
@blueprint.output(virtual_confirmation.VirtualConfirmed)
def confirm_virtually(arm_id: str, body: virtual_confirmation.VirtualConfirmInput) -> Any:
    """A confirming print on the simulated printer, to be looked at before it is kept."""
    return virtual_confirmation.confirm(work(), arm_id, body)


@blueprint.post("/confirmations/<confirmation_id>/withdraw")
@takes(blueprint, ReasonInput)
@blueprint.output(confirming.ConfirmView)
def withdraw(confirmation_id: str, body: ReasonInput) -> Any:
    """Withdraw a confirming print, with a reason."""
    return confirming.withdraw(work(), confirmation_id, body.reason)


@blueprint.post("/confirmations/<confirmation_id>/restore")
@blueprint.output(confirming.ConfirmView)
def restore(confirmation_id: str) -> Any:
    """Let a withdrawn confirming print count again."""
    return confirming.restore(work(), confirmation_id)
