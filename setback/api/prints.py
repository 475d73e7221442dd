"""Prints as they come out, what is checked before them, the gates they leave, and confirmations."""

from __future__ import annotations

from typing import Any

from pydantic import Field

from ..core.contract import Contract
from ..services.calibrate import confirm as confirming
from ..services.calibrate import preparation as preparing
from ..services.prints import (
    evidence,
    gates,
    over_time,
    print_log,
    reporting,
    start_from,
    starting,
    virtual_confirmation,
    wear,
)
from ..services.reading import photos
from ..services.reading.readings import PhotoView, ReasonInput
from .wiring import Blueprint, list_of, takes, uploaded, work

blueprint = Blueprint("print_log", __name__, url_prefix="/api", tag="Prints")


class LogQuery(print_log.LogFilters):
    """Which prints are listed, and how many at a time."""

    before: str = Field("", max_length=40, description="Id of the last one seen")
    limit: int = Field(50, ge=1, le=200)


class ConfirmQuery(Contract):
    """The arm that is confirmed."""

    arm: int | None = Field(None, ge=1, le=1000, description="Number of the arm; the first when not given")


@blueprint.get("/prints")
@takes(blueprint, LogQuery, "query")
@blueprint.output(print_log.LogPage)
def logged(query: LogQuery) -> Any:
    """Prints of the log, newest first, and how many there are."""
    filters = print_log.LogFilters(**query.model_dump(exclude={"before", "limit"}))
    return print_log.logged(work(), filters, query.before, query.limit)


@blueprint.get("/print-days")
@takes(blueprint, print_log.LogFilters, "query")
@blueprint.output(print_log.DaysOfLog)
def print_days(query: print_log.LogFilters) -> Any:
    """The newest weeks of the log, for a strip of days."""
    return print_log.days(work(), query)


@blueprint.get("/prints/running")
@blueprint.output(list_of(print_log.LogView))
def running() -> Any:
    """Prints that were started and nobody reported on."""
    return {"items": print_log.running(work())}


@blueprint.get("/printers/<row_id>/wear")
@blueprint.output(list_of(wear.WearView))
def worn(row_id: str) -> Any:
    """Prints since film, screen and plate of a printer were renewed."""
    return {"items": wear.wear(work(), row_id)}


@blueprint.get("/materials/<material_id>/print-evidence")
@takes(blueprint, evidence.EvidenceQuery, "query")
@blueprint.output(evidence.PrintEvidence)
def print_evidence(material_id: str, query: evidence.EvidenceQuery) -> Any:
    """Success of parts against exposure, and failures by place, on one printer."""
    return evidence.evidence(work(), material_id, query)


@blueprint.get("/success-over-time")
@takes(blueprint, over_time.OverTimeQuery, "query")
@blueprint.output(over_time.SuccessOverTime)
def success_over_time(query: over_time.OverTimeQuery) -> Any:
    """Share of prints that came out whole, month by month."""
    return over_time.success_over_time(work(), query)


@blueprint.get("/start-from/<code>")
@takes(blueprint, start_from.StartQuery, "query")
@blueprint.output(start_from.StartFrom)
def settings_to_start_from(code: str, query: start_from.StartQuery) -> Any:
    """Settings to start a print with: of a set, a coupon, a test, a print or a calibration."""
    return start_from.start_from(work(), code, query)


@blueprint.get("/printed-parts")
@blueprint.output(list_of(evidence.PrintedPair))
def printed_parts() -> Any:
    """Materials on printers that prints of parts tell of, those with most prints first."""
    return {"items": evidence.printed_pairs(work())}


@blueprint.get("/print-symptoms")
@blueprint.output(print_log.SymptomList)
def symptoms() -> Any:
    """What can be seen on a print that did not come out whole."""
    return print_log.symptoms()


@blueprint.get("/prints/<id_or_code>")
@blueprint.output(print_log.PrintPage)
def one_print(id_or_code: str) -> Any:
    """One print: conditions, limits, reports, photos, and what followed."""
    return print_log.page(work(), id_or_code)


@blueprint.post("/prints")
@takes(blueprint, print_log.LogInput)
@blueprint.output(print_log.LogView, status_code=201)
def log(body: print_log.LogInput) -> Any:
    """Log a print of parts that came out, in one step."""
    return print_log.log(work(), body)


@blueprint.post("/prints/start")
@takes(blueprint, starting.StartInput)
@blueprint.output(print_log.LogView, status_code=201)
def start(body: starting.StartInput) -> Any:
    """A print of parts starts: the gates of its printer and its set's band come here."""
    return print_log.start(work(), body)


@blueprint.post("/prints/<print_id>/finish")
@takes(blueprint, reporting.ReportInput)
@blueprint.output(print_log.LogView)
def finish(print_id: str, body: reporting.ReportInput) -> Any:
    """Report how a print came out, later or by somebody else."""
    return print_log.finish(work(), print_id, body)


@blueprint.post("/prints/<print_id>/correct")
@takes(blueprint, reporting.CorrectionInput)
@blueprint.output(print_log.LogView)
def correct(print_id: str, body: reporting.CorrectionInput) -> Any:
    """Supersede what was reported of a print, with a reason."""
    return print_log.correct(work(), print_id, body)


@blueprint.post("/prints/<print_id>/withdraw")
@takes(blueprint, ReasonInput)
@blueprint.output(print_log.LogView)
def withdraw_print(print_id: str, body: ReasonInput) -> Any:
    """Withdraw a print of parts; bottle, screen hours, vat and success follow."""
    return print_log.withdraw(work(), print_id, body.reason)


@blueprint.post("/prints/<print_id>/restore")
@blueprint.output(print_log.LogView)
def restore_print(print_id: str) -> Any:
    """Let a withdrawn print count again."""
    return print_log.restore(work(), print_id)


@blueprint.post("/prints/<id_or_code>/photos")
@blueprint.doc(description="Multipart form with one file named photo.")
@blueprint.output(PhotoView, status_code=201)
def add_photo_of_print(id_or_code: str) -> Any:
    """Keep a photo of a print."""
    return photos.add_to_print(work(), id_or_code, uploaded("photo"))


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
