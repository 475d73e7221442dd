"""Printer settings other than exposure: what makes an arm, and what an issued set carries."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field

from ..contract import Contract, Seconds
from .print_time import PrintTimeInput, Rest


class Settings(Contract):
    """Every setting that coupons of one arm share, with its unit in its name; in the order people meet them in a slicing program."""

    light_power_pct: Annotated[float, Field(ge=1, le=100, title="Light power")] = 100
    base_exposure_s: Annotated[Seconds, Field(title="Base exposure")] = 24
    base_layers: Annotated[int, Field(ge=0, le=100, title="Base layers")] = 4
    transition_layers: Annotated[int, Field(ge=0, le=100, title="Transition layers")] = 3
    rest_before_s: Annotated[Rest, Field(title="Rest before exposure")] = 1.0
    rest_after_lift_s: Annotated[Rest, Field(title="Rest after lift")] = 0
    rest_after_retract_s: Annotated[Rest, Field(title="Rest after retract")] = 0
    lift_mm: Annotated[float, Field(ge=0.01, le=100, title="Lift and retract distance")] = 6
    lift_mm_min: Annotated[float, Field(ge=1, le=2000, title="Lift speed")] = 60
    retract_mm_min: Annotated[float, Field(ge=1, le=2000, title="Retract speed")] = 150
    anti_aliasing: Annotated[int, Field(ge=0, le=16, title="Anti-aliasing")] = 0

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


def motion_s(settings: Settings) -> float:
    """Seconds of a layer without light: lift, retract and rests."""
    moves = 60 * settings.lift_mm * (1 / settings.lift_mm_min + 1 / settings.retract_mm_min)
    return moves + settings.rest_before_s + settings.rest_after_lift_s + settings.rest_after_retract_s


def light_share(settings: Settings, exposure_s: float) -> float:
    """Share of a long print's time in which its screen passes light, 0 to 1; base layers are few and left out."""
    return exposure_s / (exposure_s + motion_s(settings))


def difference(first: Settings, other: Settings) -> list[str]:
    """Names of the settings that differ, in the order people meet them."""
    a, b = first.model_dump(), other.model_dump()
    return [name for name in a if a[name] != b[name]]


class SettingField(Contract):
    """How a setting is asked for and named, on a form as on a card."""

    key: str
    label: str
    unit: str
    usual: float
    hint: str | None = None


def setting_fields(delay_includes_motion: bool = False, power_adjustable: bool = True) -> list[SettingField]:
    """Every setting that a printer has, by the name it has there.

    Parameters
    ----------
    delay_includes_motion : bool
        It counts the rest before exposure from the start of motion, and calls it a delay.
    power_adjustable : bool
        Its light can be set.
    """
    fields = [
        SettingField(key=key, label=field.title or key, unit=_unit(key), usual=field.default)
        for key, field in Settings.model_fields.items()
        if power_adjustable or key != "light_power_pct"
    ]
    if not delay_includes_motion:
        return fields
    as_delay = {"label": "Delay before exposure", "hint": "Counts from the start of motion on this printer"}
    return [field.model_copy(update=as_delay) if field.key == "rest_before_s" else field for field in fields]


def _unit(key: str) -> str:
    for ending, unit in (("_pct", "%"), ("_mm_min", "mm/min"), ("_mm", "mm"), ("_s", "s")):
        if key.endswith(ending):
            return unit
    return ""
