"""Cure lane: the least light that binds a layer to the one below, from the working curve (Jacobs' equation)."""

from __future__ import annotations

import math

import numpy as np

from .base import Evidence, Found, Lane, LaneFit


def cure_lane(evidence: Evidence) -> LaneFit | None:
    """Lower end where the cure depth reaches the layer plus the least overcure; as sure as the curve it is given."""
    curve = evidence.cure
    if curve is None:
        return None
    depth_mm = (curve.layer_height_um + curve.min_overcure_um) / 1000
    x = math.log(curve.critical_exposure_s) + depth_mm / curve.penetration_depth_mm
    return LaneFit("cure", lower=Found("lower", np.array([x]), np.array([1.0])))


CURE = Lane("cure", "Cure", lambda _: "binds to the layer below", cure_lane)
