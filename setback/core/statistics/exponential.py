"""First-order approach to a final value: y(t) = y∞ − (y∞ − y₀)·e^(−(t − t₀)/τ) from the first time t₀ on, by least squares.

Levenberg and Marquardt's method, begun at the best of many τ, for each of which the two values are a linear fit (variable
projection, G. H. Golub and V. Pereyra, SIAM Journal on Numerical Analysis 10 (1973) 413-432). Limits come from the Jacobian with
Student's t, n − 3.
"""

from __future__ import annotations

import math
import warnings
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.special import stdtrit

from ..contract import Interval, Problem

Array = np.ndarray[Any, np.dtype[np.float64]]


@dataclass(frozen=True)
class Approach:
    """The fitted curve and its uncertainty; intervals are None without residual degrees of freedom.

    ``first`` is the value at the first time, not at 0: going back from there soon says anything.
    """

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
    span, origin = float(t.max() - t.min()), float(t.min())
    low, high = math.log(span / 500), math.log(span * 50)

    def approach(at: Array, final: float, at_origin: float, log_tau: float) -> Array:
        """The curve, from its first time on."""
        return np.asarray(final - (final - at_origin) * np.exp(-(at - origin) / math.exp(log_tau)))

    straight = Problem("The values do not bend towards an end: nothing can be said about where it lies.", {})
    try:
        final, at_origin, log_tau, covariance = _fitted(approach, t, y, _begin(t - origin, y, low, high))
    except RuntimeError:  # It runs away along the straight line.
        raise straight from None
    if not low + 0.1 < log_tau < high - 0.1:
        raise straight
    tau = math.exp(log_tau)
    first = at_origin
    lost = float(((y - approach(t, final, at_origin, log_tau)) ** 2).sum())
    total = float(((y - y.mean()) ** 2).sum())
    r_squared = 1 - lost / total if total > 0 else None
    degrees = len(y) - 3
    if degrees < 1:
        return Approach(final, first, tau, None, None, None, r_squared, None)
    residual_sd = math.sqrt(lost / degrees)
    if not np.isfinite(covariance).all():
        return Approach(final, first, tau, None, None, None, r_squared, residual_sd)
    half_width = float(stdtrit(degrees, 0.975)) * np.sqrt(np.diag(covariance))
    wide = math.exp(min(half_width[2], 50))
    return Approach(
        final=final,
        first=first,
        tau=tau,
        final_ci=(float(final - half_width[0]), float(final + half_width[0])),
        first_ci=(float(first - half_width[1]), float(first + half_width[1])),
        tau_ci=(tau / wide, tau * wide),
        r_squared=r_squared,
        residual_sd=residual_sd,
    )


def _begin(t: Array, y: Array, low: float, high: float) -> tuple[float, float, float]:
    """Where to begin: for each of many τ the two values are a linear fit; the best of them."""

    def linear(log_tau: float) -> tuple[float, tuple[float, float, float]]:
        """The sum of squares that is left, with the three numbers."""
        decay = np.exp(-t / math.exp(log_tau))
        design = np.column_stack([1 - decay, decay])
        final, first = np.linalg.lstsq(design, y, rcond=None)[0]
        rest = y - design @ (final, first)
        return float(rest @ rest), (float(final), float(first), log_tau)

    return min(linear(float(log_tau)) for log_tau in np.linspace(low, high, 60))[1]


def _fitted(
    curve: Callable[..., Array], t: Array, y: Array, begin: tuple[float, float, float]
) -> tuple[float, float, float, Array]:
    from scipy.optimize import OptimizeWarning, curve_fit

    with warnings.catch_warnings():
        # Three points leave no covariance: it comes back as infinity, and is told as none.
        warnings.simplefilter("ignore", OptimizeWarning)
        best, covariance = curve_fit(curve, t, y, p0=begin, maxfev=2000)
    return float(best[0]), float(best[1]), float(best[2]), np.asarray(covariance)
