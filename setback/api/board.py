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


class BoardQuery(Contract):
    layer_height_um: float | None = Field(None, gt=0, le=1000)


class FindQuery(Contract):
    q: str = Field("", max_length=80)


@blueprint.get("/board")
@takes(blueprint, BoardQuery, "query")
@blueprint.output(service.Board)
def board(given: BoardQuery) -> Any:
    return service.board(bench(), given.layer_height_um)


@blueprint.get("/find")
@takes(blueprint, FindQuery, "query")
@blueprint.output(list_of(find_service.FoundView))
def find(given: FindQuery) -> Any:
    return {"items": find_service.find(bench(), given.q)}
