"""How a material flows at which temperature: readings, the curve through them, and how warm it must be."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ...core.climate.viscosity import FlowPoint, ViscosityCurveInput, ViscosityCurveResult, viscosity_curve
from ...core.contract import Contract, Problem
from ...store import climate as store
from ...store import shelf
from ...store.rows import insert, update
from ..bench import Bench, View, present
from ..shelf.entry import live_material

Unit = Literal["mPa·s", "s"]


class FlowInput(Contract):
    material_id: str = Field(max_length=40)
    temp_c: float = Field(ge=-20, le=80)
    value: float = Field(gt=0, le=1_000_000, description="mPa·s, or seconds of the flow cup")
    unit: Unit = "mPa·s"


class FlowQuery(Contract):
    target: float | None = Field(None, gt=0, le=1_000_000, description="Wanted flow, in the unit of the readings")
    unit: Unit | None = Field(None, description="Of the curve, when there are readings in both")


class FlowReading(View):
    id: str
    temp_c: float
    value: float
    unit: str
    initials: str | None
    at: str


class FlowView(View):
    material_id: str
    material: str
    unit: Unit
    readings: list[FlowReading]
    result: ViscosityCurveResult | None
    missing: str | None


class Withdrawal(Contract):
    reason: Annotated[str, StringConstraints(strip_whitespace=True, min_length=3, max_length=400)]


def flow(bench: Bench, material_id: str, given: FlowQuery) -> FlowView:
    """Readings of a material and the curve through those of one unit.

    Raises
    ------
    Problem
        When no temperature gives the wanted flow.
    """
    material = present(shelf.material(bench.db, material_id), "material")
    rows = store.flows(bench.db, material_id)
    unit: Unit = given.unit or ("s" if rows and all(r.unit == "s" for r in rows) else "mPa·s")
    of_unit = [r for r in rows if r.unit == unit]
    result: ViscosityCurveResult | None = None
    missing: str | None = "Read the flow at two temperatures at least: a cup and a stop watch will do."
    if len({r.temp_c for r in of_unit}) > 1:
        result, missing = _curve(of_unit, unit, given.target)
    return FlowView(
        material_id=material_id, material=material.name, unit=unit,
        readings=[FlowReading.model_validate(r) for r in rows], result=result, missing=missing,
    )  # fmt: skip


def add(bench: Bench, given: FlowInput) -> FlowReading:
    with bench.write() as answer:
        live_material(bench, given.material_id)
        reading_id = bench.new_id()
        insert(
            bench.db, "flow_reading", id=reading_id, technician_id=bench.technician_id(), at=bench.now(),
            **given.model_dump(),
        )  # fmt: skip
        rows = store.flows(bench.db, given.material_id)
        return answer(FlowReading.model_validate(next(r for r in rows if r.id == reading_id)))


def withdraw(bench: Bench, reading_id: str, given: Withdrawal | None) -> FlowReadingState:
    """Take a reading out with a reason; None puts it back."""
    with bench.write() as answer:
        row = bench.db.execute("SELECT id FROM flow_reading WHERE id = ?", (reading_id,)).fetchone()
        present(row, "reading")
        at = bench.now() if given else None
        update(bench.db, "flow_reading", reading_id, withdrawn_at=at, withdrawn_reason=given.reason if given else None)
        return answer(FlowReadingState(id=reading_id, withdrawn_at=at))


class FlowReadingState(View):
    id: str
    withdrawn_at: str | None


def _curve(
    rows: list[store.FlowRow], unit: Unit, target: float | None
) -> tuple[ViscosityCurveResult | None, str | None]:
    """The curve, or what is wrong with the readings: they stay on the page to be withdrawn."""
    seconds = unit == "s"
    points = [
        FlowPoint(temp_c=r.temp_c, flow_s=r.value) if seconds else FlowPoint(temp_c=r.temp_c, viscosity_mpa_s=r.value)
        for r in rows
    ]
    try:
        given = ViscosityCurveInput(
            points=points, target_flow_s=target if seconds else None, target_mpa_s=None if seconds else target
        )
        return viscosity_curve(given), None
    except Problem as problem:
        if "points" in problem.fields:
            return None, problem.message
        raise Problem(problem.message, {"target": problem.message}) from None
