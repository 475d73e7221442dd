"""Viscosity over a wide range: the law's limits, counted on curves that bend and on such that do not."""

import math

import numpy as np
import pytest

from setback.core.climate.viscosity import FlowPoint, ViscosityCurveInput, viscosity_curve
from setback.core.contract import Problem
from tests.core.statistics.coverage import Coverage
from tests.length import FULL

T0, B, KELVIN = 190.0, 780.0, 273.15


def vft(temp_c, t0=T0, b=B):
    """300 mPa·s at 25 °C."""
    return 300 * math.exp(b / (temp_c + KELVIN - t0) - b / (25 + KELVIN - t0))


def curve_of(temps, values, **more):
    points = [FlowPoint(temp_c=t, viscosity_mpa_s=v) for t, v in zip(temps, values, strict=True)]
    return viscosity_curve(ViscosityCurveInput(points=points, **more))


@pytest.mark.honesty
@pytest.mark.parametrize(("t0", "b"), [(T0, B), (0.0, 6400.0), (120.0, 2200.0)])
@pytest.mark.parametrize("n", [5, 8])
def test_limits_of_flow_and_of_the_temperature_for_it(t0, b, n):
    rng, temps = np.random.default_rng(4), np.linspace(8, 38, n)
    target = Coverage(f"temperature for 400 mPa·s, T0 = {t0:g} K, {n} temperatures")
    cold = Coverage("viscosity at 8 °C of the same")
    true_c = next(t for t in np.linspace(0, 45, 9001) if vft(t, t0, b) <= 400)
    for _ in range(2000 if FULL else 30):
        values = [vft(t, t0, b) * math.exp(0.03 * rng.standard_normal()) for t in temps]
        result = curve_of(temps, values, target_mpa_s=400, temp_c=8)
        target.count(result.temp_for_target_ci_c[0] <= true_c <= result.temp_for_target_ci_c[1])
        cold.count(result.at_temp_ci[0] <= vft(8, t0, b) <= result.at_temp_ci[1])
    print(f"\n{target}\n{cold}")
    assert target.least(0.92) and cold.least(0.92)


def test_a_straight_line_misses_the_cold_and_this_does_not():
    temps = [8, 14, 20, 26, 32, 38]
    wide = curve_of(temps, [vft(t) for t in temps], temp_c=2)
    assert wide.law == "vft" and wide.at_temp == pytest.approx(vft(2), rel=0.02)
    narrow = curve_of(temps[2:], [vft(t) for t in temps[2:]], temp_c=2)
    assert narrow.law == "andrade" and narrow.at_temp < 0.9 * vft(2)
    assert wide.activation_energy_kj_mol > narrow.activation_energy_kj_mol


def test_repeats_at_four_temperatures_are_no_fifth():
    temps = [15, 15, 20, 25, 30]
    assert curve_of(temps, [vft(t) for t in temps]).law == "andrade"


def test_thinner_than_it_can_get():
    temps = [8, 14, 20, 26, 32, 38]
    with pytest.raises(Problem) as refused:
        curve_of(temps, [vft(t) for t in temps], target_mpa_s=0.001)
    assert "thinner" in refused.value.fields["target_mpa_s"]
