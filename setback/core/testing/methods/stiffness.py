"""Stiffness: a load and how far the part gives way; nothing is broken."""

from __future__ import annotations

from .method import Field, Found, Method, Property, Row, Step
from .words import by_formula, once


def _calculate(setup: Row, row: Row) -> Found:
    inputs = {"method": "stiffness", "load_n": row["load_n"], "deflection_mm": row["deflection_mm"]}
    return by_formula(inputs, row, {"stiffness": "stiffness_n_mm"})


METHOD = Method(
    key="stiffness",
    name="Stiffness",
    order=12,
    tells="How far a bar or a part gives way under a working load.",
    does_not_tell="Strength: a stiff material can lose to a soft one in service.",
    specimen="bend-bar",
    fixture="The same supports and the same place of loading for every specimen.",
    setup=(
        Field(
            "held",
            "How it is held",
            kind="choice",
            choices=("clamped at one end", "on two supports", "as in service"),
            usual="clamped at one end",
        ),
    ),
    steps=(
        Step(
            "Put it in the fixture; set the path to zero.",
        ),
        Step("Load it well below what would break it.", (Field("load_n", "Load", "N", low=0.001, high=10_000),)),
        Step("Read the path after five seconds.", (Field("deflection_mm", "Deflection", "mm", low=0.001, high=500),)),
    ),
    cautions=("Eye protection: it may break after all.",),
    properties=(Property("stiffness", "Stiffness", "N/mm", "higher"),),
    calculate=once(_calculate),
    source="k = F/x, of this shape in this fixture.",
    usual_cv_pct=6,
    minutes_each=2,
)
