"""Drop test by the up-and-down method: after a break one step lower, after a survival one step higher.

Method: W. J. Dixon and A. M. Mood, A method for obtaining and analyzing sensitivity data, Journal of the American
Statistical Association 43 (1948) 109-126, and the median by a logistic fit with Jeffreys' penalty. Limits of either are too
narrow while there are few drops: at ten theirs cover 0.81, and the standard deviation comes out at 0.54 of what it is. The
limits given therefore are those of the posterior of median and spread, the heights at which parts break taken as normal, the
median flat over eight steps beyond the heights tried, the spread lognormal round 1.2 steps with a factor of e: steps are chosen near the
spread. They cover 0.92 or more from six drops on, for spreads of 0.4 to 2.5 steps and starts up to four steps away.
"""

from __future__ import annotations

import math
from collections import Counter
from dataclasses import dataclass
from itertools import pairwise
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from scipy.constants import g as standard_gravity
from scipy.special import log_ndtr, ndtri

from ..contract import Contract, Interval, Notice, Problem
from .logit import fit_logit
from .quantiles import quantiles

WANTED = 20
FAR = 4
"""Drops alike at the start that speak of a start far off."""
REACH, MEDIANS, SPREADS = 8.0, 161, 61
USUAL_LOG_SD, USUAL_RANGE = 0.2, 1.0
"""Of the spread in steps: mean and standard deviation of its logarithm, before any drop."""
LEAST_M = 0.3
Height = Annotated[float, Field(gt=0, le=100)]


class Drop(Contract):
    """One drop: its height and whether the specimen broke."""

    height_m: Height
    broke: bool


class StaircaseInput(Contract):
    """Drops in their order, each one step above or below the last."""

    step_m: Annotated[float, Field(gt=0, le=10)] = Field(description="Between two neighbouring heights")
    mass_kg: Annotated[float, Field(gt=0, le=1000)] = Field(description="Of what falls")
    outcomes: list[Drop] = Field(min_length=1, max_length=500, description="In the order of dropping")


class StaircaseResult(Contract):
    """The height at which half break, with its interval."""

    n: int
    median_height_m: float | None = Field(description="Half of the parts break at this height")
    median_ci_m: Interval | None = Field(description="95 % limits of that height")
    sd_m: float | None = Field(description="By the up-and-down formula; too small from few drops")
    sd_likely_m: float | None = Field(description="Middle of the spreads that the drops leave possible")
    sd_ci_m: Interval | None = Field(description="95 % limits of the spread")
    median_energy_j: float | None
    counted: Literal["breaks", "survivals"] | None = Field(description="The rarer outcome")
    counted_n: int
    logit_median_m: float | None
    logit_median_ci_m: Interval | None = Field(description="By the delta method; from twenty drops on")
    next_height_m: float
    warnings: list[Notice]


def drop_staircase(inputs: StaircaseInput) -> StaircaseResult:
    """Median drop height with its spread, and the next height.

    Raises
    ------
    Problem
        When two drops in a row are not one step apart.
    """
    _check(inputs)
    drops, step = inputs.outcomes, inputs.step_m
    warnings = _warnings(inputs)
    breaks = [d.height_m for d in drops if d.broke]
    survivals = [d.height_m for d in drops if not d.broke]
    last = drops[-1]
    next_height = _tidy(max(last.height_m + (-step if last.broke else step), step))
    if not breaks or not survivals:
        outcome = "broke" if breaks else "survived"
        message = f"Every part {outcome}: the height is not bracketed yet. Go on at {next_height:g} m."
        warnings.insert(0, Notice(code="one-outcome", message=message))
        return StaircaseResult(
            n=len(drops),
            median_height_m=None,
            median_ci_m=None,
            sd_m=None,
            sd_likely_m=None,
            sd_ci_m=None,
            median_energy_j=None,
            counted=None,
            counted_n=0,
            logit_median_m=None,
            logit_median_ci_m=None,
            next_height_m=next_height,
            warnings=warnings,
        )
    counted = breaks if len(breaks) <= len(survivals) else survivals
    lowest = min(counted)
    steps = Counter(round((h - lowest) / step) for h in counted)
    n, a, b = len(counted), sum(i * k for i, k in steps.items()), sum(i * i * k for i, k in steps.items())
    median = lowest + step * (a / n + (-0.5 if counted is breaks else 0.5))
    spread = (n * b - a * a) / n**2
    if spread <= LEAST_M:
        message = (
            "The heights hardly varied: the step is too wide for this part's spread, so no standard deviation is given."
        )
        warnings.append(Notice(code="coarse-step", message=message))
    middle, limits = _logit(drops)
    likely = _likely(drops, step)
    return StaircaseResult(
        n=len(drops),
        median_height_m=median,
        median_ci_m=likely.median_ci_m,
        sd_likely_m=likely.sd_m,
        sd_ci_m=likely.sd_ci_m,
        sd_m=1.62 * step * (spread + 0.029) if spread > LEAST_M else None,
        median_energy_j=inputs.mass_kg * standard_gravity * median,
        counted="breaks" if counted is breaks else "survivals",
        counted_n=n,
        logit_median_m=middle,
        logit_median_ci_m=limits if len(drops) >= WANTED else None,
        next_height_m=next_height,
        warnings=warnings,
    )


@dataclass(frozen=True)
class _Likely:
    median_ci_m: Interval
    sd_m: float
    sd_ci_m: Interval


def _likely(drops: list[Drop], step_m: float) -> _Likely:
    """What the drops leave possible, on a grid of medians and spreads."""
    heights = np.array([d.height_m for d in drops]) / step_m
    medians = np.linspace(heights.min() - REACH, heights.max() + REACH, MEDIANS)
    log_sds = np.linspace(-math.log(12), math.log(12), SPREADS)
    z = (heights[:, None, None] - medians[None, :, None]) / np.exp(log_sds)[None, None, :]
    side = np.array([1.0 if d.broke else -1.0 for d in drops])[:, None, None]
    log_posterior = log_ndtr(side * z).sum(axis=0) - 0.5 * ((log_sds - USUAL_LOG_SD) / USUAL_RANGE)[None, :] ** 2
    weight = np.exp(log_posterior - log_posterior.max())
    low, high = quantiles(medians, weight.sum(axis=1) / weight.sum(), (0.025, 0.975))
    sds = quantiles(log_sds, weight.sum(axis=0) / weight.sum(), (0.025, 0.5, 0.975))
    narrow, middle, wide = (math.exp(sd) * step_m for sd in sds)
    return _Likely((max(low, 0.0) * step_m, high * step_m), middle, (narrow, wide))


def _tidy(height_m: float) -> float:
    return round(height_m, 6)


def _check(inputs: StaircaseInput) -> None:
    problems = {}
    for i, (before, after) in enumerate(pairwise(inputs.outcomes), 1):
        moved = (after.height_m - before.height_m) / inputs.step_m
        if abs(abs(moved) - 1) > 1e-6:
            where = before.height_m + (-inputs.step_m if before.broke else inputs.step_m)
            problems[f"outcomes.{i}.height_m"] = f"One step from the drop before: {_tidy(where):g} m was due."
    if problems:
        raise Problem(f"A staircase moves by one step of {inputs.step_m:g} m at a time.", problems)


def _warnings(inputs: StaircaseInput) -> list[Notice]:
    warnings = []
    drops = inputs.outcomes
    alike = next((i for i, drop in enumerate(drops) if drop.broke != drops[0].broke), len(drops))
    if FAR <= alike < len(drops):
        outcome, where = ("broke", "above") if drops[0].broke else ("survived", "below")
        message = (
            f"The first {alike} {outcome}: the start lay far {where} the height at which half break, and these drops tell little. "
            "Start nearer next time."
        )
        warnings.append(Notice(code="start-far", message=message))
    against = sum((b.height_m > a.height_m) == a.broke for a, b in pairwise(drops))
    if against:
        message = (
            f"{against} time{'s' if against > 1 else ''} the height went up after a break or down after a survival."
        )
        warnings.append(Notice(code="against-the-rule", message=message))
    if len(drops) < WANTED:
        warnings.append(
            Notice(code="few", message=f"{len(drops)} drops; {WANTED} are wanted before the median is relied on.")
        )
    return warnings


def _logit(drops: list[Drop]) -> tuple[float | None, Interval | None]:
    """Height at which half break, by the penalised logistic fit, with limits by the delta method."""
    heights = sorted({d.height_m for d in drops})
    if len(heights) < 2:
        return None, None
    broke = np.array([sum(d.broke for d in drops if d.height_m == h) for h in heights], dtype=float)
    trials = np.array([sum(d.height_m == h for d in drops) for h in heights], dtype=float)
    x = np.array(heights)
    centre = float((x * trials).sum() / trials.sum())
    fit = fit_logit(np.column_stack([np.ones(len(x)), x - centre]), broke, trials)
    slope = float(fit.beta[1])
    if slope <= 0:
        return None, None
    at = -float(fit.beta[0]) / slope
    gradient = np.array([-1 / slope, -at / slope])
    half_width = float(ndtri(0.975)) * math.sqrt(max(float(gradient @ fit.covariance @ gradient), 0.0))
    return centre + at, (centre + at - half_width, centre + at + half_width)
