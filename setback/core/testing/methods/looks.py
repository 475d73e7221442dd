"""Looks and workability, by rating."""

from __future__ import annotations

from .method import Field, Found, Method, Property, Row, Step
from .words import DUST, once

SCALE = "1 poor, 2 usable, 3 fair, 4 good, 5 as moulded"
ASKED = (
    ("layers", "Layer lines", "Hold it slanted to the light."),
    ("finish", "Finish", "Look for pale patches, orange peel and stains."),
    ("sanding", "Sanding", "Ten strokes of wet paper, then look."),
    ("cutting", "Cutting and drilling", "Drill one hole, cut one edge: does it chip?"),
    ("residue", "Residue after wash", "Wipe a corner with white paper: 5 leaves nothing."),
)


def _calculate(setup: Row, row: Row) -> Found:
    return Found({key: float(row[key]) for key, _, _ in ASKED})


METHOD = Method(
    key="looks",
    name="Looks and workability",
    order=70,
    tells="What a person sees and feels when finishing a part.",
    does_not_tell="Anything that is measured: a rating is one person's word.",
    specimen=None,
    fixture="The same part in the same light; wet paper, a drill, white paper.",
    setup=(Field("light", "Light", kind="choice", choices=("window", "bench lamp"), usual="bench lamp"),),
    steps=tuple(
        Step(
            do,
            (Field(key, name, kind="rating", low=1, high=5, hint=SCALE),),
            DUST if key in ("sanding", "cutting") else "",
        )
        for key, name, do in ASKED
    ),
    cautions=(DUST,),
    properties=tuple(Property(key, name, "of 5", "higher", rated=True) for key, name, _ in ASKED),
    calculate=once(_calculate),
    source="Own method: ratings from 1 to 5.",
    usual_cv_pct=15,
    minutes_each=4,
)
