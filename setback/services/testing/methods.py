"""The registry of methods, as the screens and the planner see it."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field

from ...core.contract import Problem
from ...core.testing.methods import METHODS, Method
from ...coupon import KINDS
from ..unit_of_work import View


class MethodField(View):
    """A field of a method, as it is asked for."""

    key: str
    label: str
    unit: str
    kind: Literal["number", "numbers", "count", "choice", "rating", "yes"]
    low: float
    high: float
    choices: list[str]
    optional: bool
    hint: str
    usual: float | str | bool | None


class MethodStep(View):
    """A step of a method with its cautions."""

    do: str
    caution: str
    reads: list[MethodField]


class MethodProperty(View):
    """``name`` in full is unique over all methods: "cantilever-bend.strength"."""

    key: str
    name: str
    unit: str
    better: Literal["higher", "lower"]
    rated: bool


class MethodView(View):
    """A method with its steps, properties and source."""

    key: str
    name: str
    tells: str
    does_not_tell: str
    specimen: str | None = Field(description="Kind in the coupon library; None for a real part")
    specimen_title: str | None
    fixture: str
    pattern: Literal["single", "series", "staircase"]
    setup: list[MethodField]
    against: MethodField | None
    steps: list[MethodStep]
    cautions: list[str]
    properties: list[MethodProperty]
    conditions: list[str]
    breaks_in: str
    source: str
    usual_cv_pct: float
    minutes_each: float


def methods() -> list[MethodView]:
    """Every method, in the order people meet them."""
    return [view(method) for method in METHODS.values()]


def view(method: Method) -> MethodView:
    """A method as it is shown."""
    values: dict[str, Any] = {name: getattr(method, name) for name in MethodView.model_fields if hasattr(method, name)}
    title = KINDS[method.specimen](0.05, 0.4).title if method.specimen else None
    return MethodView.model_validate({**values, "specimen_title": title}, from_attributes=True)


def known(key: str) -> Method:
    """The method of a key."""
    method = METHODS.get(key)
    if method is None:
        message = f"There is no method called {key}."
        raise Problem(message, {"method": message})
    return method
