"""How many digits a number deserves, and numbers in words."""

from __future__ import annotations

import math


def decimals(value: float | None, doubt: float | None = None) -> int:
    """Decimals that the evidence carries: the doubt's first digit is the last one shown, its second when that is a 1.

    Without a doubt three significant digits are shown.
    """
    if doubt is not None and doubt > 0 and math.isfinite(doubt):
        lead = math.floor(math.log10(doubt) + 1e-12)
        return max(-lead + (1 if doubt / 10**lead < 2 else 0), 0)
    if value is None or value == 0 or not math.isfinite(value):
        return 0
    return max(2 - math.floor(math.log10(abs(value))), 0)


def shown(value: float, doubt: float | None = None) -> str:
    """A value with as many digits as its uncertainty leaves: two digits of the uncertainty."""
    return f"{value:.{decimals(value, doubt)}f}"
