"""Warming with readings that follow each other, by one mass and by two."""

import math

import numpy as np
import pytest

from setback.core.statistics.correlated_approach import approach_posterior
from tests.length import FULL

from .coverage import Coverage

TWO_MASSES = [(0.3, 200.0, 2500.0), (0.5, 300.0, 2500.0), (0.4, 400.0, 3000.0)]
"""Share of the rise by the faster mass, and both time constants."""


def follow(rng: np.random.Generator, count: int, correlation: float) -> np.ndarray:
    departures = [rng.standard_normal()]
    while len(departures) < count:
        fresh = math.sqrt(1 - correlation**2) * rng.standard_normal()
        departures.append(correlation * departures[-1] + fresh)
    return np.array(departures)


@pytest.mark.honesty
@pytest.mark.parametrize("correlation", [0.0, 0.8])
def test_limits_where_readings_follow_each_other(correlation):
    rng, tau = np.random.default_rng(1), 1500.0
    times = np.linspace(0, 2 * tau, 40)
    tau_held, final_held = Coverage(f"time constant, correlation {correlation:g}"), Coverage("final value of the same")
    for _ in range(2000 if FULL else 4):
        values = 40 - 34 * np.exp(-times / tau) + 0.2 * follow(rng, 40, correlation)
        found = approach_posterior(times.tolist(), values.tolist())
        tau_held.count(found.tau_ci[0] <= tau <= found.tau_ci[1] if found.masses == 1 else None)
        final_held.count(found.final_ci[0] <= 40 <= found.final_ci[1] if found.masses == 1 else None)
    print(f"\n{tau_held}\n{final_held}")
    assert tau_held.answered > 0.8 * tau_held.runs
    assert tau_held.least(0.92) and final_held.least(0.92)


@pytest.mark.honesty
@pytest.mark.parametrize(("fast_share", "fast", "slow"), TWO_MASSES if FULL else TWO_MASSES[:1])
def test_limits_of_two_masses(fast_share, fast, slow):
    rng, times = np.random.default_rng(7), np.linspace(0, 8000, 80)
    tau_held = Coverage(f"slower time constant of two masses, {fast_share:.0%} of the rise within {fast:g} s")
    final_held = Coverage("final value of the same")
    for _ in range(2000 if FULL else 1):
        curve = 40 - 34 * (fast_share * np.exp(-times / fast) + (1 - fast_share) * np.exp(-times / slow))
        found = approach_posterior(times.tolist(), (curve + 0.15 * follow(rng, 80, 0.6)).tolist())
        tau_held.count(found.tau_ci[0] <= slow <= found.tau_ci[1] if found.masses == 2 else None)
        final_held.count(found.final_ci[0] <= 40 <= found.final_ci[1] if found.masses == 2 else None)
    print(f"\n{tau_held}\n{final_held}")
    assert tau_held.answered >= 0.9 * tau_held.runs
    assert tau_held.least(0.92) and final_held.least(0.92)


def test_air_and_walls_are_told_from_one_mass():
    rng, times = np.random.default_rng(2), np.linspace(0, 6000, 60)
    values = 40 - 34 * (0.3 * np.exp(-times / 200) + 0.7 * np.exp(-times / 2500)) + 0.15 * follow(rng, 60, 0.6)
    found = approach_posterior(times.tolist(), values.tolist())
    assert found.masses == 2 and found.tau_ci[0] < 2500 < found.tau_ci[1] and found.fast_tau < 600
