"""Means of earlier results: raw values, and means that were told with their number and spread, together."""

from __future__ import annotations

import math
from collections.abc import Sequence

from pydantic import Field

from ..contract import Contract


class EarlierValue(Contract):
    """One value, or the mean of several."""

    value: float
    n: int = Field(1, ge=1)
    sd: float | None = Field(None, ge=0)


class Pooled(Contract):
    """All of them as one mean."""

    mean: float
    n: int
    sd: float | None = Field(description="None where a single value, or a mean without its spread, is all there is")


def pooled(values: Sequence[EarlierValue]) -> Pooled:
    """Mean, number and standard deviation of all specimens behind some values and means.

    Sums of squares within a mean come from its spread, those between means from their distance; where a mean of several came without a
    spread, nothing is said of the spread.

    Raises
    ------
    ValueError
        Without any value.
    """
    if not values:
        raise ValueError("there is no value to pool")
    n = sum(part.n for part in values)
    mean = sum(part.n * part.value for part in values) / n
    if n < 2 or any(part.n > 1 and part.sd is None for part in values):
        return Pooled(mean=mean, n=n, sd=None)
    within = sum((part.n - 1) * (part.sd or 0.0) ** 2 for part in values)
    between = sum(part.n * (part.value - mean) ** 2 for part in values)
    return Pooled(mean=mean, n=n, sd=math.sqrt((within + between) / (n - 1)))
