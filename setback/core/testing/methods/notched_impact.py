"""Notched pendulum impact, with windage taken off."""

from __future__ import annotations

from .method import Field, Found, Method, Property, Row, Step
from .words import HANDS, SHIELD, by_formula, once, section

_SETUP = ("pendulum_kg", "radius_m", "release_deg", "free_rise_deg")


def _calculate(setup: Row, row: Row) -> Found:
    inputs = {k: setup[k] for k in _SETUP} | {k: row[k] for k in ("rise_deg", "width_mm", "net_depth_mm")}
    return by_formula(
        inputs | {"method": "pendulum-impact"}, row, {"per_area": "per_area_kj_m2", "per_width": "per_width_j_m"}
    )


METHOD = Method(
    key="notched-impact",
    name="Notched impact",
    order=30,
    tells="Energy to break a notched bar in one blow.",
    does_not_tell="Anything about slow loads, or about parts without a notch.",
    specimen="notched-bar",
    fixture="Pendulum with a protractor; the notch faces the hammer.",
    setup=(
        Field("pendulum_kg", "Hammer, with its arm", "kg", low=0.01, high=100),
        Field("radius_m", "Axis to the centre of mass", "m", low=0.01, high=5),
        Field("release_deg", "Let go at", "°", low=1, high=180, hint="from hanging straight down"),
        Field(
            "free_rise_deg",
            "Free rise without a specimen",
            "°",
            low=1,
            high=180,
            hint="swing it empty three times, take the mean",
        ),
    ),
    steps=(
        section(
            "Measure the bar at the notch.", Field("net_depth_mm", "Depth left under the notch", "mm", low=0.1, high=50)
        ),
        Step("Clamp it with the notch level with the clamp, facing the hammer.", caution=HANDS),
        Step(
            "Let the hammer go; read how far it rises.",
            (Field("rise_deg", "Rise after the break", "°", low=0, high=180),),
            SHIELD,
        ),
    ),
    cautions=(SHIELD, HANDS),
    properties=(
        Property("per_area", "Notched impact", "kJ/m²", "higher"),
        Property("per_width", "Notched impact by width", "J/m", "higher"),
    ),
    calculate=once(_calculate),
    source="Energy balance of the pendulum; windage by the angle swung, after ISO 13802.",
    usual_cv_pct=15,
    minutes_each=3,
)
