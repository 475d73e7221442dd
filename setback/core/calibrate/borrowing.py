"""An exposure of another workshop carried to a printer here, by whatever both have measured."""

from __future__ import annotations

import math
from collections.abc import Sequence

from pydantic import Field

from ..contract import Contract, Interval, Seconds
from .transfer import HALF_80, METER_SD, REFERENCE_SD

PRINTERS_SD = 0.45
"""Of ln exposure between two printers of which nothing in common is known."""
CURVE_SD = 0.15
"""Of ln exposure carried by the critical exposures of two working curves."""
WORKSHOP_SD = 0.15
"""Another room, bottle, age of the screen and eye: what no comparison takes away."""


class SharedMaterial(Contract):
    """A material that both workshops have calibrated, at one layer height."""

    name: str = Field(max_length=120)
    there_s: Seconds
    here_s: Seconds


class BorrowInput(Contract):
    """Their exposure, and what both have measured."""

    exposure_s: Seconds
    shared: list[SharedMaterial] = Field([], max_length=500)
    light_there: float | None = Field(None, gt=0, description="Mean of their plate by a light meter")
    light_here: float | None = Field(None, gt=0, description="Mean of the plate here, by a meter in the same unit")
    critical_there_s: Seconds | None = Field(None, description="Of a working curve of the material on their printer")
    critical_here_s: Seconds | None = Field(None, description="Of one on the printer here")


class Borrowed(Contract):
    """The exposure as it is expected here, with its 80 % interval, s."""

    exposure_s: float
    interval_s: Interval
    log_sd: float
    carried_by: list[str] = Field(description="What it was carried by, in words")


def borrow(inputs: BorrowInput) -> Borrowed:
    """Carry an exposure over: each thing in common tells the ratio of the two printers with its own spread, weighted by it.

    Parameters
    ----------
    inputs : BorrowInput
        Exposures in seconds at one layer height; light in any one unit.

    Notes
    -----
    Precision-weighted mean of ln ratios, from no difference with a spread of :data:`PRINTERS_SD`; :data:`WORKSHOP_SD` is added at the end.
    """
    ratios = [(0.0, PRINTERS_SD)]
    words = []
    if inputs.shared:
        logs = [math.log(material.here_s / material.there_s) for material in inputs.shared]
        spread = REFERENCE_SD * math.sqrt((1 + 1 / len(logs)) / 2)
        ratios.append((sum(logs) / len(logs), spread))
        names = ", ".join(material.name for material in inputs.shared[:3])
        more = f" and {len(logs) - 3} more" if len(logs) > 3 else ""
        words.append(f"{names}{more}, calibrated in both: {math.exp(ratios[-1][0]):.2f} times as long here")
    if inputs.light_there is not None and inputs.light_here is not None:
        ratios.append((math.log(inputs.light_there / inputs.light_here), METER_SD))
        words.append(f"light meters: {inputs.light_there:.3g} there, {inputs.light_here:.3g} here")
    if inputs.critical_there_s is not None and inputs.critical_here_s is not None:
        ratios.append((math.log(inputs.critical_here_s / inputs.critical_there_s), CURVE_SD))
        words.append(f"working curves: {inputs.critical_there_s:.2g} s there, {inputs.critical_here_s:.2g} s here")
    weights = [1 / sd**2 for _, sd in ratios]
    mean = sum(weight * log for weight, (log, _) in zip(weights, ratios, strict=True)) / sum(weights)
    sd = math.hypot(1 / math.sqrt(sum(weights)), WORKSHOP_SD)
    value = inputs.exposure_s * math.exp(mean)
    interval = (value * math.exp(-HALF_80 * sd), value * math.exp(HALF_80 * sd))
    return Borrowed(
        exposure_s=value,
        interval_s=interval,
        log_sd=sd,
        carried_by=words or ["nothing in common: as if the printers were alike, with all the room that takes"],
    )


def with_borrowed(mean: float, variance: float, borrowed: Sequence[tuple[float, float]]) -> tuple[float, float]:
    """What is believed of ln exposure after borrowed numbers are heard.

    Parameters
    ----------
    mean, variance : float
        Of ln exposure, s, by this lab's own calibrations.
    borrowed : sequence of (exposure in s, spread of its logarithm)
        Each from another workshop.
    """
    precision = 1 / variance if variance > 0 else math.inf
    if math.isinf(precision) or not borrowed:
        return mean, variance
    total, weighted = precision, precision * mean
    for exposure_s, sd in borrowed:
        total += 1 / sd**2
        weighted += math.log(exposure_s) / sd**2
    return weighted / total, 1 / total
