"""Timers of the top bar."""

from __future__ import annotations

from typing import Any

from ...services.lab import timers as service
from ..wiring import Blueprint, takes, work

blueprint = Blueprint("timers", __name__, url_prefix="/api", tag="Timers")


@blueprint.get("/timers")
@blueprint.output(service.Timers)
def timers() -> Any:
    """Timers that run, the next one first."""
    return service.timers(work())


@blueprint.post("/timers")
@takes(blueprint, service.TimerInput)
@blueprint.output(service.TimerView, status_code=201)
def start(body: service.TimerInput) -> Any:
    """Start a timer."""
    return service.start(work(), body)


@blueprint.post("/timers/<timer_id>/end")
@blueprint.output(service.TimerView)
def end(timer_id: str) -> Any:
    """End a timer."""
    return service.end(work(), timer_id)


@blueprint.post("/timers/<timer_id>/resume")
@blueprint.output(service.TimerView)
def resume(timer_id: str) -> Any:
    """Let an ended timer run on."""
    return service.resume(work(), timer_id)
