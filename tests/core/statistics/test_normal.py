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


def test_far_out_it_is_none_or_all():
    assert share_below(np.array([-1e30, -1e6, 1e6, 1e30], dtype=np.float32)).tolist() == [0, 0, 1, 1]
