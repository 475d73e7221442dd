"""Timers of the top bar."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from ..services import timers as service
from .wiring import bench, takes

blueprint = APIBlueprint("timers", __name__, url_prefix="/api", tag="Timers")


@blueprint.get("/timers")
@blueprint.output(service.Timers)
def timers() -> Any:
    return service.timers(bench())


@blueprint.post("/timers")
@takes(blueprint, service.TimerInput)
@blueprint.output(service.TimerView, status_code=201)
def start(given: service.TimerInput) -> Any:
    return service.start(bench(), given)


@blueprint.post("/timers/<timer_id>/end")
@blueprint.output(service.TimerView)
def end(timer_id: str) -> Any:
    return service.end(bench(), timer_id)


@blueprint.post("/timers/<timer_id>/resume")
@blueprint.output(service.TimerView)
def resume(timer_id: str) -> Any:
    return service.resume(bench(), timer_id)
