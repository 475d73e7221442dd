"""Drop test by staircase: after a break lower, after a survival higher; a new disc for every drop."""

from __future__ import annotations

from .method import Field, Found, Method, Property, Row, Step
from .words import FALL, SHIELD, once


def _calculate(setup: Row, row: Row) -> Found:
    # One drop says broke or not at its height; the height that half survive belongs to the group.
    return Found()


METHOD = Method(
    key="drop",
    name="Drop, by staircase",
    order=31,
    tells="The height from which half of the discs break.",
    does_not_tell="What a real part survives: shape and landing decide that.",
    specimen="drop-disc",
    fixture="Guide tube and a round-nosed weight over a ring.",
    setup=(
        Field("mass_kg", "Falling weight", "kg", low=0.001, high=50),
        Field("start_m", "First height", "m", low=0.01, high=20, usual=0.6),
        Field("step_m", "Step", "m", low=0.005, high=5, usual=0.1, hint="about the spread you expect"),
    ),
    steps=(
        Step(
            "Lay a new disc on the ring.",
        ),
        Step("Raise the weight to the height shown.", (Field("height_m", "Height", "m", low=0.001, high=50),), FALL),
        Step("Let it fall; look for a crack against the light.", (Field("broke", "It broke", kind="yes"),), SHIELD),
    ),
    cautions=(SHIELD, FALL),
    properties=(
        Property("height", "Median drop height", "m", "higher"),
        Property("energy", "Median drop energy", "J", "higher"),
    ),
    calculate=once(_calculate),
    pattern="staircase",
    usual_cv_pct=10,
    minutes_each=2,
    source="Dixon and Mood, Journal of the American Statistical Association 43 (1948) 109.",
)
