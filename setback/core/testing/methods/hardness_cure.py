"""Hardness against cure time: when more minutes under the lamp stop helping."""

from __future__ import annotations

from .method import Field, Found, Method, Property, Row, Step, mean_of
from .words import LAMP, once

SCALES = ("Shore D", "Shore A")


def _calculate(setup: Row, row: Row) -> Found:
    return Found({"hardness": mean_of(row, "readings") or 0.0})


METHOD = Method(
    key="hardness-cure",
    name="Hardness against cure time",
    order=50,
    tells="How hard the skin gets with minutes under the lamp, and when it has had enough.",
    does_not_tell="Whether the inside is cured: read a cut core for that.",
    specimen="hardness-block",
    fixture="Durometer, flat on the block, at least 6 mm thick.",
    setup=(Field("scale", "Scale", kind="choice", choices=SCALES, usual="Shore D"),),
    steps=(
        Step("Cure each block for its own minutes; let it cool to the room.", caution=LAMP),
        Step(
            "Read five places at least 6 mm apart, one second after contact.",
            (
                Field(
                    "readings",
                    "Readings",
                    "Shore",
                    kind="numbers",
                    low=1,
                    high=100,
                    hint="several, with spaces between",
                ),
            ),
        ),
    ),
    cautions=(LAMP,),
    properties=(Property("hardness", "Hardness of the skin", "Shore", "higher"),),
    calculate=once(_calculate),
    source="Durometer readings as in ISO 868; the curve is first order in time.",
    usual_cv_pct=3,
    minutes_each=3,
)
