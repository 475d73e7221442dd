"""What a chamber is from one log, counted through the calculator itself."""

import numpy as np
import pytest

from setback.core.climate.heat_fit import HeatSample, WarmUpFitInput, temperature_at, warm_up_fit
from tests.core.statistics.coverage import Coverage
from tests.core.statistics.test_correlated_approach import follow
from tests.length import FULL

LOSS, TAU, ROOM = 60 / 34, 1500.0, 6.0


def fitted(times, temps, ambient=ROOM):
    samples = [HeatSample(time_s=float(t), temp_c=float(c)) for t, c in zip(times, temps, strict=True)]
    return warm_up_fit(WarmUpFitInput(samples=samples, heater_w=60, ambient_c=ambient))


@pytest.mark.honesty
@pytest.mark.parametrize("first_s", [0.0, 90_000.0])
def test_limits_of_a_log_whose_readings_follow_each_other(first_s):
    """Also one that does not begin at 0 s."""
    rng, times = np.random.default_rng(3), np.linspace(0, 2 * TAU, 40)
    tau, steady = (
        Coverage(f"warm-up-fit, time constant, from {first_s:g} s"),
        Coverage("steady temperature of the same"),
    )
    for _ in range(2000 if FULL else 4):
        result = fitted(times + first_s, 40 - 34 * np.exp(-times / TAU) + 0.2 * follow(rng, 40, 0.8))
        is_one = result.masses == 1
        tau.count(result.time_constant_ci_s[0] <= TAU <= result.time_constant_ci_s[1] if is_one else None)
        steady.count(result.steady_ci_c[0] <= 40 <= result.steady_ci_c[1] if is_one else None)
    print(f"\n{tau}\n{steady}")
    assert tau.answered > 0.8 * tau.runs and tau.least(0.92) and steady.least(0.92)


def test_two_masses_are_told_and_hold_what_was_not_lost():
    """Air and walls: the curve is drawn by both, and the heat both hold follows from the area above the curve."""
    rng, times = np.random.default_rng(2), np.linspace(0, 9000, 90)
    curve = lambda t: 40 - 34 * (0.3 * np.exp(-t / 200) + 0.7 * np.exp(-t / 2500))  # noqa: E731
    result = fitted(times, curve(times) + 0.15 * follow(rng, 90, 0.6))
    assert result.masses == 2 and "two-masses" in {w.code for w in result.warnings}
    assert result.time_constant_ci_s[0] < 2500 < result.time_constant_ci_s[1]
    assert result.fast_time_constant_s < 600
    assert result.heat_capacity_j_per_k == pytest.approx(LOSS * (0.3 * 200 + 0.7 * 2500), rel=0.1)
    assert [temperature_at(result, t) for t in (0, 300, 3000)] == pytest.approx(
        [curve(t) for t in (0, 300, 3000)], abs=0.6
    )


def test_readings_that_are_computed_come_back_as_they_were():
    times = np.linspace(0, 4000, 30)
    result = fitted(times, 40 - 34 * np.exp(-times / TAU))
    assert result.masses == 1 and result.time_constant_s == pytest.approx(TAU, rel=1e-4)
    assert result.steady_c == pytest.approx(40, abs=1e-3) and result.correlation == 0
    assert temperature_at(result, 0) == pytest.approx(6, abs=1e-3)


def test_a_log_with_a_gap():
    """An hour in which nobody logged: the readings on both sides of it hang together less."""
    rng, times = np.random.default_rng(5), np.concatenate([np.linspace(0, 900, 16), np.linspace(4500, 6000, 26)])
    result = fitted(times, 40 - 34 * np.exp(-times / TAU) + 0.1 * rng.standard_normal(42))
    assert result.time_constant_ci_s[0] < TAU < result.time_constant_ci_s[1]
