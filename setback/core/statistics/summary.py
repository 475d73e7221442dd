"""A handful of specimens summed up: mean, spread, what nine parts in ten will reach, and who stands apart.

Methods: one-sided normal tolerance factors from the non-central t (G. J. Hahn and W. Q. Meeker, Statistical Intervals,
ch. 4); Grubbs' two-sided outlier test at 5 % (F. E. Grubbs, Technometrics 11 (1969) 1-21); specimens that did not break
enter as loads that were survived, by maximum likelihood of the normal distribution (A. C. Cohen, Technometrics 1 (1959)
217-237); all unbroken: the reliability shown by n successes, 0.05^(1/n).
"""

from __future__ import annotations

import math
from typing import Annotated

import numpy as np
from pydantic import Field
from scipy.optimize import minimize
from scipy.special import log_ndtr, nctdtrit, ndtri, stdtrit

from ..contract import Contract, Interval, Notice, Problem

SHARE, CONFIDENCE = 0.90, 0.95
OUTLIER = 0.05
LEAST_N = 3

Measured = Annotated[float, Field(ge=-1e12, le=1e12)]


class SummaryInput(Contract):
    """Values of one group, and those of specimens that did not break."""

    values: list[Measured] = Field(max_length=1000, description="Specimens that broke, or readings")
    unbroken: list[Measured] = Field([], max_length=1000, description="Loads reached without breaking")


class SummaryResult(Contract):
    """Mean, spread and the bound that 9 in 10 parts keep, with what the number of specimens allows."""

    n: int
    n_unbroken: int
    mean: float | None
    sd: float | None
    cv_pct: float | None
    mean_ci: Interval | None
    tolerance_factor: float | None
    tolerance_lower: float | None = Field(description="90 % of parts reach this, with 95 % confidence")
    tolerance_upper: float | None
    outlier_index: int | None = Field(description="Place in values, from 0; flagged, never left out")
    reliability_shown: float | None = Field(
        description="None broke: the share of parts that survive, with 95 % confidence"
    )
    at_least: float | None = Field(description="None broke: the least load reached")
    warnings: list[Notice]


def sample_summary(inputs: SummaryInput) -> SummaryResult:
    """Mean, spread, interval of the mean, tolerance bounds and an outlier flag.

    Raises
    ------
    Problem
        When there is nothing to sum up.
    """
    values, unbroken = inputs.values, inputs.unbroken
    if not values and not unbroken:
        raise Problem("There is nothing to sum up.", {"values": "The list is empty: give at least one."})
    if not values:
        return _none_broke(unbroken)
    if unbroken:
        return _censored(values, unbroken)
    n, mean = len(values), math.fsum(values) / len(values)
    warnings: list[Notice] = []
    if n == 1:
        warnings.append(Notice(code="single", message="One specimen: no spread, no interval, no bound."))
        return _result(n, 0, mean, None, None, warnings)
    sd = math.sqrt(math.fsum((v - mean) ** 2 for v in values) / (n - 1))
    if sd <= 1e-12 * max(abs(mean), 1e-300):
        sd = 0.0
    half_width = float(stdtrit(n - 1, 0.975)) * sd / math.sqrt(n) if sd > 0 else None
    factor = tolerance_factor(n) if n >= LEAST_N and sd > 0 else None
    if n < LEAST_N:
        warnings.append(Notice(code="too-few", message=f"{n} specimens: a tolerance bound needs at least {LEAST_N}."))
    if sd == 0:
        warnings.append(
            Notice(code="no-spread", message="All values are the same: they bound nothing. Was the reading coarse?")
        )
    outlier = grubbs(values, mean, sd)
    if outlier is not None:
        message = f"{values[outlier]:.4g} stands apart from the others (Grubbs, 5 %). It is kept: look for a reason."
        warnings.append(Notice(code="outlier", message=message))
    return _result(
        n,
        0,
        mean,
        sd,
        None if half_width is None else (mean - half_width, mean + half_width),
        warnings,
        factor,
        outlier,
    )


def _result(
    n: int,
    n_unbroken: int,
    mean: float | None,
    sd: float | None,
    ci: Interval | None,
    warnings: list[Notice],
    factor: float | None = None,
    outlier: int | None = None,
) -> SummaryResult:
    bound = factor * sd if factor is not None and sd is not None else None
    bounds = (mean - bound, mean + bound) if mean is not None and bound is not None else (None, None)
    return SummaryResult(
        n=n,
        n_unbroken=n_unbroken,
        mean=mean,
        sd=sd,
        cv_pct=100 * sd / abs(mean) if mean and sd is not None else None,
        mean_ci=ci,
        tolerance_factor=factor,
        tolerance_lower=bounds[0],
        tolerance_upper=bounds[1],
        outlier_index=outlier,
        reliability_shown=None,
        at_least=None,
        warnings=warnings,
    )


def tolerance_factor(n: int, share: float = SHARE, confidence: float = CONFIDENCE) -> float:
    """One-sided factor k: mean − k·sd bounds ``share`` of the parts from below with ``confidence``."""
    return float(nctdtrit(n - 1, float(ndtri(share)) * math.sqrt(n), confidence)) / math.sqrt(n)


def grubbs_limit(n: int, alpha: float = OUTLIER) -> float:
    """Two-sided critical value of Grubbs' statistic."""
    t = float(stdtrit(n - 2, 1 - alpha / (2 * n)))
    return (n - 1) / math.sqrt(n) * math.sqrt(t * t / (n - 2 + t * t))


def grubbs(values: list[float], mean: float, sd: float) -> int | None:
    """Place of the one value that stands apart, or None."""
    if len(values) < LEAST_N or sd == 0:
        return None
    far = max(range(len(values)), key=lambda i: abs(values[i] - mean))
    return far if abs(values[far] - mean) / sd > grubbs_limit(len(values)) else None


def _none_broke(unbroken: list[float]) -> SummaryResult:
    n, least = len(unbroken), min(unbroken)
    proportion = (1 - CONFIDENCE) ** (1 / n)
    message = f"None of {n} broke: at least {100 * proportion:.0f} % of parts survive {least:g}, with 95 % confidence. No mean is known."
    return SummaryResult(
        n=n,
        n_unbroken=n,
        mean=None,
        sd=None,
        cv_pct=None,
        mean_ci=None,
        tolerance_factor=None,
        tolerance_lower=None,
        tolerance_upper=None,
        outlier_index=None,
        reliability_shown=proportion,
        at_least=least,
        warnings=[Notice(code="none-broke", message=message)],
    )


def _censored(values: list[float], unbroken: list[float]) -> SummaryResult:
    """Normal mean and standard deviation by maximum likelihood, with loads survived entering as "more than"."""
    n = len(values) + len(unbroken)
    if len(set(values)) < 2:
        message = "Only one breaking load is known beside those that did not break: the mean cannot be told."
        return _result(n, len(unbroken), None, None, None, [Notice(code="too-few", message=message)])
    broken, loads = np.array(values), np.array(unbroken)
    centre, scale = float(np.mean(broken)), float(np.std(broken))
    x, u = (broken - centre) / scale, (loads - centre) / scale

    def lost(at: np.ndarray) -> float:
        """Minus ln likelihood of mean and ln spread."""
        mean, log_sd = float(at[0]), float(at[1])
        sd = math.exp(log_sd)
        z = (x - mean) / sd
        return float(0.5 * z @ z + len(x) * log_sd - log_ndtr((mean - u) / sd).sum())

    best = minimize(
        lost, np.array([0.0, 0.0]), method="Nelder-Mead", options={"xatol": 1e-9, "fatol": 1e-11, "maxiter": 4000}
    )
    mean, sd = float(best.x[0]), math.exp(float(best.x[1]))
    half_width = float(ndtri(0.975)) * math.sqrt(_variance_of_mean(x, u, mean, sd)) * scale
    at = centre + scale * mean
    message = (
        f"{len(unbroken)} of {n} did not break: mean and spread lean on the normal distribution, and no bound is given."
    )
    return _result(
        n, len(unbroken), at, sd * scale, (at - half_width, at + half_width), [Notice(code="unbroken", message=message)]
    )


def _variance_of_mean(x: np.ndarray, u: np.ndarray, mean: float, sd: float) -> float:
    """From the observed information of mean and ln sd."""
    z, c = (x - mean) / sd, (u - mean) / sd
    hazard = np.exp(-0.5 * c * c - 0.5 * math.log(2 * math.pi) - log_ndtr(-c))
    bend = hazard * (hazard - c)
    a = (len(x) + bend.sum()) / sd**2
    b = (2 * z.sum() + (bend * c + hazard).sum()) / sd
    d = 2 * float(z @ z) + float((c * (hazard + bend * c)).sum())
    return float(d / (a * d - b * b))
