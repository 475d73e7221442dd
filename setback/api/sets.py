"""Issued parameter sets."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint

from ..services import issue as service
from .wiring import bench

blueprint = APIBlueprint("sets", __name__, url_prefix="/api", tag="Parameter sets")


@blueprint.get("/sets/<id_or_code>")
@blueprint.output(service.SetCard)
def card(id_or_code: str) -> Any:
    return service.card(bench(), id_or_code)
