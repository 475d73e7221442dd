"""Gauge studies: planned, read turn by turn, and what comes of them."""

from __future__ import annotations

from typing import Any

from ..services.reading import camera_gauge
from ..services.reading import gauge_studies as service
from ..services.reading import gauge_turns as turns
from .wiring import Blueprint, list_of, takes, uploaded, work

blueprint = Blueprint("gauge", __name__, url_prefix="/api", tag="Gauge studies")


@blueprint.get("/gauge-studies")
@blueprint.output(list_of(service.StudyLine))
def studies() -> Any:
    """Gauge studies, the newest first."""
    return {"items": service.listed(work())}


@blueprint.get("/camera-gauges")
@blueprint.output(list_of(camera_gauge.CameraGauge))
def cameras() -> Any:
    """Every camera and scanner as a gauge, learnt from coupons that were read both ways."""
    return {"items": camera_gauge.camera_gauges(work())}


@blueprint.get("/gauge-studies/choice")
@blueprint.output(service.StudyChoice)
def choice() -> Any:
    """Coupons that a study can be planned with."""
    return service.choice(work())


@blueprint.post("/gauge-studies")
@takes(blueprint, service.StudyInput)
@blueprint.output(service.StudyView, status_code=201)
def plan(body: service.StudyInput) -> Any:
    """Plan a study; each reader's order is random."""
    return service.plan(work(), body)


@blueprint.get("/gauge-studies/<id_or_code>")
@blueprint.output(service.StudyView)
def study(id_or_code: str) -> Any:
    """A study with how far it is, and its result once it is finished."""
    return service.view(work(), id_or_code)


@blueprint.get("/gauge-studies/<id_or_code>/next")
@takes(blueprint, turns.TurnQuery, location="query")
@blueprint.output(turns.NextTurn)
def next_turn(id_or_code: str, query: turns.TurnQuery) -> Any:
    """The coupon to read next, and nothing of what was read before."""
    return turns.next_turn(work(), id_or_code, query)


@blueprint.post("/gauge-studies/<id_or_code>/undo")
@takes(blueprint, turns.TurnQuery)
@blueprint.output(turns.NextTurn)
def undo_turn(id_or_code: str, body: turns.TurnQuery) -> Any:
    """Withdraw the last reading, so that it is made again."""
    return turns.undo_turn(work(), id_or_code, body)


@blueprint.post("/gauge-turns/<turn_id>/reading")
@takes(blueprint, turns.TurnInput)
@blueprint.output(service.StudyView, status_code=201)
def read_turn(turn_id: str, body: turns.TurnInput) -> Any:
    """Keep what was read in a turn."""
    return turns.read_turn(work(), turn_id, body)


@blueprint.post("/gauge-turns/<turn_id>/picture")
@blueprint.input(turns.TurnScan, location="query", arg_name="query")
@blueprint.doc(description="Multipart form with one file named picture, JPEG or PNG.")
@blueprint.output(service.StudyView, status_code=201)
def read_turn_by_picture(turn_id: str, query: turns.TurnScan) -> Any:
    """The picture reader's turn: what a picture of the coupon shows."""
    return turns.read_turn_by_picture(work(), turn_id, uploaded("picture"), query)


@blueprint.post("/gauge-studies/<id_or_code>/withdraw")
@takes(blueprint, service.StudyWithdrawInput)
@blueprint.output(service.StudyView)
def withdraw(id_or_code: str, body: service.StudyWithdrawInput) -> Any:
    """Let a study no longer count, with a reason."""
    return service.withdraw(work(), id_or_code, body)


@blueprint.post("/gauge-studies/<id_or_code>/corrections")
@takes(blueprint, service.CorrectInput)
@blueprint.output(service.StudyView, status_code=201)
def correct(id_or_code: str, body: service.CorrectInput) -> Any:
    """Take a reader's bias, where it is shown, off what they measure."""
    return service.correct(work(), id_or_code, body)


@blueprint.post("/reader-corrections/<correction_id>/end")
@blueprint.output(service.StudyView)
def end_correction(correction_id: str) -> Any:
    """Correct a reader's sizes no more."""
    return service.end_correction(work(), correction_id)
