"""From a grid coupon to a map of light: where edges have grown more there was more light."""

from __future__ import annotations

import math

from ..contract import Problem


def dose_from_growth(growth_um: list[list[float]], slope_um: float) -> list[list[float]]:
    """Light of each pad relative to the mean of the pads, from edge growth.

    Growth is straight on ln t with the slope of the size lane, so ln dose = (growth - mean growth) / slope.
    Shrinkage is the same for all pads and falls out.

    Parameters
    ----------
    growth_um : rows of edge growth, µm
    slope_um : growth per unit of ln t, µm, from the same arm's coupons

    Raises
    ------
    Problem
        When the slope is not positive: then growth says nothing of light.
    """
    if slope_um <= 0:
        message = "Growth does not rise with exposure on these coupons, so it says nothing of light."
        raise Problem(message, {"slope_um": message})
    flat = [g for row in growth_um for g in row]
    mean = sum(flat) / len(flat)
    return [[round(math.exp((g - mean) / slope_um), 4) for g in row] for row in growth_um]
