"""Specimens of one print are alike: prints as a random effect.

Between prints stands a spread of its own, so that a mean is as sure as the number of prints makes it, not the number of
specimens. The interval of the mean is Student's t on the prints' means, exact where each print has as many specimens (H.
Scheffé, The Analysis of Variance (1959), ch. 7). Bounds for parts of other prints come from generalised pivotal quantities
of the one-way random model (K. Krishnamoorthy and T. Mathew, Statistical Tolerance Regions (2009), ch. 5; unequal numbers by
their harmonic mean), from draws that are the same at every call. A spread between prints known from elsewhere, such as
a method's own history, adds its degrees of freedom.
"""

from __future__ import annotations

import math
from collections.abc import Hashable, Sequence
from dataclasses import dataclass
from functools import lru_cache, reduce
from typing import Annotated, Any

import numpy as np
from pydantic import Field
from scipy.optimize import brentq
from scipy.special import ndtri, stdtrit

from ..contract import Contract, Interval
from .tolerance import CONFIDENCE, SHARE

MEAN_PRINTS = 2
BOUND_PRINTS = 4
POOLED_DEGREES = 6
DRAWS = 20_000

Array = np.ndarray[Any, np.dtype[np.float64]]


class PrintSpread(Contract):
    """A spread from print to print that is known already, such as that of all tests by one method."""

    sd: Annotated[float, Field(ge=0, le=1e12)] = Field(
        description="Standard deviation between prints, in the values' unit"
    )
    degrees: Annotated[float, Field(gt=0, le=1e6)] = Field(description="Degrees of freedom it rests on")


@dataclass(frozen=True)
class ByPrint:
    """Values sorted by the print they came out of.

    ``sizes`` and ``means`` are those of the prints; ``within`` is the sum of squares about the prints' own means with
    ``within_degrees``; ``alike`` is the harmonic mean of the sizes.
    """

    means: Array
    sizes: Array
    within: float
    within_degrees: int

    @property
    def count(self) -> int:
        """How many prints."""
        return len(self.means)

    @property
    def alike(self) -> float:
        """Specimens of a print, as far as one number says it."""
        return float(self.count / (1 / self.sizes).sum())

    @property
    def mean(self) -> float:
        """Each print counts as one."""
        return float(self.means.mean())

    @property
    def between(self) -> float:
        """Sum of squares of the prints' means about theirs."""
        return float(((self.means - self.means.mean()) ** 2).sum())


def by_print(values: Sequence[float], prints: Sequence[Hashable]) -> ByPrint:
    """Sort values by their prints; both are of one length."""
    groups: dict[Hashable, list[float]] = {}
    for value, print_of_it in zip(values, prints, strict=True):
        groups.setdefault(print_of_it, []).append(value)
    arrays = [np.array(group) for group in groups.values()]
    return ByPrint(
        means=np.array([group.mean() for group in arrays]),
        sizes=np.array([len(group) for group in arrays], dtype=float),
        within=float(sum(((group - group.mean()) ** 2).sum() for group in arrays)),
        within_degrees=sum(len(group) - 1 for group in arrays),
    )


def total_sd(sample: ByPrint, earlier: PrintSpread | None = None) -> float | None:
    """Standard deviation of a part of any print: within and between prints together; None where neither is known."""
    within = sample.within / sample.within_degrees if sample.within_degrees else 0.0
    between, degrees = _between(sample, earlier)
    if degrees == 0:
        return None
    return math.sqrt(between / degrees + (1 - 1 / sample.alike) * within)


def mean_interval(sample: ByPrint, earlier: PrintSpread | None = None) -> Interval | None:
    """95 % interval of the mean over prints; None from one print of which nothing else is known."""
    between, degrees = _between(sample, earlier)
    if degrees == 0 or sample.count < MEAN_PRINTS:
        return None
    half = float(stdtrit(degrees, 0.975)) * math.sqrt(between / degrees / sample.count)
    return sample.mean - half, sample.mean + half


def tolerance_bounds(sample: ByPrint, earlier: PrintSpread | None = None) -> Interval | None:
    """Bounds for parts of other prints: 90 % of them with 95 % confidence, each on its own side.

    None from fewer than four prints, unless the spread between prints is known with six degrees of freedom or more; and
    never from one print.
    """
    is_known = earlier is not None and earlier.degrees >= POOLED_DEGREES
    if sample.count < (MEAN_PRINTS if is_known else BOUND_PRINTS):
        return None
    between, degrees = _between(sample, earlier if is_known else None)
    normal, chance_between, chance_within = _draws(degrees, sample.within_degrees)
    variance = between / chance_between
    if sample.within_degrees:
        within = (1 - 1 / sample.alike) * sample.within / chance_within
    else:
        within = np.zeros_like(variance)
    off = normal * np.sqrt(variance / sample.count)
    reach = float(ndtri(SHARE)) * np.sqrt(variance + within)
    return (
        float(np.quantile(sample.mean + off - reach, 1 - CONFIDENCE)),
        float(np.quantile(sample.mean + off + reach, CONFIDENCE)),
    )


def _between(sample: ByPrint, earlier: PrintSpread | None) -> tuple[float, float]:
    """Sum of squares of the prints' means and its degrees of freedom; a spread known from elsewhere is added to it."""
    if earlier is None:
        return sample.between, sample.count - 1
    within = sample.within / sample.within_degrees if sample.within_degrees else 0.0
    expected = earlier.sd**2 + within / sample.alike
    return sample.between + earlier.degrees * expected, sample.count - 1 + earlier.degrees


@lru_cache(maxsize=64)
def _draws(between: float, within: float) -> tuple[Array, Array, Array]:
    source = np.random.default_rng(1)
    return (
        source.standard_normal(DRAWS),
        source.chisquare(between, DRAWS),
        source.chisquare(within, DRAWS) if within else np.ones(DRAWS),
    )


@dataclass(frozen=True)
class RelativeSpread:
    """How far prints of a method differ, as a share of the mean, from many groups together.

    ``between`` is the sum of squares of prints' means about their group's, each divided by the group's mean, with
    ``degrees``; ``within`` and ``within_degrees`` likewise of specimens about their print's mean; ``alike`` is the number of
    specimens of a print, weighted by degrees.
    """

    between: float = 0.0
    degrees: float = 0.0
    within: float = 0.0
    within_degrees: float = 0.0
    alike: float = 0.0

    def without(self, other: RelativeSpread) -> RelativeSpread:
        """The same without a group that is in it."""
        return _together(self, other, -1.0)

    def of(self, mean: float) -> PrintSpread | None:
        """The spread from print to print of a material with this mean; None where nothing is known."""
        if self.degrees < 1 or not mean:
            return None
        of_mean = self.within / self.within_degrees / (self.alike / self.degrees) if self.within_degrees else 0.0
        return PrintSpread(
            sd=abs(mean) * math.sqrt(max(self.between / self.degrees - of_mean, 0.0)), degrees=self.degrees
        )


def seen_difference_pct(
    spread: RelativeSpread, prints: int, each: int, groups: int, power: float = 0.8
) -> float | None:
    """The least difference, percent of the mean, that a plan sees with this power where prints differ as they did before.

    Parameters
    ----------
    spread : RelativeSpread
        What earlier tests tell; None is answered where they tell nothing.
    prints, each, groups : int
        Prints and specimens of each group, and how many groups there are.
    """
    between = spread.of(1.0)
    if between is None or not spread.within_degrees:
        return None
    of_mean = between.sd**2 / prints + spread.within / spread.within_degrees / each
    degrees = between.degrees + groups * (prints - 1)
    reach = float(stdtrit(degrees, 0.975)) + float(stdtrit(degrees, power))
    return 100 * reach * math.sqrt(2 * of_mean)


def relative_spread(sample: ByPrint) -> RelativeSpread:
    """What one group tells of the spread from print to print; nothing from one print, or about a mean of 0."""
    if sample.count < MEAN_PRINTS or not sample.mean:
        return RelativeSpread()
    square = sample.mean**2
    degrees = sample.count - 1
    return RelativeSpread(
        between=sample.between / square,
        degrees=degrees,
        within=sample.within / square,
        within_degrees=sample.within_degrees,
        alike=sample.alike * degrees,
    )


def pooled_spread(spreads: Sequence[RelativeSpread]) -> RelativeSpread:
    """Many groups together."""
    return reduce(lambda total, one: _together(total, one, 1.0), spreads, RelativeSpread())


def _together(first: RelativeSpread, other: RelativeSpread, sign: float) -> RelativeSpread:
    return RelativeSpread(
        **{name: max(value + sign * getattr(other, name), 0.0) for name, value in vars(first).items()}
    )


@dataclass(frozen=True)
class PrintDifference:
    """Two groups apart, by the means of their prints."""

    difference: float
    se_first: float
    se_other: float
    degrees: float

    @property
    def se(self) -> float:
        """Standard error of the difference."""
        return math.hypot(self.se_first, self.se_other)


def difference(
    first: ByPrint, other: ByPrint, spread: tuple[float, float], alone: tuple[bool, bool] = (False, False)
) -> PrintDifference:
    """How far the second group's mean is from the first's.

    Parameters
    ----------
    spread : tuple of float
        Sum of squares and degrees of freedom between prints, pooled over all printed groups that are compared
        (:func:`pooled_between`).
    alone : tuple of bool
        Whether each group's specimens are no prints of ours, such as a sheet that was bought: each specimen counts as
        one, with a spread of its own. The limit of t is then that of Cochran and Cox (Experimental Designs (1957), p. 101), the
        average of both groups' weighted by their variances: with two prints Satterthwaite's shows 7 % false differences.
    """
    parts = [_of_mean(sample, spread, is_alone) for sample, is_alone in zip((first, other), alone, strict=True)]
    degrees = _cochran_cox(parts) if any(alone) else spread[1]
    se_first, se_other = (math.sqrt(part) for part, _ in parts)
    return PrintDifference(difference=other.mean - first.mean, se_first=se_first, se_other=se_other, degrees=degrees)


def _cochran_cox(parts: Sequence[tuple[float, float]]) -> float:
    """Degrees of freedom whose t at 95 % is the average of both parts', weighted by their variances."""
    low, high = sorted(degrees for _, degrees in parts)
    variance = math.fsum(part for part, _ in parts)
    if not variance or low == high:
        return low
    limit = math.fsum(part * float(stdtrit(degrees, 0.975)) for part, degrees in parts) / variance
    return float(brentq(lambda degrees: float(stdtrit(degrees, 0.975)) - limit, low, high))


def _of_mean(sample: ByPrint, spread: tuple[float, float], is_alone: bool) -> tuple[float, float]:
    """Variance of a group's mean and its degrees of freedom."""
    total, degrees = (sample.between, float(sample.count - 1)) if is_alone else spread
    return total / degrees / sample.count, degrees


def pooled_between(samples: Sequence[ByPrint], earlier: PrintSpread | None = None) -> tuple[float, float]:
    """Spread between prints of all groups together: a test's groups are printed alike, and few prints alone tell little."""
    parts = [_between(sample, None) for sample in samples]
    total, degrees = sum(part[0] for part in parts), float(sum(part[1] for part in parts))
    if earlier is None:
        return total, degrees
    within = sum(s.within for s in samples) / max(sum(s.within_degrees for s in samples), 1)
    alike = float(np.mean([s.alike for s in samples]))
    return total + earlier.degrees * (earlier.sd**2 + within / alike), degrees + earlier.degrees
