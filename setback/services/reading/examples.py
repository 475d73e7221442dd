"""Example pictures: what each part of a coupon looks like with too little, the right and too much light."""

from __future__ import annotations

import json
from functools import cache
from importlib.resources import files
from typing import Any

from pydantic import Field

from ...core.reading.picture.contract import MARGIN_MM
from ...core.reading.practice import Call
from ...simulate.lessons import drawing
from ..unit_of_work import NotFound, View
from .readings import CouponPlan

SHIPPED = files("setback.simulate") / "examples"
CALLS: tuple[Call, ...] = ("under", "right", "over")


class ExamplePicture(View):
    """One coupon of the virtual printer."""

    call: Call = Field(description="How much light it got")
    growth_um: float | None = Field(description="Growth of an edge, µm; null where the coupon has no bar")


class ExamplesView(View):
    """Example pictures of one kind of coupon, and the drawing they share."""

    kind: str
    plan: CouponPlan
    margin_mm: float = Field(description="Ground round the coupon on each picture, mm")
    pictures: list[ExamplePicture]


@cache
def _index() -> dict[str, Any]:
    return json.loads((SHIPPED / "index.json").read_text())  # type: ignore[no-any-return]


def examples(kind: str) -> ExamplesView:
    """Those of a kind.

    Raises
    ------
    NotFound
        When there are none.
    """
    about = _index().get(kind)
    if about is None:
        raise NotFound(f"There are no example pictures of a {kind} coupon.")
    return ExamplesView(
        kind=kind,
        plan=CouponPlan.model_validate(drawing(kind)),
        margin_mm=MARGIN_MM,
        pictures=[ExamplePicture(call=call, growth_um=about["examples"][call]["growth_um"]) for call in CALLS],
    )


def picture(kind: str, call: str) -> bytes:
    """One picture, as JPEG."""
    if call not in CALLS or kind not in _index():
        raise NotFound("There is no such example picture.")
    return (SHIPPED / f"{kind}-{call}.jpg").read_bytes()
