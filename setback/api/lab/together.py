"""What others changed, asked every few seconds."""

from __future__ import annotations

from typing import Any

from flask import current_app

from ...services.lab import together as service
from ..wiring import Blueprint, takes, work

blueprint = Blueprint("together", __name__, url_prefix="/api", tag="Lab")


@blueprint.get("/together")
@takes(blueprint, service.TogetherQuery, "query")
@blueprint.output(service.TogetherView)
def together(query: service.TogetherQuery) -> Any:
    """What others changed since this page last asked, and who else has it open."""
    return service.together(work(), query, current_app.extensions["tabs"])
