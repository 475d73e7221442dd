"""The normal distribution where it is asked for millions of times."""

from __future__ import annotations

from typing import Any

import numpy as np

Floats = np.ndarray[Any, np.dtype[Any]]
"""Of either precision."""
_TAIL = (0.319381530, -0.356563782, 1.781477937, -1.821255978, 1.330274429)


def share_below(z: Floats) -> Floats:
    """Share of a standard normal below z; any shape, in the precision of z.

    Within 1e-7, and five times as fast as :func:`scipy.special.ndtr`, which has every digit: for likelihoods of counts with a lapse,
    not for tails. Source: Abramowitz and Stegun, Handbook of Mathematical Functions, 26.2.17.
    """
    away = np.abs(z)
    t = 1 / (1 + 0.2316419 * away)
    series = np.zeros_like(t)
    for factor in reversed(_TAIL):
        series += factor
        series *= t
    tail = np.exp(-0.5 * away * away)
    tail *= series
    tail *= 0.3989422804
    return np.asarray(np.copysign(0.5 - tail, z) + 0.5)
