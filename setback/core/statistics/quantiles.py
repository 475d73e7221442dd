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
