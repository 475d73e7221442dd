"""Policies: four schools of what exposure to choose inside one window."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

from ..contract import Notice
from ..steps import ceil_to_step, floor_to_step, round_to_step
from .lanes import End, seconds

CENTRE, SIZE_TRUE, SUPPORT_SAFE, HARDEST = "centre", "size-true", "support-safe", "hardest-in-tolerance"
POLICIES = (SIZE_TRUE, CENTRE, SUPPORT_SAFE, HARDEST)


class Placed(Protocol):
    """A lane's end as it counts."""

    @property
    def lane(self) -> str: ...
    @property
    def x(self) -> float: ...
    @property
    def end(self) -> End: ...


@dataclass(frozen=True)
class Choices:
    policies: dict[str, float | None]
    warnings: list[Notice]


def choose(
    lowers: Sequence[Placed], uppers: Sequence[Placed], size_true_x: float | None, step_s: float, guard_pct: float
) -> Choices:
    """Exposure of every policy, on the printer's step and inside the window; None where it has none.

    The guard counts from the clipped end, the one-sided 80 % limit from the fit. Rounded first, then
    clamped to the steps inside the window; then support-safe is at most, and hardest at least, the centre.
    """
    low = max(end.x for end in lowers)
    high = min(end.x for end in uppers)
    first, last = ceil_to_step(seconds(low), step_s), floor_to_step(seconds(high), step_s)
    if first > last:
        said = f"No step of {step_s:g} s falls inside the window of {seconds(low):.3g} to {seconds(high):.3g} s."
        none: dict[str, float | None] = dict.fromkeys((CENTRE, SIZE_TRUE, SUPPORT_SAFE, HARDEST))
        return Choices(none, [Notice(code="no-step", message=said + " Lower the light power, or use a thicker layer.")])

    def inside(value_s: float) -> float:
        return min(max(value_s, first), last)

    guard = math.log1p(guard_pct / 100)
    centre = inside(round_to_step(seconds((low + high) / 2), step_s))
    size_true = None
    if size_true_x is not None and low <= size_true_x <= high:
        size_true = inside(round_to_step(seconds(size_true_x), step_s))
    support_safe = None
    if any(end.lane == "tips" for end in lowers):
        least = max(max(p.x + guard, -math.inf if p.end.safe_x is None else p.end.safe_x) for p in lowers)
        # Far above the window the clamp decides; seconds of a flat slope would not fit a float.
        support_safe = min(inside(ceil_to_step(seconds(min(least, high)), step_s)), centre)
    most = min(min(p.x - guard, math.inf if p.end.safe_x is None else p.end.safe_x) for p in uppers)
    hardest = max(inside(floor_to_step(seconds(max(most, low)), step_s)), centre)
    warnings = []
    if size_true is not None:
        if support_safe is not None and size_true < support_safe:
            said = f"At size-true, {size_true:g} s, tips have less margin than support-safe, {support_safe:g} s, asks."
            warnings.append(Notice(code="size-true-below-support-safe", message=said))
        if size_true > hardest:
            said = f"Size-true, {size_true:g} s, is above the hardest exposure in tolerance, {hardest:g} s."
            warnings.append(Notice(code="size-true-above-hardest", message=said))
    policies = {CENTRE: centre, SIZE_TRUE: size_true, SUPPORT_SAFE: support_safe, HARDEST: hardest}
    return Choices(policies, warnings)
