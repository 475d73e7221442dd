"""How exposure changes with temperature, from calibrations or check coupons at several temperatures.

Method: ordinary least squares of ln exposure on temperature; intervals with Student's t, n - 2.
"""

from __future__ import annotations

import math
from typing import Annotated

from pydantic import Field

from ..contract import Contract, Interval, Notice, Problem, Seconds
from ..statistics.line import fit_line

Celsius = Annotated[float, Field(ge=-20, le=80)]
REACH_C = 3.0


class ExposureAt(Contract):
    """A nominal-size exposure found at one temperature."""

    temp_c: Celsius
    exposure_s: Seconds


class TemperatureEffectInput(Contract):
    """Exposures of one material and printer over temperature."""

    points: list[ExposureAt] = Field(min_length=1, max_length=500)
    temp_c: Celsius | None = Field(None, description="Say the exposure at this temperature")


class TemperatureEffectResult(Contract):
    """How the exposure changes per °C, percent, with its interval, and the exposure at the temperature asked about."""

    percent_per_c: float
    percent_per_c_ci: Interval | None
    exposure_s: float | None
    exposure_ci_s: Interval | None
    fitted_range_c: Interval
    n: int
    warnings: list[Notice]

    @property
    def corrects(self) -> bool:
        """Whether exposures may be corrected by it: shown, and the way resins behave."""
        return self.percent_per_c_ci is not None and not {"two-points", "weak", "wrong-direction"} & {
            w.code for w in self.warnings
        }


def temperature_effect(inputs: TemperatureEffectInput) -> TemperatureEffectResult:
    """Percent of exposure per °C, and the exposure at a temperature inside the fitted range.

    Raises
    ------
    Problem
        When all temperatures are one, or the asked temperature lies more than 3 °C outside the fitted range.
    """
    temps = [p.temp_c for p in inputs.points]
    if len(set(temps)) < 2:
        message = "Exposures at two different temperatures are needed at least."
        raise Problem(message, {"points": message})
    low, high = min(temps), max(temps)
    if inputs.temp_c is not None and not low - REACH_C <= inputs.temp_c <= high + REACH_C:
        message = f"{inputs.temp_c:g} °C is more than {REACH_C:g} °C outside the fitted {low:g} to {high:g} °C."
        raise Problem(message, {"temp_c": message})
    line = fit_line(temps, [math.log(p.exposure_s) for p in inputs.points])
    interval = None
    if line.variance is not None:
        half_width = line.half_slope()
        interval = (_percent(line.slope - half_width), _percent(line.slope + half_width))
    exposure, exposure_ci = None, None
    if inputs.temp_c is not None:
        exposure = math.exp(line.at(inputs.temp_c))
        ends = line.interval_at(inputs.temp_c)
        exposure_ci = (math.exp(ends[0]), math.exp(ends[1])) if ends else None
    warnings = []
    if line.variance is None:
        message = "Two temperatures make a line, but nothing says how sure it is."
        warnings.append(Notice(code="two-points", message=message))
    elif not line.told_from_flat:
        warnings.append(Notice(code="weak", message="The effect cannot be told from none at all."))
    if line.slope > 0:
        message = "Warmer resin seems to need more light, which is the wrong way round: look at the records."
        warnings.append(Notice(code="wrong-direction", message=message))
    return TemperatureEffectResult(
        percent_per_c=_percent(line.slope),
        percent_per_c_ci=interval,
        exposure_s=exposure,
        exposure_ci_s=exposure_ci,
        fitted_range_c=(low, high),
        n=len(temps),
        warnings=warnings,
    )


def _percent(slope: float) -> float:
    return 100 * math.expm1(slope)
