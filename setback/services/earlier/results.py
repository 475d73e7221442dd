"""Results of tests from before: shown beside what was tested here, marked as imported, and never evidence of a set."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ...core.contract import Contract
from ...core.earlier.pooled import EarlierValue, pooled
from ...core.testing.methods import PROPERTIES
from ...store import earlier as store
from ...store.rows import insert
from ..unit_of_work import UnitOfWork, View

Value = Annotated[float, Field(ge=-1e9, le=1e9)]


class EarlierResultInput(Contract):
    """A value of a property, or a mean with its number and spread."""

    material_id: str = Field(max_length=40)
    property: str = Field(max_length=60)
    value: Value
    n: int = Field(1, ge=1, le=1000)
    sd: float | None = Field(None, ge=0, le=1e9)
    measured_on: str | None = Field(None, max_length=30)
    note: str = Field("", max_length=500)


class EarlierResultView(View):
    """A property of a material by earlier results."""

    property: str
    name: str
    unit: str
    mean: float
    n: int
    sd: float | None
    words: str = Field(description="With unit and spread, and that it is imported")
    tables: list[str] = Field(description="Codes of the tables it comes from")
    last_on: str | None = Field(description="Day of the newest of them")


def property_names() -> dict[str, str]:
    """Keys of properties by what tables may call them, in small letters: the key, its name, or its method and name."""
    names: dict[str, str] = {}
    for key, (method, prop) in PROPERTIES.items():
        for name in (key, f"{method.name}: {prop.name}", f"{method.name} {prop.name}"):
            names[name.lower()] = key
    for key, (_, prop) in PROPERTIES.items():
        same = [one for one, (_, other) in PROPERTIES.items() if other.name == prop.name]
        if len(same) == 1:
            names.setdefault(prop.name.lower(), key)
    return names


def keep(work: UnitOfWork, request: EarlierResultInput, table: tuple[str, int]) -> None:
    """Keep a result inside whoever's transaction, with the table and row it comes from."""
    insert(
        work.db,
        "earlier_result",
        id=work.new_id(),
        earlier_table_id=table[0],
        table_row=table[1],
        **request.model_dump(),
    )


def of_material(work: UnitOfWork, material_id: str) -> list[EarlierResultView]:
    """Earlier results of a material, one line for each property."""
    rows: dict[str, list[store.EarlierResult]] = {}
    for row in store.earlier_results(work.db, material_id):
        if row.property in PROPERTIES:
            rows.setdefault(row.property, []).append(row)
    return [_line(key, of_key) for key, of_key in rows.items()]


def _line(key: str, rows: list[store.EarlierResult]) -> EarlierResultView:
    method, prop = PROPERTIES[key]
    together = pooled([EarlierValue(value=row.value, n=row.n, sd=row.sd) for row in rows])
    spread = f" ± {together.sd:.2g}" if together.sd is not None else ""
    return EarlierResultView(
        property=key,
        name=f"{method.name}: {prop.name}",
        unit=prop.unit,
        mean=together.mean,
        n=together.n,
        sd=together.sd,
        words=f"{together.mean:.3g}{spread} {prop.unit}".strip() + f", n = {together.n}, imported",
        tables=sorted({row.table_code for row in rows}),
        last_on=max((row.measured_on for row in rows if row.measured_on), default=None),
    )
