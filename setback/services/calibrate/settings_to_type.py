"""Settings as lines to type into a slicing program, in the order people meet them there."""

from __future__ import annotations

from collections.abc import Sequence

from ...core.printing.settings import Settings, setting_fields
from ..unit_of_work import View


class SettingLine(View):
    """One setting with its value and unit."""

    name: str
    value: str
    unit: str


def setting_lines(
    settings: Settings, layer_height_um: float, exposure: str | None, delay_includes_motion: bool
) -> list[SettingLine]:
    """Every setting of a print.

    Parameters
    ----------
    exposure : str, optional
        Normal exposure, s, as it is typed; left out where each coupon has its own.
    delay_includes_motion : bool
        The printer counts the rest before exposure from the start of motion, and calls it a delay.
    """
    lines = [SettingLine(name="Layer height", value=f"{layer_height_um / 1000:g}", unit="mm")]
    if exposure is not None:
        lines.append(SettingLine(name="Exposure", value=exposure, unit="s"))
    return lines + [
        SettingLine(name=field.label, value=_as_set(settings, field.key), unit=field.unit)
        for field in setting_fields(delay_includes_motion)
    ]


def as_text(title: str, lines: Sequence[SettingLine], exposures: Sequence[tuple[str, str]]) -> str:
    """A text file of the settings, then the exposure of each coupon, s."""
    wide = max(len(line.name) for line in lines)
    rows = [title, "", *(f"{line.name:<{wide}}  {line.value} {line.unit}".rstrip() for line in lines)]
    return "\n".join([*rows, "", "Exposure of each coupon", *(f"{code:<{wide}}  {s} s" for code, s in exposures), ""])


def _as_set(settings: Settings, key: str) -> str:
    value = getattr(settings, key)
    if key == "anti_aliasing":
        return f"{value}×" if value else "off"
    return f"{value:g}" if isinstance(value, float) else str(value)
