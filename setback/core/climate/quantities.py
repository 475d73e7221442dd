"""Quantities every thermal calculator takes, with the limits of what is sensible at a bench."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

Celsius = Annotated[float, Field(ge=-40, le=120)]
Watts = Annotated[float, Field(gt=0, le=20_000)]
LossPerKelvin = Annotated[float, Field(gt=0, le=5_000, description="Heat lost per degree above the room, UA")]
HeatCapacity = Annotated[float, Field(gt=0, le=50_000_000, description="Heat for one degree, C = UA·τ")]

KELVIN = 273.15
