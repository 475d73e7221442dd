"""Flexing: bent to an angle again and again; the set after a minute and the cycles to break."""

from __future__ import annotations

from .method import Field, Found, Method, Property, Row, Step
from .words import GLOVES, SHIELD, once


def _calculate(setup: Row, row: Row) -> Found:
    cycles = float(row["cycles"])
    values = {"set": float(row["set_deg"])} if "set_deg" in row else {}
    if row["broke"]:
        return Found(values | {"cycles": cycles})
    return Found(values, {"cycles": cycles})


METHOD = Method(
    key="flexing",
    name="Flexing",
    order=40,
    tells="How often it bends before it breaks, and how much of a bend stays.",
    does_not_tell="Strength in one pull.",
    specimen="bend-bar",
    fixture="A round edge of the stated radius and a stop at the angle.",
    setup=(
        Field("angle_deg", "Angle", "°", low=1, high=180, usual=45),
        Field("radius_mm", "Edge radius", "mm", low=0.5, high=100, usual=10),
        Field("temp_c", "Temperature of the specimen", "°C", low=-30, high=90, usual=20),
        Field("soak", "Soaked in", kind="choice", choices=("dry", "fresh water", "sea water"), usual="dry"),
        Field("soak_h", "Soaked for", "h", low=0, high=10_000, usual=0),
        Field("most", "Stop after", "cycles", kind="count", low=1, high=1e6, usual=500),
    ),
    steps=(
        Step(
            "Bend it once to the stop, hold a minute, let go; after one minute more read what stays.",
            (Field("set_deg", "Set after one minute", "°", low=0, high=180, optional=True),),
            GLOVES,
        ),
        Step(
            "Bend it to the stop and back until it breaks or you stop.",
            (
                Field("cycles", "Cycles", "cycles", kind="count", low=0, high=1e7),
                Field("broke", "It broke then", kind="yes"),
            ),
            SHIELD,
        ),
    ),
    cautions=(SHIELD,),
    properties=(
        Property("cycles", "Flexes to break", "cycles", "higher"),
        Property("set", "Set after one minute", "°", "lower"),
    ),
    calculate=once(_calculate),
    breaks_in="at the edge",
    source="Own method: counts to break at a stated angle; specimens still whole enter as survived.",
    usual_cv_pct=30,
    minutes_each=8,
)
