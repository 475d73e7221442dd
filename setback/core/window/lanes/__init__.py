"""The lanes of the process window, one criterion each.

To add a lane, write a function from :class:`Evidence` to a :class:`LaneFit` (None when it does not apply) and enter it
here with its name and what it asks of the parts, in words. The order is the order in which tied ends are named and
lanes are drawn; nothing else knows of them.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ...reading.evidence import Limits
from .base import CureCurve, Evidence, Found, LaneFit, as_interval, seconds
from .cure import cure_lane
from .profile import size_lane, z_lane
from .threshold import fail_tip_lane, slots_lane, tips_lane, walls_lane

THIN = "\u2009"


@dataclass(frozen=True)
class Lane:
    """A criterion: its name, what it asks of the parts in words, its fit, the limit that calls for it, and its coupon."""

    name: str
    needs: Callable[[Limits], str]
    fit: Callable[[Evidence], LaneFit | None]
    limited: Callable[[Limits], bool] = lambda _: False
    coupon: str | None = None


def _share(probability: float) -> str:
    return f"{round(100 * probability, 1):g}{THIN}%"


def _mm(size_mm: float | None) -> str:
    return f"{round(size_mm or 0, 3):g}{THIN}mm"


def _within(limits: Limits) -> str:
    target = f"{limits.growth_target_um:g} " if limits.growth_target_um else ""
    return f"within {target}±{limits.growth_tol_um:g}{THIN}µm"


def _tips(limits: Limits) -> str:
    together = f"{limits.tips_per_part} " if limits.tips_per_part else ""
    return f"{_mm(limits.tips_size_mm)}, {together}hold {_share(limits.tips_probability)}"


LANES: dict[str, Lane] = {
    "size": Lane("Size", _within, size_lane, lambda limits: limits.growth_tol_um is not None, "flat"),
    "z": Lane(
        "Z bloom",
        lambda limits: f"at most {limits.z_bloom_max_um:g}{THIN}µm",
        z_lane,
        lambda limits: limits.z_bloom_max_um is not None,
        "z-bridge",
    ),
    "walls": Lane(
        "Thin walls",
        lambda limits: f"{_mm(limits.walls_size_mm)}, {_share(limits.walls_probability)} stand",
        walls_lane,
        lambda limits: limits.walls_size_mm is not None,
        "flat",
    ),
    "slots": Lane(
        "Thin slots",
        lambda limits: f"{_mm(limits.slots_size_mm)}, {_share(limits.slots_probability)} open",
        slots_lane,
        lambda limits: limits.slots_size_mm is not None,
        "flat",
    ),
    "tips": Lane("Support tips", _tips, tips_lane, lambda limits: limits.tips_size_mm is not None, "support"),
    "cure": Lane("Cure", lambda _: "binds to the layer below", cure_lane),
    "fail-tip": Lane(
        "Tips that fail",
        lambda limits: f"{_mm(limits.fail_tip_size_mm)} lets go",
        fail_tip_lane,
        lambda limits: limits.fail_tip_size_mm is not None,
        "support",
    ),
}

__all__ = ["LANES", "CureCurve", "Evidence", "Found", "Lane", "LaneFit", "as_interval", "seconds"]
