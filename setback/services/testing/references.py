"""Materials bought in to compare with: no resin, no bottle, no exposure."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, StringConstraints

from ...core.contract import Contract
from ...store import tests as store
from ...store.codes import next_code
from ...store.rows import insert
from ..bench import Bench, View
from ..shelf.entry import Name, free_name


class ReferenceInput(Contract):
    name: Name
    what: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=200)] = Field(
        description="Such as: 4 mm sheet, sawn"
    )
    price_per_l: Annotated[float, Field(ge=0, le=100_000)] | None = None


class ReferenceView(View):
    id: str
    code: str
    name: str
    what: str
    price_per_l: float | None


def references(bench: Bench) -> list[ReferenceView]:
    return [ReferenceView.model_validate(row) for row in store.references(bench.db, 100)]


def add(bench: Bench, given: ReferenceInput) -> ReferenceView:
    with bench.write() as answer:
        free_name(bench, "material", given.name, None)
        material_id = bench.new_id()
        code = next_code(bench.db, "R")
        insert(
            bench.db, "material", id=material_id, code=code, kind="reference", name=given.name, created_at=bench.now()
        )
        insert(bench.db, "reference_material", material_id=material_id, what=given.what, price_per_l=given.price_per_l)
        return answer(ReferenceView(id=material_id, code=code, **given.model_dump()))
