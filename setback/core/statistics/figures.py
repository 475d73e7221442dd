"""How many digits a number deserves, and numbers in words."""

from __future__ import annotations

import math


def decimals(value: float | None, uncertainty: float | None = None) -> int:
    """Decimals that the evidence carries: the uncertainty's first digit is the last one shown, its second when that is a 1.

    Without an uncertainty three significant digits are shown.
    """
    if uncertainty is not None and uncertainty > 0 and math.isfinite(uncertainty):
        lead = math.floor(math.log10(uncertainty) + 1e-12)
        return max(-lead + (1 if uncertainty / 10**lead < 2 else 0), 0)
    if value is None or value == 0 or not math.isfinite(value):
        return 0
    return max(2 - math.floor(math.log10(abs(value))), 0)


def shown(value: float, uncertainty: float | None = None) -> str:
    """A value with as many digits as its uncertainty leaves: two digits of the uncertainty."""
    return f"{value:.{decimals(value, uncertainty)}f}"
