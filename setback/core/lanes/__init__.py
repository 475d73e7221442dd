"""The lanes of the process window, one criterion each.

To add a lane, write a function from :class:`Evidence` to a :class:`LaneFit` (None when it does not apply)
and enter it here. The order is the order in which tied ends are named and lanes are drawn.
"""

from collections.abc import Callable

from .base import CureCurve, End, Evidence, LaneFit, as_interval, seconds
from .cure import cure_lane
from .feature import fail_tip_lane, slots_lane, tips_lane, walls_lane
from .line import size_lane, z_lane

LANES: dict[str, Callable[[Evidence], LaneFit | None]] = {
    "size": size_lane,
    "z": z_lane,
    "walls": walls_lane,
    "slots": slots_lane,
    "tips": tips_lane,
    "cure": cure_lane,
    "fail-tip": fail_tip_lane,
}

__all__ = ["LANES", "CureCurve", "End", "Evidence", "LaneFit", "as_interval", "seconds"]
