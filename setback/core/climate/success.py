"""How often prints succeed at which temperature of the resin, and how warm it must be.

A temperature outside those of the prints, or one that cannot be told from no effect, is not given.

Method: logistic regression on °C (centred, not logged) with Jeffreys' penalty (see :mod:`setback.core.statistics.logit`);
limits by the delta method with normal quantiles.
"""

from __future__ import annotations

import math
from typing import Annotated

import numpy as np
from pydantic import Field
from scipy.special import expit, ndtri

from ..contract import Contract, Interval, Notice, Probability, Problem
from ..statistics.logit import LIKELIHOOD_RATIO_LIMIT, LogitFit, fit_logit, likelihood_ratio
from .quantities import Celsius

FEW_PRINTS, FEW_FAILURES = 12, 3
POINTS = 40


class PrintsAt(Contract):
    """Prints begun at one temperature, and how many of them succeeded."""

    temp_c: Celsius
    ok: Annotated[int, Field(ge=0, le=1_000_000)]
    of: Annotated[int, Field(ge=1, le=1_000_000)]


class SuccessTemperatureInput(Contract):
    """Prints by temperature, and the share of success that is wanted."""

    prints: list[PrintsAt] = Field(min_length=1, max_length=2000)
    target: Probability = Field(0.95, description="Share of prints that should succeed")


class SuccessCurve(Contract):
    """Chance of success over temperature with its interval."""

    temp_c: list[float]
    success: list[float]
    low: list[float]
    high: list[float]


class SuccessTemperatureResult(Contract):
    """The temperature from which prints succeed often enough, °C, with its interval."""

    temp_c: float | None
    temp_ci_c: Interval | None
    slope_per_c: float | None
    curve: SuccessCurve | None
    ok: int
    of: int
    warnings: list[Notice]


def success_temperature(inputs: SuccessTemperatureInput) -> SuccessTemperatureResult:
    """The temperature for a wanted share of successes, with limits.

    Raises
    ------
    Problem
        When more prints succeeded than were made.
    """
    for number, group in enumerate(inputs.prints):
        if group.ok > group.of:
            message = "More succeeded than were printed."
            raise Problem(message, {f"prints.{number}.ok": message})
    temps = np.array([g.temp_c for g in inputs.prints], dtype=float)
    ok = np.array([g.ok for g in inputs.prints], dtype=float)
    of = np.array([g.of for g in inputs.prints], dtype=float)
    total, succeeded = int(of.sum()), int(ok.sum())
    if len(set(temps.tolist())) < 2:
        message = "All prints began at one temperature: nothing can be said about others."
        return _nothing(succeeded, total, Notice(code="one-temperature", message=message))
    if succeeded == total or succeeded == 0:
        message = f"All {total} prints {'succeeded' if succeeded else 'failed'}: where that changes cannot be told."
        return _nothing(succeeded, total, Notice(code="censored", message=message))
    centre = float((temps * of).sum() / of.sum())
    design = np.column_stack([np.ones(len(temps)), temps - centre])
    fit = fit_logit(design, ok, of)
    slope = float(fit.beta[1])
    if slope <= 0:
        message = "Colder prints seem to succeed more often: something else made these fail."
        return _nothing(succeeded, total, Notice(code="wrong-direction", message=message))
    warnings = []
    if total < FEW_PRINTS or total - succeeded < FEW_FAILURES:
        message = f"{total} prints with {total - succeeded} failures are too few to lean on."
        warnings.append(Notice(code="too-few", message=message))
    temp, interval = _inverse(fit, centre, inputs.target)
    low, high = float(temps.min()), float(temps.max())
    is_weak = likelihood_ratio(fit, design, ok, of, 1) < LIKELIHOOD_RATIO_LIMIT
    if is_weak:
        message = "Temperature cannot be told from no effect at all yet: no temperature is given."
        warnings.append(Notice(code="weak", message=message))
    elif not low <= temp <= high:
        where = "warmer" if temp > high else "colder"
        message = (
            f"{100 * inputs.target:.0f} % lies outside the {low:g} to {high:g} °C of these prints: "
            f"no temperature is given. Print {where} to find it."
        )
        warnings.append(Notice(code="outside", message=message))
    is_told = not is_weak and low <= temp <= high
    return SuccessTemperatureResult(
        temp_c=temp if is_told else None,
        temp_ci_c=interval if is_told else None,
        slope_per_c=slope,
        curve=_curve(fit, centre, low, high),
        ok=succeeded,
        of=total,
        warnings=warnings,
    )


def _inverse(fit: LogitFit, centre: float, target: float) -> tuple[float, Interval]:
    level, slope = float(fit.beta[0]), float(fit.beta[1])
    x = (math.log(target / (1 - target)) - level) / slope
    gradient = np.array([-1 / slope, -x / slope])
    half_width = float(ndtri(0.975)) * math.sqrt(float(gradient @ fit.covariance @ gradient))
    return centre + x, (centre + x - half_width, centre + x + half_width)


def _curve(fit: LogitFit, centre: float, low: float, high: float) -> SuccessCurve:
    temps = np.linspace(low, high, POINTS)
    design = np.column_stack([np.ones(POINTS), temps - centre])
    eta = design @ fit.beta
    half_width = float(ndtri(0.975)) * np.sqrt(np.einsum("ij,jk,ik->i", design, fit.covariance, design))
    return SuccessCurve(
        temp_c=temps.tolist(),
        success=expit(eta).tolist(),
        low=expit(eta - half_width).tolist(),
        high=expit(eta + half_width).tolist(),
    )


def _nothing(ok: int, of: int, notice: Notice) -> SuccessTemperatureResult:
    return SuccessTemperatureResult(
        temp_c=None, temp_ci_c=None, slope_per_c=None, curve=None, ok=ok, of=of, warnings=[notice]
    )
