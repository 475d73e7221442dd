"""The penalised logistic fit against closed forms and plain likelihood."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import minimize

from setback.core.statistics.logit import fit_logit, likelihood_ratio


@given(st.integers(0, 40), st.integers(1, 40))
def test_an_intercept_alone_is_the_jeffreys_estimate(formed, more):
    of = formed + more
    fit = fit_logit(np.ones((1, 1)), np.array([float(formed)]), np.array([float(of)]))
    chance = 1 / (1 + math.exp(-fit.beta[0]))
    assert chance == pytest.approx((formed + 0.5) / (of + 1), rel=1e-6)


def test_two_groups_are_fitted_each_by_its_own_half():
    """A saturated two-by-two table: Firth's estimate adds one half to every cell (Firth 1993)."""
    design = np.array([[1.0, 0.0], [1.0, 1.0]])
    fit = fit_logit(design, np.array([0.0, 7.0]), np.array([9.0, 7.0]))
    first, second = (0.5 / 9.5), (7.5 / 0.5)
    assert fit.beta[0] == pytest.approx(math.log(first), rel=1e-6)
    assert fit.beta[1] == pytest.approx(math.log(second / first), rel=1e-6)


def test_complete_separation_stays_finite():
    x = np.array([-2.0, -1.0, 1.0, 2.0])
    fit = fit_logit(np.column_stack([np.ones(4), x]), np.array([0.0, 0, 5, 5]), np.full(4, 5.0))
    assert np.isfinite(fit.beta).all() and fit.beta[1] > 0
    assert np.isfinite(fit.covariance).all() and (np.diag(fit.covariance) > 0).all()


def test_grouping_does_not_matter():
    x = np.array([-1.0, 0.2, 1.4])
    grouped = fit_logit(np.column_stack([np.ones(3), x]), np.array([1.0, 2, 4]), np.array([4.0, 4, 4]))
    single_x = np.repeat(x, 4)
    single = np.array([1, 0, 0, 0, 1, 1, 0, 0, 1, 1, 1, 1], dtype=float)
    alone = fit_logit(np.column_stack([np.ones(12), single_x]), single, np.ones(12))
    assert grouped.beta == pytest.approx(alone.beta, abs=1e-6)
    assert grouped.covariance == pytest.approx(alone.covariance, abs=1e-6)


def test_shift_and_scale_of_the_covariate_change_only_its_coefficients():
    x = np.array([0.3, 0.9, 1.4, 2.2])
    formed, of = np.array([0.0, 1, 3, 4]), np.full(4, 4.0)
    plain = fit_logit(np.column_stack([np.ones(4), x]), formed, of)
    moved = fit_logit(np.column_stack([np.ones(4), 10 * (x - 1)]), formed, of)
    assert moved.beta[1] == pytest.approx(plain.beta[1] / 10, rel=1e-6)
    assert moved.log_likelihood - plain.log_likelihood == pytest.approx(math.log(10), rel=1e-6)


def test_the_ratio_test_tells_a_clear_slope_from_none():
    ones = np.ones(6)
    x = np.linspace(-1, 1, 6)
    design, of = np.column_stack([ones, x]), np.full(6, 8.0)
    clear, none = np.array([0.0, 1, 3, 5, 7, 8]), np.array([4.0, 5, 4, 4, 3, 4])
    assert likelihood_ratio(fit_logit(design, clear, of), design, clear, of, 1) > 3.84
    assert likelihood_ratio(fit_logit(design, none, of), design, none, of, 1) < 3.84


@given(st.integers(0, 2**32 - 1), st.booleans())
def test_no_place_nearby_is_likelier(seed, one_held):
    """The fit is the top of Jeffreys' penalised likelihood, computed here from its definition."""
    rng = np.random.default_rng(seed)
    rows = int(rng.integers(4, 40))
    design = np.column_stack([np.ones(rows), rng.normal(0, 0.3, rows), rng.normal(0, 0.5, rows)])
    of = rng.integers(1, 9, rows).astype(float)
    formed = rng.binomial(of.astype(int), 1 / (1 + np.exp(-design @ rng.normal(0, [1, 6, 6])))).astype(float)
    free = [0, 2] if one_held else None
    fit = fit_logit(design, formed, of, free)
    top = _penalised(design, formed, of, fit.beta)
    assert fit.log_likelihood == pytest.approx(top, abs=1e-9)
    for column in free or range(3):
        for step in (-1e-3, 1e-3):
            beside = fit.beta.copy()
            beside[column] += step * (1 + abs(fit.beta[column]))
            assert _penalised(design, formed, of, beside) <= top + 1e-9


def _penalised(design, formed, of, beta):
    eta = design @ beta
    chance = 1 / (1 + np.exp(-eta))
    information = design.T @ np.diag(of * chance * (1 - chance)) @ design
    return formed @ eta - of @ np.log1p(np.exp(eta)) + np.linalg.slogdet(information)[1] / 2


def jeffreys_by_search(design, formed, trials):
    """The definition itself, maximised by a general search: likelihood times the root of the information's determinant."""

    def lost(beta):
        eta = design @ beta
        chance = 1 / (1 + np.exp(-eta))
        information = design.T @ (design * (trials * chance * (1 - chance))[:, None])
        likelihood = np.sum(formed * eta - trials * np.logaddexp(0, eta))
        return -(likelihood + 0.5 * np.linalg.slogdet(information)[1])

    found = minimize(
        lost,
        np.zeros(design.shape[1]),
        method="Nelder-Mead",
        options={"xatol": 1e-9, "fatol": 1e-12, "maxiter": 20_000},
    )
    return found.x, -found.fun


@pytest.mark.parametrize("seed", range(12))
def test_it_finds_what_a_general_search_of_the_definition_finds(seed):
    chance = np.random.default_rng(seed)
    rows = int(chance.integers(3, 9))
    columns = [np.ones(rows), chance.normal(0, 1, rows)] + ([chance.normal(0, 1, rows)] if seed % 3 == 0 else [])
    design, trials = np.column_stack(columns), chance.integers(1, 7, rows).astype(float)
    formed = np.array([float(chance.integers(0, n + 1)) for n in trials])
    if seed % 4 == 1:  # All or nothing: the plain likelihood has no top.
        formed = np.where(design[:, 1] > 0, trials, 0.0)
    fit = fit_logit(design, formed, trials)
    beta, height = jeffreys_by_search(design, formed, trials)
    assert fit.log_likelihood == pytest.approx(height, abs=1e-6)
    assert fit.beta == pytest.approx(beta, abs=2e-3)
