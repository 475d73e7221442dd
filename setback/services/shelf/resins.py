"""Resins: products as sold, a colour of a line each."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ...core.contract import Contract, Problem
from ...core.printing.plausible import check_range
from ...store import shelf
from ...store.rows import insert, update
from ...store.terms import Opacity, WashClass
from ..both_versions import same_version
from ..unit_of_work import UnitOfWork, present
from .entry import Name, Page, Version, free_name, new_material, pair, version_of


class ResinInput(Contract):
    """A resin: maker's range, prices, safety."""

    name: Name
    maker: Name
    line: Annotated[str, StringConstraints(strip_whitespace=True, max_length=80)] | None = None
    colour: Name
    family: Literal["basic", "ABS-like", "tough", "flexible", "rigid", "detail", "fast", "clear", "castable"]
    opacity: Opacity
    wash_class: WashClass
    chemistry: Literal["acrylate", "epoxy-hybrid", "unknown"] = "unknown"
    maker_low_s: Annotated[float, Field(gt=0, le=1000)] | None = None
    maker_high_s: Annotated[float, Field(gt=0, le=1000)] | None = None
    maker_temp_low_c: Annotated[float, Field(ge=-10, le=80)] | None = None
    maker_temp_high_c: Annotated[float, Field(ge=-10, le=80)] | None = None
    density_g_ml: Annotated[float, Field(ge=0.7, le=3)] | None = None
    price_per_l: Annotated[float, Field(ge=0, le=100_000)] | None = None
    heat_capacity_j_g_k: Annotated[float, Field(ge=0.5, le=6)] | None = None
    viscosity_mpa_s: Annotated[float, Field(ge=1, le=1e6)] | None = Field(None, description="At 25 °C")
    vat_hours: Annotated[float, Field(gt=0, le=10_000)] | None = Field(
        None, description="How long it may stay in a vat"
    )
    may_be_mixed: bool | None = Field(None, description="Whether its maker approves of mixing")
    safety_sheet_url: Annotated[str, StringConstraints(strip_whitespace=True, max_length=500)] | None = None
    version: Version = None


def resins(work: UnitOfWork, page: Page) -> list[shelf.Resin]:
    """Resins, by name."""
    return shelf.resins(work.db, page.retired, page.after, page.limit)


def resin(work: UnitOfWork, material_id: str) -> shelf.Resin:
    """One resin."""
    return present(shelf.resin(work.db, material_id), "resin")


def add_resin(work: UnitOfWork, request: ResinInput) -> shelf.Resin:
    """Add a resin."""
    with work.write() as answer:
        return answer(put_resin(work, request))


def put_resin(work: UnitOfWork, request: ResinInput) -> shelf.Resin:
    """A resin onto the shelf, inside whoever's transaction."""
    _check_resin(request)
    material_id, _ = new_material(work, "resin", request.name)
    insert(work.db, "resin", material_id=material_id, **request.model_dump(exclude={"name", "version"}))
    return resin(work, material_id)


def change_resin(work: UnitOfWork, material_id: str, request: ResinInput) -> shelf.Resin:
    """Change a resin."""
    _check_resin(request)
    with work.write() as answer:
        stored = resin(work, material_id)
        same_version(stored, version_of(request.version), stored.name, request)
        free_name(work, "material", request.name, material_id)
        update(work.db, "material", material_id, name=request.name, version=stored.version + 1)
        columns = request.model_dump(exclude={"name", "version"})
        shelf.change_resin(work.db, material_id, columns)
        return answer(resin(work, material_id))


def _check_resin(request: ResinInput) -> None:
    pair(request.maker_low_s, request.maker_high_s, "maker_low_s", "maker_high_s")
    pair(request.maker_temp_low_c, request.maker_temp_high_c, "maker_temp_low_c", "maker_temp_high_c")
    if request.maker_low_s is not None and request.maker_high_s is not None:
        try:
            check_range(request.maker_low_s, request.maker_high_s)
        except Problem as problem:
            raise Problem(problem.message, {"maker_high_s": problem.message}) from None
    if request.safety_sheet_url and not request.safety_sheet_url.startswith(("http://", "https://", "file:", "/")):
        message = "Give a link that starts with https://, http:// or file:"
        raise Problem(message, {"safety_sheet_url": message})
