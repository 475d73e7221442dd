"""Quantiles of weighted values."""

from __future__ import annotations

from typing import Any

import numpy as np

Array = np.ndarray[Any, np.dtype[np.float64]]


def quantiles(values: Array, weights: Array, shares: tuple[float, ...]) -> list[float]:
    """Weighted quantiles, between neighbouring values by a straight line."""
    order = np.argsort(values, kind="stable")
    placed = np.cumsum(weights[order]) - 0.5 * weights[order]
    return [float(v) for v in np.interp(shares, placed, values[order])]


def quantile_of_sorted(values: Array, share: float) -> Array:
    """Quantile of each row of values sorted along axis 1, (m, n) → (m,): that of :func:`numpy.quantile`, without sorting again."""
    place = share * (values.shape[1] - 1)
    below = int(place)
    above = min(below + 1, values.shape[1] - 1)
    return np.asarray(values[:, below] + (place - below) * (values[:, above] - values[:, below]))
