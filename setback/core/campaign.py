"""Where a calibration stands: the stage of the work, and what stops a coupon from being planned."""

from __future__ import annotations

import math
from typing import Literal

from .contract import Problem
from .earlier_window.contract import WindowResult
from .settings import Settings
from .window.next_exposure import NextExposureResult

Stage = Literal["range", "refine", "decide", "issued"]
STAGES: tuple[Stage, ...] = ("range", "refine", "decide", "issued")
# Features need a few normal layers to show anything of the normal exposure.
FEATURE_LAYERS = 4
ENOUGH_EXPOSURES = 4
# A thinner floor warps off the scraper.
LEAST_FLOOR_MM = 0.3


def stage(
    verdicts: list[str],
    following: NextExposureResult | None,
    window: WindowResult | None,
    exposures: int,
    issued: bool,
    waiting: bool = False,
) -> Stage:
    """Range until both failures, or a right one, were seen; refine until the window rests on enough; then decide.

    Enough is no gap worth another coupon, or four exposures: a line through fewer leaves one degree of freedom
    or none to judge its doubt by. Past that another coupon is an offer, not a duty. ``waiting`` says that a lane with
    a limit has no coupon at all yet: a window that does not know of it is not decided on.
    """
    if issued:
        return "issued"
    seen = set(verdicts)
    if not ("ok" in seen or {"under", "over"} <= seen):
        return "range"
    offered = window is not None and window.policies is not None and not window.provisional
    settled = following is not None and following.action == "done"
    return "decide" if offered and not waiting and (settled or exposures >= ENOUGH_EXPOSURES) else "refine"


def least_thickness_mm(settings: Settings, layer_height_um: float) -> float:
    """Least thickness of a coupon whose features are made by the normal exposure, mm."""
    layers = settings.base_layers + settings.transition_layers + FEATURE_LAYERS
    return round(layers * layer_height_um / 1000, 6)


def floor_mm(settings: Settings, layer_height_um: float) -> float:
    """Thickness of a coupon's floor, mm: it holds all base and transition layers, in whole layers."""
    layer = layer_height_um / 1000
    own = (settings.base_layers + settings.transition_layers) * layer
    return round(math.ceil(round(max(own, LEAST_FLOOR_MM) / layer, 6)) * layer, 6)


def check_thickness(thickness_mm: float, settings: Settings, layer_height_um: float) -> None:
    """Refuse a coupon that would read the base exposure instead of the normal one.

    Raises
    ------
    Problem
        Naming ``thickness_mm`` and the least thickness.
    """
    least = least_thickness_mm(settings, layer_height_um)
    if thickness_mm < least - 1e-9:
        own = settings.base_layers + settings.transition_layers
        said = (
            f"At {thickness_mm:g} mm the coupon ends within {own} base and transition layers, so it would read the "
            f"base exposure, not the normal one. Give at least {least:g} mm."
        )
        raise Problem(said, {"thickness_mm": said})


def layers_of(thickness_mm: float, layer_height_um: float) -> int:
    """Layers of a print this thick, counted up."""
    return math.ceil(round(1000 * thickness_mm / layer_height_um, 6))
