"""What a chamber is, thermally, from one logged heating curve.

Method: T(t) = T∞ − (T∞ − T₀)·e^(−t/τ) by least squares; UA = P/(T∞ − room), C = UA·τ.
"""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ..contract import Contract, Interval, Notice, Problem
from ..statistics.exponential import fit_approach
from .quantities import Celsius, Watts

LEAST = 5


class HeatSample(Contract):
    """A temperature of the chamber at one time after the heater went on."""

    time_s: Annotated[float, Field(ge=0, le=10_000_000)]
    temp_c: Celsius


class WarmUpFitInput(Contract):
    """A logged warming, and what the heater gave."""

    samples: list[HeatSample] = Field(min_length=1, max_length=20_000)
    heater_w: Watts
    ambient_c: Celsius


class WarmUpFitResult(Contract):
    """Steady temperature and time constant with their intervals; loss and heat capacity that follow from them."""

    steady_c: float
    steady_ci_c: Interval | None
    start_c: float = Field(description="Of the curve at the first sample")
    time_constant_s: float
    time_constant_ci_s: Interval | None
    loss_w_per_k: float
    heat_capacity_j_per_k: float
    residual_sd_c: float | None
    n: int
    warnings: list[Notice]


def warm_up_fit(inputs: WarmUpFitInput) -> WarmUpFitResult:
    """Final temperature, time constant, loss per degree and heat capacity.

    Raises
    ------
    Problem
        With fewer than five times, when the curve does not rise or bend, or ends below the room.
    """
    times, temps = [s.time_s for s in inputs.samples], [s.temp_c for s in inputs.samples]
    if len(set(times)) < LEAST:
        message = f"A curve takes {LEAST} different times at least."
        raise Problem(message, {"samples": message})
    fit = fit_approach(times, temps)
    if fit.final <= fit.first:
        raise Problem("It does not become warmer: choose the time in which the heater ran.", {"samples": "No rise."})
    above = fit.final - inputs.ambient_c
    if above <= 0:
        message = "The curve ends below the room's temperature: is the room right?"
        raise Problem(message, {"ambient_c": message})
    warnings = []
    span = max(times) - min(times)
    if span < 1.5 * fit.tau:
        message = "The log ends before the curve bends much: log for longer to be surer where it ends."
        warnings.append(Notice(code="short", message=message))
    if abs(fit.first - inputs.ambient_c) > 3:
        message = f"It began {abs(fit.first - inputs.ambient_c):.0f} °C from the room: was it warm already, or the room wrong?"
        warnings.append(Notice(code="not-at-rest", message=message))
    if fit.residual_sd is not None and fit.residual_sd > 1:
        message = "Readings scatter by more than a degree about the curve: a lid opened, or the heater cycled?"
        warnings.append(Notice(code="scatter", message=message))
    loss = inputs.heater_w / above
    return WarmUpFitResult(
        steady_c=fit.final,
        steady_ci_c=fit.final_ci,
        start_c=fit.first,
        time_constant_s=fit.tau,
        time_constant_ci_s=fit.tau_ci,
        loss_w_per_k=loss,
        heat_capacity_j_per_k=loss * fit.tau,
        residual_sd_c=fit.residual_sd,
        n=len(times),
        warnings=warnings,
    )
