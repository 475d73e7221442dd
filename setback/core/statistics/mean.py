"""A mean difference with Student's interval, and whether it is more than chance."""

from __future__ import annotations

import math
from collections.abc import Sequence
from statistics import fmean, stdev
from typing import NamedTuple

from scipy.special import stdtrit

LEAST_VALUES = 3
"""With fewer no interval is told."""


class MeanBias(NamedTuple):
    """A mean with its 95 % interval, in the unit of the values."""

    mean: float
    interval: tuple[float, float] | None
    is_shown: bool
    """Whether the interval leaves out nothing."""


def mean_bias(values: Sequence[float]) -> MeanBias:
    """Mean of independent differences with Student's interval; one value at least."""
    mean = fmean(values)
    if len(values) < LEAST_VALUES:
        return MeanBias(mean, None, False)
    reach = float(stdtrit(len(values) - 1, 0.975)) * stdev(values) / math.sqrt(len(values))
    return MeanBias(mean, (mean - reach, mean + reach), abs(mean) > reach)
