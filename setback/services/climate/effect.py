"""What temperature does to the exposure a material needs, and to how often its prints succeed."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from ...core.climate.success import PrintsAt, SuccessTemperatureInput, SuccessTemperatureResult, success_temperature
from ...core.climate.temperature_effect import (
    REACH_C,
    ExposureAt,
    TemperatureEffectInput,
    TemperatureEffectResult,
    temperature_effect,
)
from ...core.contract import Contract, Probability, Problem
from ...store import shelf
from ...store.climate import warm_starts as store
from ..unit_of_work import UnitOfWork, View, present

CURVE_POINTS = 30


class EffectPoint(View):
    """An exposure found right at a temperature."""

    temp_c: float
    exposure_s: float
    what: str = Field(description="The set, or the check coupon, it comes from")
    kind: Literal["set", "check"]


class EffectView(View):
    """Exposure against temperature, of one printer and layer height: the best known such group."""

    material_id: str
    material: str
    printer: str | None
    layer_height_um: float | None
    points: list[EffectPoint]
    result: TemperatureEffectResult | None
    missing: str | None = Field(description="Why there is no result yet")
    curve: list[tuple[float, float, float | None, float | None]] = Field(description="°C, s, and its interval")


class SuccessQuery(Contract):
    """The share of success that is wanted."""

    target: Probability = 0.95


class SuccessView(View):
    """How often prints succeed, over temperature."""

    material_id: str
    material: str
    prints: list[PrintsAt]
    elsewhere: int = Field(description="Prints left out: their temperature was not that of the resin")
    result: SuccessTemperatureResult | None
    missing: str | None


def effect(work: UnitOfWork, material_id: str, drawn: bool = False) -> EffectView:
    """Fit the largest group of one printer, layer height and policy: issued sets, and check coupons that passed.

    A set stands at the middle of its band; a check coupon at its own temperature, with the exposure that would have
    made it as expected. The curve comes only when it is to be drawn.
    """
    material = present(shelf.material(work.db, material_id), "material")
    rows = store.exposures_found(work.db, material_id)
    points = [
        EffectPoint(
            temp_c=row.temp_c, exposure_s=row.exposure_s / (1 + row.off_pct / 100), what=row.code, kind=row.kind
        )
        for row in rows
    ]
    result, missing = _fit(points) if points else (None, "No set says at which temperature it was found.")
    return EffectView(
        material_id=material_id,
        material=material.name,
        printer=rows[0].printer if rows else None,
        layer_height_um=rows[0].layer_height_um if rows else None,
        points=points,
        result=result,
        missing=missing,
        curve=_curve(points, result) if result and drawn else [],
    )


def exposure_at(effect_view: EffectView, temp_c: float) -> TemperatureEffectResult | None:
    """What the fit says of a temperature; None outside its reach."""
    try:
        return temperature_effect(TemperatureEffectInput(points=_points(effect_view.points), temp_c=temp_c))
    except Problem:
        return None


def success(work: UnitOfWork, material_id: str, query: SuccessQuery) -> SuccessView:
    """How often prints of parts succeed, by the resin's temperature at their start."""
    material = present(shelf.material(work.db, material_id), "material")
    rows = store.prints_by_temperature(work.db, material_id)
    groups = [PrintsAt(temp_c=row.temp_c, ok=row.ok, of=row.made) for row in rows]
    result, missing = None, None
    if groups:
        result = success_temperature(SuccessTemperatureInput(prints=groups, target=query.target))
    else:
        missing = "No print of this material was logged with the temperature of its resin at the start."
    return SuccessView(
        material_id=material_id,
        material=material.name,
        prints=groups,
        elsewhere=store.prints_elsewhere(work.db, material_id),
        result=result,
        missing=missing,
    )


def materials(work: UnitOfWork) -> list[store.KnownMaterial]:
    """What can be asked about, with how much is known of it."""
    return store.materials(work.db)


def printed(work: UnitOfWork) -> list[store.PrintedMaterial]:
    """Materials whose prints of parts are in the log, the most printed first."""
    return store.printed_materials(work.db)


def _points(points: list[EffectPoint]) -> list[ExposureAt]:
    return [ExposureAt(temp_c=p.temp_c, exposure_s=p.exposure_s) for p in points]


def _fit(points: list[EffectPoint]) -> tuple[TemperatureEffectResult | None, str | None]:
    try:
        return temperature_effect(TemperatureEffectInput(points=_points(points))), None
    except Problem:
        return None, "Calibrate at another temperature: one temperature tells no effect."


def _curve(
    points: list[EffectPoint], result: TemperatureEffectResult
) -> list[tuple[float, float, float | None, float | None]]:
    low, high = result.fitted_range_c
    curve = []
    for i in range(CURVE_POINTS):
        temp = low - REACH_C + (high - low + 2 * REACH_C) * i / (CURVE_POINTS - 1)
        at = temperature_effect(TemperatureEffectInput(points=_points(points), temp_c=temp))
        ends = at.exposure_ci_s or (None, None)
        curve.append((temp, at.exposure_s or 0.0, ends[0], ends[1]))
    return curve
