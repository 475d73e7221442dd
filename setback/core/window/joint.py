"""What the lanes say together: chances at every printer step, the chance of any window, which lane binds, which coupon does not fit."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np

from ..statistics.effects import FIXED, IS_WIDE, NODE_LOG
from ..statistics.posterior import Array
from ..statistics.quantiles import quantiles
from .lanes.base import Found, LaneFit
from .policies import Steps

DRAWS = 512
MOST_STEPS = 1200
"""A ladder over decades at a fine step is looked at in fewer, evenly chosen steps."""
_EVEN = tuple((i + 0.5) / DRAWS for i in range(DRAWS))


@dataclass(frozen=True)
class Joint:
    """Ends of all lanes, drawn together: arrays of shape (draws,)."""

    lowers: Mapping[str, Array]
    uppers: Mapping[str, Array]

    @property
    def lower(self) -> Array:
        """The highest lower end of each draw; minus infinity without lower lanes."""
        return np.max(list(self.lowers.values()), axis=0) if self.lowers else np.full(DRAWS, -np.inf)

    @property
    def upper(self) -> Array:
        """The lowest upper end of each draw; infinity without upper lanes."""
        return np.min(list(self.uppers.values()), axis=0) if self.uppers else np.full(DRAWS, np.inf)

    def any_exposure(self) -> float:
        """Chance that some exposure holds, printed or not."""
        return float(np.mean(self.lower <= self.upper))

    def any_step(self, x: Array) -> float:
        """Chance that one of the exposures x holds; x ascending."""
        first = np.searchsorted(x, self.lower)
        inside = first < len(x)
        return float(np.mean(inside & (x[np.minimum(first, len(x) - 1)] <= self.upper)))

    def binding(self) -> dict[tuple[str, str], float]:
        """By lane and side, the share of draws in which it limits that side."""
        shares = {}
        for side, ends, limit in (("lower", self.lowers, self.lower), ("upper", self.uppers, self.upper)):
            for name, x in ends.items():
                shares[name, side] = float(np.mean(x == limit))
        return shares


def together(fits: Mapping[str, LaneFit]) -> Joint:
    """Ends of all lanes, each laid out evenly by its own chances and shuffled in its own fixed way."""
    lowers: dict[str, Array] = {}
    uppers: dict[str, Array] = {}
    for place, (name, fit) in enumerate(sorted(fits.items())):
        for side, end in (("lower", fit.lower), ("upper", fit.upper)):
            if end is not None:
                (lowers if side == "lower" else uppers)[name] = _laid_out(end)[_shuffled(2 * place + (side == "upper"))]
    return Joint(lowers, uppers)


def chances(fits: Mapping[str, LaneFit], exposures_s: Sequence[float]) -> Steps:
    """Chances at exposures: of all lanes, of the lower ones, of the upper ones. Lanes count as independent."""
    x = np.log(np.asarray(exposures_s, dtype=float))
    lower, upper = np.ones(len(x)), np.ones(len(x))
    for fit in fits.values():
        if fit.lower is not None and fit.upper is not None and fit.posterior is not None:
            # Both ends of one lane move together: in and out is told by each point.
            inside = np.asarray((x[:, None] >= fit.lower.x) & (x[:, None] <= fit.upper.x)) @ fit.lower.weights
            lower_holds = fit.lower.holds(x)
            lower, upper = (
                lower * lower_holds,
                upper * np.where(lower_holds > 1e-9, np.minimum(inside / np.maximum(lower_holds, 1e-9), 1), 1),
            )
            continue
        if fit.lower is not None:
            lower = lower * fit.lower.holds(x)
        if fit.upper is not None:
            upper = upper * fit.upper.holds(x)
    return Steps(np.asarray(exposures_s, dtype=float), lower * upper, lower, upper)


def printer_steps(low_s: float, high_s: float, step_s: float) -> list[float]:
    """Steps of the printer from low to high, both among them when they lie on a step."""
    first, last = math.ceil(low_s / step_s - 1e-6), math.floor(high_s / step_s + 1e-6)
    every = max(1, math.ceil((last - first + 1) / MOST_STEPS))
    return [round(n * step_s, 9) for n in range(first, last + 1, every)]


def far_off(fits: Mapping[str, LaneFit], coupons: int) -> Array:
    """Chance of each coupon that its light was far off, from all its features together and what the other coupons say: (coupons,)."""
    total = np.tile(NODE_LOG, (coupons, 1))
    for fit in fits.values():
        if fit.effects is not None and fit.light is not None:
            total[fit.light.places] += fit.effects - fit.effects.max(axis=1, keepdims=True)
    total -= total.max(axis=1, keepdims=True)
    shares = np.exp(total)
    return np.asarray(shares[:, IS_WIDE].sum(axis=1) / shares.sum(axis=1))


def far_side(fits: Mapping[str, LaneFit], coupon: int) -> float:
    """Which way its light seems to have been off: the likeliest wide shift of a coupon, in ln light."""
    total = np.zeros(len(NODE_LOG))
    for fit in fits.values():
        if fit.effects is not None and fit.light is not None:
            for row in np.flatnonzero(fit.light.places == coupon):
                total += fit.effects[row]
    wide = np.flatnonzero(IS_WIDE)
    return float(FIXED[wide[int(np.argmax(total[wide]))]])


def _laid_out(end: Found) -> Array:
    return np.array(quantiles(end.x, end.weights, _EVEN))


@lru_cache(maxsize=64)
def _shuffled(place: int) -> np.ndarray[Any, np.dtype[np.int64]]:
    return np.random.default_rng(1000 + place).permutation(DRAWS)
