"""Where a calibration stands: the stage of the work, and what stops a coupon from being planned."""

from __future__ import annotations

import math
from typing import Literal

from ..contract import Problem
from ..printing.settings import Settings
from ..window.contract import Offer, WindowOutcome

Stage = Literal["range", "refine", "decide", "issued"]
STAGES: tuple[Stage, ...] = ("range", "refine", "decide", "issued")
# Features need a few normal layers to show anything of the normal exposure.
FEATURE_LAYERS = 4
# A thinner floor warps off the scraper.
LEAST_FLOOR_MM = 0.3


def stage(verdicts: list[str], window: WindowOutcome | None, issued: bool) -> Stage:
    """Range until both failures, or a right coupon, were seen; refine until the window offers an exposure; then decide.

    Parameters
    ----------
    verdicts : list of str
        Of the coupons that count.
    window : WindowOutcome or None
        What they say together. Only an offer is decided on, and an offer knows of every limit that was set.
    issued : bool
        Whether a set was issued on the calibration.
    """
    if issued:
        return "issued"
    if isinstance(window, Offer) and not window.provisional:
        return "decide"
    kinds = set(verdicts)
    return "refine" if "ok" in kinds or {"under", "over"} <= kinds else "range"


def least_thickness_mm(settings: Settings, layer_height_um: float) -> float:
    """Least thickness of a coupon whose features are made by the normal exposure, mm."""
    layers = settings.base_layers + settings.transition_layers + FEATURE_LAYERS
    return round(layers * layer_height_um / 1000, 6)


def floor_mm(settings: Settings, layer_height_um: float) -> float:
    """Thickness of a coupon's floor, mm: it holds all base and transition layers, in whole layers."""
    layer = layer_height_um / 1000
    base_height = (settings.base_layers + settings.transition_layers) * layer
    return round(math.ceil(round(max(base_height, LEAST_FLOOR_MM) / layer, 6)) * layer, 6)


def check_thickness(thickness_mm: float, settings: Settings, layer_height_um: float) -> None:
    """Refuse a coupon that would read the base exposure instead of the normal one.

    Raises
    ------
    Problem
        Naming ``thickness_mm`` and the least thickness.
    """
    least = least_thickness_mm(settings, layer_height_um)
    if thickness_mm < least - 1e-9:
        base_layers = settings.base_layers + settings.transition_layers
        message = (
            f"At {thickness_mm:g} mm the coupon ends within {base_layers} base and transition layers, so it would read the "
            f"base exposure, not the normal one. Give at least {least:g} mm."
        )
        raise Problem(message, {"thickness_mm": message})


def layers_of(thickness_mm: float, layer_height_um: float) -> int:
    """Layers of a print this thick, counted up."""
    return math.ceil(round(1000 * thickness_mm / layer_height_um, 6))
