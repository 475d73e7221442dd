"""Watching values as they come: an alarm as seldom as was asked for, from the third value on.

Each value is held against all before it and made standard normal (self-starting: D. M. Hawkins, The Statistician 36 (1987)
299-316; C. P. Quesenberry, Journal of Quality Technology 23 (1991) 213-224), so that limits estimated from few values raise no
false alarms. It alarms when it stands far off by itself, or when its exponentially weighted mean does (S. W. Roberts,
Technometrics 1 (1959) 239-250), which sees a small lasting change sooner. Both limits follow from the number of values between
two false alarms, by a Markov chain over the mean (J. M. Lucas and M. S. Saccucci, Technometrics 32 (1990) 1-12); a third of the
false alarms are left to the single value.
"""

from __future__ import annotations

import math
from functools import lru_cache
from typing import Literal

import numpy as np
from scipy.optimize import brentq
from scipy.special import ndtr, ndtri, stdtr

from ..contract import Contract

WEIGHT = 0.2
"""Of the newest value in the weighted mean."""
STATES = 61
SHARE_OF_ONE = 3.0
BEYOND = 1e-15


class Alarm(Contract):
    """A value at which the process no longer looks as it was."""

    index: int
    kind: Literal["one value", "lasting change"]


def watch(values: list[float], between_false_alarms: float) -> list[Alarm]:
    """Alarms over values in their order; after each the weighted mean starts again.

    Parameters
    ----------
    values : list of float
        In the order they were made.
    between_false_alarms : float
        How many values pass on average before a process that has not changed raises one.
    """
    mean_limit, one_limit = _limits(between_false_alarms)
    alarms, weighted = [], 0.0
    mean, squares = values[0], 0.0
    for i, value in enumerate(values[1:], 1):
        if squares > 0:
            t = (value - mean) / math.sqrt(squares / (i - 1) * (1 + 1 / i))
            u = float(ndtri(min(max(float(stdtr(i - 1, t)), BEYOND), 1 - BEYOND)))
            weighted = (1 - WEIGHT) * weighted + WEIGHT * u
            if abs(u) > one_limit:
                alarms.append(Alarm(index=i, kind="one value"))
            elif abs(weighted) > mean_limit:
                alarms.append(Alarm(index=i, kind="lasting change"))
            if alarms and alarms[-1].index == i:
                weighted = 0.0
        off = value - mean
        mean += off / (i + 1)
        squares += off * (value - mean)
    return alarms


@lru_cache(maxsize=32)
def _limits(between: float) -> tuple[float, float]:
    """Limits of the weighted mean and of a single value, both in standard deviations of a single value."""
    one = -float(ndtri(0.5 / (SHARE_OF_ONE * between)))
    scale = math.sqrt(WEIGHT / (2 - WEIGHT))
    return scale * float(brentq(lambda limit: _run_length(scale * limit, one) - between, 0.8, 8.0, xtol=1e-4)), one


def _run_length(mean_limit: float, one_limit: float) -> float:
    """Values until the first alarm of a process that does not change."""
    width = 2 * mean_limit / STATES
    middles = -mean_limit + width * (np.arange(STATES) + 0.5)
    low = (middles[None, :] - width / 2 - (1 - WEIGHT) * middles[:, None]) / WEIGHT
    inside = [np.clip(end, -one_limit, one_limit) for end in (low, low + width / WEIGHT)]
    step = ndtr(inside[1]) - ndtr(inside[0])
    return float(np.linalg.solve(np.eye(STATES) - step, np.ones(STATES))[STATES // 2])
