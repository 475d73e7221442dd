"""The quick normal distribution against SciPy's, which has every digit."""

import numpy as np
import pytest
from scipy.special import ndtr

from setback.core.statistics.normal import share_below


@pytest.mark.parametrize(("precision", "within"), [(np.float64, 2e-6), (np.float32, 2e-6)])
def test_share_below_is_right_everywhere(precision, within):
    z = np.linspace(-40, 40, 8001).reshape(3, -1).astype(precision)
    share = share_below(z)
    assert share.shape == z.shape and share.dtype == precision
    assert np.max(np.abs(share - ndtr(z.astype(float)))) < within
    assert share.min() >= 0 and share.max() <= 1
