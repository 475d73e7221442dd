"""Long work: start, look, cancel."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint
from flask import current_app

from ..services import jobs as service
from ..services import virtual
from .wiring import bench, takes

blueprint = APIBlueprint("jobs", __name__, url_prefix="/api", tag="Jobs")


@blueprint.post("/jobs")
@takes(blueprint, service.JobInput)
@blueprint.output(service.JobView, status_code=201)
def start(given: service.JobInput) -> Any:
    made = service.start(bench(), given)
    wake()
    return made


@blueprint.post("/virtual-prints")
@takes(blueprint, virtual.VirtualInput)
@blueprint.output(service.JobView, status_code=201)
def print_virtually(given: virtual.VirtualInput) -> Any:
    made = service.print_virtually(bench(), given)
    wake()
    return made


@blueprint.get("/jobs/<job_id>")
@blueprint.output(service.JobView)
def job(job_id: str) -> Any:
    return service.job(bench(), job_id)


@blueprint.post("/jobs/<job_id>/cancel")
@blueprint.output(service.JobView)
def cancel(job_id: str) -> Any:
    return service.cancel(bench(), job_id)


def wake() -> None:
    """Tell the worker that something waits."""
    worker = current_app.extensions.get("jobs")
    if worker is not None:
        worker.wake.set()
