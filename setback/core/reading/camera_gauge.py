"""What a camera or scanner makes of edges, learnt from coupons that were read both ways: by picture and by calipers."""

from __future__ import annotations

from collections import defaultdict
from statistics import fmean
from typing import Literal, NamedTuple

from pydantic import Field

from ..contract import Contract, Interval
from ..statistics.mean import mean_bias


class SizePair(NamedTuple):
    """One bar or notch, by picture and by calipers, mm."""

    coupon: str
    kind: Literal["outer", "inner"]
    picture_mm: float
    hand_mm: float


class CameraBias(Contract):
    """How much more an edge has grown by a camera's pictures than by calipers."""

    coupons: int = Field(description="Coupons read both ways")
    bias_um: float = Field(description="Growth per edge by picture less that by calipers, µm")
    bias_ci_um: Interval | None = Field(description="95 % interval; null with fewer than three coupons")
    shown: bool = Field(description="Whether the interval leaves out nothing")


def camera_bias(pairs: list[SizePair]) -> CameraBias | None:
    """The systematic error of one camera, coupon by coupon.

    Method: half the difference of each bar, less half that of each notch, is what the picture adds to an edge; the mean of a coupon is
    one value, since its edges share light, glass and cure; Student's interval over coupons.

    Parameters
    ----------
    pairs : list of SizePair
        Of one camera; none: the answer is None.
    """
    by_coupon: dict[str, list[float]] = defaultdict(list)
    for pair in pairs:
        sign = 1 if pair.kind == "outer" else -1
        by_coupon[pair.coupon].append(sign * 500 * (pair.picture_mm - pair.hand_mm))
    if not by_coupon:
        return None
    means = [fmean(values) for values in by_coupon.values()]
    bias = mean_bias(means)
    return CameraBias(coupons=len(means), bias_um=bias.mean, bias_ci_um=bias.interval, shown=bias.is_shown)
