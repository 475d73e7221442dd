"""Long work: start, look, cancel."""

from __future__ import annotations

from typing import Any

from flask import current_app

from ...services.lab import jobs as service
from ...services.prints import virtual
from ..wiring import Blueprint, takes, work

blueprint = Blueprint("jobs", __name__, url_prefix="/api", tag="Jobs")


@blueprint.post("/jobs")
@takes(blueprint, service.JobInput)
@blueprint.output(service.JobView, status_code=201)
def start(body: service.JobInput) -> Any:
    """Begin long work."""
    job = service.start(work(), body)
    wake()
    return job


@blueprint.post("/virtual-prints")
@takes(blueprint, virtual.VirtualInput)
@blueprint.output(service.JobView, status_code=201)
def print_virtually(body: virtual.VirtualInput) -> Any:
    """Have the virtual printer print what waits, as a job."""
    job = service.print_virtually(work(), body)
    wake()
    return job


@blueprint.get("/jobs/<job_id>")
@blueprint.output(service.JobView)
def job(job_id: str) -> Any:
    """How far a job is, and what came of it."""
    return service.job(work(), job_id)


@blueprint.post("/jobs/<job_id>/cancel")
@blueprint.output(service.JobView)
def cancel(job_id: str) -> Any:
    """Stop a job; nothing of it is kept."""
    return service.cancel(work(), job_id)


def wake() -> None:
    """Tell the worker that something waits."""
    worker = current_app.extensions.get("jobs")
    if worker is not None:
        worker.wake.set()
