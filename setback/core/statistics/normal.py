"""The normal distribution where it is asked for millions of times."""

from __future__ import annotations

from typing import Any

import numpy as np

Floats = np.ndarray[Any, np.dtype[Any]]
"""Of either precision."""
_LOG_ODDS = (2.85001253e-06, -7.33869070e-05, -1.75653033e-04, 7.27845723e-02, 1.59573942)
"""Of share_below, over z, as a polynomial of z²: fitted for the least of the largest error, and rising everywhere."""


def share_below(z: Floats) -> Floats:
    """Share of a standard normal below z; any shape, in the precision of z.

    Within 2e-6, and in single precision nine times as fast as :func:`scipy.special.ndtr`, which has every digit: for likelihoods of counts with a lapse,
    not for tails. Source: the log odds of the normal distribution as an odd polynomial (as in Page, Applied Statistics 26, 1977, with
    three terms more), its coefficients from a least-squares fit to SciPy's with weights on the largest errors.
    """
    with np.errstate(over="ignore"):  # Far out the odds are infinite, and the share is 0 or 1.
        squared = z * z
        odds = _LOG_ODDS[0] * squared
        for factor in _LOG_ODDS[1:-1]:
            odds += factor
            odds *= squared
        odds += _LOG_ODDS[-1]
        odds *= z
        np.negative(odds, out=odds)
        np.exp(odds, out=odds)
        odds += 1
        return np.asarray(np.reciprocal(odds, out=odds))
