"""Control chart of check coupons: limits, runs, and drift against hours.

Method: individuals and moving range (Shewhart; Montgomery, Introduction to Statistical Quality Control, ch. 6):
sigma is the mean moving range over 1.128, limits are three of them. Runs of eight on one side after the Western
Electric rules. Drift is ordinary least squares against hours.
"""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Annotated

from pydantic import Field
from scipy.special import stdtrit

from .contract import Contract, Interval, Notice, Problem
from .statistics.line import Line, fit_line

D2 = 1.128
RUN = 8
ENOUGH = 20

Value = Annotated[float, Field(ge=-1e6, le=1e6)]
Hours = Annotated[float, Field(ge=0, le=1e6)]


class ControlChartInput(Contract):
    values: list[Value] = Field(min_length=2, max_length=2000, description="In the order they were made")
    hours: list[Hours] | None = Field(None, max_length=2000, description="Screen hours at each value, for the drift")
    window_lower: Value | None = Field(None, description="In the values' unit: leaving it ends the set")
    window_upper: Value | None = None


class Drift(Contract):
    per_100_hours: float
    per_100_hours_ci: Interval | None
    shown: bool = Field(description="Told from none at all")
    leaves_at_hours: float | None = Field(description="When the drift carries it out of the window")
    leaves_from_hours: float | None = Field(description="The earliest by the slope's 95 % interval")


class ControlChartResult(Contract):
    centre: float
    sigma: float
    lower: float
    upper: float
    outside: list[int] = Field(description="Places of values outside the limits, from 0")
    runs: list[tuple[int, int]] = Field(description="First and last place of runs of eight or more on one side")
    drift: Drift | None
    in_control: bool
    warnings: list[Notice]


def control_chart(given: ControlChartInput) -> ControlChartResult:
    """Limits, points outside, runs on one side, drift per hundred hours and when it leaves the window.

    Raises
    ------
    Problem
        When hours do not match the values, fall, or the window is upside down.
    """
    _check(given)
    values = given.values
    centre = sum(values) / len(values)
    sigma = sum(abs(b - a) for a, b in pairwise(values)) / (len(values) - 1) / D2
    lower, upper = centre - 3 * sigma, centre + 3 * sigma
    outside = [i for i, v in enumerate(values) if not lower <= v <= upper]
    runs = _runs(values, centre)
    warnings = []
    if len(values) < ENOUGH:
        said = f"{len(values)} values: limits are still loose under {ENOUGH}."
        warnings.append(Notice(code="few", message=said))
    if sigma == 0:
        warnings.append(Notice(code="no-spread", message="All values are the same: the limits say nothing."))
    drift = _drift(given)
    return ControlChartResult(
        centre=centre, sigma=sigma, lower=lower, upper=upper, outside=outside, runs=runs, drift=drift,
        in_control=not outside and not runs and not (drift and drift.shown), warnings=warnings,
    )  # fmt: skip


def _check(given: ControlChartInput) -> None:
    if given.hours is not None and len(given.hours) != len(given.values):
        said = f"{len(given.hours)} hours for {len(given.values)} values."
        raise Problem(said, {"hours": said})
    if given.hours is not None and any(b < a for a, b in pairwise(given.hours)):
        said = "Hours must not fall: give the values in the order they were made."
        raise Problem(said, {"hours": said})
    if given.window_lower is not None and given.window_upper is not None and given.window_upper <= given.window_lower:
        said = "The upper end must be above the lower."
        raise Problem(said, {"window_upper": said})


def _runs(values: list[float], centre: float) -> list[tuple[int, int]]:
    """Stretches of eight or more values on one side; a value on the centre ends a run."""
    found: list[tuple[int, int]] = []
    start, side = 0, 0
    for i, value in enumerate([*values, centre]):
        here = (value > centre) - (value < centre)
        if here != side or i == len(values):
            if side and i - start >= RUN:
                found.append((start, i - 1))
            start, side = i, here
    return found


def _drift(given: ControlChartInput) -> Drift | None:
    if given.hours is None or len(set(given.hours)) < 2:
        return None
    line = fit_line(given.hours, given.values)
    half = None
    if line.variance is not None:
        half = float(stdtrit(line.degrees, 0.975)) * math.sqrt(line.variance / line.spread_x)
    shown = half is not None and abs(line.slope) > half
    last = given.hours[-1]
    leaves = _leaves(line, line.slope, last, given) if shown else None
    steep = line.slope + math.copysign(half, line.slope) if half is not None else line.slope
    return Drift(
        per_100_hours=100 * line.slope,
        per_100_hours_ci=None if half is None else (100 * (line.slope - half), 100 * (line.slope + half)),
        shown=shown, leaves_at_hours=leaves, leaves_from_hours=_leaves(line, steep, last, given) if shown else None,
    )  # fmt: skip


def _leaves(line: Line, slope: float, last_hours: float, given: ControlChartInput) -> float | None:
    """Hour at which the line, going on from the last value's place, reaches the window's end in its direction."""
    end = given.window_upper if slope > 0 else given.window_lower
    if end is None:
        return None
    return max(last_hours + (end - line.at(last_hours)) / slope, last_hours)
