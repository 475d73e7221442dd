"""Finish routes: how parts are washed, dried and cured; versioned, because finished parts keep theirs."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ...core.contract import Contract
from ...store import shelf
from ...store.codes import next_code
from ...store.rows import insert, update
from ..both_versions import same_version
from ..unit_of_work import UnitOfWork, present
from .entry import Name, Page, Version, free_name, version_of


class FinishRouteInput(Contract):
    """A finish route: wash, dry, cure."""

    name: Name
    wash_fluid: Name
    wash_method: Name
    dirty_bath_min: float = Field(ge=0, le=120)
    clean_bath_min: float = Field(ge=0, le=120)
    dry_min: float = Field(ge=0, le=1440)
    air_min: float = Field(0, ge=0, le=2880)
    lamp: Name
    cure_min: float = Field(ge=0, le=600)
    cure_temp_c: Annotated[float, Field(ge=0, le=120)] | None = None
    supports_off: Literal["before cure", "after cure"] = "before cure"
    version: Version = None


def finish_routes(work: UnitOfWork, page: Page) -> list[shelf.FinishRoute]:
    """Finish routes, by name."""
    return shelf.finish_routes(work.db, page.retired, page.after, page.limit)


def finish_route(work: UnitOfWork, route_id: str) -> shelf.FinishRoute:
    """One finish route."""
    return present(shelf.finish_route(work.db, route_id), "finish route")


def add_finish_route(work: UnitOfWork, request: FinishRouteInput) -> shelf.FinishRoute:
    """Add a finish route."""
    with work.write() as answer:
        return answer(put_finish_route(work, request))


def put_finish_route(work: UnitOfWork, request: FinishRouteInput) -> shelf.FinishRoute:
    """A finish route onto the shelf, inside whoever's transaction."""
    free_name(work, "finish_route", request.name, None)
    route_id = work.new_id()
    insert(
        work.db,
        "finish_route",
        id=route_id,
        code=next_code(work.db, "F"),
        name=request.name,
        created_at=work.now(),
    )
    _add_route_version(work, route_id, 1, request)
    return finish_route(work, route_id)


def change_finish_route(work: UnitOfWork, route_id: str, request: FinishRouteInput) -> shelf.FinishRoute:
    """A change makes a new version: what was finished by the old one keeps it."""
    with work.write() as answer:
        stored = finish_route(work, route_id)
        same_version(stored, version_of(request.version), stored.name, request)
        free_name(work, "finish_route", request.name, route_id)
        update(work.db, "finish_route", route_id, name=request.name)
        _add_route_version(work, route_id, stored.version + 1, request)
        return answer(finish_route(work, route_id))


def _add_route_version(work: UnitOfWork, route_id: str, version: int, request: FinishRouteInput) -> None:
    insert(
        work.db,
        "finish_route_version",
        id=work.new_id(),
        finish_route_id=route_id,
        version=version,
        created_at=work.now(),
        **request.model_dump(exclude={"name", "version"}),
    )
