"""A bottle in warm water: two masses that share their heat, none of it lost.

Method: both approach one equilibrium with τ = 1/(G·(1/C_water + 1/C_resin)).
"""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ..contract import Contract, Notice, Problem
from .chamber import after, reach_s
from .quantities import Celsius

WATER_J_G_K = 4.18
WATER_G_ML = 0.998
HOTTEST_BATH_C = 45.0


class WaterBathInput(Contract):
    """A bottle of resin in a bath of water: millilitres, grams, °C."""

    bath_ml: Annotated[float, Field(gt=0, le=200_000)]
    bath_c: Celsius
    resin_g: Annotated[float, Field(gt=0, le=50_000)]
    resin_c: Celsius
    resin_heat_capacity_j_g_k: Annotated[float, Field(gt=0, le=10)] = 1.8
    conductance_w_per_k: Annotated[float, Field(gt=0, le=1000)] = Field(
        4.5, description="Through the wall of the bottle; about 4.5 for a litre bottle that is turned now and then"
    )
    target_c: Celsius


class WaterBathResult(Contract):
    """When the resin is warm enough, s, the temperature both come to, and the water it would take."""

    equilibrium_c: float
    time_constant_s: float
    time_to_target_s: float | None
    bath_needed_ml: float | None = Field(description="Water of this temperature that could just warm it so far")
    resin_curve_c: list[tuple[float, float]] = Field(description="Seconds and °C")
    warnings: list[Notice]


def water_bath(inputs: WaterBathInput) -> WaterBathResult:
    """How long a bottle stays in the bath.

    Raises
    ------
    Problem
        When the bath is hotter than 45 °C.
    """
    if inputs.bath_c > HOTTEST_BATH_C:
        message = (
            f"Warm water of {HOTTEST_BATH_C:g} °C at most: hotter water cures or ages resin at the wall, "
            "builds pressure in the bottle and drives out vapour."
        )
        raise Problem(message, {"bath_c": message})
    water = inputs.bath_ml * WATER_G_ML * WATER_J_G_K
    resin = inputs.resin_g * inputs.resin_heat_capacity_j_g_k
    end = (water * inputs.bath_c + resin * inputs.resin_c) / (water + resin)
    tau = 1 / (inputs.conductance_w_per_k * (1 / water + 1 / resin))
    time_s = reach_s(inputs.resin_c, inputs.target_c, end, tau)
    warnings, needed = [], None
    if time_s is None and inputs.target_c > inputs.resin_c:
        if inputs.bath_c > inputs.target_c:
            needed = resin * (inputs.target_c - inputs.resin_c) / (inputs.bath_c - inputs.target_c)
            needed /= WATER_G_ML * WATER_J_G_K
            message = (
                f"Bottle and bath end at {end:.1f} °C. Take more than {needed:.0f} ml of water, or change it once."
            )
        else:
            message = f"The bath is no warmer than the {inputs.target_c:g} °C that are wanted."
        warnings.append(Notice(code="unreachable", message=message))
    if time_s is None and inputs.target_c <= inputs.resin_c:
        time_s = 0.0
    long = 5 * tau
    return WaterBathResult(
        equilibrium_c=end,
        time_constant_s=tau,
        time_to_target_s=time_s,
        bath_needed_ml=needed,
        resin_curve_c=[(long * i / 40, after(inputs.resin_c, end, tau, long * i / 40)) for i in range(41)],
        warnings=warnings,
    )
