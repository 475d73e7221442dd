"""The Board and the finder."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint
from pydantic import Field

from ...core.contract import Contract
from ...services.lab import find as find_service
from ...services.sets import board as service
from ...store.lab.find import Found
from ..wiring import list_of, takes, work

blueprint = APIBlueprint("board", __name__, url_prefix="/api", tag="Board")


class FindQuery(Contract):
    """What the finder looks for."""

    q: str = Field("", max_length=80)


@blueprint.get("/board")
@takes(blueprint, service.BoardQuery, "query")
@blueprint.output(service.Board)
def board(query: service.BoardQuery) -> Any:
    """Every pair of material and printer with what it can be printed at, and what waits to be done."""
    return service.board(work(), query)


@blueprint.get("/find")
@takes(blueprint, FindQuery, "query")
@blueprint.output(list_of(Found))
def find(query: FindQuery) -> Any:
    """Whatever has this text in its code or name."""
    return {"items": find_service.find(work(), query.q)}
