"""A handful of specimens summed up: mean, spread, what nine parts in ten will reach, and who stands apart.

Where the prints are known the mean and the bounds are those of parts of other prints (:mod:`.prints`); the bounds are held
against three distributions (:mod:`.tolerance`); values that stand apart are told with both answers (:mod:`.outliers`);
specimens that did not break enter as loads that were survived (:mod:`.censored`). All unbroken: the reliability shown by n
successes, 0.05^(1/n).
"""

from __future__ import annotations

import math
from collections.abc import Hashable
from dataclasses import dataclass, field
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from scipy.special import stdtrit

from ..contract import Contract, Interval, Notice, Problem
from .censored import fit_censored
from .outliers import all_apart, stands_apart
from .prints import (
    BOUND_PRINTS,
    MEAN_PRINTS,
    PrintSpread,
    by_print,
    mean_interval,
    tolerance_bounds,
    total_sd,
)
from .tolerance import CONFIDENCE, Bounds, Distribution, bounds_by_distribution, careful, tolerance_factor

LEAST_N = 3

Measured = Annotated[float, Field(ge=-1e12, le=1e12)]
PrintName = Annotated[str, Field(min_length=1, max_length=60)]
About = Literal["parts", "this print"]


class SummaryInput(Contract):
    """Values of one group, those of specimens that did not break, and the prints they came out of."""

    values: list[Measured] = Field(max_length=1000, description="Specimens that broke, or readings")
    unbroken: list[Measured] = Field([], max_length=1000, description="Loads reached without breaking")
    print: list[PrintName] | None = Field(None, max_length=1000, description="The print of each value, in their order")
    unbroken_print: list[PrintName] | None = Field(None, max_length=1000, description="The print of each unbroken one")
    print_spread: PrintSpread | None = Field(None, description="Spread from print to print that is known already")
    positive: bool = Field(False, description="It can only be above 0, as a strength: no bound is given below")


class WithoutOutliers(Contract):
    """The same without the values that stand apart."""

    n: int
    mean: float
    sd: float
    bound_lower: float | None = Field(description="90 % of parts reach this, with 95 % confidence")
    bound_upper: float | None = Field(description="90 % of parts stay under this, with 95 % confidence")


class SummaryResult(Contract):
    """Mean, spread and the bound that 9 in 10 parts keep, with what the number of specimens and prints allows."""

    n: int
    n_unbroken: int
    mean: float | None
    sd: float | None = Field(description="Of parts: within and between prints together, where prints are known")
    cv_pct: float | None
    mean_ci: Interval | None
    tolerance_factor: float | None
    tolerance_lower: float | None = Field(
        description="90 % of parts reach this, with 95 % confidence, if they are normally distributed"
    )
    tolerance_upper: float | None
    bound_lower: float | None = Field(
        None, description="The same by the most careful of the distributions that are in question"
    )
    bound_upper: float | None = Field(None, description="90 % of parts stay under this, likewise")
    bound_lower_by: Distribution | None = Field(None, description="The distribution it was taken from")
    bound_upper_by: Distribution | None = Field(None, description="The distribution the upper one was taken from")
    distributions: list[Bounds] = Field([], description="The bounds by each distribution, the likeliest first")
    outlier_index: int | None = Field(description="Place in values, from 0; flagged, never left out")
    without_outliers: WithoutOutliers | None = Field(
        None, description="The other answer, where values stand apart; which holds is for a person to say"
    )
    prints: int | None = Field(None, description="How many prints the specimens came out of, where that is known")
    about: About = Field("parts", description="Whether it speaks of parts, or of one print alone")
    reliability_shown: float | None = Field(
        description="None broke: the share of parts that survive, with 95 % confidence"
    )
    at_least: float | None = Field(description="None broke: the least load reached")
    warnings: list[Notice]


@dataclass
class _Summary:
    """What is known so far."""

    n: int
    n_unbroken: int = 0
    mean: float | None = None
    sd: float | None = None
    mean_ci: Interval | None = None
    factor: float | None = None
    tolerance: Interval | None = None
    bounds: Interval | None = None
    bounds_by: tuple[Distribution, Distribution] | None = None
    distributions: list[Bounds] = field(default_factory=list)
    outlier: int | None = None
    without: WithoutOutliers | None = None
    prints: int | None = None
    reliability: float | None = None
    at_least: float | None = None
    warnings: list[Notice] = field(default_factory=list)

    def warn(self, code: str, message: str) -> None:
        """Say something that must be known about the result."""
        self.warnings.append(Notice(code=code, message=message))


def sample_summary(inputs: SummaryInput) -> SummaryResult:
    """Mean, spread, interval of the mean, tolerance bounds and an outlier flag.

    Raises
    ------
    Problem
        When there is nothing to sum up, or prints are not given for each value.
    """
    _check(inputs)
    names: list[Hashable] = [*(inputs.print or []), *(inputs.unbroken_print or [])]
    prints = len(set(names)) if inputs.print is not None else None
    if not inputs.values:
        summary = _none_broke(inputs.unbroken)
    elif inputs.unbroken:
        summary = _censored(inputs.values, inputs.unbroken, are_independent=prints is None or prints in (1, len(names)))
    else:
        summary = _all_measured(inputs)
    summary.prints = prints
    if prints == 1:
        _one_print(summary)
    return _result(summary)


def _check(inputs: SummaryInput) -> None:
    for name, values in (("values", inputs.values), ("unbroken", inputs.unbroken)):
        wrong = next((i for i, value in enumerate(values) if value < 0), None) if inputs.positive else None
        if wrong is not None:
            message = f"{values[wrong]:g} cannot be: it is said to be above 0 always. Is the sign right?"
            raise Problem(message, {f"{name}.{wrong}": message})
    if not inputs.values and not inputs.unbroken:
        raise Problem("There is nothing to sum up.", {"values": "The list is empty: give at least one."})
    if inputs.print is None and inputs.unbroken_print is None:
        return
    for name, prints, values in (
        ("print", inputs.print, inputs.values),
        ("unbroken_print", inputs.unbroken_print, inputs.unbroken),
    ):
        if len(prints or []) != len(values):
            message = f"{len(prints or [])} prints for {len(values)} values: give the print of each."
            raise Problem(message, {name: message})


def _all_measured(inputs: SummaryInput) -> _Summary:
    values = inputs.values
    n, mean = len(values), math.fsum(values) / len(values)
    summary = _Summary(n=n, mean=mean)
    if n == 1:
        summary.warn("single", f"One specimen: no spread, no interval, no bound. Two give a spread, {LEAST_N} a bound.")
        return summary
    sd = math.sqrt(math.fsum((v - mean) ** 2 for v in values) / (n - 1))
    summary.sd = 0.0 if sd <= 1e-12 * max(abs(mean), 1e-300) else sd
    if n < LEAST_N:
        summary.warn("too-few", f"{n} specimens: a tolerance bound needs at least {LEAST_N}.")
    if summary.sd == 0:
        summary.warn(
            "no-spread",
            "All values are the same: they bound nothing. Was the reading coarse? Read finer, or take more specimens.",
        )
        return summary
    if inputs.print is None or len(set(inputs.print)) == 1:
        _as_one_print(summary, values)
    else:
        _over_prints(summary, values, inputs.print, inputs.print_spread)
    summary.outlier = stands_apart(values)
    # Two bad parts hide each other from a test for one.
    apart = all_apart(values) or [i for i in [summary.outlier] if i is not None]
    if apart:
        _tell_outliers(summary, inputs, apart)
    if inputs.positive:
        _not_below_zero(summary)
    return summary


def _as_one_print(summary: _Summary, values: list[float]) -> None:
    """Every specimen for itself, as a textbook has it."""
    mean, sd = summary.mean or 0.0, summary.sd or 0.0
    half = float(stdtrit(summary.n - 1, 0.975)) * sd / math.sqrt(summary.n)
    summary.mean_ci = (mean - half, mean + half)
    if summary.n < LEAST_N:
        return
    summary.factor = tolerance_factor(summary.n)
    summary.tolerance = (mean - summary.factor * sd, mean + summary.factor * sd)
    summary.distributions = bounds_by_distribution(np.array(values))
    low, high = careful(summary.distributions)
    summary.bounds, summary.bounds_by = (low.lower, high.upper), (low.distribution, high.distribution)


def _over_prints(summary: _Summary, values: list[float], prints: list[str], earlier: PrintSpread | None) -> None:
    """Prints as a random effect: each print's mean counts as one."""
    sample = by_print(values, prints)
    summary.mean, summary.sd, summary.mean_ci = sample.mean, total_sd(sample, earlier), mean_interval(sample, earlier)
    summary.tolerance = tolerance_bounds(sample, earlier)
    if summary.tolerance is None:
        summary.warn(
            "few-prints",
            f"{sample.count} prints: a bound for parts of other prints takes {BOUND_PRINTS}, "
            "or a spread from print to print that is known from earlier tests.",
        )
        return
    summary.distributions = bounds_by_distribution(np.array(values))
    summary.bounds, summary.bounds_by = summary.tolerance, ("normal", "normal")
    in_question = {one.distribution for one in summary.distributions if one.in_question}
    if "lognormal" not in in_question:
        return
    # A share of the mean is a step of the logarithm.
    in_logs = earlier and earlier.model_copy(update={"sd": earlier.sd / abs(sample.mean)})
    logs = tolerance_bounds(by_print([math.log(value) for value in values], prints), in_logs)
    if logs is None:
        return
    low, high = (math.exp(min(end, 700.0)) for end in logs)
    is_normal = "normal" in in_question
    by_normal = (is_normal and summary.tolerance[0] < low, is_normal and summary.tolerance[1] > high)
    summary.bounds = (summary.tolerance[0] if by_normal[0] else low, summary.tolerance[1] if by_normal[1] else high)
    summary.bounds_by = ("normal" if by_normal[0] else "lognormal", "normal" if by_normal[1] else "lognormal")


def _tell_outliers(summary: _Summary, inputs: SummaryInput, apart: list[int]) -> None:
    """Both answers, with and without; nothing is left out by itself."""
    values = inputs.values
    kept = [i for i in range(len(values)) if i not in apart]
    rest = inputs.model_copy(
        update={
            "values": [values[i] for i in kept],
            "print": None if inputs.print is None else [inputs.print[i] for i in kept],
        }
    )
    named = ", ".join(f"{values[i]:.4g}" for i in apart)
    verb = "stands" if len(apart) == 1 else "stand"
    summary.warn(
        "outlier",
        f"{named} {verb} apart from the others (5 %). It is kept, and both answers are given: look for a reason.",
    )
    if len(kept) < LEAST_N:
        return
    without = _Summary(n=len(kept), mean=math.fsum(rest.values) / len(kept))
    without.sd = float(np.std(rest.values, ddof=1))
    if without.sd == 0:
        return
    if rest.print is not None and len(set(rest.print)) > 1:
        _over_prints(without, rest.values, rest.print, rest.print_spread)
    else:
        _as_one_print(without, rest.values)
    bounds = without.bounds or (None, None)
    summary.without = WithoutOutliers(
        n=without.n, mean=without.mean or 0.0, sd=without.sd or 0.0, bound_lower=bounds[0], bound_upper=bounds[1]
    )


def _not_below_zero(summary: _Summary) -> None:
    """What can only be positive has no bound below 0: it says nothing then."""
    if summary.bounds is not None and summary.bounds[0] < 0:
        summary.bounds = (0.0, summary.bounds[1])
        summary.warn("bound-at-zero", "The scatter is so wide that the lower bound is 0: it shows nothing.")


def _none_broke(unbroken: list[float]) -> _Summary:
    n, least = len(unbroken), min(unbroken)
    proportion = (1 - CONFIDENCE) ** (1 / n)
    summary = _Summary(n=n, n_unbroken=n, reliability=proportion, at_least=least)
    summary.warn(
        "none-broke",
        f"None of {n} broke: at least {100 * proportion:.0f} % of parts survive {least:g}, with 95 % confidence. No mean is known: it takes two that break.",
    )
    return summary


def _censored(values: list[float], unbroken: list[float], are_independent: bool) -> _Summary:
    n = len(values) + len(unbroken)
    summary = _Summary(n=n, n_unbroken=len(unbroken))
    if len(set(values)) < 2:
        summary.warn(
            "too-few",
            "Only one breaking load is known beside those that did not break: the mean cannot be told. It takes two that break.",
        )
        return summary
    fit = fit_censored(values, unbroken)
    summary.mean, summary.sd = fit.mean, fit.sd
    summary.warn(
        "unbroken",
        f"{len(unbroken)} of {n} did not break: mean and spread lean on the normal distribution, and no bound is given.",
    )
    if not are_independent:
        summary.warn(
            "unbroken-prints",
            "Specimens of one print are alike, and some did not break: how sure the mean is cannot be told. Take them further.",
        )
    elif fit.low is not None and fit.high is not None:
        summary.mean_ci = (fit.low, fit.high)
    elif fit.low is not None:
        summary.warn("open-above", f"So few broke that the mean has no upper end: it is {fit.low:.4g} at least.")
    return summary


def _one_print(summary: _Summary) -> None:
    summary.warn(
        "one-print",
        f"All {summary.n} came out of one print: this speaks of that print. Parts of another may differ; "
        f"{MEAN_PRINTS} prints tell of the mean, {BOUND_PRINTS} of a bound.",
    )


def _result(summary: _Summary) -> SummaryResult:
    tolerance = summary.tolerance or (None, None)
    bounds = summary.bounds or (None, None)
    return SummaryResult(
        n=summary.n,
        n_unbroken=summary.n_unbroken,
        mean=summary.mean,
        sd=summary.sd,
        cv_pct=100 * summary.sd / abs(summary.mean) if summary.mean and summary.sd is not None else None,
        mean_ci=summary.mean_ci,
        tolerance_factor=summary.factor,
        tolerance_lower=tolerance[0],
        tolerance_upper=tolerance[1],
        bound_lower=bounds[0],
        bound_upper=bounds[1],
        bound_lower_by=summary.bounds_by[0] if summary.bounds_by else None,
        bound_upper_by=summary.bounds_by[1] if summary.bounds_by else None,
        distributions=summary.distributions,
        outlier_index=summary.outlier,
        without_outliers=summary.without,
        prints=summary.prints,
        about="this print" if summary.prints == 1 else "parts",
        reliability_shown=summary.reliability,
        at_least=summary.at_least,
        warnings=summary.warnings,
    )
