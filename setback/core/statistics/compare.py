"""Two groups, or several against one baseline: how much better, and whether that is shown.

Methods: Welch's unequal-variance t (B. L. Welch, Biometrika 34 (1947) 28-35); Hedges' g (L. V. Hedges, Journal of
Educational Statistics 6 (1981) 107-128); several candidates by Holm's step-down (S. Holm, Scandinavian Journal of
Statistics 6 (1979) 65-70). The interval of the change in percent is that of the logarithm of the ratio of means. Where the
prints are known they are a random effect: each print's mean counts as one value, and the spread between prints is pooled over
all groups (:mod:`.prints`). With one print in each group nothing is shown of the materials.
"""

from __future__ import annotations

import math
import warnings
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field
from scipy.special import stdtr, stdtrit

from ..contract import Contract, Interval, Notice, Problem
from .prints import MEAN_PRINTS, ByPrint, PrintSpread, by_print, difference, pooled_between, total_sd
from .sample_size import per_group

FEW = 5
SIGNIFICANT = 0.05
MOST_MORE = 100

Sample = Annotated[list[Annotated[float, Field(ge=-1e12, le=1e12)]], Field(min_length=2, max_length=1000)]


Prints = Annotated[list[Annotated[str, Field(min_length=1, max_length=60)]], Field(max_length=1000)]


class Candidate(Contract):
    """One group of values with its name, and the print of each."""

    name: str = Field(min_length=1, max_length=120)
    values: Sample
    print: Prints | None = None


class CompareInput(Contract):
    """A reference and one candidate or several to hold against it.

    Where prints are given for some groups and not for others, each specimen of the others counts for itself: what was bought
    in has no print.
    """

    baseline: Sample
    baseline_print: Prints | None = Field(None, description="The print of each value, in their order")
    candidate: Sample | None = None
    candidate_print: Prints | None = None
    candidates: list[Candidate] | None = Field(None, min_length=1, max_length=50)
    print_spread: PrintSpread | None = Field(None, description="Spread from print to print that is known already")


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
    more_prints_needed: int | None = Field(
        None, description="Where prints are known: prints more of each group that would settle it"
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
    about: Literal["parts", "these prints"] = Field(
        "parts", description="One print of each group: what differs may be the print"
    )
    warnings: list[Notice]


def compare(inputs: CompareInput) -> CompareResult:
    """Differences from the baseline with their intervals.

    Raises
    ------
    Problem
        When no candidate is given, both forms are used, or no group has any spread.
    """
    groups = _groups(inputs)
    has_prints = any(group.prints is not None for group in groups)
    one_print = has_prints and _least_prints(groups) < MEAN_PRINTS
    raw = _by_print(groups, inputs.print_spread) if has_prints and not one_print else _each(groups)
    differences = []
    for result, group, p in zip(raw, groups[1:], holm([r.p_value for r in raw]), strict=True):
        significant = p < SIGNIFICANT and not one_print
        changes: dict[str, object] = {"p_holm": p, "shown": significant}
        if not significant and not one_print:
            changes |= _wanting(groups[0], group, result)
        differences.append(result.model_copy(update=changes))
    notices = _notices(groups, one_print)
    about: Literal["parts", "these prints"] = "these prints" if one_print else "parts"
    if inputs.candidates is not None:
        return CompareResult(candidates=differences, about=about, warnings=notices)
    result = differences[0]
    return CompareResult(
        difference=result.difference,
        difference_ci=result.difference_ci,
        change_pct=result.change_pct,
        change_ci_pct=result.change_ci_pct,
        p_value=result.p_value,
        hedges_g=result.hedges_g,
        candidates=differences,
        about=about,
        warnings=notices,
    )


@dataclass(frozen=True)
class _Group:
    """One group: its name, the field it came in by, its values and their prints."""

    name: str | None
    place: str
    values: list[float]
    prints: list[str] | None

    @property
    def is_alone(self) -> bool:
        """Whether each specimen counts for itself."""
        return self.prints is None

    @property
    def sample(self) -> ByPrint:
        """Sorted by print."""
        return by_print(self.values, range(len(self.values)) if self.prints is None else self.prints)


def _groups(inputs: CompareInput) -> list[_Group]:
    """The baseline first."""
    if (inputs.candidate is None) == (inputs.candidates is None):
        raise Problem("Nothing to compare.", {"candidate": "Give one candidate, or several under candidates."})
    groups = [_Group(None, "baseline", inputs.baseline, inputs.baseline_print)]
    if inputs.candidate is not None:
        groups.append(_Group(None, "candidate", inputs.candidate, inputs.candidate_print))
    for i, one in enumerate(inputs.candidates or []):
        groups.append(_Group(one.name, f"candidates.{i}.values", one.values, one.print))
    problems = {}
    for group in groups:
        if group.prints is not None and len(group.prints) != len(group.values):
            problems[group.place] = (
                f"{len(group.prints)} prints for {len(group.values)} values: give the print of each."
            )
    if problems:
        raise Problem("The prints do not match the values.", problems)
    return groups


def _least_prints(groups: list[_Group]) -> int:
    return min(len(set(group.prints)) for group in groups if group.prints is not None)


def _notices(groups: list[_Group], one_print: bool) -> list[Notice]:
    notices = []
    least = min(len(group.values) for group in groups)
    if least < FEW:
        message = f"The smallest group has {least} specimens: the spread itself is hardly known."
        notices.append(Notice(code="few", message=message))
    alone = [group for group in groups if group.is_alone]
    if alone and len(alone) < len(groups) and not one_print:
        names = ", ".join(group.name or group.place for group in alone)
        message = f"{names}: no prints are given, so each specimen counts for itself."
        notices.append(Notice(code="no-prints", message=message))
    if one_print:
        message = (
            "A group came out of one print: what differs may be the print and not the material. "
            f"{MEAN_PRINTS} prints of each tell them apart."
        )
        notices.append(Notice(code="one-print", message=message))
    return notices


def _each(groups: list[_Group]) -> list[Difference]:
    """Every specimen for itself."""
    return [_welch(groups[0].values, group.values, group.name, group.place) for group in groups[1:]]


def _by_print(groups: list[_Group], earlier: PrintSpread | None) -> list[Difference]:
    """Each print's mean for itself, with the spread between prints of all groups together."""
    samples = [group.sample for group in groups]
    between = pooled_between([s for s, group in zip(samples, groups, strict=True) if not group.is_alone], earlier)
    spreads = between[0] + sum(s.between for s, group in zip(samples, groups, strict=True) if group.is_alone)
    if spreads <= 1e-24 * max(max(abs(s.mean) for s in samples) ** 2, 1e-300):
        message = "All prints of all groups have the same mean: nothing can be told."
        raise Problem("The prints have no spread.", {groups[1].place: message})
    return [
        _of_prints(samples[0], sample, between, (groups[0].is_alone, group.is_alone), group.name)
        for sample, group in zip(samples[1:], groups[1:], strict=True)
    ]


def _of_prints(
    first: ByPrint, other: ByPrint, between: tuple[float, float], alone: tuple[bool, bool], name: str | None
) -> Difference:
    gap = difference(first, other, between, alone)
    if not gap.se:
        message = "All values of both groups are the same: nothing can be told."
        raise Problem("Neither group has any spread.", {"candidates": message})
    t = gap.difference / gap.se
    reach = float(stdtrit(gap.degrees, 0.975))
    change, change_ci = None, None
    if first.mean > 0 and other.mean > 0:
        ratio = other.mean / first.mean
        wide = reach * math.hypot(gap.se_first / first.mean, gap.se_other / other.mean)
        change = 100 * (ratio - 1)
        change_ci = (100 * (ratio * math.exp(-wide) - 1), 100 * (ratio * math.exp(min(wide, 50)) - 1))
    sds = [sd for sd in (total_sd(first), total_sd(other)) if sd]
    sd = math.sqrt(sum(one * one for one in sds) / len(sds)) if sds else 0.0
    p = 2 * float(stdtr(gap.degrees, -abs(t)))
    return Difference(
        name=name,
        difference=gap.difference,
        difference_ci=(gap.difference - reach * gap.se, gap.difference + reach * gap.se),
        change_pct=change,
        change_ci_pct=change_ci,
        p_value=p,
        p_holm=p,
        shown=p < SIGNIFICANT,
        hedges_g=gap.difference / sd if sd > 0 else None,
        more_needed=None,
    )


def _wanting(baseline: _Group, group: _Group, result: Difference) -> dict[str, object]:
    """How many specimens, or prints, more would settle a difference of this size."""
    if group.prints is None or baseline.prints is None:
        return (
            {}
            if group.prints or baseline.prints
            else {"more_needed": _more(baseline.values, group.values, result.hedges_g)}
        )
    first, other = baseline.sample, group.sample
    spread, degrees = pooled_between([first, other])
    if not spread:
        return {}
    apart = abs(result.difference) / math.sqrt(spread / degrees)
    fewest = min(first.count, other.count)
    wanted = per_group(apart, 0.8, most=MOST_MORE + fewest) if apart else None
    return {"more_prints_needed": None if wanted is None else max(wanted - fewest, 1)}


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
