"""Cure lane: the least light that binds a layer to the one below, from the working curve (Jacobs' equation)."""

from __future__ import annotations

import math

from .base import End, Evidence, LaneFit


def cure_lane(evidence: Evidence) -> LaneFit | None:
    """Lower end where the cure depth reaches the layer plus the least overcure."""
    curve = evidence.cure
    if curve is None:
        return None
    depth_mm = (curve.layer_height_um + curve.min_overcure_um) / 1000
    x = math.log(curve.critical_exposure_s) + depth_mm / curve.penetration_depth_mm
    return LaneFit("cure", lower=End(x, x))
