"""A straight line by least squares, with what it does not know."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from scipy.special import stdtrit


@dataclass(frozen=True)
class Place:
    """Where a line meets a value, with its standard error, 95 % interval, and one-sided 80 % limit; None without residual degrees."""

    x: float
    se: float | None = None
    interval: tuple[float, float] | None = None
    safe_x: float | None = None


@dataclass(frozen=True)
class Line:
    """Ordinary least squares of y on x."""

    mean_x: float
    mean_y: float
    slope: float
    spread_x: float
    variance: float | None
    degrees: int
    n: int

    def at(self, x: float) -> float:
        """The mean at x."""
        return self.mean_y + self.slope * (x - self.mean_x)

    def interval_at(self, x: float) -> tuple[float, float] | None:
        """The 95 % interval of the mean at x; None with fewer than three points."""
        if self.variance is None:
            return None
        se = math.sqrt(self.variance * (1 / self.n + (x - self.mean_x) ** 2 / self.spread_x))
        half_width = float(stdtrit(self.degrees, 0.975)) * se
        return (self.at(x) - half_width, self.at(x) + half_width)

    def place_of(self, y: float, extra_sd: float, side: int) -> Place:
        """Where the line meets ``y``; the limit lies on ``side``, +1 above and -1 below."""
        x = self.mean_x + (y - self.mean_y) / self.slope
        if self.variance is None:
            return Place(x)
        variance = self.variance * (1 / self.n + (x - self.mean_x) ** 2 / self.spread_x) + extra_sd**2
        se = math.sqrt(variance) / abs(self.slope)
        half_width = float(stdtrit(self.degrees, 0.975)) * se
        return Place(x, se, (x - half_width, x + half_width), x + side * float(stdtrit(self.degrees, 0.8)) * se)

    def half_slope(self) -> float:
        """Half the 95 % interval of the slope; 0 where nothing is left over to judge it by."""
        if self.variance is None:
            return 0.0
        return float(stdtrit(self.degrees, 0.975)) * math.sqrt(self.variance / self.spread_x)

    @property
    def told_from_flat(self) -> bool:
        """Whether the 95 % interval of the slope leaves out zero."""
        return self.variance is None or abs(self.slope) > self.half_slope()


def fit_line(xs: Sequence[float], ys: Sequence[float]) -> Line:
    """Fit y on x; two distinct x leave no uncertainty to be judged, so the variance is None."""
    from scipy.stats import linregress

    n = len(xs)
    mean_x, mean_y = math.fsum(xs) / n, math.fsum(ys) / n
    spread = math.fsum((x - mean_x) ** 2 for x in xs)
    fit = linregress(xs, ys)
    variance = float(fit.stderr) ** 2 * spread if len(set(xs)) > 2 else None
    return Line(mean_x, mean_y, float(fit.slope), spread, variance, n - 2, n)
