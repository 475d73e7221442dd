"""Support removal: the force that takes supports off, and what they leave."""

from __future__ import annotations

from .method import Field, Found, Method, Property, Row, Step
from .words import GLOVES, SHIELD, once

SCALE = "0 no mark, 1 felt only, 2 seen, 3 pitted, 4 the part is torn"


def _calculate(setup: Row, row: Row) -> Found:
    return Found({"force": row["force_n"] / row["tips"], "marks": float(row["marks"])})


METHOD = Method(
    key="support-removal",
    name="Support removal",
    order=62,
    tells="How hard supports come off, for each tip, and what they leave behind.",
    does_not_tell="Whether they hold during the print: the support coupon tells that.",
    specimen=None,
    fixture="Force gauge with a hook, the part held down.",
    setup=(
        Field("tip_mm", "Tip diameter", "mm", low=0.05, high=5, usual=0.4),
        Field(
            "when",
            "Taken off",
            kind="choice",
            choices=("before cure", "after cure", "after cure, in warm water"),
            usual="before cure",
        ),
    ),
    steps=(
        Step(
            "Hook a row of supports and pull until they let go.",
            (
                Field("force_n", "Force", "N", low=0.01, high=10_000),
                Field("tips", "Tips in the row", kind="count", low=1, high=1000),
            ),
            SHIELD,
        ),
        Step(
            "Look at the face they stood on.",
            (Field("marks", "Marks", kind="rating", low=0, high=4, hint=SCALE),),
            GLOVES,
        ),
    ),
    cautions=(SHIELD, GLOVES),
    properties=(
        Property("force", "Force for each tip", "N", "lower"),
        Property("marks", "Marks left", "of 4", "lower", rated=True),
    ),
    calculate=once(_calculate),
    source="Own method: pull force shared out over the tips of one row.",
    usual_cv_pct=20,
    minutes_each=3,
)
