"""The band of temperatures of a parameter set: what is proposed for it, and whether a temperature lies in it."""

from __future__ import annotations

import math
from typing import Literal

from ..contract import Contract

# A band ends where the evidence does; thermometers do not know a tenth of a degree.
SLACK_C = 0.5

Side = Literal["below", "above"]


def outside(temp_c: float, low_c: float | None, high_c: float | None) -> Side | None:
    """On which side of the band a temperature lies; None inside it, or where no band is known."""
    if low_c is not None and temp_c < low_c - SLACK_C:
        return "below"
    if high_c is not None and temp_c > high_c + SLACK_C:
        return "above"
    return None


AT_LEAST_C = 2.0
"""A band is this much wider than the coupons' own temperatures on either side: a thermometer and a room wander as far."""
FURTHEST_C = 8.0
"""No effect is trusted further than this beyond what was printed."""


class ProposedBand(Contract):
    """The temperatures a set is proposed to be valid for, and what that rests on."""

    low_c: float | None
    high_c: float | None
    basis: Literal["none", "coupons", "effect"]
    why: str


def proposed_band(
    printed_c: tuple[float, float] | None,
    exposure_s: float,
    window_s: tuple[float, float] | None,
    percent_per_c: float | None,
    at_least_c: float = AT_LEAST_C,
) -> ProposedBand:
    """The band of resin temperatures in which an exposure stays inside its window.

    Colder resin needs more light: the whole window moves up by ``percent_per_c`` for each degree, so the exposure reaches the
    window's lower end so many degrees below the coldest coupon, and its upper end above the warmest.

    Parameters
    ----------
    printed_c : tuple of float, °C
        The coldest and the warmest coupon; None where no temperature was noted.
    exposure_s : float, s
        The exposure that is issued.
    window_s : tuple of float, s
        Ends of the window; None where there is none.
    percent_per_c : float, %
        Change of exposure per °C where the temperature effect is shown, by its steeper end; None where it is not. Negative, or no
        correction is made.
    at_least_c : float, °C
        How far to either side of the coupons it reaches where no effect is shown.
    """
    if printed_c is None:
        return ProposedBand(low_c=None, high_c=None, basis="none", why="No coupon says how warm it was.")
    cold, warm = printed_c
    span = f"{cold:g}" if cold == warm else f"{cold:g} to {warm:g}"
    if window_s is not None and percent_per_c is not None and percent_per_c < 0:
        per_degree = -math.log1p(percent_per_c / 100)
        lower_s, upper_s = window_s
        below = min(max(math.log(exposure_s / lower_s) / per_degree, 0.0), FURTHEST_C)
        above = min(max(math.log(upper_s / exposure_s) / per_degree, 0.0), FURTHEST_C)
        return ProposedBand(
            low_c=min(math.ceil(cold - below), math.floor(cold)),
            high_c=max(math.floor(warm + above), math.ceil(warm)),
            basis="effect",
            why=f"Coupons at {span} °C, and as far as the temperature effect ({-percent_per_c:.1f} % less per °C at most) "
            "keeps this exposure in its window.",
        )
    return ProposedBand(
        low_c=math.floor(cold - at_least_c),
        high_c=math.ceil(warm + at_least_c),
        basis="coupons",
        why=f"Coupons at {span} °C, and {at_least_c:g} °C to either side; no temperature effect is shown.",
    )
