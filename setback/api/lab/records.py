"""Whether the records are what was entered."""

from __future__ import annotations

from typing import Any

from ...services.lab import records as service
from ..wiring import Blueprint, work

blueprint = Blueprint("records", __name__, url_prefix="/api", tag="Records")


@blueprint.get("/records")
@blueprint.output(service.Standing)
def standing() -> Any:
    """What the last walk through all records found."""
    return service.standing(work())


@blueprint.get("/records/keys")
@blueprint.output(service.Keys)
def keys() -> Any:
    """The journal's head and the lab's public keys, for whoever checks a certificate."""
    return service.keys(work())
