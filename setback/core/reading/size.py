"""Size: overall scale and edge growth, told apart by measuring both bars and notches.

Method: ordinary least squares of caliper readings on ``measured = s * nominal + 2 g`` for bars and
``s * nominal - 2 g`` for notches. Shrinkage moves both alike (s); light spreading past an edge makes
bars wider and notches narrower (g), so only g answers to exposure.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from pydantic import Field
from scipy.special import stdtrit

from ..contract import Contract, Interval, Notice, Problem
from .evidence import Block, CouponEvidence

SAME_MM = 0.0006
"""Sizes are kept to a micrometre: two that differ by less are the same."""


class SizeFitInput(Contract):
    """Bars and notches of one or several coupons, mm."""

    features: list[Block] = Field(min_length=1, max_length=500, description="Caliper readings of one coupon")


class AxisFit(Contract):
    """Growth of edges, µm, and error of scale, percent, along one axis."""

    axis: Literal["x", "y"]
    scale_error_pct: float | None
    edge_growth_um: float
    n: int


class Compensation(Contract):
    """Offset of edges and scale that make parts come out at size."""

    per_edge_um: float = Field(description="Offset to add to every edge of the drawing, µm")
    scale: float = Field(description="Factor to scale the drawing by")


class SizeFitResult(Contract):
    """Growth of edges, µm, and error of scale, percent, with intervals and what to compensate."""

    scale_error_pct: float | None = Field(description="(s - 1) in percent; null where it cannot be told from growth")
    scale_error_ci_pct: Interval | None
    edge_growth_um: float = Field(description="Growth g per edge, µm; positive is too big")
    edge_growth_ci_um: Interval | None
    scale_identified: bool
    residual_sd_um: float | None = Field(description="Scatter of the readings about the fit, µm")
    axes: list[AxisFit]
    growth_x_minus_y_um: float | None = Field(description="Difference of edge growth between the axes, µm")
    compensation: Compensation
    warnings: list[Notice]


@dataclass(frozen=True)
class SizeModel:
    """One scale for all coupons and one edge growth per coupon, in millimetres."""

    scale: float
    scale_identified: bool
    growth_mm: list[float]
    covariance: np.ndarray | None
    """Covariance of (scale when identified, growths); None without residual degrees of freedom."""
    degrees: int
    residual_sd_mm: float | None


def fit_size(coupons: list[list[Block]]) -> SizeModel:
    """Least squares over all coupons at once; every coupon must carry at least one block that was measured."""
    blocks = [(i, block) for i, members in enumerate(coupons) for block in members if block.measured_mm is not None]
    nominal = np.array([block.nominal_mm for _, block in blocks])
    measured = np.array([block.measured_mm for _, block in blocks])
    edges = np.zeros((len(blocks), len(coupons)))
    for row, (i, block) in enumerate(blocks):
        edges[row, i] = 2.0 if block.kind == "outer" else -2.0
    full = np.column_stack([nominal, edges])
    # Scale and growth move every block of a coupon alike unless it has two sizes, or a bar and a notch.
    identified = any(len({_signed(block) for block in members}) > 1 for members in coupons)
    design, target = (full, measured) if identified else (edges, measured - nominal)
    solution = np.linalg.lstsq(design, target, rcond=None)[0]
    degrees = len(blocks) - design.shape[1]
    covariance, sd = None, None
    if degrees > 0:
        residual = target - design @ solution
        variance = float(residual @ residual) / degrees
        sd = math.sqrt(variance)
        covariance = variance * np.linalg.inv(design.T @ design)
    scale = float(solution[0]) if identified else 1.0
    growth = solution[1:] if identified else solution
    return SizeModel(scale, identified, [float(g) for g in growth], covariance, degrees, sd)


@dataclass(frozen=True)
class CouponGrowth:
    """Edge growth of one coupon with its standard error, µm; None where every bar and notch is gone."""

    growth_um: float | None
    se_um: float


@dataclass(frozen=True)
class Growths:
    """One scale for all coupons, and the growth of each."""

    scale: float
    scale_identified: bool
    coupons: list[CouponGrowth]


HUBER = 1.5
"""Residuals beyond this many standard deviations weigh less, in proportion (Huber 1964)."""
USUAL_SD_MM, USUAL_WEIGHT = 0.012, 4.0
"""What calipers usually scatter, and the readings that this counts for."""


def growth_of_coupons(coupons: list[list[Block]]) -> Growths:
    """Growth of every coupon under one common scale, by least squares with Huber weights.

    Bars that washed away have no reading and take no part. The scatter is pooled over all coupons with what calipers usually
    scatter, so that a coupon of two readings has a standard error too.
    """
    blocks = [
        (i, b, float(b.measured_mm))
        for i, coupon_blocks in enumerate(coupons)
        for b in coupon_blocks
        if b.measured_mm is not None
    ]
    present = sorted({i for i, _, _ in blocks})
    if not present:
        return Growths(1.0, False, [CouponGrowth(None, 0.0) for _ in coupons])
    nominal, measured = np.array([b.nominal_mm for _, b, _ in blocks]), np.array([m for _, _, m in blocks])
    edges = np.zeros((len(blocks), len(present)))
    for row, (i, block, _) in enumerate(blocks):
        edges[row, present.index(i)] = 2.0 if block.kind == "outer" else -2.0
    identified = any(len({_signed(b) for j, b, _ in blocks if j == i}) > 1 for i in present)
    design = np.column_stack([nominal, edges]) if identified else edges
    target = measured if identified else measured - nominal
    weights = np.ones(len(blocks))
    degrees = max(len(blocks) - design.shape[1], 0)
    for _ in range(8):
        root = np.sqrt(weights)
        solution = np.linalg.lstsq(design * root[:, None], target * root, rcond=None)[0]
        residual = target - design @ solution
        middle = 1.4826 * float(np.median(np.abs(residual))) if degrees else 0.0
        sd = math.sqrt((degrees * middle**2 + USUAL_WEIGHT * USUAL_SD_MM**2) / (degrees + USUAL_WEIGHT))
        weights = np.minimum(1.0, HUBER * sd / np.maximum(np.abs(residual), 1e-9))
    covariance = sd**2 * np.linalg.pinv(design.T @ (design * weights[:, None]))
    first = int(identified)
    growths = {
        i: CouponGrowth(1000 * float(solution[first + n]), 1000 * math.sqrt(max(covariance[first + n, first + n], 0.0)))
        for n, i in enumerate(present)
    }
    scale = float(solution[0]) if identified else 1.0
    return Growths(scale, identified, [growths.get(i, CouponGrowth(None, 0.0)) for i in range(len(coupons))])


def without_bias(kind: str, measured_mm: float, bias_um: float) -> float:
    """A size without a reader's bias, mm: who reads edges as grown too far reads bars too wide and notches too narrow.

    Parameters
    ----------
    kind : str
        outer for a bar, inner for a notch; other sizes stay as they are.
    measured_mm : float
        As it was read.
    bias_um : float
        By how much the reader reads the growth of each edge too large, µm.
    """
    sign = {"outer": -2, "inner": 2}.get(kind, 0)
    return max(measured_mm + sign * bias_um / 1000, 0.0)


def _signed(block: Block) -> float:
    return block.nominal_mm if block.kind == "outer" else -block.nominal_mm


def size_fit(inputs: SizeFitInput) -> SizeFitResult:
    """Scale error and edge growth of one coupon from bars and notches.

    Parameters
    ----------
    inputs : SizeFitInput
        Readings in millimetres; with ``axis`` on every reading, X and Y are also fitted apart.

    Returns
    -------
    SizeFitResult
        Growth in µm per edge, scale error in percent, and the compensation that would undo both.
        Intervals are 95 %, null without residual degrees of freedom.

    Raises
    ------
    Problem
        When a reading is so far from its drawn size that a unit slip is likelier than growth.
    """
    _refuse_slips(inputs.features)
    model = fit_size([inputs.features])
    warnings = []
    if not model.scale_identified:
        warnings.append(
            Notice(
                code="scale-not-identified",
                message="Shrinkage cannot be told from edge growth: measure a bar and a notch, or two sizes. "
                "All of the departure is counted as growth.",
            )
        )
    if model.covariance is None:
        warnings.append(Notice(code="no-spread", message="Too few readings to say how sure the fit is; take more."))
    axes = []
    if all(block.axis for block in inputs.features):
        for axis in ("x", "y"):
            members = [block for block in inputs.features if block.axis == axis]
            if members:
                fit = fit_size([members])
                axes.append(
                    AxisFit(
                        axis=axis,
                        scale_error_pct=100 * (fit.scale - 1) if fit.scale_identified else None,
                        edge_growth_um=1000 * fit.growth_mm[0],
                        n=len(members),
                    )
                )
    growth_um = 1000 * model.growth_mm[0]
    return SizeFitResult(
        scale_error_pct=100 * (model.scale - 1) if model.scale_identified else None,
        scale_error_ci_pct=_interval(model, 0, 100 * (model.scale - 1), 100) if model.scale_identified else None,
        edge_growth_um=growth_um,
        edge_growth_ci_um=_interval(model, int(model.scale_identified), growth_um, 1000),
        scale_identified=model.scale_identified,
        residual_sd_um=1000 * model.residual_sd_mm if model.residual_sd_mm is not None else None,
        axes=axes,
        growth_x_minus_y_um=axes[0].edge_growth_um - axes[1].edge_growth_um if len(axes) == 2 else None,
        compensation=Compensation(per_edge_um=-growth_um, scale=1 / model.scale),
        warnings=warnings,
    )


def _interval(model: SizeModel, index: int, centre: float, unit: float) -> Interval | None:
    if model.covariance is None:
        return None
    half_width = float(stdtrit(model.degrees, 0.975)) * math.sqrt(model.covariance[index, index]) * unit
    return (centre - half_width, centre + half_width)


def implausible_reading(nominal_mm: float, measured_mm: float) -> str | None:
    """Say why a caliper reading cannot be of this feature; None when it can.

    A feature may shrink or grow by a few tenths; more than a quarter of its size and 0.5 mm is a slip.
    """
    if abs(measured_mm - nominal_mm) <= max(0.5, 0.25 * nominal_mm):
        return None
    for factor, unit in ((1000, "µm"), (10, "ten times too much"), (0.1, "a tenth"), (1 / 25.4, "inches")):
        if abs(measured_mm / factor - nominal_mm) <= 0.1 * nominal_mm:
            return (
                f"{measured_mm:g} mm on a {nominal_mm:g} mm feature looks like {unit}: "
                f"was {measured_mm / factor:.3g} mm meant?"
            )
    return f"{measured_mm:g} mm is too far from the drawn {nominal_mm:g} mm: measure again, or strike the feature out."


def _refuse_slips(blocks: list[Block]) -> None:
    fields = {}
    for i, block in enumerate(blocks):
        warning = None if block.measured_mm is None else implausible_reading(block.nominal_mm, block.measured_mm)
        if warning:
            fields[f"features.{i}.measured_mm"] = warning
    if fields:
        raise Problem("A reading cannot be of its feature.", fields)


def growth_um(coupon: CouponEvidence) -> float | None:
    """Edge growth of one coupon in µm, null without a bar or notch that could be measured."""
    measured = [block for block in coupon.blocks if block.measured_mm is not None]
    return 1000 * fit_size([measured]).growth_mm[0] if measured else None


def bloom_um(coupon: CouponEvidence) -> float | None:
    """Mean clearance lost under the bridges of one coupon in µm, null without bridges."""
    if not coupon.z_gaps:
        return None
    return 1000 * sum(gap.nominal_mm - gap.measured_mm for gap in coupon.z_gaps) / len(coupon.z_gaps)
