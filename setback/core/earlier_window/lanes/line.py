"""Lanes read off a straight line on ln t: size (edge growth) and z (clearance lost under bridges).

Ends by inverse prediction; their intervals by the delta method with Student's t, n - 2.
"""

from __future__ import annotations

import math

from ...contract import Notice
from ...size import fit_size
from ...statistics.line import Line, fit_line
from ...verdict import bloom_um
from .base import End, Evidence, LaneFit

_SWAPPED = "Were two coupons swapped? The lane is left out; the window is provisional."


def _place_of(line: Line, y: float, extra_sd: float, side: int) -> End:
    place = line.place_of(y, extra_sd, side)
    return End(place.x, place.x, place.se, place.interval, place.safe_x)


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
    mark = _place_of(line, target, extra, 1)
    return LaneFit(
        "size",
        lower=_place_of(line, target - tolerance, extra, 1),
        upper=_place_of(line, target + tolerance, extra, -1),
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
        upper=_place_of(line, limit, 0.0, -1),
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
