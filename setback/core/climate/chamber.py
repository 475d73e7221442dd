"""A chamber as one thermal mass: how it warms, how it cools, and what a heater needs to be.

Method: Newton's law of cooling with a constant heater, C·dT/dt = P − UA·(T − room), so
T(t) = T∞ − (T∞ − T₀)·e^(−t/τ) with T∞ = room + P/UA and τ = C/UA.
"""

from __future__ import annotations

import math
from typing import Annotated

from pydantic import Field

from ..contract import Contract, Notice, Problem
from .quantities import Celsius, HeatCapacity, LossPerKelvin, Watts

JOULES_PER_KWH = 3.6e6
# A heater that can just hold the target approaches it for ever: planned with some power to spare.
SPARE = 1.25

Tariff = Annotated[float, Field(ge=0, le=100, description="Cost per kWh")]


class WarmUpInput(Contract):
    """A chamber, its heater and the temperature wanted; °C, watts, joules per kelvin."""

    ambient_c: Celsius
    start_c: Celsius
    heater_w: Watts
    loss_w_per_k: LossPerKelvin
    heat_capacity_j_per_k: HeatCapacity
    target_c: Celsius
    tariff_per_kwh: Tariff | None = None
    ceiling_c: Celsius | None = Field(None, description="The chamber must not become warmer than this")
    within_s: float | None = Field(None, gt=0, le=1_000_000, description="Say the power that gets there in this time")


class WarmUpResult(Contract):
    """How long it takes, s, or why it is never reached."""

    time_constant_s: float
    steady_c: float = Field(description="Where it ends when the heater is never switched off")
    time_to_target_s: float | None
    energy_kwh: float | None
    cost: float | None
    hold_duty_pct: float | None = Field(description="Share of the time the heater runs to hold the target")
    power_needed_w: float = Field(description="To hold the target for ever; with within_s, to be there in time")
    loss_needed_w_per_k: float | None = Field(description="Insulated to this, the heater there is would hold it")
    time_to_ceiling_s: float | None
    warnings: list[Notice]


class CoolDownInput(Contract):
    """A warm chamber in a cooler room, °C."""

    ambient_c: Celsius
    start_c: Celsius
    loss_w_per_k: LossPerKelvin
    heat_capacity_j_per_k: HeatCapacity
    floor_c: Celsius


class CoolDownResult(Contract):
    """How fast the chamber cools, s, and when it falls to the floor."""

    time_constant_s: float
    time_to_floor_s: float | None = Field(description="None when it never falls to the floor")
    warnings: list[Notice]


def warm_up(inputs: WarmUpInput) -> WarmUpResult:
    """Time to a temperature, its energy and cost, and what to do when the heater is too weak.

    Raises
    ------
    Problem
        When the target lies above the ceiling.
    """
    if inputs.ceiling_c is not None and inputs.target_c > inputs.ceiling_c:
        message = f"The target lies above the ceiling of {inputs.ceiling_c:g} °C."
        raise Problem(message, {"target_c": message})
    tau = inputs.heat_capacity_j_per_k / inputs.loss_w_per_k
    steady = inputs.ambient_c + inputs.heater_w / inputs.loss_w_per_k
    rise = inputs.target_c - inputs.ambient_c
    time_s = reach_s(inputs.start_c, inputs.target_c, steady, tau)
    hold_w = max(inputs.loss_w_per_k * rise, 0.0)
    warnings = []
    if time_s is None:
        spare_w, less = SPARE * hold_w, 100 * (1 - inputs.heater_w / (SPARE * hold_w))
        message = (
            f"This heater ends at {steady:.1f} °C. It takes more than {hold_w:.0f} W to hold {inputs.target_c:g} °C; "
            f"take about {spare_w:.0f} W, or insulate until {less:.0f} % less heat is lost."
        )
        warnings.append(Notice(code="unreachable", message=message))
    over_s = None
    if inputs.ceiling_c is not None and steady > inputs.ceiling_c:
        over_s = reach_s(inputs.start_c, inputs.ceiling_c, steady, tau)
        message = (
            f"Left on it would pass {inputs.ceiling_c:g} °C: without a thermostat switch it off after "
            f"{minutes(over_s or 0)}."
        )
        warnings.append(Notice(code="overshoot", message=message))
    energy = inputs.heater_w * time_s / JOULES_PER_KWH if time_s is not None else None
    return WarmUpResult(
        time_constant_s=tau,
        steady_c=steady,
        time_to_target_s=time_s,
        energy_kwh=energy,
        cost=energy * inputs.tariff_per_kwh if energy is not None and inputs.tariff_per_kwh is not None else None,
        hold_duty_pct=100 * hold_w / inputs.heater_w if time_s is not None else None,
        power_needed_w=_power(inputs, tau, hold_w),
        loss_needed_w_per_k=inputs.heater_w / (SPARE * rise) if time_s is None and rise > 0 else None,
        time_to_ceiling_s=over_s,
        warnings=warnings,
    )


def cool_down(inputs: CoolDownInput) -> CoolDownResult:
    """How long a chamber stays above a floor with the heater off."""
    tau = inputs.heat_capacity_j_per_k / inputs.loss_w_per_k
    warnings = []
    if inputs.start_c < inputs.floor_c:
        warnings.append(Notice(code="below", message="It is below the floor already."))
    time_s = 0.0 if inputs.start_c <= inputs.floor_c else reach_s(inputs.start_c, inputs.floor_c, inputs.ambient_c, tau)
    return CoolDownResult(time_constant_s=tau, time_to_floor_s=time_s, warnings=warnings)


def reach_s(start_c: float, wanted_c: float, end_c: float, tau_s: float) -> float | None:
    """Seconds until something that goes towards ``end_c`` passes ``wanted_c``; None when it never does."""
    if (wanted_c - start_c) * (end_c - start_c) <= 0:
        return 0.0 if wanted_c == start_c or (end_c - start_c) * (start_c - wanted_c) > 0 else None
    share_left = (end_c - wanted_c) / (end_c - start_c)
    return -tau_s * math.log(share_left) if share_left > 1e-9 else None


def after(start_c: float, end_c: float, tau_s: float, seconds: float) -> float:
    """Temperature after some seconds on the way to ``end_c``."""
    return end_c - (end_c - start_c) * math.exp(-seconds / tau_s)


def minutes(seconds: float) -> str:
    """A length of time in words, no finer than the model is."""
    whole = max(round(seconds / 60), 1)
    return f"{whole} min" if whole < 120 else f"{whole // 60} h {whole % 60:02d} min"


def _power(inputs: WarmUpInput, tau: float, hold_w: float) -> float:
    if inputs.within_s is None:
        return hold_w
    fall = math.exp(-inputs.within_s / tau)
    above, start = inputs.target_c - inputs.ambient_c, inputs.start_c - inputs.ambient_c
    return max(inputs.loss_w_per_k * (above - start * fall) / (1 - fall), 0.0)
