"""The Board and the finder."""

from __future__ import annotations

from typing import Any

from apiflask import APIBlueprint
from pydantic import Field

from ..core.contract import Contract
from ..services import board as service
from ..services import find as find_service
from .wiring import bench, list_of, takes

blueprint = APIBlueprint("board", __name__, url_prefix="/api", tag="Board")


class FindQuery(Contract):
    q: str = Field("", max_length=80)


@blueprint.get("/board")
@takes(blueprint, service.BoardQuery, "query")
@blueprint.output(service.Board)
def board(given: service.BoardQuery) -> Any:
    return service.board(bench(), given)


@blueprint.get("/find")
@takes(blueprint, FindQuery, "query")
@blueprint.output(list_of(find_service.FoundView))
def find(given: FindQuery) -> Any:
    return {"items": find_service.find(bench(), given.q)}
