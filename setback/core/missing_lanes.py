"""Lanes that the parts need and no coupon has shown yet, and where to print the first ones."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from .contract import Problem
from .evidence import Limits
from .ladder import LadderInput, exposure_ladder

FIRST = 3


@dataclass(frozen=True)
class MissingLane:
    lane: Literal["tips", "z"]
    kind: Literal["support", "z-bridge"]
    said: str
    exposures_s: list[float]


def missing_lanes(limits: Limits, kinds: set[str], low_s: float, high_s: float, step_s: float) -> list[MissingLane]:
    """What has a limit but no coupon of the kind that shows it.

    ``low_s`` and ``high_s`` are the ends of what looks right so far: three exposures across them place the lane's own
    end, or show that it lies elsewhere.
    """
    found = []
    if limits.tips_size_mm is not None and "support" not in kinds:
        said = f"Tips of {limits.tips_size_mm:g} mm must hold, and no support coupon has shown it."
        found.append(MissingLane("tips", "support", said, _across(low_s, high_s, step_s)))
    if limits.z_bloom_max_um is not None and "z-bridge" not in kinds:
        said = f"At most {limits.z_bloom_max_um:g} µm may be lost under a bridge, and no Z bridge has shown it."
        found.append(MissingLane("z", "z-bridge", said, _across(low_s, high_s, step_s)))
    return found


def _across(low_s: float, high_s: float, step_s: float) -> list[float]:
    try:
        return exposure_ladder(LadderInput(low_s=low_s, high_s=high_s, count=FIRST, exposure_step_s=step_s)).exposures_s
    except Problem:
        return [high_s]
