"""Lanes read off a straight line on ln t: size (edge growth) and z (clearance lost under bridges).

Ends by inverse prediction; their intervals by the delta method with Student's t, n - 2.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from scipy.special import stdtrit

from ..contract import Notice
from ..size import fit_size
from ..verdict import bloom_um
from .base import End, Evidence, LaneFit

_SWAPPED = "Were two coupons swapped? The lane is left out; the window is provisional."


@dataclass(frozen=True)
class Line:
    """Ordinary least squares of y on x."""

    mean_x: float
    mean_y: float
    slope: float
    spread_x: float
    variance: float | None
    degrees: int
    n: int

    def at(self, x: float) -> float:
        return self.mean_y + self.slope * (x - self.mean_x)

    def interval_at(self, x: float) -> tuple[float, float] | None:
        if self.variance is None:
            return None
        se = math.sqrt(self.variance * (1 / self.n + (x - self.mean_x) ** 2 / self.spread_x))
        half = float(stdtrit(self.degrees, 0.975)) * se
        return (self.at(x) - half, self.at(x) + half)

    def place_of(self, y: float, extra_sd: float, side: int) -> End:
        """Where the line meets ``y``; ``side`` is +1 for a lower end and -1 for an upper one."""
        x = self.mean_x + (y - self.mean_y) / self.slope
        if self.variance is None:
            return End(x, x)
        variance = self.variance * (1 / self.n + (x - self.mean_x) ** 2 / self.spread_x) + extra_sd**2
        se = math.sqrt(variance) / abs(self.slope)
        half = float(stdtrit(self.degrees, 0.975)) * se
        return End(x, x, se, (x - half, x + half), x + side * float(stdtrit(self.degrees, 0.8)) * se)

    def half_slope(self) -> float:
        """Half the 95 % interval of the slope; 0 where nothing is left over to judge it by."""
        if self.variance is None:
            return 0.0
        return float(stdtrit(self.degrees, 0.975)) * math.sqrt(self.variance / self.spread_x)

    @property
    def told_from_flat(self) -> bool:
        return self.variance is None or abs(self.slope) > self.half_slope()


def fit_line(xs: Sequence[float], ys: Sequence[float]) -> Line:
    """Fit y on x; two distinct x leave no doubt to be judged, so the variance is None."""
    n = len(xs)
    mean_x, mean_y = math.fsum(xs) / n, math.fsum(ys) / n
    spread = math.fsum((x - mean_x) ** 2 for x in xs)
    slope = math.fsum((x - mean_x) * (y - mean_y) for x, y in zip(xs, ys, strict=True)) / spread
    variance = None
    if len(set(xs)) > 2:
        left = (y - mean_y - slope * (x - mean_x) for x, y in zip(xs, ys, strict=True))
        variance = math.fsum(r * r for r in left) / (n - 2)
    return Line(mean_x, mean_y, slope, spread, variance, n - 2, n)


def size_lane(evidence: Evidence) -> LaneFit | None:
    """Exposures at which edge growth stays within target ± tolerance; its mark is size-true."""
    coupons = [coupon for coupon in evidence.coupons if coupon.blocks]
    tolerance = evidence.limits.growth_tol_um
    if tolerance is None or not coupons:
        return None
    model = fit_size([coupon.blocks for coupon in coupons])
    detail = {"scale_error_pct": 100 * (model.scale - 1) if model.scale_identified else None}
    xs = [math.log(coupon.exposure_s) for coupon in coupons]
    if len(set(xs)) < 2:
        return _too_few("size", detail)
    line = fit_line(xs, [1000 * growth for growth in model.growth_mm])
    predict = {"growth_um": line.at}
    if line.slope <= 0:
        return _wrong("size", f"Size: edges grow less with more light. {_SWAPPED}", detail)
    notices = []
    if not model.scale_identified:
        notices.append(
            Notice(code="scale-not-identified", message="Shrinkage cannot be told from growth: measure a notch too.")
        )
    if not line.told_from_flat:
        notices.append(_weak("size"))
    extra = evidence.reproducibility_sd_um or 0.0
    target = evidence.limits.growth_target_um
    mark = line.place_of(target, extra, 1)
    return LaneFit(
        "size",
        lower=line.place_of(target - tolerance, extra, 1),
        upper=line.place_of(target + tolerance, extra, -1),
        mark_x=mark.x,
        mark_interval=mark.interval,
        notices=notices,
        predict=dict(predict),
        predict_interval=line.interval_at,
        detail=detail,
    )


def z_lane(evidence: Evidence) -> LaneFit | None:
    """Exposures at which bridges keep their clearance: an upper end."""
    limit = evidence.limits.z_bloom_max_um
    read = [(math.log(c.exposure_s), lost) for c in evidence.coupons if (lost := bloom_um(c)) is not None]
    if limit is None or not read:
        return None
    xs = [x for x, _ in read]
    if len(set(xs)) < 2:
        return _too_few("z", {})
    line = fit_line(xs, [lost for _, lost in read])
    if line.slope <= 0:
        return _wrong("z", f"Z: bridges lose less clearance with more light. {_SWAPPED}", {})
    return LaneFit(
        "z",
        upper=line.place_of(limit, 0.0, -1),
        notices=[] if line.told_from_flat else [_weak("z")],
        predict={"bloom_um": line.at},
    )


def _too_few(name: str, detail: dict[str, float | None]) -> LaneFit:
    message = f"The {name} lane needs readings at two exposures or more."
    return LaneFit(name, notices=[Notice(code="too-few", message=message)], detail=detail)


def _wrong(name: str, message: str, detail: dict[str, float | None]) -> LaneFit:
    notice = Notice(code="wrong-direction", message=message)
    return LaneFit(name, notices=[notice], wrong_direction=True, detail=detail)


def _weak(name: str) -> Notice:
    return Notice(
        code="weak",
        message=f"The readings of the {name} lane do not tell its slope from flat: its ends are loose. "
        "Print further apart, or measure more.",
    )
