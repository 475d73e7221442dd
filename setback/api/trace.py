"""Why a print failed: signs, record, checks and causes."""

from __future__ import annotations

from typing import Any

from ..services.trace import trace as service
from .wiring import Blueprint, list_of, takes, work

blueprint = Blueprint("trace", __name__, url_prefix="/api", tag="Log")


@blueprint.get("/traces")
@takes(blueprint, service.Listing, "query")
@blueprint.output(list_of(service.TraceListed))
def traces(query: service.Listing) -> Any:
    """Traces, newest first."""
    return {"items": service.listed(work(), query.limit)}


@blueprint.post("/traces")
@takes(blueprint, service.OpenInput)
@blueprint.output(service.FailureTrace, status_code=201)
def open_trace(body: service.OpenInput) -> Any:
    """Begin to ask why a print failed; of one print there is one trace."""
    return service.open_trace(work(), body)


@blueprint.get("/traces/<id_or_code>")
@blueprint.output(service.FailureTrace)
def one_trace(id_or_code: str) -> Any:
    """A trace with its ranking as everything stands now."""
    return service.view(work(), id_or_code)


@blueprint.put("/traces/<trace_id>/symptoms")
@takes(blueprint, service.SymptomsInput)
@blueprint.output(service.FailureTrace)
def change_symptoms(trace_id: str, body: service.SymptomsInput) -> Any:
    """Choose what was seen anew."""
    return service.change_symptoms(work(), trace_id, body)


@blueprint.post("/traces/<trace_id>/answers")
@takes(blueprint, service.AnswerInput)
@blueprint.output(service.FailureTrace)
def answer_check(trace_id: str, body: service.AnswerInput) -> Any:
    """Note what a check said."""
    return service.answer_check(work(), trace_id, body)


@blueprint.post("/traces/<trace_id>/answers/<answer_id>/withdraw")
@blueprint.output(service.FailureTrace)
def withdraw_answer(trace_id: str, answer_id: str) -> Any:
    """Let an answer no longer count."""
    return service.withdraw_answer(work(), trace_id, answer_id)


@blueprint.post("/traces/<trace_id>/cause")
@takes(blueprint, service.CauseInput)
@blueprint.output(service.FailureTrace)
def confirm_cause(trace_id: str, body: service.CauseInput) -> Any:
    """Keep the cause that was found."""
    return service.confirm_cause(work(), trace_id, body)


@blueprint.post("/traces/<trace_id>/cause/withdraw")
@blueprint.output(service.FailureTrace)
def withdraw_cause(trace_id: str) -> Any:
    """Let the cause that was kept no longer count."""
    return service.withdraw_cause(work(), trace_id)
