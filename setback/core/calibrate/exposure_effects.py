"""What an exposure is made of: light engine, line, colour, printer, pair, layer height and temperature.

The effects of the model of :mod:`.start_exposure`, with how far each is taken to spread before a shop's own calibrations say more
(:mod:`.exposure_scales`).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field

from ..contract import Contract, Millimetres, Seconds

Engine = Literal["mono", "colour", "projector", "laser"]
Height = Annotated[float, Field(gt=0, le=1000)]
Name = Annotated[str, Field(min_length=1, max_length=120)]

OVERALL = (math.log(2.5), 0.6)
ENGINES: dict[Engine, tuple[float, float]] = {
    "colour": (math.log(3.5), 0.3),
    "projector": (-0.2, 0.5),
    "laser": (-0.2, 0.5),
}
HEIGHT_SLOPE = (0.25, 0.15)
REFERENCE_UM = 50.0
WARMTH_PER_C, REFERENCE_C = 0.025, 25.0
LEAST_RANGE_SD, RANGE_PRINTER_SD = 0.10, 0.2
"""Least half-width of a maker's range in ln exposure, and how far the maker's typical printer may be from an average one."""


class Pair(Contract, frozen=True):
    """A material on a printer at a layer height."""

    material: Name
    line: Name | None = Field(None, description="Resins of one line are relatives; one without is its own")
    printer: Name
    engine: Engine = "mono"
    layer_height_um: Height
    penetration_depth_mm: Millimetres | None = Field(None, description="From a working curve, mm")
    temp_c: Annotated[float, Field(ge=-20, le=80)] | None = None


class KnownExposure(Pair, frozen=True):
    """A pair that was calibrated."""

    exposure_s: Seconds
    label: str | None = Field(None, max_length=40, description="How the result names it")


class MakerRange(Contract):
    """What a maker says of a material, for a typical printer at 50 µm; for one pair it says nothing of the printer."""

    low_s: Seconds
    high_s: Seconds
    engine: Engine = Field("mono", description="Light engine it is given for")


@dataclass(frozen=True)
class Scales:
    """How far effects and readings spread, standard deviations of ln exposure."""

    line: float = 0.45
    colour: float = 0.25
    printer: float = 0.35
    pair: float = 0.12
    residual: float = 0.08


USUAL = Scales()
"""Before a shop has calibrations of its own."""


def effects_of(pair: Pair, scales: Scales) -> dict[str, tuple[float, float, float]]:
    """Effects of a pair by name: (weight, prior mean, prior standard deviation)."""
    line = f"line {pair.line}" if pair.line is not None else f"own line {pair.material}"
    effects = {
        "overall": (1.0, *OVERALL),
        line: (1.0, 0.0, scales.line),
        f"colour {pair.material}": (1.0, 0.0, scales.colour),
        f"printer {pair.printer}": (1.0, 0.0, scales.printer),
        f"pair {pair.material} | {pair.printer}": (1.0, 0.0, scales.pair),
    }
    if pair.engine in ENGINES:
        effects[f"engine {pair.engine}"] = (1.0, *ENGINES[pair.engine])
    if pair.penetration_depth_mm is None:
        effects["height"] = ((pair.layer_height_um - REFERENCE_UM) / REFERENCE_UM, *HEIGHT_SLOPE)
    return effects


def range_effects(pair: Pair, span: MakerRange, scales: Scales) -> dict[str, tuple[float, float, float]]:
    """Effects that a maker's range observes: those of the material, and of the engine it is given for."""
    of_the_material = {
        name: effect
        for name, effect in effects_of(pair, scales).items()
        if name.split(" ")[0] in ("overall", "line", "own", "colour")
    }
    if span.engine in ENGINES:
        of_the_material[f"engine {span.engine}"] = (1.0, *ENGINES[span.engine])
    return of_the_material


def known_part(pair: Pair) -> float:
    """What needs no estimate: temperature, and layer height where the penetration depth is known."""
    warm = -WARMTH_PER_C * ((pair.temp_c if pair.temp_c is not None else REFERENCE_C) - REFERENCE_C)
    if pair.penetration_depth_mm is None:
        return warm
    return warm + (pair.layer_height_um - REFERENCE_UM) / (1000 * pair.penetration_depth_mm)
