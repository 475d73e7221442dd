"""A first guess of exposure for a pair never calibrated, from all that has been.

Method: a linear Gaussian model of ln exposure with crossed effects (light engine, resin line, colour in its line,
printer, pair), solved exactly; the posterior is the usual one of Bayesian linear regression (Gelman and others,
Bayesian Data Analysis, ch. 14-15). Layer height enters by Jacobs' equation: over 50 µm exposure grows by exp(50 µm/Dp).
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from scipy.linalg import cho_factor, cho_solve
from scipy.special import ndtri

from ..contract import Contract, Interval, Millimetres, Notice, Problem, Seconds

Engine = Literal["mono", "colour", "projector", "laser"]
Height = Annotated[float, Field(gt=0, le=1000)]
Name = Annotated[str, Field(min_length=1, max_length=120)]

OVERALL = (math.log(2.5), 0.6)
ENGINES: dict[Engine, tuple[float, float]] = {
    "colour": (math.log(3.5), 0.3),
    "projector": (-0.2, 0.5),
    "laser": (-0.2, 0.5),
}
LINE_SD, COLOUR_SD, PRINTER_SD, PAIR_SD = 0.45, 0.25, 0.35, 0.12
HEIGHT_SLOPE = (0.25, 0.15)
REFERENCE_UM = 50.0
WARMTH_PER_C, REFERENCE_C = 0.025, 25.0
RESIDUAL_SD = 0.08
LEAST_RANGE_SD, RANGE_PRINTER_SD = 0.10, 0.2
"""Least half-width of a maker's range in ln exposure, and how far the maker's typical printer may be from an average one."""
MIXING_SD = 0.10
"""How far ln exposure of a blend may depart from the mean of its parts."""
COVERAGE = 0.80
WIDE_RATIO = 2.5
"""Interval ends further apart than this are said to be wide."""
CARRIED = 0.05
"""Share of the weight below which a calibration is not named."""


class Pair(Contract):
    """A material on a printer at a layer height."""

    material: Name
    line: Name | None = Field(None, description="Resins of one line are relatives; one without is its own")
    printer: Name
    engine: Engine = "mono"
    layer_height_um: Height
    penetration_depth_mm: Millimetres | None = Field(None, description="From a working curve, mm")
    temp_c: Annotated[float, Field(ge=-20, le=80)] | None = None


class KnownExposure(Pair):
    """A pair that was calibrated."""

    exposure_s: Seconds
    label: str | None = Field(None, max_length=40, description="How the result names it")


class MakerRange(Contract):
    """What a maker says of a material, for a typical printer at 50 µm; for one pair it says nothing of the printer."""

    low_s: Seconds
    high_s: Seconds
    engine: Engine = Field("mono", description="Light engine it is given for")


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
    ((mean, variance, weights, range_weight),) = posteriors(inputs.known, [inputs.target], [span])
    shares = np.abs(weights)
    total = float(shares.sum()) + abs(range_weight)
    sd = math.sqrt(variance + RESIDUAL_SD**2)
    median, low, high = interval_of(mean, variance)
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


def _effects(pair: Pair) -> dict[str, tuple[float, float, float]]:
    """Effects of a pair by name: (weight, prior mean, prior standard deviation)."""
    line = f"line {pair.line}" if pair.line is not None else f"own line {pair.material}"
    effects = {
        "overall": (1.0, *OVERALL),
        line: (1.0, 0.0, LINE_SD),
        f"colour {pair.material}": (1.0, 0.0, COLOUR_SD),
        f"printer {pair.printer}": (1.0, 0.0, PRINTER_SD),
        f"pair {pair.material} | {pair.printer}": (1.0, 0.0, PAIR_SD),
    }
    if pair.engine in ENGINES:
        effects[f"engine {pair.engine}"] = (1.0, *ENGINES[pair.engine])
    if pair.penetration_depth_mm is None:
        effects["height"] = ((pair.layer_height_um - REFERENCE_UM) / REFERENCE_UM, *HEIGHT_SLOPE)
    return effects


def _range_effects(pair: Pair, span: MakerRange) -> dict[str, tuple[float, float, float]]:
    """Effects that a maker's range observes: those of the material, and of the engine it is given for."""
    of_the_material = {
        name: effect
        for name, effect in _effects(pair).items()
        if name.split(" ")[0] in ("overall", "line", "own", "colour")
    }
    if span.engine in ENGINES:
        of_the_material[f"engine {span.engine}"] = (1.0, *ENGINES[span.engine])
    return of_the_material


def _known_part(pair: Pair) -> float:
    """What needs no estimate: temperature, and layer height where the penetration depth is known."""
    warm = -WARMTH_PER_C * ((pair.temp_c if pair.temp_c is not None else REFERENCE_C) - REFERENCE_C)
    if pair.penetration_depth_mm is None:
        return warm
    return warm + (pair.layer_height_um - REFERENCE_UM) / (1000 * pair.penetration_depth_mm)


Vector = np.ndarray[tuple[int], np.dtype[np.float64]]


Belief = tuple[float, float, Vector, float]
"""Mean and variance of ln exposure without its residual, the weight of each calibration, and that of the maker's range."""


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
    observed = [None if span is None else _range_effects(pair, span) for pair, span in zip(targets, spans, strict=True)]
    effects = [_effects(pair) for pair in (*known, *targets)] + [maker or {} for maker in observed]
    names = {name: i for i, name in enumerate(dict.fromkeys(n for e in effects for n in e))}
    prior_mean, prior_sd = np.zeros(len(names)), np.zeros(len(names))
    design = np.zeros((len(effects), len(names)))
    for row, maker in enumerate(effects):
        for name, (weight, mean, sd) in maker.items():
            i = names[name]
            prior_mean[i], prior_sd[i], design[row, i] = mean, sd, weight
    fixed = np.array([_known_part(pair) for pair in (*known, *targets)] + [0.0] * len(targets))
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
        among = observed_effects @ observed_effects.T + RESIDUAL_SD**2 * np.eye(len(known))
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
        beliefs.append((mean, variance, share, gain))
    return beliefs


def interval_of(mean: float, variance: float) -> tuple[float, float, float]:
    """Median and ends of the predictive interval, s, from mean and variance of ln exposure without the residual."""
    half_width = float(ndtri(0.5 + COVERAGE / 2)) * math.sqrt(variance + RESIDUAL_SD**2)
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
        message = "No calibration is on file: the guess is what such printers and resins usually need."
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
