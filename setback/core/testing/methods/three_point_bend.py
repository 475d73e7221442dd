"""Three-point bend: a bar on two supports, loaded in the middle."""

from __future__ import annotations

from .method import Field, Found, Method, Property, Row, Step
from .words import BROKE, FORCE, OUTSIDE, SHIELD, by_formula, once, section


def _calculate(setup: Row, row: Row) -> Found:
    inputs = {k: row[k] for k in ("force_n", "width_mm", "height_mm", "slope_n_mm") if k in row}
    inputs |= {"method": "three-point-bend", "span_mm": setup["span_mm"]}
    return by_formula(inputs, row, {"strength": "stress_mpa", "modulus": "modulus_mpa"})


METHOD = Method(
    key="three-point-bend",
    name="Three-point bend",
    order=11,
    tells="Bending strength without a clamp's bite; the modulus from the first slope.",
    does_not_tell="Impact, or how it ages.",
    specimen="bend-bar",
    fixture="Two round supports and a round nose, force gauge or press.",
    setup=(Field("span_mm", "Between the supports", "mm", low=5, high=500, usual=60),),
    steps=(
        section("Measure the bar in the middle.", Field("height_mm", "Height", "mm", low=0.1, high=100)),
        Step("Lay it on the supports and press slowly in the middle.", (FORCE, BROKE, OUTSIDE), SHIELD),
        Step(
            "If force and path were logged, give the slope at first.",
            (Field("slope_n_mm", "First slope", "N/mm", low=0.001, high=1e6, optional=True),),
        ),
    ),
    cautions=(SHIELD,),
    properties=(
        Property("strength", "Flexural strength", "MPa", "higher"),
        Property("modulus", "Flexural modulus", "MPa", "higher"),
    ),
    calculate=once(_calculate),
    breaks_in="under the nose",
    source="Beam theory, as in ISO 178: σ = 3FL/(2bh²), E = L³m/(4bh³).",
)
