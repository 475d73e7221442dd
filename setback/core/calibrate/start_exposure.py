"""A first estimate of exposure for a pair never calibrated, from all that has been.

Method: a linear Gaussian model of ln exposure with crossed effects (light engine, resin line, colour in its line,
printer, pair), solved exactly; the posterior is the usual one of Bayesian linear regression (Gelman and others,
Bayesian Data Analysis, ch. 14-15). From ten calibrations on the spreads are the shop's own, and a calibration that lies far from
what all others say counts for less (:mod:`.exposure_scales`). Layer height enters by Jacobs' equation: over 50 µm exposure grows by exp(50 µm/Dp).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import NamedTuple

import numpy as np
from pydantic import Field
from scipy.linalg import cho_factor, cho_solve
from scipy.special import ndtri

from ..contract import Contract, Interval, Notice, Problem
from .exposure_effects import (
    LEAST_RANGE_SD,
    RANGE_PRINTER_SD,
    KnownExposure,
    MakerRange,
    Pair,
    effects_of,
    known_part,
    range_effects,
)
from .exposure_scales import shop_noise

MIXING_SD = 0.10
"""How far ln exposure of a blend may depart from the mean of its parts."""
COVERAGE = 0.80
WIDE_RATIO = 2.5
"""Interval ends further apart than this are said to be wide."""
CARRIED = 0.05
"""Share of the weight below which a calibration is not named."""


class StartExposureInput(Contract):
    """The pair to guess for, calibrations of other pairs, and the maker's range where there is one."""

    known: list[KnownExposure] = Field(default_factory=list, max_length=5000)
    target: Pair
    vendor_range: MakerRange | None = None


class Carried(Contract):
    """A calibration the guess leans on."""

    label: str
    exposure_s: float
    share: float = Field(description="Of all weight on evidence, 0 to 1")


class StartExposureResult(Contract):
    """A first exposure with its 80 % interval, s, and the calibrations it leans on."""

    exposure_s: float = Field(description="Posterior median, s")
    interval_s: Interval = Field(description="80 % predictive interval, s")
    log_sd: float
    carried_by: list[Carried] = Field(description="Calibrations it leans on, most first")
    basis: str
    warnings: list[Notice]


def start_exposure(inputs: StartExposureInput) -> StartExposureResult:
    """Posterior median and predictive interval of the target's exposure.

    Parameters
    ----------
    given : StartExposureInput
        Exposures in seconds, heights in µm, penetration depth in mm, temperatures in °C (25 when not given).

    Raises
    ------
    Problem
        When the maker's range is upside down.
    """
    span = inputs.vendor_range
    if span is not None and span.high_s < span.low_s:
        raise Problem("The maker's range is upside down.", {"vendor_range.high_s": "Give the larger number here."})
    (belief,) = posteriors(inputs.known, [inputs.target], [span])
    shares = np.abs(belief.weights)
    total = float(shares.sum()) + abs(belief.range_weight)
    sd = math.hypot(math.sqrt(belief.variance), belief.residual)
    median, low, high = interval_of(belief.mean, belief.variance, belief.residual)
    interval = (low, high)
    carried = _carried(inputs.known, shares.tolist(), total)
    return StartExposureResult(
        exposure_s=median,
        interval_s=interval,
        log_sd=sd,
        carried_by=carried,
        basis=basis_of(inputs.known, inputs.target, span),
        warnings=_warnings(inputs, interval),
    )


Vector = np.ndarray[tuple[int], np.dtype[np.float64]]


class Belief(NamedTuple):
    """What is believed of ln exposure: mean and variance without the residual, the weight of each calibration, that of the maker's
    range, and the spread of what a calibration comes to about it."""

    mean: float
    variance: float
    weights: Vector
    range_weight: float
    residual: float


def posteriors(
    known: Sequence[KnownExposure], targets: Sequence[Pair], ranges: Sequence[MakerRange | None] | None = None
) -> list[Belief]:
    """What is believed of each target.

    Parameters
    ----------
    known : sequence of KnownExposure
        All calibrations.
    targets : sequence of Pair
        All share one factorisation, so that a whole Board costs little more than one cell.
    ranges : sequence of MakerRange or None, optional
        One for each target: what the maker of its material says, an observation of the material on a typical printer at 50 µm.
    """
    spans = list(ranges) if ranges is not None else [None] * len(targets)
    noise = shop_noise(known)
    observed = [
        None if span is None else range_effects(pair, span, noise.scales)
        for pair, span in zip(targets, spans, strict=True)
    ]
    effects = [effects_of(pair, noise.scales) for pair in (*known, *targets)] + [maker or {} for maker in observed]
    names = {name: i for i, name in enumerate(dict.fromkeys(n for e in effects for n in e))}
    prior_mean, prior_sd = np.zeros(len(names)), np.zeros(len(names))
    design = np.zeros((len(effects), len(names)))
    for row, maker in enumerate(effects):
        for name, (weight, mean, sd) in maker.items():
            i = names[name]
            prior_mean[i], prior_sd[i], design[row, i] = mean, sd, weight
    fixed = np.array([known_part(pair) for pair in (*known, *targets)] + [0.0] * len(targets))
    start = design @ prior_mean + fixed
    scaled = design * prior_sd
    observed_effects, aims = scaled[: len(known)], scaled[len(known) :]
    count = len(targets)
    prior_variances = np.einsum("ij,ij->i", aims, aims)
    crossed = np.einsum("ij,ij->i", aims[:count], aims[count:])
    weights = np.zeros((len(known), 2 * count))
    means = start[len(known) :].copy()
    if known:
        y = np.array([math.log(k.exposure_s) for k in known])
        among = observed_effects @ observed_effects.T + np.diag(noise.variances)
        between = observed_effects @ aims.T
        weights = cho_solve(cho_factor(among, lower=True), between)
        means += weights.T @ (y - start[: len(known)])
        prior_variances = prior_variances - np.einsum("ij,ij->j", weights, between)
        crossed = crossed - np.einsum("ij,ij->j", weights[:, :count], between[:, count:])
    beliefs: list[Belief] = []
    for i, span in enumerate(spans):
        mean, variance, gain = float(means[i]), float(prior_variances[i]), 0.0
        share: Vector = np.array(weights[:, i])
        if span is not None:
            message = (math.log(span.low_s) + math.log(span.high_s)) / 2
            uncertainty = math.hypot(max(math.log(span.high_s / span.low_s) / 2, LEAST_RANGE_SD), RANGE_PRINTER_SD)
            gain = float(crossed[i] / (prior_variances[count + i] + uncertainty**2))
            mean += gain * (message - float(means[count + i]))
            variance -= gain * float(crossed[i])
            # What the maker's range says takes its weight from the calibrations.
            share -= gain * weights[:, count + i]
        beliefs.append(Belief(mean, variance, share, gain, noise.residual))
    return beliefs


def interval_of(mean: float, variance: float, residual: float) -> tuple[float, float, float]:
    """Median and ends of the predictive interval, s, from mean and variance of ln exposure without the residual, and that."""
    half_width = float(ndtri(0.5 + COVERAGE / 2)) * math.sqrt(variance + residual**2)
    return math.exp(mean), math.exp(mean - half_width), math.exp(mean + half_width)


def mixed(parts: Sequence[tuple[float, float, float]], ln_dye_factor: float = 0.0) -> tuple[float, float]:
    """Mean and variance of ln exposure of a blend, from its parts.

    ln exposure mixes by volume, as penetration depth and critical exposure do by Jacobs' equation when the absorbers of both parts
    only add up; what real mixtures depart from that is :data:`MIXING_SD`. Parts are guessed from the same calibrations, so their
    errors are taken to go together.

    Parameters
    ----------
    parts : sequence of (fraction, mean, variance)
        Of each resin: its share by volume, and what is believed of its ln exposure on the printer and at the layer height.
    ln_dye_factor : float
        ln of what the dyes multiply the exposure by.
    """
    total = math.fsum(fraction for fraction, _, _ in parts)
    mean = math.fsum(fraction * m for fraction, m, _ in parts) / total + ln_dye_factor
    sd = math.fsum(fraction * math.sqrt(v) for fraction, _, v in parts) / total
    return mean, sd**2 + MIXING_SD**2


def _carried(known: list[KnownExposure], weights: list[float], total: float) -> list[Carried]:
    if not total:
        return []
    named = [
        Carried(label=k.label or f"{k.material} on {k.printer}", exposure_s=k.exposure_s, share=abs(w) / total)
        for k, w in zip(known, weights, strict=True)
    ]
    return sorted((c for c in named if c.share >= CARRIED), key=lambda c: -c.share)


def basis_of(known: Sequence[KnownExposure], target: Pair, span: MakerRange | None) -> str:
    """What a guess rests on, in words."""
    same = [k for k in known if k.material == target.material]
    if any(k.printer == target.printer for k in same):
        return "This material on this printer at other layer heights."
    parts = []
    if same:
        parts.append("this material elsewhere")
    elif target.line is not None and any(k.line == target.line for k in known):
        parts.append("a relative of its line")
    if any(k.printer == target.printer for k in known):
        parts.append("other materials on this printer")
    if span is not None:
        parts.append("the maker's range")
    if not parts:
        return "Nothing near it is calibrated: what such printers and resins usually need."
    joined = ", ".join(parts)
    return joined[0].upper() + joined[1:] + "."


def _warnings(inputs: StartExposureInput, interval: Interval) -> list[Notice]:
    warnings = []
    if not inputs.known:
        message = "No calibration is on file: the estimate is what such printers and resins usually need."
        warnings.append(Notice(code="prior-only", message=message))
    else:
        warnings += wide_warnings(interval)
    return warnings


def wide_warnings(interval: Interval) -> list[Notice]:
    """Said where the ends of a guess lie far apart."""
    if interval[1] / interval[0] <= WIDE_RATIO:
        return []
    message = f"The true value may lie anywhere from {interval[0]:.2g} to {interval[1]:.2g} s: print a wide ladder."
    return [Notice(code="wide", message=message)]
