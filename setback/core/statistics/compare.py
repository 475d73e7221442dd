"""Two groups, or several against one baseline: how much better, and whether that is shown.

Methods: Welch's unequal-variance t (B. L. Welch, Biometrika 34 (1947) 28-35); Hedges' g (L. V. Hedges, Journal of
Educational Statistics 6 (1981) 107-128); several candidates by Holm's step-down (S. Holm, Scandinavian Journal of
Statistics 6 (1979) 65-70). The interval of the change in percent is that of the logarithm of the ratio of means.
"""

from __future__ import annotations

import math
import warnings
from typing import Annotated

from pydantic import Field
from scipy.special import stdtrit

from ..contract import Contract, Interval, Notice, Problem
from .sample_size import per_group

FEW = 5
SIGNIFICANT = 0.05
MOST_MORE = 100

Sample = Annotated[list[Annotated[float, Field(ge=-1e12, le=1e12)]], Field(min_length=2, max_length=1000)]


class Candidate(Contract):
    """One group of values with its name."""

    name: str = Field(min_length=1, max_length=120)
    values: Sample


class CompareInput(Contract):
    """A reference and one candidate or several to hold against it."""

    baseline: Sample
    candidate: Sample | None = None
    candidates: list[Candidate] | None = Field(None, min_length=1, max_length=50)


class Difference(Contract):
    """How a candidate differs from the reference, with the 95 % interval and its p-value."""

    name: str | None
    difference: float
    difference_ci: Interval
    change_pct: float | None
    change_ci_pct: Interval | None
    p_value: float
    p_holm: float
    shown: bool = Field(description="By the interval alone, or by Holm when several are compared")
    hedges_g: float | None
    more_needed: int | None = Field(
        description="Specimens more in each group that would settle a difference of this size"
    )


class CompareResult(Contract):
    """Differences of all candidates, corrected for their number."""

    difference: float | None = None
    difference_ci: Interval | None = None
    change_pct: float | None = None
    change_ci_pct: Interval | None = None
    p_value: float | None = None
    hedges_g: float | None = None
    candidates: list[Difference]
    warnings: list[Notice]


def compare(inputs: CompareInput) -> CompareResult:
    """Differences from the baseline with their intervals.

    Raises
    ------
    Problem
        When no candidate is given, both forms are used, or no group has any spread.
    """
    if (inputs.candidate is None) == (inputs.candidates is None):
        raise Problem("Nothing to compare.", {"candidate": "Give one candidate, or several under candidates."})
    named: list[tuple[str | None, list[float]]] = [(c.name, c.values) for c in inputs.candidates or []]
    if inputs.candidate is not None:
        named = [(None, inputs.candidate)]
    raw = [_welch(inputs.baseline, values, name, place) for place, (name, values) in _placed(named)]
    differences = []
    for result, (_, values), p in zip(raw, named, holm([r.p_value for r in raw]), strict=True):
        significant = p < SIGNIFICANT
        more = None if significant else _more(inputs.baseline, values, result.hedges_g)
        differences.append(result.model_copy(update={"p_holm": p, "shown": significant, "more_needed": more}))
    least = min(len(inputs.baseline), *(len(values) for _, values in named))
    notices = []
    if least < FEW:
        message = f"The smallest group has {least} specimens: the spread itself is hardly known."
        notices.append(Notice(code="few", message=message))
    if inputs.candidates is not None:
        return CompareResult(candidates=differences, warnings=notices)
    result = differences[0]
    return CompareResult(
        difference=result.difference,
        difference_ci=result.difference_ci,
        change_pct=result.change_pct,
        change_ci_pct=result.change_ci_pct,
        p_value=result.p_value,
        hedges_g=result.hedges_g,
        candidates=differences,
        warnings=notices,
    )


def _placed(named: list[tuple[str | None, list[float]]]) -> list[tuple[str, tuple[str | None, list[float]]]]:
    return [(f"candidates.{i}.values" if n[0] is not None else "candidate", n) for i, n in enumerate(named)]


def _moments(values: list[float]) -> tuple[int, float, float]:
    n, mean = len(values), math.fsum(values) / len(values)
    return n, mean, math.fsum((v - mean) ** 2 for v in values) / (n - 1)


def _welch(baseline: list[float], candidate: list[float], name: str | None, place: str) -> Difference:
    from scipy.stats import ttest_ind

    n1, m1, v1 = _moments(baseline)
    n2, m2, v2 = _moments(candidate)
    if v1 / n1 + v2 / n2 <= 1e-24 * max(m1 * m1, m2 * m2, 1e-300):
        raise Problem(
            "Neither group has any spread.", {place: "All values of both groups are the same: nothing can be told."}
        )
    with warnings.catch_warnings():
        # One group may be all alike: the other's spread is enough.
        warnings.simplefilter("ignore", RuntimeWarning)
        test = ttest_ind(candidate, baseline, equal_var=False)
    interval = test.confidence_interval(0.95)
    difference, p = m2 - m1, float(test.pvalue)
    pooled = math.sqrt(((n1 - 1) * v1 + (n2 - 1) * v2) / (n1 + n2 - 2))
    change, change_ci = None, None
    if m1 > 0 and m2 > 0:
        change = 100 * (m2 / m1 - 1)
        ra, rb = v1 / n1 / m1**2, v2 / n2 / m2**2
        wide = float(stdtrit(_satterthwaite(ra, n1, rb, n2), 0.975)) * math.sqrt(ra + rb)
        change_ci = (100 * (m2 / m1 * math.exp(-wide) - 1), 100 * (m2 / m1 * math.exp(min(wide, 50)) - 1))
    return Difference(
        name=name,
        difference=difference,
        difference_ci=(float(interval.low), float(interval.high)),
        change_pct=change,
        change_ci_pct=change_ci,
        p_value=p,
        p_holm=p,
        shown=p < SIGNIFICANT,
        hedges_g=difference / pooled * (1 - 3 / (4 * (n1 + n2 - 2) - 1)) if pooled > 0 else None,
        more_needed=None,
    )


def _satterthwaite(a: float, n1: int, b: float, n2: int) -> float:
    a, b = a / (a + b), b / (a + b)
    return 1 / (a * a / (n1 - 1) + b * b / (n2 - 1))


def holm(p_values: list[float]) -> list[float]:
    """Step-down adjusted p-values, in the order given."""
    order, adjusted, worst = sorted(range(len(p_values)), key=p_values.__getitem__), [0.0] * len(p_values), 0.0
    for rank, i in enumerate(order):
        worst = max(worst, min(1.0, (len(p_values) - rank) * p_values[i]))
        adjusted[i] = worst
    return adjusted


def _more(baseline: list[float], candidate: list[float], g: float | None) -> int | None:
    if not g:
        return None
    n = per_group(abs(g), 0.8, most=MOST_MORE + max(len(baseline), len(candidate)))
    least = min(len(baseline), len(candidate))
    return None if n is None or n - least > MOST_MORE else max(n - least, 1)
