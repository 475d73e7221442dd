"""The calculators: each one pure function, reachable from Python, the API and the command line."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeVar

from pydantic import ValidationError

from .contract import Contract, Problem
from .ladder import LadderInput, LadderResult, exposure_ladder
from .next_exposure import NextExposureInput, NextExposureResult, next_exposure
from .print_time import PrintTimeInput, PrintTimeResult, print_time
from .size import SizeFitInput, SizeFitResult, size_fit
from .verdict import VerdictInput, VerdictResult, coupon_verdict
from .window import process_window
from .window_contract import WindowInput, WindowResult

Model = TypeVar("Model", bound=Contract)


@dataclass(frozen=True)
class Calculator:
    """One calculator with its contract."""

    name: str
    summary: str
    takes: type[Contract]
    gives: type[Contract]
    run: Callable[[Any], Contract]

    def __call__(self, given: Any) -> dict[str, Any]:
        """Validate a JSON-like object, compute, and return a JSON-like object.

        Raises
        ------
        Problem
            With a message per field when the input cannot be used.
        """
        return self.run(validated(self.takes, given)).model_dump(mode="json")


CALCULATORS: dict[str, Calculator] = {
    c.name: c
    for c in (
        Calculator("exposure-ladder", "Exposures for a series of coupons", LadderInput, LadderResult, exposure_ladder),
        Calculator("coupon-verdict", "Judge one coupon: under, ok, over", VerdictInput, VerdictResult, coupon_verdict),
        Calculator(
            "next-exposure", "The next exposure worth a coupon", NextExposureInput, NextExposureResult, next_exposure
        ),
        Calculator("print-time", "Minutes and millilitres of a print", PrintTimeInput, PrintTimeResult, print_time),
        Calculator("size-fit", "Scale error and edge growth of one coupon", SizeFitInput, SizeFitResult, size_fit),
        Calculator(
            "process-window", "Lanes, window and policies of one arm", WindowInput, WindowResult, process_window
        ),
    )
}


def validated(model: type[Model], given: Any) -> Model:
    """Check a JSON-like object against a contract; raise Problem naming every field that is wrong."""
    try:
        return model.model_validate(given)
    except ValidationError as error:
        raise Problem("The input cannot be used as it is.", field_messages(error)) from None


def field_messages(error: ValidationError) -> dict[str, str]:
    """Messages by dotted field path, in words people can act on."""
    messages: dict[str, str] = {}
    for found in error.errors():
        place = ".".join(str(part) for part in found["loc"]) or "input"
        messages.setdefault(place, _words(dict(found)))
    return messages


_WORDS = {
    "missing": "This is needed.",
    "extra_forbidden": "Unknown key: check its spelling.",
    "finite_number": "Give a number; NaN and infinity are not numbers.",
    "float_parsing": "Give a number.",
    "float_type": "Give a number.",
    "int_parsing": "Give a whole number.",
    "int_from_float": "Give a whole number.",
    "int_type": "Give a whole number.",
    "string_type": "Give text.",
    "bool_parsing": "Give true or false.",
    "json_invalid": "This is not valid JSON.",
}


def _words(found: dict[str, Any]) -> str:
    kind, context = found["type"], found.get("ctx", {})
    if kind in _WORDS:
        return _WORDS[kind]
    if kind in ("greater_than", "greater_than_equal", "less_than", "less_than_equal"):
        limit = next(iter(context.values()))
        bound = {"greater_than": "more than", "greater_than_equal": "at least", "less_than": "less than"}
        return f"Give {bound.get(kind, 'at most')} {limit:g}." if isinstance(limit, int | float) else found["msg"]
    if kind == "too_short":
        return "The list is empty: give at least one." if context.get("actual_length") == 0 else "Give more of them."
    if kind == "too_long":
        return f"At most {context.get('max_length')} are taken."
    if kind == "string_too_short":
        return "This is needed."
    if kind == "string_too_long":
        return f"At most {context.get('max_length')} characters."
    if kind == "literal_error":
        return f"Give one of {context.get('expected')}."
    if kind == "value_error":
        return str(context.get("error", found["msg"])) + "."
    return str(found["msg"]) + "."


def schema(name: str) -> dict[str, Any]:
    """JSON Schema of a calculator's input and output."""
    calculator = CALCULATORS[name]
    return {
        "input": calculator.takes.model_json_schema(mode="validation"),
        "output": calculator.gives.model_json_schema(mode="serialization"),
    }


def run_text(name: str, text: str) -> dict[str, Any]:
    """Run a calculator on JSON text, refusing NaN and infinity with the same words as elsewhere."""
    try:
        given = json.loads(text)
    except json.JSONDecodeError as error:
        raise Problem(f"This is not valid JSON: {error.msg} at line {error.lineno}.", {"input": str(error)}) from None
    return CALCULATORS[name](given)
