"""What is believed of a few numbers after looking: weighted points, found by adaptive importance sampling.

Method: fixed low-discrepancy points (Sobol) are laid through a multivariate Student t with five degrees of freedom. The
likelihood is let in by degrees (tempering), each time as far as a quarter of the points still carry weight, and the t is moved and shrunk to the
weighted points, until all of the likelihood counts. Nothing is drawn by chance: the same evidence gives the same digits.
Sources: Cappé et al., Adaptive importance sampling in general mixture classes, 2008; Del Moral et al., Sequential Monte
Carlo samplers, 2006 (choice of the temper by the effective number of points).
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Any

import numpy as np
from scipy.special import gammaincinv, ndtri

from .effects import over_effects

Array = np.ndarray[Any, np.dtype[np.float64]]
Floats = np.ndarray[Any, np.dtype[Any]]
"""Of either precision."""
DEGREES = 5
COARSE, FINE = 256, 512
"""Points while the place is looked for, and points that are reported from; powers of two, as Sobol's sequence wants."""
WANTED_SHARE = 0.3
MOST_ROUNDS = 14
WIDEN = 1.25
"""The t is this much wider than the points it follows, so that it covers what it has not seen."""
LEAST_WEIGHT_SHARE = 0.08
THIN = 128


@dataclass(frozen=True)
class Prior:
    """Independent normal priors: means and standard deviations, arrays of shape (dimensions,)."""

    mean: Array
    sd: Array

    def log_density(self, points: Array) -> Array:
        """Log density of points (n, dimensions), but for a constant; shape (n,)."""
        z = (points - self.mean) / self.sd
        return np.asarray(-0.5 * np.einsum("ij,ij->i", z, z))


@dataclass(frozen=True)
class Posterior:
    """Weighted points: ``points`` (n, dimensions), ``weights`` (n,) that sum to one."""

    points: Array
    weights: Array
    per_node: Array
    """ln likelihood of every unit at every node of its own effect: (nodes, n, units). Nodes first: loops along a short last axis take
    several times as long."""
    per_coupon: Array
    """The same with the effect taken out: (n, units)."""

    @cached_property
    def thinned(self) -> Array:
        """:data:`THIN` points of equal weight that stand for all, for what is drawn: (THIN, dimensions)."""
        placed = np.cumsum(self.weights)
        return np.asarray(self.points[np.searchsorted(placed, (np.arange(THIN) + 0.5) / THIN * placed[-1])])

    @property
    def effective(self) -> float:
        """Kish's effective number of points."""
        return float(1 / np.sum(self.weights**2))


def posterior(
    prior: Prior,
    rough: Callable[[Array], Array],
    by_node: Callable[[Array], Array],
    penalty: Callable[[Array], Array] | None = None,
) -> Posterior:
    """Points and weights of prior × likelihood, where every unit of the evidence has an effect of its own.

    Parameters
    ----------
    prior : Prior
        Where to look at first.
    rough : callable
        Log likelihood of points (n, dimensions) → (n,) with the effects folded into the scatter, used while the place is looked for.
    by_node : callable
        Log likelihood of every unit at every node of its effect: (n, dimensions) → (nodes, n, units). The nodes' shares are
        :data:`setback.core.statistics.effects.NODE_LOG`.
    penalty : callable, optional
        More of the prior, (n, dimensions) → (n,), when ``by_node`` does not carry it; ``rough`` must.

    Returns
    -------
    Posterior
        :data:`FINE` weighted points.
    """
    dimensions = len(prior.mean)
    mean, root = prior.mean, np.diag(prior.sd)
    temper = 0.0
    standard, log_t = _standard(COARSE, dimensions)
    for _ in range(MOST_ROUNDS):
        points = mean + standard @ root.T
        log_prior, log_seen = prior.log_density(points), rough(points)
        log_drawn = log_t - _log_scale(root)
        temper = _next_temper(temper, log_prior, log_seen, log_drawn)
        weights = _weights(log_prior + temper * log_seen - log_drawn)
        mean, root = _moments(points, weights, prior)
        if temper >= 1.0 and 1 / np.sum(weights**2) > WANTED_SHARE * COARSE:
            break
    standard, log_t = _standard(FINE, dimensions)
    for _ in range(2):
        points = mean + standard @ root.T
        per_node = by_node(points)
        per_unit = over_effects(per_node)
        more = penalty(points) if penalty else 0.0
        weights = _weights(prior.log_density(points) + per_unit.sum(axis=1) + more - log_t + _log_scale(root))
        if 1 / np.sum(weights**2) > LEAST_WEIGHT_SHARE * FINE:
            break
        mean, root = _moments(points, weights, prior)
    return Posterior(points, weights, per_node, per_unit)


@lru_cache(maxsize=32)
def _standard(count: int, dimensions: int) -> tuple[Array, Array]:
    """Points of a standard multivariate t and their log density but for a constant."""
    from scipy.stats.qmc import Sobol

    uniform = Sobol(dimensions + 1, scramble=True, rng=np.random.default_rng(20)).random(count)
    normal = ndtri(np.clip(uniform[:, :dimensions], 1e-9, 1 - 1e-9))
    chi_squared = 2 * gammaincinv(DEGREES / 2, np.clip(uniform[:, dimensions], 1e-9, 1 - 1e-9))
    points = normal * np.sqrt(DEGREES / chi_squared)[:, None]
    log_t = -0.5 * (DEGREES + dimensions) * np.log1p(np.einsum("ij,ij->i", points, points) / DEGREES)
    points.setflags(write=False)
    log_t.setflags(write=False)
    return points, log_t


def _log_scale(root: Array) -> float:
    return float(np.log(root.diagonal()).sum())


def _weights(log_weights: Array) -> Array:
    weights = np.exp(log_weights - np.max(log_weights))
    return np.asarray(weights / weights.sum())


def _next_temper(temper: float, log_prior: Array, log_seen: Array, log_drawn: Array) -> float:
    """The most of the likelihood that leaves enough points with weight; never less than before."""

    at_none = log_prior - log_drawn

    def share(candidate: float) -> float:
        """Effective share of the points at a temper."""
        log_weights = at_none + candidate * log_seen
        weights = np.exp(log_weights - np.maximum.reduce(log_weights))
        return float(np.add.reduce(weights) ** 2 / (weights @ weights) / len(weights))

    if share(1.0) >= WANTED_SHARE:
        return 1.0
    low, high = temper, 1.0
    for _ in range(12):
        middle = (low + high) / 2 if low > 0 else math.sqrt(1e-6 * high) if high > 1e-5 else high / 2
        if share(middle) >= WANTED_SHARE:
            low = middle
        else:
            high = middle
    return max(low, min(temper * 1.5 + 1e-4, 1.0))


def _moments(points: Array, weights: Array, prior: Prior) -> tuple[Array, Array]:
    """Mean and root of the widened covariance of weighted points; the covariance never collapses."""
    mean = weights @ points
    apart = points - mean
    covariance = (apart * weights[:, None]).T @ apart
    covariance.flat[:: len(mean) + 1] += (0.02 * prior.sd) ** 2
    # A t of five degrees has 5/3 of the variance of its scale.
    scale = covariance * WIDEN**2 * (DEGREES - 2) / DEGREES
    return np.asarray(mean), np.asarray(np.linalg.cholesky(scale))
