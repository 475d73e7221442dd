"""Bottles: one container of a resin each, with its lot and level."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ...core.contract import Contract, Problem
from ...store import shelf
from ...store.codes import next_code
from ...store.rows import insert, update
from ..both_versions import same_version
from ..unit_of_work import UnitOfWork, present
from .entry import Day, Name, Page, Version, live_material, version_of


class BottleInput(Contract):
    """A bottle: material, lot, dates, millilitres."""

    material_id: str
    lot: Name
    received_on: Day | None = None
    opened_on: Day | None = None
    best_before: Day | None = None
    volume_ml: float = Field(gt=0, le=50_000)
    left_ml: Annotated[float, Field(ge=0, le=50_000)] | None = Field(None, description="Full when not given")
    version: Version = None


def bottles(work: UnitOfWork, page: Page, material_id: str | None = None) -> list[shelf.Bottle]:
    """Bottles by code, of one material where it is asked for."""
    return shelf.bottles(work.db, page.retired, material_id, page.after, page.limit)


def bottle(work: UnitOfWork, bottle_id: str) -> shelf.Bottle:
    """One bottle."""
    return present(shelf.bottle(work.db, bottle_id), "bottle")


def add_bottle(work: UnitOfWork, request: BottleInput) -> shelf.Bottle:
    """Add a bottle; it gets a code."""
    with work.write() as answer:
        return answer(put_bottle(work, request))


def put_bottle(work: UnitOfWork, request: BottleInput) -> shelf.Bottle:
    """A bottle onto the shelf, inside whoever's transaction."""
    columns = _bottle_columns(request)
    live_material(work, request.material_id)
    bottle_id = work.new_id()
    insert(work.db, "bottle", id=bottle_id, code=next_code(work.db, "B"), created_at=work.now(), **columns)
    return bottle(work, bottle_id)


def change_bottle(work: UnitOfWork, bottle_id: str, request: BottleInput) -> shelf.Bottle:
    """Change a bottle."""
    columns = _bottle_columns(request)
    with work.write() as answer:
        stored = bottle(work, bottle_id)
        same_version(stored, version_of(request.version), f"Bottle {stored.code}", request)
        if request.material_id != stored.material_id:
            message = "A bottle keeps its resin: retire this one and add another."
            raise Problem(message, {"material_id": message})
        update(work.db, "bottle", bottle_id, version=stored.version + 1, **columns)
        return answer(bottle(work, bottle_id))


def shaken(work: UnitOfWork, bottle_id: str) -> shelf.Bottle:
    """Note that a bottle was shaken now: settled pigment looks exactly like a wrong exposure."""
    with work.write() as answer:
        stored = bottle(work, bottle_id)
        update(work.db, "bottle", stored.id, last_shaken_at=work.now())
        return answer(bottle(work, bottle_id))


def _bottle_columns(request: BottleInput) -> dict[str, object]:
    left_ml = request.volume_ml if request.left_ml is None else request.left_ml
    if left_ml > request.volume_ml:
        message = f"A bottle of {request.volume_ml:g} ml cannot hold {left_ml:g} ml."
        raise Problem(message, {"left_ml": message})
    for first, then in (("received_on", "opened_on"), ("received_on", "best_before")):
        a, b = getattr(request, first), getattr(request, then)
        if a and b and b < a:
            message = f"This is before it was {first.removesuffix('_on')}."
            raise Problem(message, {then: message})
    return {**request.model_dump(exclude={"version"}), "left_ml": left_ml}
