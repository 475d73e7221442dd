"""The first-order approach that heating, cooling and cure share: what was put in comes out, and uncertainty is honest."""

import math
import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from setback.core.contract import Problem
from setback.core.statistics.exponential import fit_approach


def curve(first, final, tau, times):
    return [final - (final - first) * math.exp(-t / tau) for t in times]


TIMES = [float(5 * k) for k in range(25)]


@settings(max_examples=40, deadline=None)
@given(
    st.floats(-5, 30), st.floats(5, 60).filter(lambda rise: abs(rise) > 1), st.floats(8, 80), st.sampled_from([1, -1])
)
def test_without_noise_it_gives_back_what_went_in(first, rise, tau, sign):
    made = fit_approach(TIMES, curve(first, first + sign * rise, tau, TIMES))
    assert made.tau == pytest.approx(tau, rel=1e-3)
    assert made.final == pytest.approx(first + sign * rise, abs=0.02 * rise)
    assert made.first == pytest.approx(first, abs=0.01 * rise)
    assert made.r_squared > 0.9999


@pytest.mark.parametrize("later", [30, 3000, 1e6])
def test_times_that_begin_later_give_the_value_at_the_first_of_them(later):
    """A clock that ran before the heater did: going back to its zero once gave −214,237,898 °C."""
    made = fit_approach([t + later for t in TIMES], curve(7.0, 30.0, 40.0, TIMES))
    assert made.first == pytest.approx(7.0, abs=0.05) and made.tau == pytest.approx(40.0, rel=1e-3)
    assert made.first_ci[0] < 7.1 and made.first_ci[1] > 6.9


def test_its_95_percent_hold_what_went_in_about_that_often():
    chance, inside = random.Random(7), 0
    for _ in range(200):
        values = [v + chance.gauss(0, 0.3) for v in curve(7.0, 30.0, 35.0, TIMES)]
        low, high = fit_approach(TIMES, values).tau_ci
        inside += low <= 35.0 <= high
    assert 180 <= inside <= 199


def test_three_points_have_no_uncertainty_of_their_own():
    made = fit_approach([0.0, 20.0, 60.0], curve(7.0, 30.0, 25.0, [0.0, 20.0, 60.0]))
    assert made.tau_ci is None and made.residual_sd is None and made.final == pytest.approx(30.0, abs=0.1)


@pytest.mark.parametrize("values", [[7.0 + 0.1 * t for t in TIMES], [7.0] + [30.0] * 24])
def test_a_straight_line_or_a_jump_says_nothing_of_an_end(values):
    with pytest.raises(Problem, match="do not bend"):
        fit_approach(TIMES, values)
