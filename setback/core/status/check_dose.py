"""How far the dose of a check coupon is off, and whether its exposure still lies in the window of its set.

Method: growth is a line over ln t (see ``size``), so a departure of growth from what the set predicted, over the line's
slope, is a shift of ln dose. The uncertainty is that of the prediction. A screen so much brighter that the issued exposure
acts like one outside the window no longer holds the set, even where one coupon on wide limits still looks right.
"""

from __future__ import annotations

import math
from typing import Literal

from ..contract import Contract, Interval
from ..window.contract import Prediction


class Dose(Contract):
    """How far the dose is off, percent with its interval."""

    off_pct: float
    off_ci_pct: Interval | None


def dose_seen(growth_um: float, exposure_s: float, predictions: list[Prediction]) -> Dose | None:
    """Departure of the dose in percent by the growth of one coupon; null where growth was not predicted, or falls."""
    measured = sorted((p for p in predictions if p.growth_um is not None), key=lambda p: p.exposure_s)
    if len(measured) < 2:
        return None
    low, high = measured[0], measured[-1]
    assert low.growth_um is not None and high.growth_um is not None
    run = math.log(high.exposure_s / low.exposure_s)
    slope = (high.growth_um - low.growth_um) / run if run else 0.0
    if slope <= 0:
        return None
    expected = low.growth_um + slope * math.log(exposure_s / low.exposure_s)
    nearest = min(measured, key=lambda p: abs(math.log(p.exposure_s / exposure_s)))
    off = (growth_um - expected) / slope
    half_width = (nearest.growth_ci_um[1] - nearest.growth_ci_um[0]) / 2 / slope if nearest.growth_ci_um else None
    ends = None if half_width is None else (100 * math.expm1(off - half_width), 100 * math.expm1(off + half_width))
    return Dose(off_pct=100 * math.expm1(off), off_ci_pct=ends)


def beyond_window(
    dose: Dose, exposure_s: float, lower_s: float | None, upper_s: float | None
) -> Literal["under", "over"] | None:
    """The side on which the exposure left the window, when the whole uncertainty of the dose lies beyond it."""
    low, high = dose.off_ci_pct or (dose.off_pct, dose.off_pct)
    if upper_s is not None and exposure_s * (1 + low / 100) > upper_s:
        return "over"
    if lower_s is not None and exposure_s * (1 + high / 100) < lower_s:
        return "under"
    return None
