"""Policies: four schools of what exposure to choose, over the chances that requirements hold."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..printing.steps import round_to_step
from ..statistics.posterior import Array
from .contract import CutOffs

CENTRE, SIZE_TRUE, SUPPORT_SAFE, HARDEST = "centre", "size-true", "support-safe", "hardest-in-tolerance"
NEAR_BEST = 0.01


@dataclass(frozen=True)
class Steps:
    """Printer steps inside the ladder with their chances; arrays of shape (steps,)."""

    exposures_s: Array
    p: Array
    lower: Array
    """That all lower lanes hold."""
    upper: Array
    """That all upper lanes hold."""

    @property
    def best(self) -> float:
        """The highest chance of all steps."""
        return float(self.p.max()) if len(self.p) else 0.0

    def at(self, exposure_s: float) -> float:
        """Chance at the step nearest to an exposure."""
        return float(self.p[int(np.argmin(np.abs(self.exposures_s - exposure_s)))])


def choose(
    steps: Steps, nominal_s: float | None, has_tips: bool, step_s: float, cut_offs: CutOffs
) -> dict[str, float | None]:
    """Exposure of every policy, on the printer's step; None where it has none.

    *centre*: the middle of the steps within 0.01 of the highest chance. *support-safe*: the least at which all lower lanes hold with
    the lanes' cut-off. *hardest*: the most at which all upper lanes do. *size-true*: nominal size, None where all requirements hold
    with less than the cut-off for it.
    """
    near = np.flatnonzero(steps.p >= steps.best - NEAR_BEST)
    centre = float(steps.exposures_s[near[(len(near) - 1) // 2]])
    chosen: dict[str, float | None] = {CENTRE: centre, SIZE_TRUE: None, SUPPORT_SAFE: None, HARDEST: None}
    if nominal_s is not None and steps.exposures_s[0] - step_s / 2 <= nominal_s <= steps.exposures_s[-1] + step_s / 2:
        nominal = round_to_step(nominal_s, step_s)
        if steps.at(nominal) >= cut_offs.nominal:
            chosen[SIZE_TRUE] = nominal
    safe, hard = np.flatnonzero(steps.lower >= cut_offs.lanes), np.flatnonzero(steps.upper >= cut_offs.lanes)
    if has_tips and len(safe):
        chosen[SUPPORT_SAFE] = float(steps.exposures_s[safe[0]])
    if len(hard):
        chosen[HARDEST] = float(steps.exposures_s[hard[-1]])
    return chosen
