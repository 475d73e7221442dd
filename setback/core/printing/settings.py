"""Printer settings other than exposure: what makes an arm, and what an issued set carries."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field

from ..contract import Contract, Seconds
from .print_time import PrintTimeInput, Rest


class Settings(Contract):
    """Every setting that coupons of one arm share, with its unit in its name."""

    light_power_pct: Annotated[float, Field(ge=1, le=100)] = 100
    base_exposure_s: Seconds = 24
    base_layers: Annotated[int, Field(ge=0, le=100)] = 4
    transition_layers: Annotated[int, Field(ge=0, le=100)] = 3
    rest_before_s: Rest = 1.0
    rest_after_lift_s: Rest = 0
    rest_after_retract_s: Rest = 0
    lift_mm: Annotated[float, Field(ge=0.01, le=100)] = 6
    lift_mm_min: Annotated[float, Field(ge=1, le=2000)] = 60
    retract_mm_min: Annotated[float, Field(ge=1, le=2000)] = 150
    anti_aliasing: Annotated[int, Field(ge=0, le=16)] = 0

    def timing(self, layers: int, exposure_s: float, delay_includes_motion: bool, **more: Any) -> PrintTimeInput:
        """What :func:`~setback.core.printing.print_time.print_time` needs of a print with these settings.

        Parameters
        ----------
        layers : int
            All layers, base and transition layers included.
        exposure_s : float
            Of a normal layer, s.
        delay_includes_motion : bool
            How the printer counts its delay.
        **more
            Anything else print time takes, such as millilitres or the exposures of a ladder.
        """
        return PrintTimeInput(
            layers=layers,
            exposure_s=exposure_s,
            delay_includes_motion=delay_includes_motion,
            **self.model_dump(include=_TIMED),
            **more,
        )


_TIMED = {
    "base_layers",
    "transition_layers",
    "base_exposure_s",
    "rest_before_s",
    "rest_after_lift_s",
    "rest_after_retract_s",
    "lift_mm",
    "lift_mm_min",
    "retract_mm_min",
}


def difference(first: Settings, other: Settings) -> list[str]:
    """Names of the settings that differ, in the order people meet them."""
    a, b = first.model_dump(), other.model_dump()
    return [name for name in a if a[name] != b[name]]
