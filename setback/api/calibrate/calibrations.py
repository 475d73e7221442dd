"""Calibrations, their arms, and the prints planned in them."""

from __future__ import annotations

from typing import Any

from pydantic import Field

from ...core.climate.band import ProposedBand
from ...core.contract import Contract
from ...services.calibrate import calibrations as service
from ...services.calibrate import cut_offs as sureness
from ...services.calibrate import planning
from ...services.prints import printing, record
from ...services.sets import issue as issue_service
from ...services.sets.cards import SetCard
from ...store.calibrate.calibrations import CalibrationListed
from ..wiring import Blueprint, page_of, takes, work

blueprint = Blueprint("calibrations", __name__, url_prefix="/api", tag="Calibrate")


class ListQuery(Contract):
    """One page of calibrations."""

    before: str = Field("", max_length=40, description="Opening time of the last one seen")
    limit: int = Field(50, ge=1, le=200)


@blueprint.get("/calibrations")
@takes(blueprint, ListQuery, "query")
@blueprint.output(page_of(CalibrationListed))
def calibrations(query: ListQuery) -> Any:
    """Calibrations, newest first."""
    return {"items": service.listed(work(), query.before, query.limit), "total": service.how_many(work())}


@blueprint.post("/calibrations")
@takes(blueprint, service.CalibrationInput)
@blueprint.output(service.CalibrationView, status_code=201)
def open_calibration(body: service.CalibrationInput) -> Any:
    """Open a calibration of a material on a printer at a layer height."""
    return service.open_calibration(work(), body)


@blueprint.get("/calibrations/<calibration_id>")
@blueprint.output(service.CalibrationView)
def calibration(calibration_id: str) -> Any:
    """One calibration: arms, coupons, evidence, window and next step."""
    return service.calibration(work(), calibration_id)


@blueprint.get("/calibrations/<calibration_id>/temperature-band")
@takes(blueprint, issue_service.BandQuery, "query")
@blueprint.output(ProposedBand)
def temperature_band(calibration_id: str, query: issue_service.BandQuery) -> Any:
    """The band of temperatures proposed for an exposure that is to be issued."""
    return issue_service.band(work(), calibration_id, query)


@blueprint.get("/cut-offs")
@blueprint.output(sureness.CutOffsView)
def cut_offs() -> Any:
    """How sure an offer must be in this lab."""
    return sureness.view(work())


@blueprint.put("/cut-offs")
@takes(blueprint, sureness.CutOffsView)
@blueprint.output(sureness.CutOffsView)
def change_cut_offs(body: sureness.CutOffsView) -> Any:
    """Set how sure an offer must be in this lab."""
    return sureness.change(work(), body)


@blueprint.put("/calibrations/<calibration_id>/limits")
@takes(blueprint, service.LimitsInput)
@blueprint.output(service.CalibrationView)
def change_limits(calibration_id: str, body: service.LimitsInput) -> Any:
    """Change what the parts ask for."""
    return service.change_limits(work(), calibration_id, body)


@blueprint.put("/calibrations/<calibration_id>/notes")
@takes(blueprint, service.NotesInput)
@blueprint.output(service.CalibrationView)
def change_notes(calibration_id: str, body: service.NotesInput) -> Any:
    """Change notes and finish route of a calibration."""
    return service.change_notes(work(), calibration_id, body)


@blueprint.post("/calibrations/<calibration_id>/arms")
@takes(blueprint, service.ArmInput)
@blueprint.output(service.CalibrationView, status_code=201)
def start_arm(calibration_id: str, body: service.ArmInput) -> Any:
    """Begin another arm, with settings of its own."""
    return service.start_arm(work(), calibration_id, body)


@blueprint.put("/arms/<arm_id>/settings")
@takes(blueprint, service.ArmChange)
@blueprint.output(service.CalibrationView)
def change_settings(arm_id: str, body: service.ArmChange) -> Any:
    """Change the settings of an arm that nothing was printed with yet."""
    return service.change_settings(work(), arm_id, body)


@blueprint.post("/calibrations/<calibration_id>/close")
@takes(blueprint, service.CloseInput)
@blueprint.output(service.CalibrationView)
def close(calibration_id: str, body: service.CloseInput) -> Any:
    """Close a calibration without a set, with a reason."""
    return service.close(work(), calibration_id, body)


@blueprint.post("/calibrations/<calibration_id>/reopen")
@blueprint.output(service.CalibrationView)
def reopen(calibration_id: str) -> Any:
    """Open a closed calibration again."""
    return service.reopen(work(), calibration_id)


@blueprint.post("/calibrations/<calibration_id>/issue")
@takes(blueprint, issue_service.IssueInput)
@blueprint.output(SetCard, status_code=201)
def issue(calibration_id: str, body: issue_service.IssueInput) -> Any:
    """Issue a parameter set at an exposure; outside an offer it needs a reason."""
    return issue_service.issue(work(), calibration_id, body)


@blueprint.post("/arms/<arm_id>/quote")
@takes(blueprint, planning.PlanInput)
@blueprint.output(planning.Quote)
def quote(arm_id: str, body: planning.PlanInput) -> Any:
    """What planned coupons would cost: minutes and millilitres."""
    return planning.quote(work(), arm_id, body)


@blueprint.post("/arms/<arm_id>/quote-ladder")
@takes(blueprint, planning.LadderPlan)
@blueprint.output(planning.Quote)
def quote_ladder(arm_id: str, body: planning.LadderPlan) -> Any:
    """A ladder over a range, and what it would cost."""
    return planning.quote_ladder(work(), arm_id, body)


@blueprint.post("/arms/<arm_id>/plan")
@takes(blueprint, planning.PlanInput)
@blueprint.output(planning.Planned, status_code=201)
def plan(arm_id: str, body: planning.PlanInput) -> Any:
    """Plan coupons, each with a code."""
    return planning.plan(work(), arm_id, body)


@blueprint.post("/prints-together/printed")
@takes(blueprint, record.PrintedTogether)
@blueprint.output(record.Prints)
def all_printed(body: record.PrintedTogether) -> Any:
    """Note that several planned prints came out alike."""
    return printing.all_printed(work(), body)


@blueprint.post("/prints-together/unprinted")
@takes(blueprint, record.Prints)
@blueprint.output(record.Prints)
def all_unprinted(body: record.Prints) -> Any:
    """Undo that several prints came out, while nothing was read off them."""
    return printing.all_unprinted(work(), body)


@blueprint.post("/prints/<print_id>/printed")
@takes(blueprint, record.PrintedInput)
@blueprint.output(printing.PrintState)
def printed(print_id: str, body: record.PrintedInput) -> Any:
    """Note that a print came out, with its temperature, or what was missing."""
    return printing.printed(work(), print_id, body)


@blueprint.post("/prints/<print_id>/unprinted")
@blueprint.output(printing.PrintState)
def unprinted(print_id: str) -> Any:
    """Take back that a print came out."""
    return printing.unprinted(work(), print_id)


@blueprint.post("/prints/<print_id>/cancel")
@blueprint.output(printing.PrintState)
def cancel(print_id: str) -> Any:
    """Cancel a planned print."""
    return printing.cancel(work(), print_id)


@blueprint.post("/prints/<print_id>/reinstate")
@blueprint.output(printing.PrintState)
def reinstate(print_id: str) -> Any:
    """Plan a print again that was cancelled."""
    return printing.reinstate(work(), print_id)
