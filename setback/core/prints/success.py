"""How often parts come out whole, against exposure and the other conditions of their prints.

Parts that had too little light and parts that had too much are two outcomes with a curve each; a part is whole where neither
happened. Parts that failed otherwise say nothing of light and are left out of both.

Method: logistic regression with Jeffreys' penalty (see :mod:`setback.core.statistics.logit`) on the logarithm of the exposure and
the other factors; the penalty draws shares towards one half, so the level is then set anew by likelihood (R. Puhr and others, Statistics
in Medicine 36, 2017, 2302-2317). Parts of one print are alike: their common share of variance is estimated by Williams' moments (D. A. Williams,
Applied Statistics 31, 1982, 144-148), shrunk towards :data:`USUAL_ALIKE`, and every print counts for as many parts as it is then
worth. Limits by the delta method on the logit with Student's quantile of as many degrees of freedom as prints less terms.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
from scipy.optimize import brentq
from scipy.special import expit, stdtr, stdtrit

from ..contract import Notice
from ..statistics.logit import LIKELIHOOD_RATIO_LIMIT, LogitFit, fit_logit, likelihood_ratio
from .factors import STEPS, Array, Factor, Rows, factors_of, rows_of, seen_at
from .outcomes import (
    Advice,
    FactorEffect,
    PrintSuccessInput,
    PrintSuccessResult,
    Side,
    SuccessEnd,
    SuccessOverExposure,
    Together,
)

USUAL_ALIKE, ALIKE_WEIGHT = 0.05, 20.0
"""Share of variance that parts of one print have in common where nothing is known of it, and for how many pairs of parts it counts."""
POINTS = 60
PER_TERM = 3
"""Failed parts, and prints, that a further factor wants."""
FEW_PRINTS, FEW_FAILURES = 8, 3


_SIDES: tuple[Side, ...] = ("under", "over")


@dataclass(frozen=True)
class SideFit:
    """The curve of one way to fail."""

    side: Side
    fit: LogitFit
    design: Array
    whole: Array
    trials: Array
    names: list[tuple[str, str, float]]
    has_exposure: bool
    freedom: int
    """Prints less terms, at least one."""
    centre: float

    @property
    def quantile(self) -> float:
        """Student's quantile of two-sided 95 % limits."""
        return float(stdtrit(self.freedom, 0.975))

    def at(self, x: Array) -> tuple[Array, Array]:
        """Linear predictor and its standard error at logarithms of exposure, the other factors at their means."""
        design = np.zeros((len(x), len(self.fit.beta)))
        design[:, 0] = 1
        design[:, 1] = x - self.centre
        return design @ self.fit.beta, np.sqrt(np.einsum("ij,jk,ik->i", design, self.fit.covariance, design))


def print_success(inputs: PrintSuccessInput) -> PrintSuccessResult:
    """Success of parts against exposure and the other conditions of their prints.

    Raises
    ------
    Problem
        When more parts came out whole, or failed, than were printed, or nobody says how the failed ones failed.
    """
    return success_and_fits(inputs)[0]


def success_and_fits(inputs: PrintSuccessInput) -> tuple[PrintSuccessResult, list[SideFit]]:
    """What :func:`print_success` answers, with the curves it rests on; none where it gives no curve."""
    rows = rows_of(inputs.prints)
    factors, confounded = factors_of(inputs.prints, rows)
    counted = float((rows.whole + rows.under + rows.over).sum())
    result = PrintSuccessResult(
        seen=seen_at(inputs.prints, rows),
        share=float(rows.whole.sum()) / counted if counted else 0.0,
        curve=None,
        exposure_for=None,
        upper=None,
        advice=None,
        effects=[],
        confounded=confounded,
        warnings=[],
    )
    has_moved = len(result.seen) > 1
    fits = [fit for side in _SIDES if (fit := _fit(side, rows, factors, has_moved)) is not None]
    result.effects.extend(effect for fit in fits for effect in _effects(fit))
    result.warnings.extend(_notices(result, rows, has_moved, bool(fits)))
    if not has_moved or not fits or any(_twin_of_exposure(pair) for pair in confounded):
        return result, []
    result = _with_curve(result, inputs, rows, fits)
    return result, fits if result.curve else []


def _notices(result: PrintSuccessResult, rows: Rows, has_moved: bool, has_fits: bool) -> list[Notice]:
    """What the numbers lean on, and what cannot be told from these prints."""
    notices = []
    failures, prints = int(rows.under.sum() + rows.over.sum()), len(set(rows.of_print.tolist()))
    if other := int(rows.other.sum()):
        message = f"{_counted(other, 'part')} failed without a sign of too little or too much light: left out."
        notices.append(Notice(code="other-failures", message=message))
    if not has_moved:
        message = f"All parts were printed at {result.seen[0].exposure_s:g} s: nothing can be said of another exposure."
        notices.append(Notice(code="one-setting", message=message))
    elif not has_fits:
        message = "No part failed for too little or too much light: where that begins lies outside what was printed."
        if failures:
            message = "All parts failed that tell of light: where they come out whole lies outside what was printed."
        notices.append(Notice(code="none-whole" if failures else "no-failures", message=message))
    if failures and (prints < FEW_PRINTS or failures < FEW_FAILURES):
        message = f"{_counted(prints, 'print')} with {_counted(failures, 'failed part')}: too few to lean on."
        notices.append(Notice(code="too-few", message=message))
    for other_factor in filter(None, map(_twin_of_exposure, result.confounded)):
        message = (
            f"Exposure and {other_factor} moved together: what either did cannot be told, so no exposure is given."
        )
        notices.append(Notice(code="moved-together", message=message))
    return notices


def _twin_of_exposure(pair: Together) -> str | None:
    """The factor that moved with the exposure, where this pair is one."""
    if pair.r is None or "exposure" not in pair.factors:
        return None
    return next(name for name in pair.factors if name != "exposure")


def _counted(number: int, word: str) -> str:
    return f"{number} {word}" if number == 1 else f"{number} {word}s"


def _fit(side: Side, rows: Rows, factors: list[Factor], moved: bool) -> SideFit | None:
    """The curve of one way to fail; None where no part failed so, or all did, or these were at one exposure of several."""
    failed = rows.failed(side)
    counts = rows.whole + failed > 0
    if not failed.sum() or not rows.whole.sum() or (moved and not float(np.ptp(rows.x[counts]))):
        return None
    failed, whole, x, of_print = failed[counts], rows.whole[counts], rows.x[counts], rows.of_print[counts]
    trials = whole + failed
    prints = len(set(of_print.tolist()))
    room = min(int(failed.sum()), int(whole.sum()), prints - 2) // PER_TERM
    centre = float((x * trials).sum() / trials.sum())
    design, names = np.ones((len(x), 1)), []
    if moved:
        design = np.hstack([design, (x - centre)[:, None]])
        names.append(("exposure", *STEPS["exposure"]))
    for factor in factors:
        wider = np.hstack([design, factor.columns[counts]])
        if factor.columns.shape[1] <= room and _is_told_apart(wider, trials):
            design, room = wider, room - factor.columns.shape[1]
            names += factor.labels
    fit = _grouped_fit(design, whole, trials)
    deflated = _deflated(fit, design, whole, trials, of_print)
    fit = _grouped_fit(design, whole / deflated, trials / deflated)
    freedom = max(prints - design.shape[1], 1)
    return SideFit(side, fit, design, whole / deflated, trials / deflated, names, moved, freedom, centre)


def _is_told_apart(design: Array, trials: Array) -> bool:
    """Whether no column follows from the others among the prints that count here."""
    weighted = design * np.sqrt(trials / trials.sum())[:, None]
    sizes = np.linalg.norm(weighted, axis=0)
    return bool((sizes > 1e-9).all()) and float(np.linalg.cond(weighted / sizes)) < 1e4


def _grouped_fit(design: Array, ok: Array, trials: Array) -> LogitFit:
    """The fit of rows that are alike taken together, its level moved so that as many succeed as did."""
    design, ok, trials = _grouped(design, ok, trials)
    fit = fit_logit(design, ok, trials)
    eta = design @ fit.beta
    surplus = brentq(lambda shift: float((trials * expit(eta + shift)).sum() - ok.sum()), -30, 30)
    return LogitFit(fit.beta + np.eye(len(fit.beta))[0] * surplus, fit.covariance, fit.log_likelihood)


def _grouped(design: Array, ok: Array, trials: Array) -> tuple[Array, Array, Array]:
    alike, at = np.unique(design.round(9), axis=0, return_inverse=True)
    groups = np.asarray(at).ravel()
    sums = [np.asarray(np.bincount(groups, column, len(alike)), dtype=float) for column in (ok, trials)]
    return alike, sums[0], sums[1]


def _deflated(fit: LogitFit, design: Array, ok: Array, trials: Array, of_print: np.ndarray[Any, Any]) -> Array:
    """By how much each row counts less because parts of one print are alike."""
    chance = expit(design @ fit.beta)
    residual = np.bincount(of_print, ok - trials * chance)
    variance = np.bincount(of_print, trials * chance * (1 - chance))
    size = np.bincount(of_print, trials)
    has_spread = variance > 1e-9
    surplus = float((residual[has_spread] ** 2 / variance[has_spread]).sum()) - max(
        int(has_spread.sum()) - design.shape[1], 1
    )
    pairs = float((size[has_spread] - 1).clip(0).sum())
    alike = (surplus + ALIKE_WEIGHT * USUAL_ALIKE) / (pairs + ALIKE_WEIGHT)
    alike = min(max(alike, 0.0), 0.6)
    return np.asarray(1 + (size[of_print] - 1).clip(0) * alike, dtype=float)


def _effects(fit: SideFit) -> list[FactorEffect]:
    design, ok, trials = _grouped(fit.design, fit.whole, fit.trials)
    effects = []
    for column, (name, words, step) in enumerate(fit.names, start=1):
        value = float(fit.fit.beta[column]) * step
        half_width = fit.quantile * math.sqrt(float(fit.fit.covariance[column, column])) * step
        effects.append(
            FactorEffect(
                factor=name,
                side=fit.side,
                per=words,
                odds_ratio=math.exp(min(value, 50)),
                ci=(math.exp(max(value - half_width, -50)), math.exp(min(value + half_width, 50))),
                shown=likelihood_ratio(fit.fit, design, ok, trials, column) > LIKELIHOOD_RATIO_LIMIT,
            )
        )
    return effects


def chance_of_share(fits: list[SideFit], x: Array, target: float) -> Array:
    """Chance that a wanted share of parts, or more, comes out whole, at logarithms of exposure.

    Student's distribution of the logit of the share, with the fewest degrees of freedom among the curves.
    """
    share, errors, _ = _share(fits, x)
    error_of_logit = np.sqrt(sum(error**2 for error in errors)).clip(1e-12) / (1 - share)
    above = (np.log(share / (1 - share)) - math.log(target / (1 - target))) / error_of_logit
    return np.asarray(stdtr(min(fit.freedom for fit in fits), above), dtype=float)


def _share(fits: list[SideFit], x: Array) -> tuple[Array, list[Array], dict[Side, Array]]:
    """Share of whole parts at logarithms of exposure, the error of its logarithm by side, and the share without each failure."""
    log_share, errors = np.zeros(len(x)), []
    sides: dict[Side, Array] = {}
    for fit in fits:
        eta, error = fit.at(x)
        chance = expit(eta)
        sides[fit.side] = chance
        log_share += np.log(chance)
        errors.append((1 - chance) * error)
    return np.exp(log_share).clip(1e-12, 1 - 1e-12), errors, sides


def _whole(fits: list[SideFit], x: Array) -> tuple[Array, Array, Array, dict[Side, Array]]:
    """Share of whole parts with its limits at logarithms of exposure, and the share of each side."""
    share, errors, sides = _share(fits, x)
    variance = sum((error * fit.quantile) ** 2 for fit, error in zip(fits, errors, strict=True))
    half_width = np.sqrt(variance) / (1 - share)
    logit = np.log(share / (1 - share))
    return share, expit(logit - half_width), expit(logit + half_width), sides


def _with_curve(
    result: PrintSuccessResult, inputs: PrintSuccessInput, rows: Rows, fits: list[SideFit]
) -> PrintSuccessResult:
    """The curve over what was printed, its ends at the wanted share, and what to do."""
    warnings = result.warnings
    sides = {fit.side: fit for fit in fits}
    for side, words in (
        ("under", "Parts with more light seem to lack light"),
        ("over", "Parts with less light seem to have too much"),
    ):
        fit = sides.get(side)  # type: ignore[call-overload]
        if fit is not None and (float(fit.fit.beta[1]) > 0) != (side == "under"):
            message = f"{words} more often: something else made these fail, and no exposure is given."
            warnings.append(Notice(code="wrong-direction", message=message))
            return result
    if "over" not in sides:
        message = "No part failed for too much light: there is no upper end."
        warnings.append(Notice(code="no-upper", message=message))
    if "under" not in sides:
        message = "No part failed for too little light: there is no lower end."
        warnings.append(Notice(code="no-lower", message=message))
    x = np.linspace(float(rows.x.min()), float(rows.x.max()), POINTS)
    share, low, high, shares = _whole(fits, x)
    curve = SuccessOverExposure(
        exposure_s=np.exp(x).tolist(),
        whole=share.tolist(),
        low=low.tolist(),
        high=high.tolist(),
        not_under=shares["under"].tolist() if "under" in shares else None,
        not_over=shares["over"].tolist() if "over" in shares else None,
    )
    lower = _end(x, share, low, high, inputs.target) if "under" in sides else None
    upper = _end(-x[::-1], share[::-1], low[::-1], high[::-1], inputs.target) if "over" in sides else None
    if upper is not None:
        ends = [None if end is None else 1 / end for end in upper.ci_s]
        upper = SuccessEnd(exposure_s=1 / upper.exposure_s, ci_s=(ends[1], ends[0]))
    if "under" in sides and lower is None:
        where = "at every exposure printed" if share[0] >= inputs.target else "at none of the exposures printed"
        message = f"{100 * inputs.target:.0f} % of parts are expected whole {where}: that exposure lies outside, and is not given."
        warnings.append(Notice(code="outside", message=message))
    reached = share >= inputs.target
    span = (math.exp(float(x[reached].min())), math.exp(float(x[reached].max()))) if reached.any() else None
    if span is not None:
        span = (lower.exposure_s if lower else span[0], upper.exposure_s if upper else span[1])
    now = inputs.now_s or inputs.prints[-1].exposure_s
    return result.model_copy(
        update={
            "curve": curve,
            "span_s": span,
            "exposure_for": lower,
            "upper": upper,
            "advice": _advice(x, fits, (lower, upper), inputs.target, now),
        }
    )


def _end(x: Array, share: Array, low: Array, high: Array, target: float) -> SuccessEnd | None:
    """Where the share first reaches the target from the left, its limits where theirs do."""
    at = _crossing(x, share, target)
    if at is None:
        return None
    first, last = _crossing(x, high, target), _crossing(x, low, target)
    return SuccessEnd(
        exposure_s=math.exp(at),
        ci_s=(None if first is None else math.exp(first), None if last is None else math.exp(last)),
    )


def _crossing(x: Array, values: Array, target: float) -> float | None:
    """The first place where rising values reach a target; None where they begin above it or never do."""
    above = np.flatnonzero(values >= target)
    if not len(above) or above[0] == 0:
        return None
    after = int(above[0])
    before = after - 1
    return float(np.interp(target, values[[before, after]], x[[before, after]]))


def _advice(
    x: Array, fits: list[SideFit], ends: tuple[SuccessEnd | None, SuccessEnd | None], target: float, now_s: float
) -> Advice | None:
    """The one in use where it gives the wanted share; else the nearest that does, or the best of those printed."""
    now = math.log(now_s)
    if not x[0] - 1e-9 <= now <= x[-1] + 1e-9:
        return None
    (share_now,), _, _, _ = _whole(fits, np.array([now]))
    lower, upper = ends
    if share_now >= target:
        to = now
    elif lower is not None and now_s < lower.exposure_s:
        to = math.log(lower.exposure_s)
    elif upper is not None and now_s > upper.exposure_s:
        to = math.log(upper.exposure_s)
    else:
        to = float(x[int(_whole(fits, x)[0].argmax())])
    (share_then,), (least,), (most,), _ = _whole(fits, np.array([to]))
    return Advice(
        from_s=now_s,
        from_share=float(share_now),
        to_s=math.exp(to),
        share=float(share_then),
        ci=(float(least), float(most)),
    )
