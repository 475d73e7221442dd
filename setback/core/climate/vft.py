"""Flow over a wide range of temperatures: the Vogel, Fulcher and Tammann law.

ln η = A + B/(T − T₀) with T in kelvin (H. Vogel, Physikalische Zeitschrift 22 (1921) 645; G. S. Fulcher, Journal of the American
Ceramic Society 8 (1925) 339). Resins thicken faster in the cold than Andrade's straight line says. For every T₀ of a grid the rest
is a straight line, so that the posterior for flat priors is exact on it (A. Zellner, An Introduction to Bayesian Inference in
Econometrics (1971), ch. 3); what follows from it is told by draws that are the same at every call.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..contract import Interval
from .quantities import KELVIN

LEAST_TEMPERATURES = 5
GRID = 200
DRAWS = 4000
COLDEST_GAP_K = 30.0
"""T₀ lies at least this far below what was measured: there resin would be glass."""

Array = np.ndarray[Any, np.dtype[np.float64]]
LIMITS = (0.025, 0.5, 0.975)


@dataclass(frozen=True)
class VftDraws:
    """Curves that the readings leave possible: T₀ in kelvin, B, and the logarithm at ``middle``, kelvin."""

    t0: Array
    b: Array
    at_middle: Array
    middle: float

    def logs_at(self, kelvin: float) -> Array:
        """Logarithm of the viscosity at one temperature, for every curve."""
        return self.at_middle + self.b * (1 / (kelvin - self.t0) - 1 / (self.middle - self.t0))

    def value(self, temp_c: float) -> tuple[float, Interval]:
        """Viscosity at a temperature with its 95 % limits."""
        low, middle, high = np.exp(np.quantile(self.logs_at(temp_c + KELVIN), LIMITS))
        return float(middle), (float(low), float(high))

    def temperature(self, log_value: float) -> tuple[float, Interval] | None:
        """Temperature, °C, at which it flows so, with its 95 % limits; None where more than a few curves never do."""
        inverse = (log_value - self.at_middle) / self.b + 1 / (self.middle - self.t0)
        there = inverse > 0
        if there.mean() < 1 - LIMITS[0]:
            return None
        low, middle, high = np.quantile(self.t0[there] + 1 / inverse[there] - KELVIN, LIMITS)
        return float(middle), (float(low), float(high))

    def energy(self, gas_j_mol_k: float) -> tuple[float, Interval]:
        """Apparent activation energy in the middle of what was measured, kJ/mol, with its 95 % limits."""
        energies = gas_j_mol_k * self.b * (self.middle / (self.middle - self.t0)) ** 2 / 1000
        low, middle, high = np.quantile(energies, LIMITS)
        return float(middle), (float(low), float(high))


def vft_draws(temps_c: list[float], logs: list[float]) -> VftDraws:
    """What readings at five different temperatures or more leave possible.

    Parameters
    ----------
    temps_c, logs : list of float
        Temperatures, °C, and logarithms of the viscosity, of one length.
    """
    kelvin, y = np.array(temps_c) + KELVIN, np.array(logs)
    n, middle = len(y), float(kelvin.mean())
    t0 = np.linspace(0.0, float(kelvin.min()) - COLDEST_GAP_K, GRID)
    x = 1 / (kelvin[None, :] - t0[:, None]) - 1 / (middle - t0[:, None])
    mean_x = x.mean(axis=1)
    spread_x = ((x - mean_x[:, None]) ** 2).sum(axis=1)
    slope = ((x - mean_x[:, None]) * (y - y.mean())).sum(axis=1) / spread_x
    rest = ((y - y.mean() - slope[:, None] * (x - mean_x[:, None])) ** 2).sum(axis=1)
    rest = np.maximum(rest, 1e-12 * max(float(((y - y.mean()) ** 2).sum()), 1e-300))
    # B is taken per unit of its own scale, so that the prior does not lean to any T₀.
    log_posterior = -0.5 * (n - 2) * np.log(rest)
    weight = np.exp(log_posterior - log_posterior.max())
    source = np.random.default_rng(1)
    at = source.choice(GRID, DRAWS, p=weight / weight.sum())
    sigma = np.sqrt(rest[at] / source.chisquare(n - 2, DRAWS))
    b = slope[at] + sigma / np.sqrt(spread_x[at]) * source.standard_normal(DRAWS)
    at_mean = y.mean() + sigma / math.sqrt(n) * source.standard_normal(DRAWS)
    upward = b > 0
    return VftDraws(t0=t0[at][upward], b=b[upward], at_middle=(at_mean - b * mean_x[at])[upward], middle=middle)
