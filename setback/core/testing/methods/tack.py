"""Tack: a sticky skin can sit on a cured part, so it is noted apart from hardness."""

from __future__ import annotations

from .method import Field, Found, Method, Property, Row, Step
from .words import GLOVES, once

SCALE = "0 dry, 1 a finger lifts clean but feels it, 2 prints stay, 3 pulls at the glove"


def _calculate(setup: Row, row: Row) -> Found:
    return Found({"tack": float(row["tack"])})


METHOD = Method(
    key="tack",
    name="Tack",
    order=52,
    tells="Whether the skin stays sticky after wash and cure.",
    does_not_tell="Whether the part is hard: read that apart.",
    specimen="hardness-block",
    fixture="A gloved finger and a piece of paper.",
    setup=(Field("after_min", "Minutes after cure", "min", low=0, high=100_000, usual=30),),
    steps=(
        Step("Press a gloved finger on a flat face for two seconds.", caution=GLOVES),
        Step("Rate what you feel.", (Field("tack", "Tack", kind="rating", low=0, high=3, hint=SCALE),)),
    ),
    cautions=(GLOVES,),
    properties=(Property("tack", "Tack", "of 3", "lower", rated=True),),
    calculate=once(_calculate),
    source="Own method: a 0–3 rating by touch.",
    usual_cv_pct=30,
    minutes_each=1,
)
