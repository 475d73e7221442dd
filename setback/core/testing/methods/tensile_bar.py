"""Tensile bar: pulled by its wide ends, it should break in the narrow middle."""

from __future__ import annotations

from .method import Field, Found, Method, Property, Row, Step
from .words import BROKE, FORCE, OUTSIDE, SHIELD, by_formula, once, section


def _calculate(setup: Row, row: Row) -> Found:
    inputs = {k: row[k] for k in ("force_n", "width_mm", "thickness_mm")} | {"method": "tensile", "legs": 1}
    return by_formula(inputs, row, {"strength": "stress_mpa"})


METHOD = Method(
    key="tensile-bar",
    name="Tensile bar",
    order=20,
    tells="Pull strength of the narrow section.",
    does_not_tell="Stiffness, unless the stretch is measured on the bar itself.",
    specimen="tensile-bar",
    fixture="Grips in line, force gauge or hanging weights.",
    setup=(),
    steps=(
        section(
            "Measure the narrow section at its thinnest.", Field("thickness_mm", "Thickness", "mm", low=0.1, high=100)
        ),
        Step("Grip both ends in line and pull slowly.", (FORCE, BROKE, OUTSIDE), SHIELD),
    ),
    cautions=(SHIELD, "Hanging weights fall when the bar breaks: feet away."),
    properties=(Property("strength", "Tensile strength", "MPa", "higher"),),
    calculate=once(_calculate),
    breaks_in="in the narrow section",
    source="σ = F/(b·h), on the section measured.",
)
