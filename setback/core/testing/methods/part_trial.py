"""Part trial: a real part dropped again and again from one height."""

from __future__ import annotations

from .method import Field, Found, Method, Property, Row, Step
from .words import FALL, SHIELD, once


def _calculate(setup: Row, row: Row) -> Found:
    drops = float(row["drops"])
    return Found({"drops": drops}) if row["broke"] else Found({}, {"drops": drops})


METHOD = Method(
    key="part-trial",
    name="Part trial",
    order=32,
    tells="How many drops a real part takes on the floor it will meet.",
    does_not_tell="Why it broke: look where it broke, and test that.",
    specimen=None,
    fixture="A marked height over the stated surface.",
    setup=(
        Field("height_m", "Height", "m", low=0.05, high=20, usual=1.0),
        Field(
            "surface",
            "Surface",
            kind="choice",
            choices=("stone", "concrete", "wood", "deck plate", "sand"),
            usual="concrete",
        ),
        Field("most", "Stop after", "drops", kind="count", low=1, high=1000, usual=20),
    ),
    steps=(
        Step("Drop it in the way it would fall in use; turn it between drops.", caution=FALL),
        Step(
            "Count the drops it survived before it broke, or until you stopped.",
            (
                Field("drops", "Drops survived", "drops", kind="count", low=0, high=100_000),
                Field("broke", "It broke then", kind="yes"),
            ),
            SHIELD,
        ),
    ),
    cautions=(SHIELD, FALL),
    properties=(Property("drops", "Drops survived", "drops", "higher"),),
    calculate=once(_calculate),
    source="Own method: counts to failure; parts still whole enter as survived.",
    usual_cv_pct=40,
    minutes_each=6,
)
