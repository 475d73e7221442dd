"""Assembly fit by clearance: which gap presses, slides or is loose."""

from __future__ import annotations

from itertools import pairwise

from ...contract import Notice
from .method import Field, Found, Method, Property, Row, Step
from .words import once

FITS = ("will not go", "press", "slide", "loose")
# Per side, of the fit-pairs specimen, from tight to wide.
CLEARANCES_MM = (0.05, 0.10, 0.15, 0.20, 0.30, 0.40)
_KEYS = tuple(f"c{round(100 * c):02d}" for c in CLEARANCES_MM)


def _calculate(setup: Row, row: Row) -> Found:
    """The widest gap that still presses and the narrowest that slides; looser must not come before tighter."""
    fits = [FITS.index(row[key]) for key in _KEYS]
    notices = []
    if any(b < a for a, b in pairwise(fits)):
        notices.append(
            Notice(code="order", message="A wider gap was rated tighter than a narrower one: try both again.")
        )
    values: dict[str, float] = {}
    for key, name, pick in (("press", "press", max), ("slide", "slide", min)):
        clearances = [c for c, f in zip(CLEARANCES_MM, fits, strict=True) if FITS[f] == name]
        if clearances:
            values[key] = pick(clearances)
    return Found(values, {}, notices)


METHOD = Method(
    key="fit",
    name="Assembly fit",
    order=61,
    tells="The clearance to draw for parts that press together or slide.",
    does_not_tell="How a fit wears: turn it for that.",
    specimen="fit-pairs",
    fixture="Pegs and holes of one print, supports and burrs off.",
    setup=(),
    steps=tuple(
        Step(f"Peg into the hole with {c:.2f} mm a side.", (Field(key, f"{c:.2f} mm", kind="choice", choices=FITS),))
        for key, c in zip(_KEYS, CLEARANCES_MM, strict=True)
    ),
    cautions=(),
    properties=(
        Property("press", "Widest press fit", "mm a side", "higher"),
        Property("slide", "Narrowest sliding fit", "mm a side", "lower"),
    ),
    calculate=once(_calculate),
    source="Own method: fits rated by hand over graded clearances.",
    usual_cv_pct=25,
    minutes_each=4,
)
