"""What sheets claim of a material, dated, beside what was measured here."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field, StringConstraints

from ...core.contract import Contract, Problem
from ...core.testing.methods import PROPERTIES
from ...store import borrowed as store
from ...store.climate import warm_starts
from ...store.rows import insert, update
from ...store.sets import validity
from ..shelf.entry import Day, Note, live_material
from ..testing.table import PropertyCell, table
from ..unit_of_work import UnitOfWork, View, present

EXPOSURE, DENSITY, VISCOSITY = "exposure", "density", "viscosity"
OF_RESIN: dict[str, tuple[str, str]] = {
    EXPOSURE: ("Exposure", "s"),
    DENSITY: ("Density", "g/ml"),
    VISCOSITY: ("Viscosity at 25 °C", "mPa·s"),
}
"""What a sheet may claim beside the properties of tests: name and unit, by key."""
NEAR_C = 3.0
MOST_SETS = 5000


class ClaimInput(Contract):
    """A value, or a range, as a sheet has it."""

    property: str = Field(max_length=60, description="exposure, density, viscosity, or a property of a test")
    low: float = Field(ge=0, le=1e9, description="The value, or the low end of its range, in the property's unit")
    high: float | None = Field(None, ge=0, le=1e9, description="The high end; null for a single value")
    layer_height_um: float | None = Field(None, ge=5, le=200, description="Of an exposure")
    source: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=200)]
    dated: Day | None = Field(None, description="Day of the sheet")
    note: Note = ""


class ClaimView(store.Claim):
    """A claim with its unit, what was measured here, and how the two agree."""

    name: str
    unit: str
    measured: str | None = Field(description="Measured here, in words; null where nothing was")
    agrees: bool | None = Field(description="Whether what was measured lies in what is claimed; null without both")
    words: str
    contradicts: list[str] = Field(description="Sources of claims that exclude this one")


class Claims(View):
    """What sheets claim of a material."""

    items: list[ClaimView]


class ClaimProperty(View):
    """Something a sheet may claim."""

    key: str
    name: str
    unit: str


def properties() -> list[ClaimProperty]:
    """Everything a sheet may claim, the resin's own first."""
    own = [ClaimProperty(key=key, name=name, unit=unit) for key, (name, unit) in OF_RESIN.items()]
    return own + [
        ClaimProperty(key=key, name=f"{method.name}: {prop.name}", unit=prop.unit)
        for key, (method, prop) in PROPERTIES.items()
    ]


def of_material(work: UnitOfWork, material_id: str) -> Claims:
    """Claims of a material beside what was measured here."""
    rows = store.claims(work.db, material_id)
    if not rows:
        return Claims(items=[])
    line = next((line for line in table(work, [material_id]).materials if line.material_id == material_id), None)
    cells = line.cells if line else {}
    return Claims(items=[_view(work, row, rows, cells) for row in rows])


def put(work: UnitOfWork, material_id: str, request: ClaimInput) -> Claims:
    """Keep a claim; what was claimed before stays beside it.

    Raises
    ------
    Problem
        With the field that cannot be meant.
    """
    material = live_material(work, material_id)
    if request.property not in OF_RESIN and request.property not in PROPERTIES:
        message = "No sheet claims this: choose a property."
        raise Problem(message, {"property": message})
    high = request.low if request.high is None else request.high
    if high < request.low:
        message = "The high end is below the low end."
        raise Problem(message, {"high": message})
    if request.property == EXPOSURE and request.layer_height_um is None:
        message = "Say for which layer height: an exposure without one says little."
        raise Problem(message, {"layer_height_um": message})
    with work.write() as answer:
        insert(
            work.db,
            "claim",
            id=work.new_id(),
            material_id=material.id,
            technician_id=work.technician().id,
            entered_at=work.now(),
            **request.model_dump(exclude={"high"}),
            high=high,
        )
        return answer(of_material(work, material.id))


def withdraw(work: UnitOfWork, claim_id: str) -> Claims:
    """Let a claim no longer stand: it was a slip."""
    with work.write() as answer:
        row = present(store.claim(work.db, claim_id), "claim")
        update(work.db, "claim", row.id, withdrawn_at=work.now())
        return answer(of_material(work, row.material_id))


def restore(work: UnitOfWork, claim_id: str) -> Claims:
    """Undo a withdrawal."""
    with work.write() as answer:
        row = present(store.claim(work.db, claim_id), "claim")
        update(work.db, "claim", row.id, withdrawn_at=None)
        return answer(of_material(work, row.material_id))


def _view(work: UnitOfWork, row: store.Claim, rows: list[store.Claim], cells: dict[str, PropertyCell]) -> ClaimView:
    name, unit = OF_RESIN.get(row.property) or _of_test(row.property)
    measured = _measured(work, row, cells)
    agrees = None if measured is None else any(row.low <= value <= row.high for value in measured[1])
    claimed = f"{row.low:g} {unit}" if row.low == row.high else f"{row.low:g} to {row.high:g} {unit}"
    for_height = f" at {row.layer_height_um:g} µm" if row.layer_height_um else ""
    words = f"{name}{for_height}: {claimed.strip()} by {row.source}"
    if measured is not None:
        words += f"; measured here: {measured[0]}, {'as claimed' if agrees else 'outside what is claimed'}"
    others = [other for other in rows if other.id != row.id and other.property == row.property]
    return ClaimView(
        **row.model_dump(),
        name=name,
        unit=unit,
        measured=measured[0] if measured else None,
        agrees=agrees,
        words=words,
        contradicts=[
            other.source
            for other in others
            if other.layer_height_um == row.layer_height_um and (other.low > row.high or other.high < row.low)
        ],
    )


def _of_test(key: str) -> tuple[str, str]:
    method, prop = PROPERTIES[key]
    return f"{method.name}: {prop.name}", prop.unit


def _measured(work: UnitOfWork, row: store.Claim, cells: dict[str, PropertyCell]) -> tuple[str, list[float]] | None:
    """What was measured here in words, and the values to hold against the claim: an interval counts by its ends and middle."""
    if row.property == EXPOSURE:
        sets = [
            set_row
            for set_row in validity.all_sets(work.db, MOST_SETS)
            if set_row.material_id == row.material_id and set_row.layer_height_um == row.layer_height_um
        ]
        if not sets:
            return None
        return ", ".join(f"{set_row.exposure_s:g} s ({set_row.code})" for set_row in sets), [
            set_row.exposure_s for set_row in sets
        ]
    if row.property == VISCOSITY:
        near = [
            flow
            for flow in warm_starts.flows(work.db, row.material_id)
            if flow.unit == "mPa·s" and abs(flow.temp_c - 25) <= NEAR_C
        ]
        if not near:
            return None
        return f"{near[-1].value:.0f} mPa·s at {near[-1].temp_c:.0f} °C", [near[-1].value]
    cell = cells.get(row.property)
    if cell is None or cell.value is None:
        return None
    ends = list(cell.ci) if cell.ci else []
    within = [cell.value, *ends]
    if ends and ends[0] <= row.high and ends[1] >= row.low:
        within.append(min(max(cell.value, row.low), row.high))
    unit = _of_test(row.property)[1]
    return f"{cell.value:.{cell.decimals}f} {unit}, n = {cell.n} ({cell.test_code})", within
