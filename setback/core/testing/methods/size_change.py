"""Size and shrinkage: what a known length became after wash and cure."""

from __future__ import annotations

from .method import Field, Found, Method, Property, Row, Step
from .words import once

AXES = ("x", "y", "z")


def _calculate(setup: Row, row: Row) -> Found:
    off = {axis: row[f"{axis}_mm"] - setup[f"nominal_{axis}_mm"] for axis in AXES if f"{axis}_mm" in row}
    share = [100 * off[axis] / setup[f"nominal_{axis}_mm"] for axis in ("x", "y") if axis in off]
    return Found({"off": 1000 * max(abs(v) for v in off.values()), "shrinkage": -sum(share) / len(share)})


METHOD = Method(
    key="size",
    name="Size and shrinkage",
    order=60,
    tells="How far a finished piece is from its drawing, and how much it shrank.",
    does_not_tell="Edge growth apart from shrinkage: the flat coupon tells those apart.",
    specimen="bend-bar",
    fixture="Calipers, the piece at room temperature.",
    setup=tuple(
        Field(f"nominal_{a}_mm", f"Drawn in {a.upper()}", "mm", low=0.5, high=500, usual=u)
        for a, u in zip(AXES, (70, 10, 4), strict=True)
    ),
    steps=(
        Step(
            "Measure X and Y three times each and take the middle one.",
            (Field("x_mm", "X", "mm", low=0.1, high=500), Field("y_mm", "Y", "mm", low=0.1, high=500)),
        ),
        Step("Measure the height in Z.", (Field("z_mm", "Z", "mm", low=0.1, high=500, optional=True),)),
    ),
    cautions=(),
    properties=(
        Property("off", "Worst size error", "µm", "lower"),
        Property("shrinkage", "Shrinkage in X and Y", "%", "lower"),
    ),
    calculate=once(_calculate),
    source="Measured less drawn; shrinkage is the mean share lost in X and Y.",
    usual_cv_pct=20,
    minutes_each=2,
)
