"""Closed loop: pulled over two pins, without grips; two legs share the force."""

from __future__ import annotations

from .method import Field, Found, Method, Property, Row, Step
from .words import BROKE, FORCE, OUTSIDE, SHIELD, by_formula, once, section


def _calculate(setup: Row, row: Row) -> Found:
    inputs = {k: row[k] for k in ("force_n", "width_mm", "thickness_mm")} | {"method": "tensile", "legs": 2}
    return by_formula(inputs, row, {"strength": "stress_mpa"})


METHOD = Method(
    key="closed-loop",
    name="Closed loop",
    order=21,
    tells="Pull strength with two pins and a luggage scale; no grips to slip.",
    does_not_tell="A clean tensile strength: the bends at the pins take part.",
    specimen="closed-loop",
    fixture="Two smooth pins and a force gauge.",
    setup=(Field("pin_mm", "Pin diameter", "mm", low=1, high=50, usual=5),),
    steps=(
        section(
            "Measure one leg in the middle; take the thinner leg.",
            Field("thickness_mm", "Thickness", "mm", low=0.1, high=100),
        ),
        Step("Hang it over the pins and pull slowly.", (FORCE, BROKE, OUTSIDE), SHIELD),
    ),
    cautions=(SHIELD, "Hanging weights fall when the loop breaks: feet away."),
    properties=(Property("strength", "Loop strength", "MPa", "higher"),),
    calculate=once(_calculate),
    breaks_in="in a leg, away from the pins",
    source="σ = F/(2·b·h): a closed loop has two legs.",
)
