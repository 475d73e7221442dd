"""Exposure ladders: the exposures at which a series of coupons is printed."""

from __future__ import annotations

import math
from typing import Literal

from pydantic import Field

from ..contract import Contract, Notice, Problem, Seconds
from ..printing.steps import round_to_step


class LadderInput(Contract):
    """The range to cover, s, and how many coupons may cover it."""

    low_s: Seconds = Field(description="Lowest exposure, s")
    high_s: Seconds = Field(description="Highest exposure, s")
    count: int = Field(ge=1, le=60, description="How many exposures")
    spacing: Literal["geometric", "linear"] = Field(
        "geometric", description="Geometric by default: cure answers to the logarithm of time"
    )
    exposure_step_s: Seconds = Field(description="The printer's exposure step, s")


class LadderResult(Contract):
    """Exposures from low to high, each a step of the printer."""

    exposures_s: list[float] = Field(description="Exposures from low to high, on the printer's step, s")
    warnings: list[Notice]


def exposure_ladder(inputs: LadderInput) -> LadderResult:
    """Exposures from low to high, rounded half up to the printer's step.

    Returns
    -------
    LadderResult
        Distinct exposures in seconds; duplicates made by rounding are dropped with a warning.

    Raises
    ------
    Problem
        When high is below low, or the ladder falls below one exposure step.
    """
    low, high = inputs.low_s, inputs.high_s
    if high < low:
        raise Problem("The highest exposure is below the lowest.", {"high_s": f"Give {low:g} s or more."})
    if inputs.count == 1:
        raw = [math.sqrt(low * high) if inputs.spacing == "geometric" else (low + high) / 2]
    else:
        parts = [i / (inputs.count - 1) for i in range(inputs.count)]
        if inputs.spacing == "geometric":
            raw = [low * (high / low) ** part for part in parts]
        else:
            raw = [low + (high - low) * part for part in parts]
    rounded = [round_to_step(value, inputs.exposure_step_s) for value in raw]
    if rounded[0] <= 0:
        raise Problem(
            "The lowest exposure is below one step of the printer.",
            {"low_s": f"Give at least {inputs.exposure_step_s:g} s."},
        )
    distinct = list(dict.fromkeys(rounded))
    warnings = []
    if len(distinct) < len(rounded):
        dropped = len(rounded) - len(distinct)
        warnings.append(
            Notice(
                code="duplicates-dropped",
                message=f"{dropped} of {len(rounded)} exposures fell on the same {inputs.exposure_step_s:g} s step "
                "and were dropped. Widen the range or ask for fewer.",
            )
        )
    return LadderResult(exposures_s=distinct, warnings=warnings)


class BuiltInStripInput(Contract):
    """A strip of several exposures that a printer exposes by itself: base seconds times a multiplier, or plus a step, per column."""

    base_s: Seconds
    columns: int = Field(ge=1, le=30)
    multiplier: float | None = Field(None, gt=0, le=10, description="From column to column")
    step_s: float | None = Field(None, ge=-60, le=60, description="From column to column, s")


def built_in_strip(inputs: BuiltInStripInput) -> list[float]:
    """Exposure of every column in the order of the strip, s.

    Raises
    ------
    Problem
        With fewer than two columns, without one rule, or when columns repeat or fall to nothing.
    """
    if inputs.columns < 2:
        message = "One column tells nothing beside it: give two or more."
        raise Problem(message, {"columns": message})
    if (inputs.multiplier is None) == (inputs.step_s is None):
        message = "Give the multiplier from column to column, or the step in seconds."
        raise Problem(message, {"multiplier": message})
    if inputs.multiplier == 1 or inputs.step_s == 0:
        message = "Every column would be the same."
        raise Problem(message, {"multiplier" if inputs.multiplier else "step_s": message})
    exposures = [
        inputs.base_s * inputs.multiplier**at
        if inputs.multiplier is not None
        else inputs.base_s + at * (inputs.step_s or 0)
        for at in range(inputs.columns)
    ]
    rounded = [round(exposure, 3) for exposure in exposures]
    if min(rounded) <= 0 or max(rounded) > 3600:
        message = f"The last column would get {exposures[-1]:.3g} s."
        raise Problem(message, {"columns": message})
    return rounded
