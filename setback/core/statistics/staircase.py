"""Drop test by the up-and-down method: after a break one step lower, after a survival one step higher.

Method: W. J. Dixon and A. M. Mood, A method for obtaining and analyzing sensitivity data, Journal of the American
Statistical Association 43 (1948) 109-126. Beside it the median by a logistic fit with Jeffreys' penalty, which gives
limits.
"""

from __future__ import annotations

import math
from collections import Counter
from itertools import pairwise
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from scipy.constants import g as standard_gravity
from scipy.special import ndtri

from ..contract import Contract, Interval, Notice, Problem
from .logit import fit_logit

WANTED = 20
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
    sd_m: float | None
    median_energy_j: float | None
    counted: Literal["breaks", "survivals"] | None = Field(description="The rarer outcome")
    counted_n: int
    logit_median_m: float | None
    logit_median_ci_m: Interval | None
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
            sd_m=None,
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
    return StaircaseResult(
        n=len(drops),
        median_height_m=median,
        sd_m=1.62 * step * (spread + 0.029) if spread > LEAST_M else None,
        median_energy_j=inputs.mass_kg * standard_gravity * median,
        counted="breaks" if counted is breaks else "survivals",
        counted_n=n,
        logit_median_m=middle,
        logit_median_ci_m=limits,
        next_height_m=next_height,
        warnings=warnings,
    )


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
