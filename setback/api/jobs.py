"""Long work: start, look, cancel."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint
from flask import current_app

from ..services import jobs as service
from .wiring import bench, takes

blueprint = APIBlueprint("jobs", __name__, url_prefix="/api", tag="Jobs")


@blueprint.post("/jobs")
@takes(blueprint, service.JobInput)
@blueprint.output(service.JobView, status_code=201)
def start(given: service.JobInput) -> Any:
    made = service.start(bench(), given)
    current_app.extensions["jobs"].wake.set()
    return made


@blueprint.get("/jobs/<job_id>")
@blueprint.output(service.JobView)
def job(job_id: str) -> Any:
    return service.job(bench(), job_id)


@blueprint.post("/jobs/<job_id>/cancel")
@blueprint.output(service.JobView)
def cancel(job_id: str) -> Any:
    return service.cancel(bench(), job_id)
