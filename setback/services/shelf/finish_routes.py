"""Finish routes: how parts are washed, dried and cured; versioned, because finished parts keep theirs."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ...core.contract import Contract
from ...store import shelf
from ...store.codes import next_code
from ...store.rows import insert, update
from ..bench import Bench, View, present, same_version
from .entry import Name, Page, Version, free_name, version_of


class FinishRouteInput(Contract):
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


class FinishRouteView(View):
    id: str
    code: str
    name: str
    created_at: str
    retired_at: str | None
    version: int
    version_id: str
    wash_fluid: str
    wash_method: str
    dirty_bath_min: float
    clean_bath_min: float
    dry_min: float
    air_min: float
    lamp: str
    cure_min: float
    cure_temp_c: float | None
    supports_off: str
    uses: int


def finish_routes(bench: Bench, page: Page) -> list[FinishRouteView]:
    rows = shelf.finish_routes(bench.db, page.retired, page.after, page.limit)
    return [FinishRouteView.model_validate(row) for row in rows]


def finish_route(bench: Bench, route_id: str) -> FinishRouteView:
    return FinishRouteView.model_validate(present(shelf.finish_route(bench.db, route_id), "finish route"))


def add_finish_route(bench: Bench, given: FinishRouteInput) -> FinishRouteView:
    with bench.write() as answer:
        free_name(bench, "finish_route", given.name, None)
        route_id = bench.new_id()
        insert(
            bench.db, "finish_route", id=route_id, code=next_code(bench.db, "F"), name=given.name,
            created_at=bench.now(),
        )  # fmt: skip
        _add_route_version(bench, route_id, 1, given)
        return answer(finish_route(bench, route_id))


def change_finish_route(bench: Bench, route_id: str, given: FinishRouteInput) -> FinishRouteView:
    """A change makes a new version: what was finished by the old one keeps it."""
    with bench.write() as answer:
        held = finish_route(bench, route_id)
        same_version(held.version, version_of(given.version), held.name)
        free_name(bench, "finish_route", given.name, route_id)
        update(bench.db, "finish_route", route_id, name=given.name)
        _add_route_version(bench, route_id, held.version + 1, given)
        return answer(finish_route(bench, route_id))


def _add_route_version(bench: Bench, route_id: str, version: int, given: FinishRouteInput) -> None:
    insert(
        bench.db, "finish_route_version", id=bench.new_id(), finish_route_id=route_id, version=version,
        created_at=bench.now(), **given.model_dump(exclude={"name", "version"}),
    )  # fmt: skip
