"""Fields, steps and cautions that several methods share."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from ...contract import Notice
from ..formulas import StrengthInput, StrengthResult, strength
from .method import Field, Found, Row, Step

SHIELD = "Eye protection and a shield: specimens fly when they break."
HANDS = "Keep hands out of the pendulum's path."
FALL = "Keep hands and feet away from the drop."
DUST = "Sand wet, with a dust mask."
LAMP = "Never look into the curing lamp."
GLOVES = "Nitrile gloves for anything not fully cured."

WIDTH = Field("width_mm", "Width", "mm", low=0.1, high=200, hint="measured, never taken from the drawing")
FORCE = Field("force_n", "Force at the break, or the most reached", "N", low=0.001, high=100_000)
BROKE = Field("broke", "It broke", kind="yes", usual=True)
OUTSIDE = Field("outside", "It broke outside the gauge section", kind="yes", optional=True)


def section(label: str, *more: Field) -> Step:
    """A step that measures width and height of a section, mm, and more where asked."""
    return Step(label, (WIDTH, *more))


def by_formula(inputs: dict[str, Any], row: Row, names: dict[str, str]) -> Found:
    """Values through the strength calculator; a specimen that did not break gives the load it reached."""
    result: StrengthResult = strength(StrengthInput(**inputs))
    values = {key: getattr(result, name) for key, name in names.items() if getattr(result, name) is not None}
    notices: list[Notice] = list(result.warnings)
    if row.get("outside"):
        message = (
            "It broke outside the gauge section: grip or notch may have broken it, not the stress. Kept and flagged."
        )
        notices.append(Notice(code="outside-gauge", message=message))
    if row.get("broke", True):
        return Found(values, {}, notices)
    # A modulus or a stiffness is known without a break; a strength is then only a load that was survived.
    strengths = {k: v for k, v in values.items() if names[k] == "stress_mpa"}
    return Found({k: v for k, v in values.items() if k not in strengths}, strengths, notices)


def once(work: Callable[[Row, Row], Found]) -> Callable[[Row, Sequence[Row]], Found]:
    """A calculation on the one row that a single-shot specimen has."""
    return lambda setup, rows: work(setup, rows[-1])
