"""Hardness of the skin and of a cut core, by thickness: did the cure reach the inside?"""

from __future__ import annotations

from .hardness_cure import SCALES
from .method import Field, Found, Method, Property, Row, Step, mean_of
from .words import GLOVES, once


def _calculate(setup: Row, row: Row) -> Found:
    skin, core = mean_of(row, "skin") or 0.0, mean_of(row, "core") or 0.0
    return Found({"skin": skin, "core": core, "reached": 100 * core / skin})


METHOD = Method(
    key="hardness-core",
    name="Skin and core hardness",
    order=51,
    tells="Whether cure reached the inside of an opaque part of this thickness.",
    does_not_tell="Strength.",
    specimen="hardness-block",
    fixture="Durometer; a fine saw, cut wet.",
    setup=(
        Field("scale", "Scale", kind="choice", choices=SCALES, usual="Shore D"),
        Field("thickness_mm", "Step of the block", "mm", low=1, high=60, usual=8),
    ),
    steps=(
        Step(
            "Read the skin of the step in several places.",
            (Field("skin", "Skin", "Shore", kind="numbers", low=1, high=100),),
        ),
        Step(
            "Cut through the step, wet, and read the middle of the cut.",
            (Field("core", "Core", "Shore", kind="numbers", low=1, high=100),),
            "Uncured resin may be inside: " + GLOVES[0].lower() + GLOVES[1:],
        ),
    ),
    cautions=(GLOVES,),
    properties=(
        Property("skin", "Hardness of the skin", "Shore", "higher"),
        Property("core", "Hardness of the core", "Shore", "higher"),
        Property("reached", "Core against skin", "%", "higher"),
    ),
    calculate=once(_calculate),
    source="Durometer readings as in ISO 868, on the skin and on a fresh cut.",
    usual_cv_pct=3,
    minutes_each=6,
)
