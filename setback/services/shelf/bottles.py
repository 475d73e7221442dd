"""Bottles: one container of a resin each, with its lot and level."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ...core.contract import Contract, Problem
from ...store import shelf
from ...store.codes import next_code
from ...store.rows import insert, update
from ..bench import Bench, View, present, same_version
from .entry import Day, Name, Page, Version, live_material, version_of


class BottleInput(Contract):
    material_id: str
    lot: Name
    received_on: Day | None = None
    opened_on: Day | None = None
    best_before: Day | None = None
    volume_ml: float = Field(gt=0, le=50_000)
    left_ml: Annotated[float, Field(ge=0, le=50_000)] | None = Field(None, description="Full when not given")
    version: Version = None


class BottleView(View):
    id: str
    code: str
    material_id: str
    material: str
    lot: str
    received_on: str | None
    opened_on: str | None
    best_before: str | None
    volume_ml: float
    left_ml: float
    last_shaken_at: str | None
    version: int
    created_at: str
    retired_at: str | None


def bottles(bench: Bench, page: Page, material_id: str | None = None) -> list[BottleView]:
    rows = shelf.bottles(bench.db, page.retired, material_id, page.after, page.limit)
    return [BottleView.model_validate(row) for row in rows]


def bottle(bench: Bench, bottle_id: str) -> BottleView:
    return BottleView.model_validate(present(shelf.bottle(bench.db, bottle_id), "bottle"))


def add_bottle(bench: Bench, given: BottleInput) -> BottleView:
    columns = _bottle_columns(given)
    with bench.write() as answer:
        live_material(bench, given.material_id)
        bottle_id = bench.new_id()
        insert(
            bench.db, "bottle", id=bottle_id, code=next_code(bench.db, "B"), created_at=bench.now(), **columns
        )  # fmt: skip
        return answer(bottle(bench, bottle_id))


def change_bottle(bench: Bench, bottle_id: str, given: BottleInput) -> BottleView:
    columns = _bottle_columns(given)
    with bench.write() as answer:
        held = bottle(bench, bottle_id)
        same_version(held.version, version_of(given.version), f"Bottle {held.code}")
        if given.material_id != held.material_id:
            said = "A bottle keeps its resin: retire this one and add another."
            raise Problem(said, {"material_id": said})
        update(bench.db, "bottle", bottle_id, version=held.version + 1, **columns)
        return answer(bottle(bench, bottle_id))


def shaken(bench: Bench, bottle_id: str) -> BottleView:
    """Note that a bottle was shaken now: settled pigment looks exactly like a wrong exposure."""
    with bench.write() as answer:
        held = bottle(bench, bottle_id)
        update(bench.db, "bottle", held.id, last_shaken_at=bench.now())
        return answer(bottle(bench, bottle_id))


def _bottle_columns(given: BottleInput) -> dict[str, object]:
    left = given.volume_ml if given.left_ml is None else given.left_ml
    if left > given.volume_ml:
        said = f"A bottle of {given.volume_ml:g} ml cannot hold {left:g} ml."
        raise Problem(said, {"left_ml": said})
    for first, then in (("received_on", "opened_on"), ("received_on", "best_before")):
        a, b = getattr(given, first), getattr(given, then)
        if a and b and b < a:
            said = f"This is before it was {first.removesuffix('_on')}."
            raise Problem(said, {then: said})
    return {**given.model_dump(exclude={"version"}), "left_ml": left}
