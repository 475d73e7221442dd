"""Logistic regression with Jeffreys' penalty, so that all-or-nothing data give finite answers.

Method: Firth's modified score (D. Firth, Biometrika 80, 1993, 27-38) for grouped binomial counts; the
penalised likelihood-ratio test follows Heinze and Schemper (Statistics in Medicine 21, 2002, 2409-2419).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.special import expit

ITERATIONS = 200
# Half the 95 % point of chi-square with one degree of freedom, doubled: 3.84.
LIKELIHOOD_RATIO_LIMIT = 3.84

Array = np.ndarray[Any, np.dtype[np.float64]]


@dataclass(frozen=True)
class LogitFit:
    """Coefficients, their covariance from the Fisher information, and the penalised log-likelihood."""

    beta: Array
    covariance: Array
    log_likelihood: float


def fit_logit(design: Array, formed: Array, of: Array, free: list[int] | None = None) -> LogitFit:
    """Maximise the Jeffreys-penalised likelihood.

    Parameters
    ----------
    design : array, shape (rows, terms)
        One row per group; centre the columns for numerical comfort.
    formed, of : array, shape (rows,)
        Successes and trials of each group.
    free : list of int, optional
        Columns to fit; the others are held at 0 while the penalty stays that of all columns.

    Returns
    -------
    LogitFit
        ``covariance`` is of all columns, at the solution.
    """
    columns = list(range(design.shape[1])) if free is None else free
    part = design[:, columns]
    beta = np.zeros(design.shape[1])
    value, chance, hat = _state(design, formed, of, beta)
    for _ in range(ITERATIONS):
        score = part.T @ (formed - of * chance + hat * (0.5 - chance))
        if float(np.abs(score).max()) < 1e-9:
            break
        weight = (of + hat) * chance * (1 - chance)
        step = np.linalg.solve(part.T @ (part * weight[:, None]), score)
        scale = 1.0
        for _ in range(40):
            trial = beta.copy()
            trial[columns] += scale * step
            trial_state = _state(design, formed, of, trial)
            if trial_state[0] >= value - 1e-12:
                break
            scale /= 2
        moved = float(np.abs(scale * step).max())
        beta = trial
        value, chance, hat = trial_state
        if moved < 1e-10:
            break
    information = design.T @ (design * (of * chance * (1 - chance))[:, None])
    return LogitFit(beta, np.asarray(np.linalg.inv(information), dtype=float), value)


def likelihood_ratio(full: LogitFit, design: Array, formed: Array, of: Array, column: int) -> float:
    """Twice the penalised log-likelihood lost when the coefficient of ``column`` is held at 0."""
    others = [i for i in range(design.shape[1]) if i != column]
    return 2 * (full.log_likelihood - fit_logit(design, formed, of, others).log_likelihood)


def _state(design: Array, formed: Array, of: Array, beta: Array) -> tuple[float, Array, Array]:
    """Penalised log-likelihood, probabilities and hat values at ``beta``."""
    eta = design @ beta
    chance = expit(eta)
    root = np.sqrt(of * chance * (1 - chance))
    scaled = design * root[:, None]
    information = scaled.T @ scaled
    sign, log_det = np.linalg.slogdet(information)
    if sign <= 0 or not math.isfinite(log_det):
        return -math.inf, chance, np.zeros(len(formed))
    likelihood = float(formed @ eta - of @ np.logaddexp(0, eta))
    hat = np.einsum("ij,jk,ik->i", scaled, np.linalg.inv(information), scaled)
    return likelihood + 0.5 * float(log_det), chance, hat
