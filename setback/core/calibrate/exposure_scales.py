"""How far exposures spread in this shop, from its own calibrations once there are ten.

Variances of the effects and of the residual by the EM algorithm for mixed models (N. M. Laird and J. H. Ware, Biometrics 38 (1982)
963-974), held near the usual ones by a scaled inverse chi-square prior; the residual is Student's t with four degrees of freedom as
a scale mixture (K. L. Lange, R. J. A. Little and J. M. G. Taylor, Journal of the American Statistical Association 84 (1989)
881-896), so that a mistyped exposure counts for little instead of pulling all others. Where to begin is told by leaving each
calibration out in turn.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, fields
from functools import lru_cache
from typing import Any

import numpy as np
from scipy.special import ndtri, stdtrit

from .exposure_effects import USUAL, KnownExposure, Scales, effects_of, known_part

LEAST = 10
MOST = 400
"""The newest calibrations that tell the spreads; more would say the same and take long."""
PRIOR_WEIGHT = 6.0
"""Of how many effects of a kind the usual spread is worth."""
TAIL = 4.0
FAR = 3.0
"""Standard deviations from what all others say, from which a calibration begins as a stranger."""
ROUNDS, TAIL_ROUNDS = 30, 3
GROUPS = ("line", "colour", "printer", "pair")
OWN_LINE = "own line"

Array = np.ndarray[Any, np.dtype[np.float64]]


@dataclass(frozen=True)
class Noise:
    """Spreads of the effects, the variance of each calibration about them, and the spread of the next one's."""

    scales: Scales
    variances: Array
    residual: float


def shop_noise(calibrations: Sequence[KnownExposure]) -> Noise:
    """The shop's own spreads; the usual ones below ten calibrations.

    Parameters
    ----------
    calibrations : sequence of KnownExposure
        All calibrations, the newest last.
    """
    return _noise(tuple(calibrations))


@lru_cache(maxsize=8)
def _noise(calibrations: tuple[KnownExposure, ...]) -> Noise:
    if len(calibrations) < LEAST:
        return Noise(USUAL, np.full(len(calibrations), USUAL.residual**2), USUAL.residual)
    scales = _estimated(calibrations[-MOST:])
    weights = _tail_weights(calibrations, scales)
    # Four times in five the tail's residual is this far off, as a normal one of that spread would be.
    residual = scales.residual * float(stdtrit(TAIL, 0.9)) / float(ndtri(0.9))
    return Noise(scales, scales.residual**2 / weights, residual)


def left_out(calibrations: Sequence[KnownExposure]) -> list[tuple[float, float]]:
    """ln exposure and predictive standard deviation of each calibration as all others together have it.

    The spreads are those of all; in closed form from the inverse (S. Sundararajan and S. S. Keerthi, Neural Computation 13 (2001)
    1103-1118).
    """
    noise, model = shop_noise(calibrations), _model(calibrations)
    squares = {field.name: getattr(noise.scales, field.name) ** 2 for field in fields(Scales)}
    inverse: Array = np.asarray(np.linalg.inv(_covariance(model, squares, squares["residual"] / noise.variances)))
    variance = 1 / np.diag(inverse)
    away = (inverse @ model.y) * variance
    # What it would come to when it is read again, not what it was read as.
    sds = np.sqrt(np.maximum(variance - noise.variances, 0) + noise.residual**2)
    return [
        (math.log(k.exposure_s) - float(off), float(sd)) for k, off, sd in zip(calibrations, away, sds, strict=True)
    ]


@dataclass(frozen=True)
class _Model:
    """ln exposures about what is known of them, and which of them share an effect: a matrix for each kind with its number of effects,
    and one for effects whose spread is not asked for."""

    y: Array
    shared: dict[str, tuple[Array, int]]
    fixed: Array


def _model(calibrations: Sequence[KnownExposure]) -> _Model:
    unit = Scales(**{field.name: 1.0 for field in fields(Scales)})
    effects = [effects_of(pair, unit) for pair in calibrations]
    names = list(dict.fromkeys(name for of_pair in effects for name in of_pair))
    kinds = [_kind(name) for name in names]
    place = {name: i for i, name in enumerate(names)}
    design, means = np.zeros((len(calibrations), len(names))), np.zeros(len(names))
    for row, of_pair in enumerate(effects):
        for name, (weight, mean, sd) in of_pair.items():
            design[row, place[name]], means[place[name]] = weight * sd, mean / sd
    y = np.array([math.log(k.exposure_s) for k in calibrations]) - design @ means
    y -= np.array([known_part(pair) for pair in calibrations])
    shared = {}
    for group in GROUPS:
        of_group = design[:, [i for i, kind in enumerate(kinds) if kind == group]]
        shared[group] = of_group @ of_group.T, of_group.shape[1]
    rest = design[:, [i for i, kind in enumerate(kinds) if kind not in GROUPS]]
    return _Model(y, shared, rest @ rest.T)


def _kind(name: str) -> str:
    return "line" if name.startswith(OWN_LINE) else name.split(" ")[0]


def _estimated(calibrations: tuple[KnownExposure, ...]) -> Scales:
    model = _model(calibrations)
    squares = {field.name: getattr(USUAL, field.name) ** 2 for field in fields(Scales)}
    weights = _begin(model, squares)
    for _ in range(ROUNDS):
        inverse: Array = np.asarray(np.linalg.inv(_covariance(model, squares, weights)))
        alpha = inverse @ model.y
        expected = _residual_squares(squares["residual"] / weights, alpha, inverse)
        fresh = {}
        for group, (shares, count) in model.shared.items():
            square = squares[group]
            total = square**2 * float(alpha @ shares @ alpha - (inverse * shares).sum()) + square * count
            fresh[group] = (PRIOR_WEIGHT * getattr(USUAL, group) ** 2 + total) / (PRIOR_WEIGHT + count)
        weighed = float((weights * expected).sum())
        fresh["residual"] = (PRIOR_WEIGHT * USUAL.residual**2 + weighed) / (PRIOR_WEIGHT + len(calibrations))
        squares = fresh
        weights = (TAIL + 1) / (TAIL + expected / squares["residual"])
    return Scales(**{name: math.sqrt(square) for name, square in squares.items()})


def _tail_weights(calibrations: Sequence[KnownExposure], scales: Scales) -> Array:
    """How much each calibration counts: about one for what fits the rest, little for a stranger."""
    model = _model(calibrations)
    squares = {field.name: getattr(scales, field.name) ** 2 for field in fields(Scales)}
    weights = _begin(model, squares)
    for _ in range(TAIL_ROUNDS):
        inverse: Array = np.asarray(np.linalg.inv(_covariance(model, squares, weights)))
        expected = _residual_squares(squares["residual"] / weights, inverse @ model.y, inverse)
        weights = (TAIL + 1) / (TAIL + expected / squares["residual"])
    return np.asarray(weights)


def _begin(model: _Model, squares: dict[str, float]) -> Array:
    """One for each calibration but those that all others together speak against."""
    weights = np.ones(len(model.y))
    inverse: Array = np.asarray(np.linalg.inv(_covariance(model, squares, weights)))
    variance = 1 / np.diag(inverse)
    off = (inverse @ model.y) * variance
    far = np.abs(off) > FAR * np.sqrt(variance)
    weights[far] = (TAIL + 1) / (TAIL + off[far] ** 2 / squares["residual"])
    return weights


def _covariance(model: _Model, squares: dict[str, float], weights: Array) -> Array:
    total = model.fixed + np.diag(squares["residual"] / weights)
    for group, (shares, _) in model.shared.items():
        total = total + squares[group] * shares
    return np.asarray(total)


def _residual_squares(variances: Array, alpha: Array, inverse: Array) -> Array:
    """Expected square of each residual."""
    return np.asarray((variances * alpha) ** 2 + variances - variances**2 * np.diag(inverse))
