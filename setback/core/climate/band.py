"""Whether a temperature lies in the band in which a parameter set was found."""

from __future__ import annotations

from typing import Literal

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
