"""The Board and the finder."""

from __future__ import annotations

from typing import Any

from pydantic import Field

from ...core.contract import Contract
from ...services.lab import find as find_service
from ...services.sets import board as service
from ...services.sets import put_off as put_off_service
from ...store.lab.find import Found
from ..wiring import Blueprint, list_of, takes, work

blueprint = Blueprint("board", __name__, url_prefix="/api", tag="Board")


class FindQuery(Contract):
    """What the finder looks for."""

    q: str = Field("", max_length=80)


@blueprint.get("/board")
@takes(blueprint, service.BoardQuery, "query")
@blueprint.output(service.Board)
def board(query: service.BoardQuery) -> Any:
    """Every pair of material and printer with what it can be printed at, and what waits to be done."""
    return service.board(work(), query)


@blueprint.post("/today/put-off")
@takes(blueprint, put_off_service.PutOffInput)
@blueprint.output(put_off_service.PutOffView)
def put_off(body: put_off_service.PutOffInput) -> Any:
    """Take an entry out of today's list until a day, or until it says something else."""
    return put_off_service.put_off(work(), body)


@blueprint.post("/today/bring-back")
@takes(blueprint, put_off_service.TaskKey)
@blueprint.output(put_off_service.TaskKey)
def bring_back(body: put_off_service.TaskKey) -> Any:
    """Show an entry of today's list again."""
    return put_off_service.bring_back(work(), body)


@blueprint.get("/find")
@takes(blueprint, FindQuery, "query")
@blueprint.output(list_of(Found))
def find(query: FindQuery) -> Any:
    """Whatever has this text in its code or name."""
    return {"items": find_service.find(work(), query.q)}
