"""How flow changes with temperature, and how warm resin must be to flow as wanted.

Method: Andrade's equation ln η = A + B/T with T in kelvin (E. N. da C. Andrade, Nature 125 (1930) 309), by ordinary
least squares; the activation energy is B times the gas constant. The wanted temperature by inverse prediction, its
interval by the delta method with Student's t, n - 2. From five different temperatures on, Vogel, Fulcher and Tammann's
law takes its place (:mod:`.vft`): resins thicken faster in the cold. Seconds of one flow cup follow the same law, while density
hardly changes.
"""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field

from ..contract import Contract, Interval, Notice, Problem
from ..statistics.line import Line, fit_line
from .quantities import KELVIN, Celsius
from .vft import LEAST_TEMPERATURES, VftDraws, vft_draws

GAS_J_MOL_K = 8.314462618
REACH_C = 3.0
POINTS = 40

Viscosity = Annotated[float, Field(gt=0, le=10_000_000)]


class FlowPoint(Contract):
    """Viscosity, or the seconds of a flow cup, at one temperature, °C."""

    temp_c: Celsius
    viscosity_mpa_s: Viscosity | None = None
    flow_s: Viscosity | None = Field(None, description="Seconds of one flow cup instead")


class ViscosityCurveInput(Contract):
    """Viscosities or flow times over temperature, and what is asked of the curve."""

    points: list[FlowPoint] = Field(min_length=1, max_length=500)
    target_mpa_s: Viscosity | None = None
    target_flow_s: Viscosity | None = None
    temp_c: Celsius | None = Field(None, description="Say the viscosity at this temperature")


class FlowCurve(Contract):
    """The fitted curve over temperature with its interval."""

    temp_c: list[float]
    value: list[float]
    low: list[float] | None
    high: list[float] | None


class ViscosityCurveResult(Contract):
    """Activation energy, and the temperature at which the target is met, with intervals."""

    activation_energy_kj_mol: float
    activation_energy_ci_kj_mol: Interval | None
    r_squared: float | None
    temp_for_target_c: float | None
    temp_for_target_ci_c: Interval | None
    at_temp: float | None = Field(description="Of what was measured: mPa·s, or seconds of the cup")
    at_temp_ci: Interval | None
    fitted_range_c: Interval
    curve: FlowCurve
    law: Literal["andrade", "vft"] = Field(
        description="Andrade's, or Vogel, Fulcher and Tammann's from five temperatures on"
    )
    n: int
    warnings: list[Notice]


def viscosity_curve(inputs: ViscosityCurveInput) -> ViscosityCurveResult:
    """Fit the curve; temperature for a wanted flow, and the flow at a temperature.

    Raises
    ------
    Problem
        With fewer than two distinct temperatures, mixed units, or a target in the other unit.
    """
    values = _one_unit(inputs)
    temps = [p.temp_c for p in inputs.points]
    if len(set(temps)) < 2:
        message = "Readings at two different temperatures are needed at least."
        raise Problem(message, {"points": message})
    logs = [math.log(v) for v in values]
    line = fit_line([1 / (t + KELVIN) for t in temps], logs)
    warnings = []
    if line.slope <= 0:
        message = "Warmer resin seems to flow worse, which is the wrong way round: were two readings swapped?"
        raise Problem(message, {"points": message})
    if line.variance is None:
        message = "Two temperatures make a curve, but nothing says how sure it is: a third does."
        warnings.append(Notice(code="two-points", message=message))
    low, high = min(temps), max(temps)
    target = inputs.target_mpa_s if inputs.target_mpa_s is not None else inputs.target_flow_s
    law: Line | VftDraws = vft_draws(temps, logs) if len(set(temps)) >= LEAST_TEMPERATURES else line
    target_c, target_ci = _temperature(law, math.log(target)) if target is not None else (None, None)
    if target_c is not None and not low - REACH_C <= target_c <= high + REACH_C:
        message = f"{target_c:.0f} °C lies outside the {low:g} to {high:g} °C that were measured: it is extrapolated."
        warnings.append(Notice(code="extrapolated", message=message))
    at, at_ci = None, None
    if inputs.temp_c is not None:
        at, at_ci = _value(law, inputs.temp_c)
        if not low - REACH_C <= inputs.temp_c <= high + REACH_C:
            message = f"{inputs.temp_c:g} °C lies outside the {low:g} to {high:g} °C that were measured."
            warnings.append(Notice(code="extrapolated", message=message))
    energy, energy_ci = _energy(law)
    return ViscosityCurveResult(
        activation_energy_kj_mol=energy,
        activation_energy_ci_kj_mol=energy_ci,
        r_squared=_r_squared(law, temps, logs),
        temp_for_target_c=target_c,
        temp_for_target_ci_c=target_ci,
        at_temp=at,
        at_temp_ci=at_ci,
        fitted_range_c=(low, high),
        curve=_curve(law, low, high),
        law="vft" if isinstance(law, VftDraws) else "andrade",
        n=len(temps),
        warnings=warnings,
    )


def _one_unit(inputs: ViscosityCurveInput) -> list[float]:
    for number, point in enumerate(inputs.points):
        if (point.viscosity_mpa_s is None) == (point.flow_s is None):
            message = "Give mPa·s or seconds of a flow cup, one of the two."
            raise Problem(message, {f"points.{number}.viscosity_mpa_s": message})
    in_seconds = inputs.points[0].flow_s is not None
    values = [p.flow_s if in_seconds else p.viscosity_mpa_s for p in inputs.points]
    if any(v is None for v in values):
        message = "All readings must be of one kind: mPa·s, or seconds of one flow cup."
        raise Problem(message, {"points": message})
    other = inputs.target_mpa_s if in_seconds else inputs.target_flow_s
    if other is not None:
        message = f"Give the target in {'seconds of the cup' if in_seconds else 'mPa·s'}, as the readings are."
        raise Problem(message, {"target_mpa_s" if in_seconds else "target_flow_s": message})
    return [v for v in values if v is not None]


def _temperature(law: Line | VftDraws, log_value: float) -> tuple[float, Interval | None]:
    never = Problem("No temperature makes it flow like that.", {"target_mpa_s": "This is thinner than it can get."})
    if isinstance(law, VftDraws):
        there = law.temperature(log_value)
        if there is None:
            raise never
        return there
    end = law.place_of(log_value, 0.0, 1)
    if end.x <= 0:
        raise never
    between = end.interval
    sure = between is not None and between[0] > 0
    return 1 / end.x - KELVIN, (1 / between[1] - KELVIN, 1 / between[0] - KELVIN) if sure and between else None


def _value(law: Line | VftDraws, temp_c: float) -> tuple[float, Interval | None]:
    if isinstance(law, VftDraws):
        return law.value(temp_c)
    x = 1 / (temp_c + KELVIN)
    between = law.interval_at(x)
    return math.exp(law.at(x)), (math.exp(between[0]), math.exp(between[1])) if between else None


def _energy(law: Line | VftDraws) -> tuple[float, Interval | None]:
    """Activation energy, kJ/mol; of a curve that is no straight line, that in the middle of what was measured."""
    if isinstance(law, VftDraws):
        return law.energy(GAS_J_MOL_K)
    unit = GAS_J_MOL_K / 1000
    if law.variance is None:
        return law.slope * unit, None
    half_width = law.half_slope()
    return law.slope * unit, ((law.slope - half_width) * unit, (law.slope + half_width) * unit)


def _r_squared(law: Line | VftDraws, temps: list[float], logs: list[float]) -> float | None:
    mean = math.fsum(logs) / len(logs)
    total = math.fsum((v - mean) ** 2 for v in logs)
    residual = math.fsum((v - math.log(_value(law, t)[0])) ** 2 for t, v in zip(temps, logs, strict=True))
    return 1 - residual / total if total > 0 else None


def _curve(law: Line | VftDraws, low: float, high: float) -> FlowCurve:
    temps = [low + (high - low) * i / (POINTS - 1) for i in range(POINTS)]
    values = [_value(law, t) for t in temps]
    ends = [ci for _, ci in values if ci is not None]
    return FlowCurve(
        temp_c=temps,
        value=[v for v, _ in values],
        low=[e[0] for e in ends] if len(ends) == POINTS else None,
        high=[e[1] for e in ends] if len(ends) == POINTS else None,
    )
