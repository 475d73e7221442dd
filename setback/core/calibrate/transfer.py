"""Carry an exposure from one printer to another: by a resin calibrated on both, or by a light meter."""

from __future__ import annotations

import math

from ..contract import Contract, Interval

# Uncertainty of ln exposure beyond the numbers themselves: pairs differ (start-exposure's pair effect, twice), and a meter
# reads the middle of its own band of light, not the resin's.
REFERENCE_SD = 0.12 * math.sqrt(2)
METER_SD = 0.2
HALF_80 = 1.2816


class Transfer(Contract):
    """A start value carried over, with how it was reckoned."""

    method: str
    exposure_s: float
    interval_s: Interval
    explained: str


def by_reference_resin(
    here_s: float, reference_here_s: float, reference_there_s: float, reference: str, here: str, there: str
) -> Transfer:
    """One resin calibrated on both printers tells their ratio: t = t_here x reference_there / reference_here.

    Parameters
    ----------
    here_s, reference_here_s, reference_there_s : float
        Exposures at one layer height, s: of the material and of the reference here, of the reference there.
    """
    ratio = reference_there_s / reference_here_s
    message = (
        f"{reference} takes {reference_here_s:g} s on {here} and {reference_there_s:g} s on {there}: "
        f"{ratio:.2f} times as long. So {here_s:g} s become {here_s * ratio:.2g} s."
    )
    return _made("reference resin", here_s * ratio, REFERENCE_SD, message)


def by_light_meter(here_s: float, light_here: float, light_there: float, here: str, there: str) -> Transfer:
    """Dose is light times time: t = t_here x light_here / light_there. Both readings by the same meter."""
    ratio = light_here / light_there
    message = (
        f"The meter reads {light_here:.3g} on {here} and {light_there:.3g} on {there}: {ratio:.2f} times as long for the "
        "same dose. A meter sees its own band of light, not the resin's."
    )
    return _made("light meter", here_s * ratio, METER_SD, message)


def _made(method: str, exposure_s: float, sd: float, message: str) -> Transfer:
    half_width = HALF_80 * sd
    ends = (exposure_s * math.exp(-half_width), exposure_s * math.exp(half_width))
    return Transfer(method=method, exposure_s=exposure_s, interval_s=ends, explained=message)
