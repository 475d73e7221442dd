"""Instruments of the bench."""

from __future__ import annotations

from typing import Any

from flask import current_app

from ...services.instruments import instruments as service
from ...services.instruments.watching import Watch
from ..wiring import Blueprint, takes, work

blueprint = Blueprint("instruments", __name__, url_prefix="/api", tag="Lab")


def _watch() -> Watch:
    watch: Watch = current_app.extensions["instruments"]
    return watch


@blueprint.get("/instruments")
@blueprint.output(service.Instruments)
def instruments() -> Any:
    """Instruments of the bench, with what they show now."""
    return service.instruments(work(), _watch())


@blueprint.post("/instruments")
@takes(blueprint, service.InstrumentInput)
@blueprint.output(service.InstrumentView, status_code=201)
def add_instrument(body: service.InstrumentInput) -> Any:
    """Add an instrument; it is off until it is switched on."""
    return service.add(work(), body, _watch())


@blueprint.put("/instruments/<instrument_id>")
@takes(blueprint, service.InstrumentInput)
@blueprint.output(service.InstrumentView)
def change_instrument(instrument_id: str, body: service.InstrumentInput) -> Any:
    """Change an instrument, or switch it on or off."""
    return service.change(work(), instrument_id, body, _watch())


@blueprint.post("/instruments/<instrument_id>/retire")
@blueprint.output(service.Instruments)
def take_out_instrument(instrument_id: str) -> Any:
    """Take an instrument out."""
    return service.take_out(work(), instrument_id, _watch())
