"""The calculators over HTTP, with the same JSON as the command line."""

from __future__ import annotations

from typing import Any

from flask import Response

from ...core import calculators
from ...services.unit_of_work import NotFound, View
from ..wiring import Blueprint, as_json, json_text, list_of

blueprint = Blueprint("calculators", __name__, url_prefix="/api", tag="Calculators")


class CalculatorView(View):
    """A calculator by its name, with one line on what it does."""

    name: str
    summary: str


@blueprint.get("/calculators")
@blueprint.output(list_of(CalculatorView))
def listed() -> Any:
    """Calculators that can be asked."""
    return {"items": [CalculatorView(name=c.name, summary=c.summary) for c in calculators.CALCULATORS.values()]}


@blueprint.get("/calculators/<name>")
@blueprint.doc(description="JSON Schema of input and output.", responses={200: "Schemas", 404: "No such calculator"})
def schema(name: str) -> Response:
    """JSON Schemas of a calculator's input and result."""
    return as_json(calculators.schema(_known(name)))


@blueprint.post("/calculators/<name>")
@blueprint.doc(description="Compute.", responses={200: "Result", 404: "No such calculator", 422: "Bad input"})
def run(name: str) -> Response:
    """Ask a calculator."""
    return as_json(calculators.run_text(_known(name), json_text()))


def _known(name: str) -> str:
    if name not in calculators.CALCULATORS:
        raise NotFound(f"There is no calculator called {name}.")
    return name
