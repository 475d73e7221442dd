"""What a lane is: the exposure interval one criterion accepts, with the doubt of its ends."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Annotated

from pydantic import Field

from ...contract import Contract, Interval, Millimetres, Notice, Seconds
from ...evidence import CouponEvidence, Limits


class CureCurve(Contract):
    """Working curve and how much deeper than the layer the light must at least cure."""

    penetration_depth_mm: Millimetres
    critical_exposure_s: Seconds
    layer_height_um: Annotated[float, Field(gt=0, le=1000)]
    min_overcure_um: Annotated[float, Field(ge=0, le=5000)]


@dataclass(frozen=True)
class End:
    """One end of a lane. Places are natural logarithms of seconds: flat slopes overflow in seconds."""

    x: float
    fitted_x: float
    """Where the fit alone puts the end; differs from ``x`` when the bracket caps it."""
    se: float | None = None
    interval: tuple[float, float] | None = None
    safe_x: float | None = None
    """One-sided 80 % limit on the side of the window; null when nothing is known of the doubt."""
    far_x: float | None = None
    """Far side of the bracket of a capped end."""
    capped: bool = False


@dataclass(frozen=True)
class LaneFit:
    """A lane as fitted, before anything is clipped to the ladder."""

    name: str
    lower: End | None = None
    upper: End | None = None
    bracket_s: tuple[float | None, float | None] | None = None
    beyond: str | None = None
    """"longer" or "shorter" when the evidence only says that the end lies outside the ladder."""
    mark_x: float | None = None
    mark_interval: tuple[float, float] | None = None
    notices: list[Notice] = field(default_factory=list)
    wrong_direction: bool = False
    predict: dict[str, Callable[[float], float | None]] = field(default_factory=dict)
    """Named predictions as functions of ln t."""
    predict_interval: Callable[[float], tuple[float, float] | None] | None = None
    detail: dict[str, float | None] = field(default_factory=dict)

    @property
    def usable(self) -> bool:
        return self.lower is not None or self.upper is not None or self.beyond is not None


@dataclass(frozen=True)
class Evidence:
    """Everything a lane may look at: the coupons of one arm that count, and the limits."""

    coupons: list[CouponEvidence]
    limits: Limits
    cure: CureCurve | None
    reproducibility_sd_um: float | None

    @property
    def exposures(self) -> list[float]:
        """Distinct exposures, low to high."""
        return sorted({coupon.exposure_s for coupon in self.coupons})

    @property
    def guard_only(self) -> bool:
        """Two exposures leave nothing to judge the doubt of a line by."""
        return len(self.exposures) <= 2


def seconds(x: float) -> float:
    """e^x without overflow."""
    return math.exp(min(max(x, -700.0), 700.0))


def as_interval(ends: tuple[float, float] | None) -> Interval | None:
    return None if ends is None else (seconds(ends[0]), seconds(ends[1]))
