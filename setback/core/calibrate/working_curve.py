"""Working curve: how deep light cures per time, from squares exposed straight onto the film."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field

from ..contract import Contract, Interval, Millimetres, Notice, Problem, Seconds
from ..statistics.line import Line, fit_line

CURVE_POINTS = 41
POOR_FIT = 0.97
THICK_MM = 1.0
# Penetration depths below and above which a resin behaves as opaque or clear.
OPAQUE_MM, CLEAR_MM = 0.12, 0.22

FARTHEST_X = 25.0
"""A curve that meets zero or a layer further away than e^25 s is none."""


class DepthPoint(Contract):
    """A cured depth at one exposure: of a square, or one of several readings of it."""

    exposure_s: Seconds
    depth_mm: Millimetres
    square: str | None = Field(
        None,
        max_length=60,
        description="Readings of one square count as their mean; when not given, those of one exposure",
    )


class WorkingCurveInput(Contract):
    """Depths measured over exposures, and the layer heights that are asked about."""

    points: list[DepthPoint] = Field(min_length=1, max_length=500, description="One per caliper reading or per square")
    irradiance_mw_cm2: Annotated[float, Field(gt=0, le=10_000)] | None = None
    layer_heights_um: list[Annotated[float, Field(gt=0, le=1000)]] = Field(default_factory=list, max_length=50)
    overcure_um: Annotated[float, Field(ge=0, le=5000)] = 100


class LayerExposure(Contract):
    """The exposure that cures through a layer of one height."""

    layer_height_um: float
    cure_depth_um: float
    exposure_s: float
    exposure_ci_s: Interval | None
    z_bloom_um: float = Field(description="Beyond the layer by one flash")
    z_bloom_accumulated_um: float = Field(description="With the light of all later layers")
    extrapolated: bool = Field(description="The depth lies outside the depths measured")


class CurvePoint(Contract):
    """The fitted depth at one exposure, with its interval."""

    exposure_s: float
    depth_mm: float
    depth_ci_mm: Interval | None


class WorkingCurveResult(Contract):
    """Penetration depth and critical exposure with their intervals, and exposures by layer height."""

    penetration_depth_mm: float
    penetration_depth_se_mm: float | None
    critical_exposure_s: float
    critical_exposure_ci_s: Interval | None
    critical_energy_mj_cm2: float | None
    r_squared: float
    n: int
    character: Literal["opaque", "between", "clear"]
    meaning: str
    layer_exposures: list[LayerExposure]
    curve: list[CurvePoint] = Field(description="The line with its 95 % band, for drawing")
    warnings: list[Notice]


def working_curve(inputs: WorkingCurveInput) -> WorkingCurveResult:
    """Jacobs' equation, cure depth = Dp ln(t / tc), by least squares of depth on ln t.

    Readings of one square are alike, so that each square counts as one mean: fed one by one they cover 0.73 instead of 0.95.
    Dp is the slope and ln tc where the line meets 0. Intervals are 95 %: of Dp by its standard error, of tc and of each
    layer's exposure by the delta method on ln t with Student's t, n - 2. With irradiance, Ec = irradiance x tc.

    Raises
    ------
    Problem
        With fewer than two distinct times, or when depth does not rise with time, or by so little that no curve is to be seen.

    References
    ----------
    P. F. Jacobs, Rapid Prototyping & Manufacturing, SME 1992.
    """
    times = {point.exposure_s for point in inputs.points}
    if len(times) < 2:
        message = "Two different times are needed: a curve has a slope."
        raise Problem(message, {"points": message})
    squares = _squares(inputs.points)
    xs = [math.log(exposure_s) for exposure_s, _ in squares]
    depths = [depth_mm for _, depth_mm in squares]
    line = fit_line(xs, depths)
    if line.slope <= 0:
        message = "Depth does not rise with time. Were two squares swapped, or is the light not steady?"
        raise Problem(message, {"points": message})
    zero = line.place_of(0.0, 0.0, 1)
    farthest = max(
        abs(place.x) for place in (zero, *(line.place_of(h / 1000, 0.0, 1) for h in inputs.layer_heights_um))
    )
    if farthest > FARTHEST_X:
        message = (
            "These depths cannot be told from all alike: expose squares at times further apart, or measure them again."
        )
        raise Problem(message, {"points": message})
    critical = math.exp(zero.x)
    layers = [_layer(line, critical, height, inputs.overcure_um, depths) for height in inputs.layer_heights_um]
    r_squared = _r_squared(line, xs, depths)
    character, meaning = _meaning(line.slope)
    se = None if line.variance is None else math.sqrt(line.variance / line.spread_x)
    return WorkingCurveResult(
        penetration_depth_mm=line.slope,
        penetration_depth_se_mm=se,
        critical_exposure_s=critical,
        critical_exposure_ci_s=_as_seconds(zero.interval),
        critical_energy_mj_cm2=None if inputs.irradiance_mw_cm2 is None else inputs.irradiance_mw_cm2 * critical,
        r_squared=r_squared,
        n=line.n,
        character=character,
        meaning=meaning,
        layer_exposures=layers,
        curve=_curve(line, xs),
        warnings=_warnings(inputs, line, r_squared, layers, depths),
    )


def _squares(points: list[DepthPoint]) -> list[tuple[float, float]]:
    """Exposure and mean depth of each square, in the order in which they were first read."""
    readings: dict[tuple[str | None, float], list[float]] = {}
    for point in points:
        readings.setdefault((point.square, point.exposure_s), []).append(point.depth_mm)
    return [(exposure_s, math.fsum(depths) / len(depths)) for (_, exposure_s), depths in readings.items()]


def _layer(line: Line, critical_s: float, height_um: float, overcure_um: float, depths: list[float]) -> LayerExposure:
    depth, height, dp = (height_um + overcure_um) / 1000, height_um / 1000, line.slope
    end = line.place_of(depth, 0.0, 1)
    light = end.x - math.log(critical_s)
    return LayerExposure(
        layer_height_um=height_um,
        cure_depth_um=1000 * depth,
        exposure_s=math.exp(end.x),
        exposure_ci_s=_as_seconds(end.interval),
        z_bloom_um=1000 * (dp * light - height),
        z_bloom_accumulated_um=1000 * (dp * (light - math.log(1 - math.exp(-height / dp))) - height),
        extrapolated=not min(depths) <= depth <= max(depths),
    )


def _curve(line: Line, xs: list[float]) -> list[CurvePoint]:
    low, high = min(xs) - 0.25, max(xs) + 0.25
    points = []
    for i in range(CURVE_POINTS):
        x = low + (high - low) * i / (CURVE_POINTS - 1)
        points.append(CurvePoint(exposure_s=math.exp(x), depth_mm=line.at(x), depth_ci_mm=line.interval_at(x)))
    return points


def _r_squared(line: Line, xs: list[float], depths: list[float]) -> float:
    residual = math.fsum((y - line.at(x)) ** 2 for x, y in zip(xs, depths, strict=True))
    whole = math.fsum((y - line.mean_y) ** 2 for y in depths)
    return 1 - residual / whole


def _as_seconds(interval: tuple[float, float] | None) -> Interval | None:
    return None if interval is None else (math.exp(interval[0]), math.exp(interval[1]))


def _meaning(penetration_mm: float) -> tuple[Literal["opaque", "between", "clear"], str]:
    deep = f"Every doubling of time cures {1000 * penetration_mm * math.log(2):.0f} µm deeper."
    if penetration_mm < OPAQUE_MM:
        return "opaque", f"Light is stopped early: exposure is sensitive to layer height. {deep}"
    if penetration_mm > CLEAR_MM:
        return "clear", f"Light goes deep: undersides and holes bloom in Z; a thicker layer helps. {deep}"
    return "between", f"Neither opaque nor clear. {deep}"


def _warnings(
    inputs: WorkingCurveInput, line: Line, r_squared: float, layers: list[LayerExposure], depths: list[float]
) -> list[Notice]:
    warnings = []
    if line.variance is None:
        message = "Two times only: the line has no uncertainty of its own. Expose a third square."
        warnings.append(Notice(code="two-points", message=message))
    if r_squared < POOR_FIT:
        message = f"The points leave the line (R² {r_squared:.2f}): measure again, and check that power and film were the same."
        warnings.append(Notice(code="poor-fit", message=message))
    outside = [f"{layer.layer_height_um:g}" for layer in layers if layer.extrapolated]
    if outside:
        need = f"The depth a layer of {' and '.join(outside)} µm needs"
        message = (
            f"{need} lies outside the {min(depths):.3g} to {max(depths):.3g} mm measured: expose a square nearer to it."
        )
        warnings.append(Notice(code="extrapolated", message=message))
    if max(depths) > THICK_MM:
        message = f"{max(depths):g} mm is very thick for a square: check power and time, then repeat shorter."
        warnings.append(Notice(code="too-thick", message=message))
    thinnest = min((height / 1000 for height in inputs.layer_heights_um), default=None)
    if thinnest is not None and min(depths) < thinnest:
        message = f"{min(depths):g} mm is thinner than a layer: check power and time, then repeat longer."
        warnings.append(Notice(code="too-thin", message=message))
    return warnings
