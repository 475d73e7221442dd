"""Approach to a final value where readings follow each other in time, by one mass or by two.

A chamber's readings are not independent: a draught or a heater's cycle lasts over several of them. Their departures from the
curve are taken as a first-order process in continuous time, whose correlation is not known either (G. E. P. Box, G. M. Jenkins and
G. C. Reinsel, Time Series Analysis, ch. 3). On a grid of correlations and time constants everything else is linear, so that
its posterior is exact for flat priors (A. Zellner, An Introduction to Bayesian Inference in Econometrics (1971), ch. 4): limits are
those of that posterior. Independent errors cover 0.47 where neighbouring readings correlate by 0.8.

Two masses, such as air and walls, warm as the sum of two exponentials that go the same way. They are told from one by Akaike's criterion for small
samples (C. M. Hurvich and C.-L. Tsai, Biometrika 76 (1989) 297-307), with the same correlated departures on both sides.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.optimize import brentq
from scipy.special import stdtr

from ..contract import Interval
from .quantiles import quantiles

CORRELATIONS = (0.0, 0.2, 0.4, 0.55, 0.7, 0.8, 0.87, 0.92, 0.96, 0.98, 0.992)
"""Of neighbouring readings, on a grid that is finer where it matters."""
ONE_MASS, TWO_MASSES = 80, 24
"""Time constants of the grid, of each mass."""
REFINEMENTS, SUPPORT = 2, 1e-5
APART = 1.7
"""Two masses whose time constants are nearer than this factor are one."""
LEAST_FOR_TWO = 10
LONGEST, SHORTEST = 6.0, 60.0
"""The longest time constant in spans of the log, the shortest in parts of it."""
MOST_READINGS = 240
CLEARLY = 6.0
"""Twice the log-likelihood, penalised, by which two masses must fit better."""
SHARES = (0.025, 0.5, 0.975)

Array = np.ndarray[Any, np.dtype[np.float64]]
Places = np.ndarray[Any, np.dtype[np.intp]]


@dataclass(frozen=True)
class Posterior:
    """What the readings leave possible: 95 % limits and middles; ``fast_tau`` where there are two masses."""

    masses: int
    final: float
    final_ci: Interval
    tau: float
    tau_ci: Interval
    fast_tau: float | None
    correlation: float


def approach_posterior(times: list[float], values: list[float]) -> Posterior:
    """Limits of the final value and of the (slower) time constant.

    Parameters
    ----------
    times : list of float
        In any one unit; five different ones at least.
    values : list of float
        Of the same length.
    """
    t, y = _thinned(np.array(times, dtype=float), np.array(values, dtype=float))
    t = t - t[0]
    span = float(t[-1])
    low, high = math.log(span / SHORTEST), math.log(span * LONGEST)
    one = _refined(t, y, [(low, high)], ONE_MASS)
    two = _refined(t, y, [(low, high), (low, high)], TWO_MASSES) if len(t) > LEAST_FOR_TWO else None
    is_two = two is not None and _criterion(two, len(t)) + CLEARLY < _criterion(one, len(t))
    return _summed_up(two if is_two and two is not None else one)


def _refined(t: Array, y: Array, ranges: list[tuple[float, float]], points: int) -> _Grid:
    """The grid drawn closer round where the posterior is, until it is no longer a few points of it."""
    grid = _grid(t, y, _axes(ranges, points))
    for _ in range(REFINEMENTS):
        if not np.isfinite(grid.log_posterior.max()):
            return grid
        weight = np.exp(grid.log_posterior - grid.log_posterior.max()).max(axis=0)
        there = np.log(grid.taus[weight > SUPPORT])
        steps = [(end - start) / (points - 1) for start, end in ranges]
        ranges = [
            (max(start, float(axis.min()) - step), min(end, float(axis.max()) + step))
            for (start, end), axis, step in zip(ranges, there.T, steps, strict=True)
        ]
        grid = _grid(t, y, _axes(ranges, points))
    return grid


def _axes(ranges: list[tuple[float, float]], points: int) -> list[Array]:
    """Logarithms of time constants, evenly spaced, for each mass."""
    return [np.linspace(low, high, points) for low, high in ranges]


def _apart(axes: list[Array]) -> Places:
    """Places on the axes (rows of one or two indices): every time constant, or every pair of which the first is the faster one by a
    factor at least.
    """
    if len(axes) == 1:
        return np.arange(len(axes[0]))[:, None]
    fast, slow = np.nonzero(axes[1][None, :] - axes[0][:, None] > math.log(APART))
    return np.column_stack([fast, slow])


@dataclass(frozen=True)
class _Grid:
    """Over correlations (rows) and time constants (columns): log posterior, log-likelihood, final value and its scale."""

    taus: Array
    log_posterior: Array
    log_likelihood: Array
    final: Array
    final_se: Array
    degrees: int
    parameters: int


def _thinned(t: Array, y: Array) -> tuple[Array, Array]:
    """In order, with neighbours averaged where there are more readings than are needed, and one reading at each time."""
    order = np.argsort(t, kind="stable")
    t, y = t[order], y[order]
    if len(t) > MOST_READINGS:
        pieces = np.array_split(np.arange(len(t)), MOST_READINGS)
        t, y = np.array([t[p].mean() for p in pieces]), np.array([y[p].mean() for p in pieces])
    different, place = np.unique(t, return_inverse=True)
    return different, np.bincount(place, weights=y) / np.bincount(place)


def _grid(t: Array, y: Array, axes: list[Array]) -> _Grid:
    """The linear fit at every correlation and every time constant, or pair of them.

    Its sums of products are all in one matrix of products between single columns, so that a pair costs no pass over the readings.
    """
    n, masses = len(t), len(axes)
    pairs = _apart(axes)
    taus = np.exp(np.column_stack([axis[pairs[:, mass]] for mass, axis in enumerate(axes)]))
    singles = np.column_stack([np.ones(n), *(-np.exp(-t[:, None] / np.exp(axis)[None, :]) for axis in axes), y])
    starts = np.cumsum([1, *(len(axis) for axis in axes[:-1])])
    places = np.column_stack([np.zeros(len(pairs), dtype=int), pairs + starts])
    columns = masses + 1
    steps = np.diff(t) / np.median(np.diff(t))
    products, log_scale = [], []
    for rho in CORRELATIONS:
        carried = rho**steps
        scale = np.sqrt(1 - carried**2)
        whitened = np.vstack([singles[:1], (singles[1:] - carried[:, None] * singles[:-1]) / scale[:, None]])
        products.append(whitened.T @ whitened)
        log_scale.append(float(np.log(scale).sum()))
    gram, of_scale = np.array(products), np.array(log_scale)[:, None]
    normal = gram[:, places[:, :, None], places[:, None, :]]
    right = gram[:, places, -1]
    total = gram[:, -1, -1][:, None]
    normal = normal + 1e-12 * np.trace(normal, axis1=2, axis2=3)[:, :, None, None] * np.eye(columns)
    inverse = np.linalg.inv(normal)
    beta = np.einsum("rgij,rgj->rgi", inverse, right)
    rest = np.maximum(total - np.einsum("rgi,rgi->rg", beta, right), 1e-12 * total + 1e-300)
    _, log_det = np.linalg.slogdet(normal)
    likelihood = -0.5 * n * np.log(rest / n) - of_scale
    posterior = -0.5 * (n - columns) * np.log(rest) - 0.5 * log_det - of_scale
    if masses > 1:
        # Heated and read at one place, both parts go the same way.
        opposed = beta[:, :, 1] * beta[:, :, 2] <= 0
        likelihood[opposed] = posterior[opposed] = -np.inf
    final_se = np.sqrt(rest / (n - columns) * inverse[:, :, 0, 0])
    return _Grid(taus, posterior, likelihood, beta[:, :, 0], final_se, n - columns, columns + masses + 2)


def _criterion(grid: _Grid, n: int) -> float:
    k = grid.parameters
    correction = 2 * k * (k + 1) / (n - k - 1) if n > k + 1 else math.inf
    return -2 * float(grid.log_likelihood.max()) + 2 * k + correction


def _summed_up(grid: _Grid) -> Posterior:
    weight = np.exp(grid.log_posterior - grid.log_posterior.max())
    weight /= weight.sum()
    of_tau = weight.sum(axis=0)
    slow = np.log(grid.taus[:, -1])
    low, middle, high = quantiles(slow, of_tau, SHARES)
    fast = math.exp(quantiles(np.log(grid.taus[:, 0]), of_tau, (0.5,))[0]) if grid.taus.shape[1] == 2 else None
    ends = _mixture(grid, weight)
    return Posterior(
        masses=grid.taus.shape[1],
        final=ends[1],
        final_ci=(ends[0], ends[2]),
        tau=math.exp(middle),
        tau_ci=(math.exp(low), math.exp(high)),
        fast_tau=fast,
        correlation=float(weight.sum(axis=1) @ np.array(CORRELATIONS)),
    )


def _mixture(grid: _Grid, weight: Array) -> tuple[float, float, float]:
    """2.5 %, middle and 97.5 % of the final value: a Student's t at each point of the grid."""
    counts = weight > 1e-7
    w, at, se = weight[counts] / weight[counts].sum(), grid.final[counts], grid.final_se[counts]

    def share_below(place: float) -> float:
        return float(w @ stdtr(grid.degrees, (place - at) / se))

    low, high = float((at - 60 * se).min()), float((at + 60 * se).max())
    ends = [brentq(lambda place, share=share: share_below(place) - share, low, high, xtol=1e-9) for share in SHARES]
    return ends[0], ends[1], ends[2]
