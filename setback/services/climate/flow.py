"""How a material flows at which temperature: readings, the curve through them, and how warm it must be."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from ...core.climate.viscosity import FlowPoint, ViscosityCurveInput, ViscosityCurveResult, viscosity_curve
from ...core.contract import Contract, Problem
from ...store import shelf
from ...store.climate import warm_starts as store
from ...store.rows import insert, update
from ..shelf.entry import live_material
from ..unit_of_work import UnitOfWork, View, present

Unit = Literal["mPa·s", "s"]


class FlowInput(Contract):
    """A viscosity or flow time at a temperature."""

    material_id: str = Field(max_length=40)
    temp_c: float = Field(ge=-20, le=80)
    value: float = Field(gt=0, le=1_000_000, description="mPa·s, or seconds of the flow cup")
    unit: Unit = "mPa·s"


class FlowQuery(Contract):
    """What is asked of the curve."""

    target: float | None = Field(None, gt=0, le=1_000_000, description="Wanted flow, in the unit of the readings")
    unit: Unit | None = Field(None, description="Of the curve, when there are readings in both")


class FlowView(View):
    """Readings of flow and the curve through them."""

    material_id: str
    material: str
    unit: Unit
    readings: list[store.FlowReading]
    result: ViscosityCurveResult | None
    missing: str | None


class Withdrawal(Contract):
    """Why a reading is withdrawn."""

    reason: Annotated[str, StringConstraints(strip_whitespace=True, min_length=3, max_length=400)]


def flow(work: UnitOfWork, material_id: str, query: FlowQuery) -> FlowView:
    """Readings of a material and the curve through those of one unit.

    Raises
    ------
    Problem
        When no temperature gives the wanted flow.
    """
    material = present(shelf.material(work.db, material_id), "material")
    rows = store.flows(work.db, material_id)
    unit: Unit = query.unit or ("s" if rows and all(r.unit == "s" for r in rows) else "mPa·s")
    of_unit = [r for r in rows if r.unit == unit]
    result: ViscosityCurveResult | None = None
    missing: str | None = "Read the flow at two temperatures at least: a cup and a stop watch will do."
    if len({r.temp_c for r in of_unit}) > 1:
        result, missing = _curve(of_unit, unit, query.target)
    return FlowView(
        material_id=material_id,
        material=material.name,
        unit=unit,
        readings=rows,
        result=result,
        missing=missing,
    )


def add(work: UnitOfWork, request: FlowInput) -> store.FlowReading:
    """Note a reading of flow."""
    with work.write() as answer:
        live_material(work, request.material_id)
        reading_id = work.new_id()
        insert(
            work.db,
            "flow_reading",
            id=reading_id,
            technician_id=work.technician_id(),
            at=work.now(),
            **request.model_dump(),
        )
        rows = store.flows(work.db, request.material_id)
        return answer(next(r for r in rows if r.id == reading_id))


def withdraw(work: UnitOfWork, reading_id: str, withdrawal: Withdrawal | None) -> FlowReadingState:
    """Take a reading out with a reason; None puts it back."""
    with work.write() as answer:
        present(store.flow_material(work.db, reading_id), "reading")
        at = work.now() if withdrawal else None
        update(
            work.db,
            "flow_reading",
            reading_id,
            withdrawn_at=at,
            withdrawn_reason=withdrawal.reason if withdrawal else None,
        )
        return answer(FlowReadingState(id=reading_id, withdrawn_at=at))


class FlowReadingState(View):
    """Whether a reading of flow counts."""

    id: str
    withdrawn_at: str | None


def _curve(
    rows: list[store.FlowReading], unit: Unit, target: float | None
) -> tuple[ViscosityCurveResult | None, str | None]:
    """The curve, or what is wrong with the readings: they stay on the page to be withdrawn."""
    seconds = unit == "s"
    points = [
        FlowPoint(temp_c=r.temp_c, flow_s=r.value) if seconds else FlowPoint(temp_c=r.temp_c, viscosity_mpa_s=r.value)
        for r in rows
    ]
    try:
        inputs = ViscosityCurveInput(
            points=points, target_flow_s=target if seconds else None, target_mpa_s=None if seconds else target
        )
        return viscosity_curve(inputs), None
    except Problem as problem:
        if "points" in problem.fields:
            return None, problem.message
        raise Problem(problem.message, {"target": problem.message}) from None
