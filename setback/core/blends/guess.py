"""After the fact: about so much was poured into about so much. The fraction, its uncertainty, and whether the uncertainty matters.

Error propagation to first order of f = (h·f₀ + p)/(h + p): ∂f/∂p = (1 − f)/(h + p), ∂f/∂h = (f₀ − f)/(h + p).
"""

from __future__ import annotations

import math
from typing import Annotated

from pydantic import Field

from ..contract import Contract, Interval, Notice, Problem

# Less is not poured, and overflows the arithmetic.
Volume = Annotated[float, Field(ge=0.01, le=1_000_000)]
Uncertainty = Annotated[float, Field(ge=0, le=1_000_000)]


class PouredInput(Contract):
    """A volume poured by eye into another, millilitres, each ± so much."""

    poured_ml: Volume
    poured_doubt_ml: Uncertainty = Field(description="± as 95 %")
    into_ml: Volume
    into_doubt_ml: Uncertainty
    already: Annotated[float, Field(ge=0, le=1)] = Field(0, description="Fraction that was in there before")
    ln_exposure_per_fraction: Annotated[float, Field(ge=-20, le=20)] | None = Field(
        None, description="Change of ln exposure from none to all of it, by the mixing rule or a series"
    )
    latitude_pct: Annotated[float, Field(gt=0, le=1000)] | None = Field(None, description="Of the window, where known")


class PouredResult(Contract):
    """The fraction that came about, with its interval, and whether the uncertainty matters to the exposure."""

    fraction: float
    fraction_ci: Interval
    exposure_doubt_pct: float | None
    matters: bool | None = Field(description="More than a fifth of the window's latitude")
    warnings: list[Notice]


def after_the_fact(inputs: PouredInput) -> PouredResult:
    """Fraction in the mixture, with its uncertainty, and what the uncertainty does to the exposure.

    Raises
    ------
    Problem
        When a volume may be nothing at all.
    """
    if inputs.into_doubt_ml >= inputs.into_ml:
        message = "The uncertainty is as large as the volume: nothing can be said."
        raise Problem(message, {"into_doubt_ml": message})
    total = inputs.into_ml + inputs.poured_ml
    fraction = (inputs.into_ml * inputs.already + inputs.poured_ml) / total
    half_width = math.hypot(
        (1 - fraction) / total * inputs.poured_doubt_ml, (inputs.already - fraction) / total * inputs.into_doubt_ml
    )
    low, high = max(fraction - half_width, 0.0), min(fraction + half_width, 1.0)
    exposure = (
        None if inputs.ln_exposure_per_fraction is None else 100 * abs(inputs.ln_exposure_per_fraction) * half_width
    )
    matters = None if exposure is None or inputs.latitude_pct is None else exposure > inputs.latitude_pct / 5
    warnings = []
    if exposure is None:
        message = "Not known what this additive does to the exposure: calibrate it as a new material."
        warnings.append(Notice(code="effect-unknown", message=message))
    return PouredResult(
        fraction=fraction, fraction_ci=(low, high), exposure_doubt_pct=exposure, matters=matters, warnings=warnings
    )
