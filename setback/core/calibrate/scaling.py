"""An exposure carried to another light power, and how many coupons would settle a carried one."""

from __future__ import annotations

import math

from .transfer import HALF_80, Transfer

POWER_SD = 0.15
"""Spread of the exponent m in t ~ 1/I^m about 1: acrylates cure somewhat less than in proportion to light power."""
OWN_SD = 0.03
"""Of ln exposure, of a printer that is set to another power: its steps of power are not exact."""


def by_power(exposure_s: float, from_pct: float, to_pct: float) -> Transfer:
    """Exposure at another light power, with its 80 % interval.

    Parameters
    ----------
    exposure_s : float
        At the power it was found at, s.
    from_pct, to_pct : float
        Light power then and now, percent of the printer's full power.

    Notes
    -----
    Equal dose, with the departures from reciprocity that are usual: J. W. Wydra et al., Dental Materials 30 (2014), 605-612.
    """
    ratio = from_pct / to_pct
    value = exposure_s * ratio
    half = HALF_80 * math.hypot(POWER_SD * abs(math.log(ratio)), OWN_SD)
    words = f"{from_pct:g} % to {to_pct:g} % of the light: {ratio:.2f} times as long for the same dose."
    interval = (value * math.exp(-half), value * math.exp(half))
    return Transfer(method="light power", exposure_s=value, interval_s=interval, explained=words)


def coupons_to_settle(interval_s: tuple[float, float], latitude_pct: float | None) -> int:
    """Coupons after which an interval is no wider than the window: each halves it, and one more shows that it holds.

    Parameters
    ----------
    interval_s : (float, float)
        Where the exposure lies, s.
    latitude_pct : float or None
        Width of the window to be hit; 20 % where it is not known.
    """
    wide = math.log(interval_s[1] / interval_s[0])
    window = math.log1p((latitude_pct or 20.0) / 100)
    return 1 + max(0, math.ceil(math.log2(wide / window))) if wide > 0 else 1
