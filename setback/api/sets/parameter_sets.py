"""Issued parameter sets."""

from __future__ import annotations

from typing import Any

from flask import Response
from pydantic import Field

from ...core.contract import Contract
from ...services.sets import cards as service
from ...services.sets import scaling
from ..wiring import Blueprint, file_response, list_of, takes, work

blueprint = Blueprint("sets", __name__, url_prefix="/api", tag="Parameter sets")


@blueprint.get("/sets/<id_or_code>")
@blueprint.output(service.SetCard)
def card(id_or_code: str) -> Any:
    """The card of an issued set."""
    return service.card(work(), id_or_code)


class CardFile(Contract):
    """The format of a card's file."""

    format: service.CardFormat = "pdf"


class OtherQuery(Contract):
    """The set to hold against this one."""

    other: str = Field(max_length=40, description="Code of the version to compare with")


@blueprint.get("/sets/<id_or_code>/file")
@takes(blueprint, CardFile, "query")
@blueprint.doc(description="The card as text, CSV, JSON or a page with a QR code.", responses={200: "The file"})
def card_file(id_or_code: str, query: CardFile) -> Response:
    """The card as PDF, text, CSV or JSON."""
    return file_response(service.exported(work(), id_or_code, query.format))


@blueprint.get("/sets/<id_or_code>/anew")
@blueprint.output(service.WindowAnew)
@blueprint.doc(description="The evidence of the set under today's method; the set keeps what it was issued with.")
def anew(id_or_code: str) -> Any:
    """What today's method says of the evidence a set was issued with."""
    return service.anew(work(), id_or_code)


@blueprint.get("/sets/<id_or_code>/compare")
@takes(blueprint, OtherQuery, "query")
@blueprint.output(service.SetComparison)
def compare(id_or_code: str, query: OtherQuery) -> Any:
    """Two sets line by line."""
    return service.compare(work(), id_or_code, query.other)


@blueprint.get("/sets/<set_code>/scaled")
@blueprint.output(list_of(scaling.Scaled))
def scaled(set_code: str) -> Any:
    """What a set says of other layer heights, printers and light powers."""
    return {"items": scaling.scaled(work(), set_code)}
