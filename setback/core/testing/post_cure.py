"""Hardness against minutes under the lamp: how hard it gets, and when more light stops helping.

Method: first-order approach H = H∞ − (H∞ − H₀)·e^(−t/τ), least squares in the three.
"""

from __future__ import annotations

import math
from typing import Annotated

from pydantic import Field

from ..contract import Contract, Interval, Notice, Probability, Problem
from ..statistics.exponential import fit_approach


class CurePoint(Contract):
    """A hardness after so many minutes under the lamp."""

    minutes: Annotated[float, Field(ge=0, le=100_000)]
    hardness: Annotated[float, Field(gt=0, le=1000)]


class PostCureInput(Contract):
    """Hardness over minutes, and the share of the gain that is wanted."""

    points: list[CurePoint] = Field(min_length=3, max_length=500)
    fraction: Probability = Field(0.95, description="Of the gain that is wanted")


class PostCureResult(Contract):
    """Final hardness, time constant and the minutes to the wanted share of the gain."""

    final_hardness: float
    final_hardness_ci: Interval | None
    initial_hardness: float
    time_constant_min: float
    time_constant_ci_min: Interval | None
    minutes_to_fraction: float
    r_squared: float | None
    warnings: list[Notice]


def hardness_at(result: PostCureResult, minutes: float) -> float:
    """Hardness that a fitted curve expects after so many minutes."""
    gain = result.final_hardness - result.initial_hardness
    return result.final_hardness - gain * math.exp(-minutes / result.time_constant_min)


def post_cure(inputs: PostCureInput) -> PostCureResult:
    """Final hardness and the minutes to a share of the gain.

    Raises
    ------
    Problem
        With fewer than three distinct times, or when hardness does not rise.
    """
    times, hardness = [p.minutes for p in inputs.points], [p.hardness for p in inputs.points]
    if len(set(times)) < 3:
        raise Problem(
            "Three different times are needed to see the curve.", {"points": "Give at least 3 different minutes."}
        )
    fit = fit_approach(times, hardness)
    if fit.final <= fit.first:
        raise Problem("Hardness does not rise with time.", {"points": "Were times and readings swapped?"})
    minutes = -fit.tau * math.log(1 - inputs.fraction)
    warnings = []
    initial, earliest = fit.first, min(times)
    if earliest > 0:
        # Going back to no cure at all; hardness cannot be below 0.
        initial = max(fit.final - (fit.final - fit.first) * math.exp(min(earliest / fit.tau, 50)), 0.0)
        message = f"Nothing was read before {earliest:g} min: the hardness without cure is extrapolated."
        warnings.append(Notice(code="no-start", message=message))
    if fit.tau_ci is None:
        warnings.append(Notice(code="no-doubt", message="Three points fit any curve: no interval is known."))
    if minutes > max(times):
        message = f"{minutes:.0f} min lies beyond the longest time tried ({max(times):g} min): it is extrapolated."
        warnings.append(Notice(code="extrapolated", message=message))
    return PostCureResult(
        final_hardness=fit.final,
        final_hardness_ci=fit.final_ci,
        initial_hardness=initial,
        time_constant_min=fit.tau,
        time_constant_ci_min=fit.tau_ci,
        minutes_to_fraction=minutes,
        r_squared=fit.r_squared,
        warnings=warnings,
    )
