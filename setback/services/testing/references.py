"""Materials bought in to compare with: no resin, no bottle, no exposure."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, StringConstraints

from ...core.contract import Contract
from ...store import testing as store
from ...store.rows import insert
from ..shelf.entry import Name, new_material
from ..unit_of_work import UnitOfWork


class ReferenceInput(Contract):
    """A bought-in reference."""

    name: Name
    what: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=200)] = Field(
        description="Such as: 4 mm sheet, sawn"
    )
    price_per_l: Annotated[float, Field(ge=0, le=100_000)] | None = None


def references(work: UnitOfWork) -> list[store.Reference]:
    """Bought-in references."""
    return store.references(work.db, 100)


def add(work: UnitOfWork, request: ReferenceInput) -> store.Reference:
    """Add a bought-in reference."""
    with work.write() as answer:
        material_id, code = new_material(work, "reference", request.name)
        insert(
            work.db, "reference_material", material_id=material_id, what=request.what, price_per_l=request.price_per_l
        )
        return answer(store.Reference(id=material_id, code=code, **request.model_dump()))
