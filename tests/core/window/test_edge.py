"""The blurred edge: its slope against differences, and the light for a growth against SciPy's root finder."""

import math

import numpy as np
import pytest
from scipy.optimize import brentq

from setback.core.window.lanes.profile import BEYOND_X, blurred_edge_um, edge_reaches, edge_slope_um

LAM = np.array([20.0, 50.0, 50.0, 120.0])
SHARE = np.array([0.02, 0.5, 0.98, 0.3])


def test_the_slope_of_an_edge_is_that_of_its_growth():
    z = np.array([-0.6, -0.3, 0.1, 0.8, 2.0])[:, None]
    rise = blurred_edge_um(z + 1e-6, LAM, SHARE) - blurred_edge_um(z - 1e-6, LAM, SHARE)
    assert edge_slope_um(z, LAM, SHARE) == pytest.approx(rise / 2e-6, rel=1e-5)


def test_nothing_grows_where_nothing_sets():
    assert edge_slope_um(np.array([-0.7]), 50.0, 0.5) == [0.0]


def test_an_edge_reaches_a_growth_where_its_curve_does():
    growths = [-80.0, -20.0, -1.0, 0.0, 1.0, 20.0, 80.0]
    z = edge_reaches(np.array(growths)[:, None], LAM, SHARE)
    for row, growth in enumerate(growths):
        for column, edge in enumerate(zip(LAM, SHARE, strict=True)):
            root = brentq(
                lambda at, edge=edge, growth=growth: blurred_edge_um(at, *edge) - growth, -math.log(2) + 1e-9, 25
            )
            assert z[row, column] == pytest.approx(min(root, BEYOND_X), abs=1e-6)


def test_a_growth_out_of_reach_ends_at_the_most_light_looked_at():
    assert edge_reaches(np.array([[5000.0]]), LAM, SHARE) == pytest.approx(BEYOND_X)
