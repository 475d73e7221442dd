"""How many specimens each group needs before a wanted difference would be seen.

Method: power of the two-sided two-sample t test from the non-central t (J. Cohen, Statistical Power Analysis for the
Behavioral Sciences, ch. 2).
"""

from __future__ import annotations

import math
from typing import Annotated

from pydantic import Field
from scipy.special import nctdtr, stdtrit

from ..contract import Contract, Notice, Probability, Problem

ALPHA = 0.05
MOST = 1000
MANY = 30
DOZEN = 12
DEFAULT_PCT = 15.0
STEP_PCT = 5.0

Percent = Annotated[float, Field(gt=0, le=1000)]


class SampleSizeInput(Contract):
    """Usual spread, percent, the difference to be seen, and how surely."""

    cv_pct: Percent = Field(description="Spread from specimen to specimen, percent of the mean")
    detect_pct: Percent = Field(description="The difference that would matter, percent of the mean")
    power: Probability = Field(0.8, description="Chance to see it when it is there")


class SampleSizeResult(Contract):
    """Specimens needed in each group, and how surely they see the difference."""

    n_per_group: int
    power_reached: float
    warnings: list[Notice]


def sample_size(inputs: SampleSizeInput) -> SampleSizeResult:
    """Specimens per group for a two-sided t test at 5 %.

    Raises
    ------
    Problem
        When more than a thousand would be needed.
    """
    effect = inputs.detect_pct / inputs.cv_pct
    n = per_group(effect, inputs.power)
    if n is None:
        message = f"More than {MOST} specimens in each group: ask for a larger difference or lower the spread first."
        raise Problem("This difference drowns in the spread.", {"detect_pct": message})
    warnings = []
    if n < 3:
        warnings.append(
            Notice(code="least", message="Fewer than 3 would do for the difference, but give no tolerance bound.")
        )
    if n > MANY:
        message = f"{n} in each group is a long day: a smaller spread (same section, same age) is cheaper than more specimens."
        warnings.append(Notice(code="many", message=message))
    return SampleSizeResult(n_per_group=n, power_reached=power(effect, n), warnings=warnings)


def usual_difference_pct(cv_pct: float, target_power: float = 0.8) -> float:
    """The difference to look for when nobody names one: the least multiple of 5 %, from 15 % up, that a dozen specimens
    in each group see at this spread. A noisy method is then not asked for what it cannot show in a day."""
    steps = math.ceil(DEFAULT_PCT / STEP_PCT)
    while (per_group(steps * STEP_PCT / cv_pct, target_power, DOZEN) or math.inf) > DOZEN:
        steps += 1
    return steps * STEP_PCT


def power(effect: float, n: int, alpha: float = ALPHA) -> float:
    """Chance that the test sees a difference of ``effect`` standard deviations with ``n`` in each group."""
    degrees, shift = 2 * n - 2, effect * math.sqrt(n / 2)
    limit = float(stdtrit(degrees, 1 - alpha / 2))
    if shift > 35:
        return 1.0
    return float(1 - nctdtr(degrees, shift, limit) + nctdtr(degrees, shift, -limit))


def per_group(effect: float, target_power: float, most: int = MOST) -> int | None:
    """The least number in each group that reaches the wanted power; None beyond ``most``."""
    low, high = 1, 2
    while power(effect, high) < target_power:
        low, high = high, high * 2
        if low > most:
            return None
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if power(effect, middle) >= target_power else (middle, high)
    return high if high <= most else None
