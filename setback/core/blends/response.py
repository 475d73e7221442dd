"""Properties against the fraction of one additive: which fractions meet every constraint, and which is the safest.

Method: ordinary least squares, quadratic from four distinct fractions on, else linear; a fraction is feasible where the
one-sided 90 % prediction limit (95 % while there are fewer than four fractions) of every property is on the right side (N. R. Draper and H. Smith, Applied Regression
Analysis, ch. 3). The best has the largest worst margin, relative to each limit.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Any

import numpy as np
from pydantic import Field
from scipy.special import stdtrit

from ..contract import Contract, Notice, Problem

SURE, SURE_OF_A_LINE = 0.90, 0.95
"""A straight line through two or three fractions says nothing of a bend between them: it must keep clear by more."""
QUADRATIC = 4
STEP = 0.001
Fraction = Annotated[float, Field(ge=0, le=1)]
Value = Annotated[float, Field(ge=-1e9, le=1e9)]
Array = np.ndarray[Any, np.dtype[np.float64]]


class Point(Contract):
    """One blend of the series: the fraction of the additive and what was measured at it."""

    fraction: Fraction
    values: dict[str, Value] = Field(min_length=1)


class Constraint(Contract):
    """A property that must stay on one side of a limit."""

    property: str
    min: Value | None = None
    max: Value | None = None


class BlendResponseInput(Contract):
    """A series of blends and what the mixture must keep."""

    points: list[Point] = Field(min_length=2, max_length=500)
    constraints: list[Constraint] = Field(min_length=1, max_length=20)
    max_fraction: Fraction = 1.0


class ResponseCurve(Contract):
    """A property over the fraction, with the 95 % interval of its mean."""

    property: str
    fraction: list[float]
    value: list[float]
    low: list[float] | None = Field(
        description="One-sided prediction limits: 90 %, or 95 % from fewer than four fractions"
    )
    high: list[float] | None
    residual_sd: float | None


class BlendResponseResult(Contract):
    """Fractions at which all constraints hold, and where to measure next."""

    degree: int
    feasible: list[tuple[float, float]]
    best_fraction: float | None
    worst_margin: float | None = Field(description="Of the best fraction, as a share of the limit")
    limited_by: str | None
    curves: list[ResponseCurve]
    next_fraction: float | None = Field(
        description="The one fraction more that would tell most about where the edge is"
    )
    warnings: list[Notice]


@dataclass(frozen=True)
class _Fit:
    beta: Array
    inverse: Array
    sd: float | None
    quantile: float

    def at(self, x: Array) -> tuple[Array, Array]:
        """Value and the half-width of the prediction limit."""
        design = np.vander(x, len(self.beta), increasing=True)
        value = design @ self.beta
        if self.sd is None:
            return value, np.zeros(len(x))
        spread = np.sqrt(1 + np.einsum("ij,jk,ik->i", design, self.inverse, design))
        return value, self.quantile * self.sd * spread


def blend_response(inputs: BlendResponseInput) -> BlendResponseResult:
    """Feasible fractions and the recommended one.

    Raises
    ------
    Problem
        For fewer than two distinct fractions, a constraint without a limit or with a limit of 0, or a property without points.
    """
    _check(inputs)
    distinct = sorted({p.fraction for p in inputs.points})
    degree = 2 if len(distinct) >= QUADRATIC else 1
    names = list(dict.fromkeys(c.property for c in inputs.constraints))
    fits = {name: _fit(inputs.points, name, degree) for name in names}
    top = min(inputs.max_fraction, 1.0)
    grid = np.round(np.arange(0, round(top / STEP) + 1) * STEP, 6)
    margins = np.array([_margin(c, fits[c.property], grid) for c in inputs.constraints])
    worst = margins.min(axis=0)
    ok = worst >= 0
    warnings = _warnings(inputs, fits, distinct, grid[ok])
    best = int(np.argmax(np.where(ok, worst, -np.inf))) if ok.any() else None
    return BlendResponseResult(
        degree=degree,
        feasible=_runs(grid, ok),
        best_fraction=None if best is None else float(grid[best]),
        worst_margin=None if best is None else float(worst[best]),
        limited_by=None if best is None else inputs.constraints[int(np.argmin(margins[:, best]))].property,
        curves=[_curve(name, fits[name], grid[:: max(1, len(grid) // 100)]) for name in names],
        next_fraction=_next(grid, worst, distinct),
        warnings=warnings,
    )


def _check(inputs: BlendResponseInput) -> None:
    problems: dict[str, str] = {}
    if len({p.fraction for p in inputs.points}) < 2:
        problems["points"] = "Two different fractions at least: a line needs them."
    for i, constraint in enumerate(inputs.constraints):
        if constraint.min is None and constraint.max is None:
            problems[f"constraints.{i}"] = "Give a least or a most."
        if constraint.min == 0 or constraint.max == 0:
            problems[f"constraints.{i}"] = "A limit of 0 has no relative margin: restate the property."
        if len({p.fraction for p in inputs.points if constraint.property in p.values}) < 2:
            problems[f"constraints.{i}.property"] = f"{constraint.property} is known at fewer than two fractions."
    if problems:
        raise Problem("The series cannot be judged like this.", problems)


def _fit(points: list[Point], name: str, degree: int) -> _Fit:
    measured = [(p.fraction, p.values[name]) for p in points if name in p.values]
    x, y = np.array([f for f, _ in measured]), np.array([v for _, v in measured])
    terms = min(degree, len(set(x.tolist())) - 1) + 1
    design = np.vander(x, terms, increasing=True)
    beta = np.linalg.lstsq(design, y, rcond=None)[0]
    inverse = np.linalg.pinv(design.T @ design)
    degrees = len(y) - terms
    sure = SURE if len(set(x.tolist())) >= QUADRATIC else SURE_OF_A_LINE
    if degrees < 1:
        return _Fit(beta, inverse, None, 0.0)
    rest = y - design @ beta
    return _Fit(beta, inverse, math.sqrt(float(rest @ rest) / degrees), float(stdtrit(degrees, sure)))


def _margin(constraint: Constraint, fit: _Fit, grid: Array) -> Array:
    value, half_width = fit.at(grid)
    margins = []
    if constraint.min is not None:
        margins.append((value - half_width - constraint.min) / abs(constraint.min))
    if constraint.max is not None:
        margins.append((constraint.max - value - half_width) / abs(constraint.max))
    worst: Array = np.min(np.array(margins), axis=0)
    return worst


def _runs(grid: Array, ok: Array) -> list[tuple[float, float]]:
    """First and last fraction of each stretch that is feasible."""
    places = np.flatnonzero(ok)
    stretches = np.split(places, np.flatnonzero(np.diff(places) > 1) + 1) if len(places) else []
    return [(float(grid[s[0]]), float(grid[s[-1]])) for s in stretches]


def _next(grid: Array, worst: Array, fractions_tried: list[float]) -> float | None:
    """Where the worst margin is nearest to 0, away from what was tried: there one more fraction settles most."""
    away = np.array([min(abs(g - t) for t in fractions_tried) for g in grid])
    far = away >= 0.02
    if not far.any():
        return None
    score = np.where(far, np.abs(worst), np.inf)
    return float(grid[int(np.argmin(score))])


def _curve(name: str, fit: _Fit, grid: Array) -> ResponseCurve:
    value, half_width = fit.at(grid)
    has_spread = fit.sd is not None
    return ResponseCurve(
        property=name,
        fraction=grid.tolist(),
        value=value.tolist(),
        low=(value - half_width).tolist() if has_spread else None,
        high=(value + half_width).tolist() if has_spread else None,
        residual_sd=fit.sd,
    )


def _warnings(
    inputs: BlendResponseInput, fits: dict[str, _Fit], distinct: list[float], feasible: Array
) -> list[Notice]:
    warnings = []
    without = [name for name, fit in fits.items() if fit.sd is None]
    if without:
        message = f"{', '.join(without)}: as many coefficients as fractions, so no band; the edges are the curve alone."
        warnings.append(Notice(code="no-band", message=message))
    if len(distinct) < 4:
        warnings.append(
            Notice(code="linear", message="Fewer than four fractions: a straight line is all that can be drawn.")
        )
    if inputs.max_fraction > distinct[-1] + 1e-9 and len(feasible) and float(feasible.max()) > distinct[-1]:
        message = f"Beyond {100 * distinct[-1]:.3g} %, the highest fraction tried, it is extrapolated."
        warnings.append(Notice(code="extrapolated", message=message))
    if not len(feasible):
        warnings.append(Notice(code="none", message="No fraction meets every constraint with 90 % assurance."))
    return warnings
