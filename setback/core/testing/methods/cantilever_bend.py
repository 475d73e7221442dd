"""Cantilever bend: a bar clamped at one end, loaded at the other."""

from __future__ import annotations

from .method import Field, Found, Method, Property, Row, Step
from .words import BROKE, FORCE, OUTSIDE, SHIELD, by_formula, once, section


def _calculate(setup: Row, row: Row) -> Found:
    inputs = {k: row[k] for k in ("force_n", "width_mm", "height_mm", "deflection_mm") if k in row}
    inputs |= {"method": "cantilever-bend", "arm_mm": setup["arm_mm"]}
    return by_formula(inputs, row, {"strength": "stress_mpa", "modulus": "modulus_mpa"})


METHOD = Method(
    key="cantilever-bend",
    name="Cantilever bend",
    order=10,
    tells="Bending strength with a clamp and a force gauge; stiffness when the deflection is read.",
    does_not_tell="Impact, or how it ages.",
    specimen="bend-bar",
    fixture="Clamp with a straight edge, force gauge or hanging weights.",
    setup=(Field("arm_mm", "From the clamp to the load", "mm", low=5, high=500, usual=50),),
    steps=(
        section("Measure the bar at the clamp's edge.", Field("height_mm", "Height", "mm", low=0.1, high=100)),
        Step("Clamp it, load the end slowly until it breaks or bends away.", (FORCE, BROKE, OUTSIDE), SHIELD),
        Step(
            "If you read how far the end moved, note it.",
            (Field("deflection_mm", "Deflection at that force", "mm", low=0.01, high=500, optional=True),),
        ),
    ),
    cautions=(SHIELD,),
    properties=(
        Property("strength", "Bending strength", "MPa", "higher"),
        Property("modulus", "Bending modulus", "MPa", "higher"),
    ),
    calculate=once(_calculate),
    breaks_in="within one height of the clamp",
    source="Beam theory (Gere and Goodno, Mechanics of Materials): σ = 6FL/(bh²), E = 4FL³/(bh³δ).",
)
