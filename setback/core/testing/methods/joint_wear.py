"""Joint wear: a pin turning in its bore, both faces rated as the cycles mount up."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from ...contract import Notice
from .method import Field, Found, Method, Property, Row, Step

POWDER = "A dust mask for the powder; wipe it up damp."

WORN = 2
SCALE = "0 as new, 1 polished, 2 marked, 3 grooved, 4 loose or broken"


def _worst(row: Row) -> float:
    return float(max(row["pin"], row["bore"]))


def _calculate(setup: Row, rows: Sequence[Row]) -> Found:
    """The cycles at which the worse face was first seen marked; until then the count reached is a survival."""
    by_cycles = sorted(rows, key=lambda r: r["cycles"])
    notices = []
    if any(_worst(b) < _worst(a) for a, b in pairwise(by_cycles)):
        notices.append(
            Notice(code="rating-fell", message="A face was rated better at more cycles: rate it again by the pictures.")
        )
    values = {"rating": float(_worst(by_cycles[-1]))}
    worn = next((r for r in by_cycles if _worst(r) >= WORN), None)
    if worn is not None:
        return Found(values | {"cycles": float(worn["cycles"])}, {}, notices)
    return Found(values, {"cycles": float(by_cycles[-1]["cycles"])}, notices)


METHOD = Method(
    key="joint-wear",
    name="Joint wear",
    order=41,
    tells="How many turns a joint takes before its faces are marked.",
    does_not_tell="Wear under sand or grit, unless it is put in.",
    specimen="wear-pair",
    fixture="Crank or drill with a counter, the stated load on the pin.",
    setup=(
        Field("load_n", "Load on the pin", "N", low=0, high=1000, usual=5),
        Field("wet", "Run", kind="choice", choices=("dry", "in fresh water", "in sea water"), usual="dry"),
    ),
    steps=(
        Step("Turn to the next count, stop, wipe, look at both faces under the same light."),
        Step("Rate the pin's face.", (Field("pin", "Pin", kind="rating", low=0, high=4, hint=SCALE),)),
        Step("Rate the bore's face.", (Field("bore", "Bore", kind="rating", low=0, high=4, hint=SCALE),)),
        Step(
            "Note what came off.",
            (Field("marks", "Marks", kind="yes", optional=True), Field("powder", "Powder", kind="yes", optional=True)),
            POWDER,
        ),
    ),
    cautions=(POWDER, "Stop the drive before you touch the joint."),
    properties=(
        Property("cycles", "Turns until marked", "cycles", "higher"),
        Property("rating", "Wear at the end", "of 4", "lower", rated=True),
    ),
    calculate=_calculate,
    pattern="series",
    against=Field("cycles", "At", "cycles", kind="count", low=1, high=1e7),
    conditions=("burr removed", "burr left on"),
    source="Own method: ratings on a 0–4 scale at stated counts; the worse face decides.",
    usual_cv_pct=35,
    minutes_each=15,
)
