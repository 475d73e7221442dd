"""First-order approach to a final value: y(t) = y∞ − (y∞ − y₀)·e^(−t/τ), by least squares.

For a given τ the two values are a linear fit; only τ is searched (variable projection, G. H. Golub and V. Pereyra,
SIAM Journal on Numerical Analysis 10 (1973) 413-432). Limits come from the Jacobian with Student's t, n − 3.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.optimize import minimize_scalar
from scipy.special import stdtrit

from ..contract import Interval, Problem

Array = np.ndarray[Any, np.dtype[np.float64]]


@dataclass(frozen=True)
class Approach:
    """The fitted curve and its uncertainty; intervals are None without residual degrees of freedom."""

    final: float
    first: float
    tau: float
    final_ci: Interval | None
    first_ci: Interval | None
    tau_ci: Interval | None
    r_squared: float | None
    residual_sd: float | None


def fit_approach(times: list[float], values: list[float]) -> Approach:
    """Fit the three numbers.

    Parameters
    ----------
    times : list of float
        In any one unit; τ comes in the same.
    values : list of float
        Of the same length.

    Raises
    ------
    Problem
        When the values do not bend: τ would be far outside the times seen, or shorter than their steps.
    """
    t, y = np.array(times, dtype=float), np.array(values, dtype=float)
    span = float(t.max() - t.min())
    origin = float(t.min())
    low, high = math.log(span / 500), math.log(span * 50)

    def linear(log_tau: float) -> tuple[Array, Array, float]:
        """Final and first value for one ln τ, and the sum of squares that is left."""
        decay = np.exp(-(t - origin) / math.exp(log_tau))
        design = np.column_stack([1 - decay, decay])
        solved = np.linalg.lstsq(design, y, rcond=None)[0]
        rest = y - design @ solved
        return solved, rest, float(rest @ rest)

    grid = np.linspace(low, high, 60)
    lost = [linear(float(g))[2] for g in grid]
    best = int(np.argmin(lost))
    minimum = minimize_scalar(
        lambda g: linear(float(g))[2],
        bounds=(grid[max(best - 1, 0)], grid[min(best + 1, 59)]),
        method="bounded",
        options={"xatol": 1e-10},
    )
    log_tau = float(minimum.x)
    if not low + 0.1 < log_tau < high - 0.1:
        raise Problem("The values do not bend towards an end: nothing can be said about where it lies.", {})
    (final, at_origin), _, lost_least = linear(log_tau)
    tau = math.exp(log_tau)
    first = final - (final - at_origin) * math.exp(origin / tau) if origin > 0 else at_origin
    total = float(((y - y.mean()) ** 2).sum())
    r_squared = 1 - lost_least / total if total > 0 else None
    degrees = len(y) - 3
    if degrees < 1:
        return Approach(float(final), float(first), tau, None, None, None, r_squared, None)
    decay = np.exp(-(t - origin) / tau)
    jacobian = np.column_stack([1 - decay, decay, -(final - at_origin) * decay * (t - origin) / tau])
    variance = lost_least / degrees
    try:
        covariance = variance * np.linalg.inv(jacobian.T @ jacobian)
    except np.linalg.LinAlgError:
        return Approach(float(final), float(first), tau, None, None, None, r_squared, math.sqrt(variance))
    half_width = float(stdtrit(degrees, 0.975)) * np.sqrt(np.maximum(np.diag(covariance), 0))
    return Approach(
        final=float(final),
        first=float(first),
        tau=tau,
        final_ci=(float(final - half_width[0]), float(final + half_width[0])),
        first_ci=(float(first - half_width[1]), float(first + half_width[1])),
        tau_ci=(tau * math.exp(-min(half_width[2], 50)), tau * math.exp(min(half_width[2], 50))),
        r_squared=r_squared,
        residual_sd=math.sqrt(variance),
    )
