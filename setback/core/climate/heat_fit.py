"""What a chamber is, thermally, from one logged heating curve.

Method: T(t) = T∞ − (T∞ − T₀)·e^(−t/τ) by least squares; UA = P/(T∞ − room), C = UA·τ. Limits allow for readings that follow
each other in time, and two masses are told from one (:mod:`..statistics.correlated_approach`); C of two is UA times the area
between curve and end, for what the heater gave and was not lost is what both hold.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..contract import Contract, Interval, Notice, Problem
from ..statistics.correlated_approach import Posterior, approach_posterior
from ..statistics.exponential import fit_approach
from .quantities import Celsius, Watts

LEAST = 5
# Readings that lie on the curve to this share of its rise are computed, not measured.
EXACT = 1e-5
CORRELATED = 0.5


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
    masses: Literal[1, 2] = Field(
        1, description="Whether the curve is that of one mass or of two, such as air and walls"
    )
    fast_time_constant_s: float | None = Field(
        None, description="Of two masses the faster; the time constant is the slower's"
    )
    fast_share: float = Field(0.0, description="Of the rise, the part that goes by the faster")
    correlation: float = Field(0.0, description="Of neighbouring readings about the curve; the limits allow for it")
    n: int
    warnings: list[Notice]


def temperature_at(result: WarmUpFitResult, time_s: float) -> float:
    """Temperature of the fitted curve, so many seconds after its first reading, °C."""
    rise = result.steady_c - result.start_c
    slow = (1 - result.fast_share) * math.exp(-time_s / result.time_constant_s)
    fast = result.fast_share * math.exp(-time_s / result.fast_time_constant_s) if result.fast_time_constant_s else 0.0
    return result.steady_c - rise * (slow + fast)


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
    fit = _fitted(times, temps)
    if fit.steady <= fit.start:
        raise Problem("It does not become warmer: choose the time in which the heater ran.", {"samples": "No rise."})
    above = fit.steady - inputs.ambient_c
    if above <= 0:
        message = "The curve ends below the room's temperature: is the room right?"
        raise Problem(message, {"ambient_c": message})
    warnings = []
    span = max(times) - min(times)
    if span < 1.5 * fit.tau:
        message = "The log ends before the curve bends much: log for longer to be surer where it ends."
        warnings.append(Notice(code="short", message=message))
    if abs(fit.start - inputs.ambient_c) > 3:
        message = f"It began {abs(fit.start - inputs.ambient_c):.0f} °C from the room: was it warm already, or the room wrong?"
        warnings.append(Notice(code="not-at-rest", message=message))
    if fit.residual_sd is not None and fit.residual_sd > 1:
        message = "Readings scatter by more than a degree about the curve: a lid opened, or the heater cycled?"
        warnings.append(Notice(code="scatter", message=message))
    if fit.fast_tau is not None:
        message = (
            f"Two masses: one follows within minutes ({fit.fast_tau / 60:.0f} min), the other later ({fit.tau / 60:.0f} min). "
            "The heat capacity is that of both; how long it takes to a temperature is rough by one number."
        )
        warnings.append(Notice(code="two-masses", message=message))
    if fit.correlation > CORRELATED:
        message = f"Neighbouring readings go together (about {fit.correlation:.1f}): the limits are wider for it."
        warnings.append(Notice(code="correlated", message=message))
    loss = inputs.heater_w / above
    return WarmUpFitResult(
        steady_c=fit.steady,
        steady_ci_c=fit.steady_ci,
        start_c=fit.start,
        time_constant_s=fit.tau,
        time_constant_ci_s=fit.tau_ci,
        loss_w_per_k=loss,
        heat_capacity_j_per_k=loss * fit.area_tau,
        residual_sd_c=fit.residual_sd,
        masses=1 if fit.fast_tau is None else 2,
        fast_time_constant_s=fit.fast_tau,
        fast_share=fit.fast_share,
        correlation=fit.correlation,
        n=len(times),
        warnings=warnings,
    )


@dataclass(frozen=True)
class _Warming:
    """A warming curve; ``area_tau`` is the area between curve and end, per degree of rise; ``fast_share`` the part of the rise
    that goes by ``fast_tau``."""

    steady: float
    steady_ci: Interval | None
    start: float
    tau: float
    tau_ci: Interval | None
    area_tau: float
    residual_sd: float | None
    correlation: float = 0.0
    fast_tau: float | None = None
    fast_share: float = 0.0


def _fitted(times: list[float], temps: list[float]) -> _Warming:
    """By one mass or by two, whichever the readings are of."""
    fit = fit_approach(times, temps)
    if not fit.residual_sd or fit.residual_sd < EXACT * abs(fit.final - fit.first):
        return _Warming(fit.final, fit.final_ci, fit.first, fit.tau, fit.tau_ci, fit.tau, fit.residual_sd)
    posterior = approach_posterior(times, temps)
    if posterior.fast_tau is not None:
        return _of_two(times, temps, posterior, posterior.fast_tau)
    is_inside = posterior.final_ci[0] <= fit.final <= posterior.final_ci[1]
    return _Warming(
        steady=fit.final if is_inside else posterior.final,
        steady_ci=posterior.final_ci,
        start=fit.first,
        tau=fit.tau if posterior.tau_ci[0] <= fit.tau <= posterior.tau_ci[1] else posterior.tau,
        tau_ci=posterior.tau_ci,
        area_tau=fit.tau,
        residual_sd=fit.residual_sd,
        correlation=posterior.correlation,
    )


def _of_two(times: list[float], temps: list[float], posterior: Posterior, fast_tau: float) -> _Warming:
    t, y = np.array(times) - min(times), np.array(temps)
    decays = np.column_stack([np.exp(-t / fast_tau), np.exp(-t / posterior.tau)])
    shares, *_ = np.linalg.lstsq(decays, posterior.final - y, rcond=None)
    rise = float(shares.sum())
    rest = posterior.final - y - decays @ shares
    return _Warming(
        steady=posterior.final,
        steady_ci=posterior.final_ci,
        start=posterior.final - rise,
        tau=posterior.tau,
        tau_ci=posterior.tau_ci,
        area_tau=float(shares @ (fast_tau, posterior.tau)) / rise if rise else posterior.tau,
        fast_tau=fast_tau,
        fast_share=float(shares[0]) / rise if rise else 0.0,
        residual_sd=float(np.sqrt(rest @ rest / max(len(t) - 5, 1))),
        correlation=posterior.correlation,
    )
