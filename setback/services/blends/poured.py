"""An unmeasured mix, estimated: the fraction with its uncertainty, and whether it matters, from two issued sets or from a number by hand."""

from __future__ import annotations

import math
from typing import Annotated

from pydantic import Field

from ...core.blends.guess import PouredInput, PouredResult, Uncertainty, Volume, after_the_fact
from ...core.contract import Contract, Problem
from ...store.sets import parameter_sets
from ..unit_of_work import UnitOfWork, View

SetCode = Annotated[str, Field(max_length=20, description="Of an issued set")]


class PouredAsked(Contract):
    """Two volumes poured by eye, and the materials they were of."""

    poured_ml: Volume
    poured_doubt_ml: Uncertainty = Field(description="± as 95 %")
    into_ml: Volume
    into_doubt_ml: Uncertainty
    already: Annotated[float, Field(ge=0, le=1)] = Field(0, description="Fraction that was in there before")
    base_set: SetCode | None = None
    additive_set: SetCode | None = None
    times_exposure: Annotated[float, Field(ge=0.001, le=1000)] | None = Field(
        None, description="What the pure additive needs of the base's exposure, where it has no set"
    )
    latitude_pct: Annotated[float, Field(gt=0, le=1000)] | None = None


class PouredView(View):
    """The fraction that came about, and what follows for the exposure."""

    result: PouredResult
    times_exposure: float | None = Field(description="What was taken for it")
    latitude_pct: float | None
    basis: str


def poured(work: UnitOfWork, request: PouredAsked) -> PouredView:
    """What is in there now. Two sets give the effect on the exposure and the room there is for it."""
    base, additive = _known(work, request.base_set, "base_set"), _known(work, request.additive_set, "additive_set")
    times, latitude, basis = request.times_exposure, request.latitude_pct, ""
    if base is not None:
        window = base.result.get("window") or {}
        latitude = latitude if latitude is not None else window.get("latitude_pct")
        basis = f"Window of {base.code}."
    if times is None and base is not None and additive is not None:
        if (base.printer_id, base.layer_height_um) != (additive.printer_id, additive.layer_height_um):
            message = (
                f"{additive.code} is of another printer or layer height than {base.code}: exposures cannot be compared."
            )
            raise Problem(message, {"additive_set": message})
        times = additive.exposure_s / base.exposure_s
        basis = f"{additive.code} at {additive.exposure_s:g} s beside {base.code} at {base.exposure_s:g} s."
    estimate = after_the_fact(
        PouredInput(
            poured_ml=request.poured_ml,
            poured_doubt_ml=request.poured_doubt_ml,
            into_ml=request.into_ml,
            into_doubt_ml=request.into_doubt_ml,
            already=request.already,
            ln_exposure_per_fraction=None if times is None else math.log(times),
            latitude_pct=latitude,
        )
    )
    return PouredView(result=estimate, times_exposure=times, latitude_pct=latitude, basis=basis)


def _known(work: UnitOfWork, code: str | None, field: str) -> parameter_sets.SetRow | None:
    if not code:
        return None
    row = parameter_sets.parameter_set(work.db, code.strip().upper())
    if row is None:
        message = f"There is no set {code}."
        raise Problem(message, {field: message})
    return row
