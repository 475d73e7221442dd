"""Control chart of check coupons: limits, runs, and drift against hours.

Method: individuals and moving range (Shewhart; Montgomery, Introduction to Statistical Quality Control, ch. 6):
sigma is the mean moving range over 1.128, limits are three of them. Runs of eight on one side after the Western
Electric rules. Drift is ordinary least squares against hours.

A chart is looked at after every coupon: by these rules half of all charts of a process that does not change have called it out of
control after thirty looks. They are drawn to look at; what counts are the alarms of :mod:`.watch` and a drift, which together come
falsely once in so many coupons as was asked for. Half of that is left to the drift: at each look it is shown only when its
chance under no drift is below half of one in so many.
"""

from __future__ import annotations

import math
from itertools import pairwise
from typing import Annotated

from pydantic import Field
from scipy.special import stdtr, stdtrit

from ..contract import Contract, Interval, Notice, Problem
from .line import Line, fit_line
from .watch import Alarm, watch

D2 = 1.128
RUN = 8
ENOUGH = 20

Value = Annotated[float, Field(ge=-1e6, le=1e6)]
Hours = Annotated[float, Field(ge=0, le=1e6)]


class ControlChartInput(Contract):
    """Values in the order they were made, with the screen hours at each where known."""

    values: list[Value] = Field(min_length=2, max_length=2000, description="In the order they were made")
    hours: list[Hours] | None = Field(None, max_length=2000, description="Screen hours at each value, for the drift")
    window_lower: Value | None = Field(None, description="In the values' unit: leaving it ends the set")
    window_upper: Value | None = None
    between_false_alarms: float = Field(
        500,
        ge=20,
        le=100_000,
        description="Coupons that pass on average before a printer that has not changed is called so",
    )


class Drift(Contract):
    """A trend in the values' unit per hundred screen hours, and when it leaves the window."""

    per_100_hours: float
    per_100_hours_ci: Interval | None
    shown: bool = Field(description="Told from none at all, as surely as the false alarms allow")
    leaves_at_hours: float | None = Field(description="When the drift carries it out of the window")
    leaves_from_hours: float | None = Field(description="The earliest by the slope's 95 % interval")


class ControlChartResult(Contract):
    """Centre, limits, and the points that speak for a change."""

    centre: float
    sigma: float
    lower: float
    upper: float
    outside: list[int] = Field(description="Places of values outside the limits, from 0")
    runs: list[tuple[int, int]] = Field(description="First and last place of runs of eight or more on one side")
    alarms: list[Alarm] = Field(description="Where the process no longer looks as it was; these count")
    drift: Drift | None
    in_control: bool = Field(description="Neither an alarm nor a drift")
    between_false_alarms: float = Field(description="As asked for")
    warnings: list[Notice]


def control_chart(inputs: ControlChartInput) -> ControlChartResult:
    """Limits, points outside, runs on one side, drift per hundred hours and when it leaves the window.

    Raises
    ------
    Problem
        When hours do not match the values, fall, or the window is upside down.
    """
    _check(inputs)
    values = inputs.values
    centre = sum(values) / len(values)
    sigma = sum(abs(b - a) for a, b in pairwise(values)) / (len(values) - 1) / D2
    lower, upper = centre - 3 * sigma, centre + 3 * sigma
    outside = [i for i, v in enumerate(values) if not lower <= v <= upper]
    runs = _runs(values, centre)
    warnings = []
    if len(values) < ENOUGH:
        message = f"{len(values)} values: limits are still loose under {ENOUGH}."
        warnings.append(Notice(code="few", message=message))
    if sigma == 0:
        warnings.append(Notice(code="no-spread", message="All values are the same: the limits say nothing."))
    drift = _drift(inputs)
    share = 1 if inputs.hours is None else 2
    alarms = watch(values, share * inputs.between_false_alarms)
    return ControlChartResult(
        centre=centre,
        sigma=sigma,
        lower=lower,
        upper=upper,
        outside=outside,
        runs=runs,
        alarms=alarms,
        drift=drift,
        in_control=not alarms and not (drift and drift.shown),
        between_false_alarms=inputs.between_false_alarms,
        warnings=warnings,
    )


def _check(inputs: ControlChartInput) -> None:
    if inputs.hours is not None and len(inputs.hours) != len(inputs.values):
        message = f"{len(inputs.hours)} hours for {len(inputs.values)} values."
        raise Problem(message, {"hours": message})
    if inputs.hours is not None and any(b < a for a, b in pairwise(inputs.hours)):
        message = "Hours must not fall: give the values in the order they were made."
        raise Problem(message, {"hours": message})
    if (
        inputs.window_lower is not None
        and inputs.window_upper is not None
        and inputs.window_upper <= inputs.window_lower
    ):
        message = "The upper end must be above the lower."
        raise Problem(message, {"window_upper": message})


def _runs(values: list[float], centre: float) -> list[tuple[int, int]]:
    """Stretches of eight or more values on one side; a value on the centre ends a run."""
    runs: list[tuple[int, int]] = []
    start, side = 0, 0
    for i, value in enumerate([*values, centre]):
        this_side = (value > centre) - (value < centre)
        if this_side != side or i == len(values):
            if side and i - start >= RUN:
                runs.append((start, i - 1))
            start, side = i, this_side
    return runs


def _drift(inputs: ControlChartInput) -> Drift | None:
    if inputs.hours is None or len(set(inputs.hours)) < 2:
        return None
    line = fit_line(inputs.hours, inputs.values)
    half_width = None
    if line.variance is not None:
        half_width = float(stdtrit(line.degrees, 0.975)) * math.sqrt(line.variance / line.spread_x)
    significant = half_width is not None and _chance(line) < 0.5 / inputs.between_false_alarms
    last = inputs.hours[-1]
    leaves = _leaves(line, line.slope, last, inputs) if significant else None
    steep = line.slope + math.copysign(half_width, line.slope) if half_width is not None else line.slope
    return Drift(
        per_100_hours=100 * line.slope,
        per_100_hours_ci=None
        if half_width is None
        else (100 * (line.slope - half_width), 100 * (line.slope + half_width)),
        shown=significant,
        leaves_at_hours=leaves,
        leaves_from_hours=_leaves(line, steep, last, inputs) if significant else None,
    )


def _chance(line: Line) -> float:
    """Of a slope as steep as this where there is none."""
    if line.variance is None or line.variance <= 0:
        return 0.0 if line.slope else 1.0
    t = abs(line.slope) / math.sqrt(line.variance / line.spread_x)
    return 2 * float(stdtr(line.degrees, -t))


def _leaves(line: Line, slope: float, last_hours: float, inputs: ControlChartInput) -> float | None:
    """Hour at which the line, going on from the last value's place, reaches the window's end in its direction."""
    end = inputs.window_upper if slope > 0 else inputs.window_lower
    if end is None:
        return None
    return max(last_hours + (end - line.at(last_hours)) / slope, last_hours)
