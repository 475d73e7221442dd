"""The lanes of the process window, one criterion each, and the limits that call for them.

To add a lane, write one module: the limits it needs (a contract of its own), a function from :class:`Evidence` to a :class:`LaneFit` (None
when it does not apply), and a :class:`Lane` that says how it is named, worded, asked for and judged. Enter it in :data:`LANES`, and its
limits among the bases of :class:`Limits`. The order is the order in which tied ends are named and lanes are drawn; nothing else knows of
them: the form of a calibration, the verdict on a coupon, the window and the Board follow.
"""

from __future__ import annotations

from .base import CureCurve, Evidence, Found, Lane, LaneFit, LimitField, as_interval, seconds
from .cure import CURE
from .profile import BLOOM, SIZE, BloomLimits, SizeLimits
from .threshold import (
    FAIL_TIPS,
    SUPPORT_TIPS,
    THIN_SLOTS,
    THIN_WALLS,
    FailTipLimits,
    SlotLimits,
    TipLimits,
    WallLimits,
)

LANES: dict[str, Lane] = {
    lane.key: lane for lane in (SIZE, BLOOM, THIN_WALLS, THIN_SLOTS, SUPPORT_TIPS, CURE, FAIL_TIPS)
}


class Limits(FailTipLimits, BloomLimits, TipLimits, SlotLimits, WallLimits, SizeLimits):
    """What the parts need. A criterion without its limit makes no lane."""


__all__ = [
    "LANES",
    "CureCurve",
    "Evidence",
    "Found",
    "Lane",
    "LaneFit",
    "LimitField",
    "Limits",
    "as_interval",
    "seconds",
]
