"""All properties by material, one weighted index over them, and what each costs."""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Sequence
from typing import Any

from pydantic import Field

from ...core.contract import Contract, Problem
from ...core.testing.index import Criterion, PropertyIndexInput, PropertyIndexResult, Rival, property_index
from ...core.testing.methods import PROPERTIES
from ...core.testing.results import BatchResult, PropertyResult
from ...store import testing as store
from ...store.names import name_key
from ...store.terms import MaterialKind
from ..unit_of_work import Conflict, UnitOfWork, View
from .print_spread import OtherTests
from .records import Held, group_name, held_tests
from .results import worked_out

NEWEST = 200
WEIGHED_FIRST, WEIGHED_OF = 3, 2


class PropertyCell(View):
    """The newest result of a material's property."""

    value: float | None
    ci: tuple[float, float] | None
    bound: float | None
    n: int
    prints: int | None = Field(description="That its specimens came out of; null for what was bought in")
    decimals: int
    words: str
    test_code: str
    set_code: str | None
    cure_min: float | None
    condition: str
    off: float = Field(description="How far from its own exposure and cure; 0 when as issued")
    tried: str | None = Field(description="What was varied, where it was")
    named: str | None = Field(description="Why it was compared all the same, where something was unfair")


class Column(View):
    """A property in the table, with its unit and conditions."""

    key: str
    method: str
    method_name: str
    name: str
    unit: str
    better: str
    rated: bool
    mixed: str | None = Field(description="What differs between the cells, in words")


class MaterialLine(View):
    """A material with its values."""

    material_id: str
    material: str
    kind: MaterialKind
    price_per_l: float | None
    cells: dict[str, PropertyCell] = Field(description="By property")


class PropertyTable(View):
    """Materials with their properties side by side."""

    columns: list[Column]
    materials: list[MaterialLine]
    baseline_id: str | None = Field(description="To weigh against at first: the material tried in most ways")
    weighed: list[str] = Field(description="Properties to weigh at first: what the baseline shares with others")


class Weighed(Contract):
    """A property with its weight."""

    property: str = Field(max_length=80)
    weight: float = Field(ge=0, le=100)


class IndexInput(Contract):
    """Properties and weights to rank materials by."""

    weights: list[Weighed] = Field(min_length=1, max_length=40)
    baseline_id: str = Field(max_length=40)
    confirmed: bool = Field(False, description="Compare although cures or fixtures differ")


class CostOfProperty(View):
    """What a property costs, by material."""

    material: str
    property: str
    unit: str
    price_per_l: float
    per_unit: float = Field(description="Price per litre for each unit of the property")


class IndexView(View):
    """Materials in order, and how much the order hangs on the weights."""

    baseline: str
    result: PropertyIndexResult
    left_out: list[str] = Field(description="Materials without a value for something weighed")
    mixed: list[str]
    costs: list[CostOfProperty]


def table(work: UnitOfWork, material_ids: Sequence[str] = ()) -> PropertyTable:
    """The newest result of every property of every material that was tested, or of some."""
    if material_ids:
        rows = store.tests_of_materials(work.db, list(material_ids), NEWEST)
    else:
        rows = store.newest_tests(work.db, NEWEST)
    lines: dict[str, MaterialLine] = {}
    setups: dict[str, dict[str, dict[str, Any]]] = defaultdict(dict)
    others = OtherTests(work)
    for record in held_tests(work, rows):
        _add(record, worked_out(record, earlier=others.spreads(record)), lines, setups, set(material_ids))
    keys = [key for key in PROPERTIES if any(key in line.cells for line in lines.values())]
    order = sorted(lines.values(), key=lambda line: name_key(line.material))
    columns = [_column(key, order, setups[key]) for key in keys]
    baseline = max(order, key=lambda line: len(line.cells), default=None)
    return PropertyTable(
        columns=columns,
        materials=order,
        baseline_id=baseline.material_id if baseline else None,
        weighed=_weighed(columns, order, baseline) if baseline else [],
    )


def _weighed(columns: list[Column], lines: list[MaterialLine], baseline: MaterialLine) -> list[str]:
    """The first few properties that were tried alike on the baseline and on two others at least."""
    shared = [
        column.key
        for column in columns
        if not column.mixed
        and not column.rated
        and column.key in baseline.cells
        and sum(1 for line in lines if (cell := line.cells.get(column.key)) and cell.value) > WEIGHED_OF
    ]
    return shared[:WEIGHED_FIRST]


def _add(
    record: Held,
    worked: list[PropertyResult],
    lines: dict[str, MaterialLine],
    setups: dict[str, dict[str, dict[str, Any]]],
    only: set[str],
) -> None:
    """Put a test's results in, where no newer test has put any."""
    groups = {g.number: g for g in record.groups}
    for prop in worked:
        key = f"{record.method.key}.{prop.key}"
        for batch in prop.batches:
            group = groups[batch.number]
            if batch.n == 0 or (only and group.material_id not in only):
                continue
            line = lines.setdefault(
                group.material_id,
                MaterialLine(
                    material_id=group.material_id,
                    material=group.material,
                    kind=group.material_kind,
                    price_per_l=group.price_per_l,
                    cells={},
                ),
            )
            held_cell = line.cells.get(key)
            if held_cell is None or (held_cell.test_code == record.row.code and _off(group) < held_cell.off):
                line.cells[key] = _cell(record, group, batch)
                setups[key][group.material_id] = record.row.setup


def _off(group: store.GroupRow) -> float:
    """How far a group was tried from its own exposure and cure: what was varied on purpose stands in only for want of it."""
    pairs = ((group.exposure_s, group.set_exposure_s), (group.cure_min, group.route_cure_min))
    return sum(abs(math.log((a + 0.1) / (value + 0.1))) for a, value in pairs if a is not None and value is not None)


def _cell(record: Held, group: store.GroupRow, batch: BatchResult) -> PropertyCell:
    varied = [
        f"{group.exposure_s:g} s" if group.exposure_s else "",
        f"{group.cure_min:g} min cure" if group.cure_min is not None else "",
    ]
    unfair = [c for c in record.row.concerns or [] if c["must_confirm"] and group_name(group) in c["groups"]]
    return PropertyCell(
        value=batch.centre,
        ci=batch.centre_ci,
        # What one print keeps says nothing of the material.
        bound=None if batch.prints == 1 else batch.bound,
        n=batch.n,
        prints=batch.prints,
        decimals=batch.decimals,
        words=batch.words,
        test_code=record.row.code,
        set_code=group.set_code,
        condition=group.condition,
        named=" ".join(c["message"] for c in unfair) or None,
        off=_off(group),
        tried=", ".join(v for v in varied if v) or None,
        cure_min=group.cure_min if group.cure_min is not None else group.route_cure_min,
    )


def _column(key: str, lines: list[MaterialLine], setups: dict[str, dict[str, Any]]) -> Column:
    method, prop = PROPERTIES[key]
    differs = [
        f"{field.label.lower()} {', '.join(f'{v:g}' if isinstance(v, int | float) else str(v) for v in values)}"
        for field in method.setup
        if len(values := list(dict.fromkeys(s.get(field.key) for s in setups.values()))) > 1
    ]
    conditions = sorted(
        {line.cells[key].condition for line in lines if key in line.cells and line.cells[key].condition}
    )
    if len(conditions) > 1:
        differs.append(", ".join(conditions))
    return Column(
        key=key,
        method=method.key,
        method_name=method.name,
        name=prop.name,
        unit=prop.unit,
        better=prop.better,
        rated=prop.rated,
        mixed=f"not tried alike: {'; '.join(differs)}" if differs else None,
    )


def index(work: UnitOfWork, request: IndexInput) -> IndexView:
    """The weighted index of every material against a baseline, the ranking, and where it turns."""
    columns_by_key = table(work)
    columns = {c.key: c for c in columns_by_key.columns}
    problems = {
        f"weights.{i}.property": "Nothing was tested for this."
        for i, w in enumerate(request.weights)
        if w.property not in columns
    }
    baseline = next((line for line in columns_by_key.materials if line.material_id == request.baseline_id), None)
    if baseline is None:
        problems["baseline_id"] = "This material was not tested."
    weighed = [w for w in request.weights if w.weight > 0]
    if not problems and baseline is not None:
        missing = [columns[w.property].name for w in weighed if _value(baseline, w.property) is None]
        if missing:
            problems["baseline_id"] = f"{baseline.material} has no value for {', '.join(missing)}."
    if problems or baseline is None:
        raise Problem("The index cannot be made.", problems)
    mixed = [f"{columns[w.property].name}: {columns[w.property].mixed}" for w in weighed if columns[w.property].mixed]
    if mixed and not request.confirmed:
        raise Conflict(
            f"Some values were not obtained alike. {'; '.join(mixed)}.", {"confirmed": "Compare all the same?"}
        )
    whole = [line for line in columns_by_key.materials if all(_value(line, w.property) is not None for w in weighed)]
    result = property_index(
        PropertyIndexInput(
            criteria=[
                Criterion(
                    name=f"{columns[w.property].name}, {columns[w.property].method_name.lower()}",
                    weight=w.weight,
                    better="higher" if columns[w.property].better == "higher" else "lower",
                    baseline=_score(baseline, columns[w.property]),
                )
                for w in weighed
            ],
            candidates=[
                Rival(name=line.material, values=[_score(line, columns[w.property]) for w in weighed]) for line in whole
            ],
        )
    )
    return IndexView(
        baseline=baseline.material,
        result=result,
        mixed=mixed,
        left_out=[line.material for line in columns_by_key.materials if line not in whole],
        costs=[
            CostOfProperty(
                material=line.material,
                property=columns[w.property].name,
                unit=columns[w.property].unit,
                price_per_l=line.price_per_l,
                per_unit=line.price_per_l / value,
            )
            for line in whole
            if line.price_per_l is not None
            for w in weighed
            if (value := _value(line, w.property)) and columns[w.property].better == "higher"
        ],
    )


def _value(line: MaterialLine, key: str) -> float | None:
    cell = line.cells.get(key)
    return cell.value if cell else None


def _score(line: MaterialLine, column: Column) -> float:
    """Ratings may be 0, and an index is made of ratios: they are counted from 1."""
    value = _value(line, column.key) or 0.0
    return value + 1 if column.rated and column.unit in ("of 3", "of 4") else value
