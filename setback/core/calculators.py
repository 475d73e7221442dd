"""The calculators: each one pure function, reachable from Python, the API and the command line."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeVar, get_type_hints

from pydantic import ValidationError

from .blends.blend import blend
from .blends.response import blend_response
from .blends.top_up import top_up
from .calibrate.compare_arms import compare_arms
from .calibrate.ladder import exposure_ladder
from .calibrate.start_exposure import start_exposure
from .calibrate.working_curve import working_curve
from .climate.chamber import cool_down, warm_up
from .climate.heat_fit import warm_up_fit
from .climate.success import success_temperature
from .climate.temperature_effect import temperature_effect
from .climate.viscosity import viscosity_curve
from .climate.water_bath import water_bath
from .contract import Contract, Problem
from .plan.plan_day import plan_day
from .plate.uniformity import plate_uniformity
from .printing.print_time import print_time
from .prints.places import failure_places
from .prints.success import print_success
from .prints.window import print_window
from .reading.gauge_study import gauge_study
from .reading.size import size_fit
from .reading_json import read_json
from .statistics.compare import compare
from .statistics.control_chart import control_chart
from .statistics.sample_size import sample_size
from .statistics.staircase import drop_staircase
from .statistics.summary import sample_summary
from .testing.formulas import strength
from .testing.index import property_index
from .testing.post_cure import post_cure
from .trace.model import trace
from .window.contract import WindowResult
from .window.next_coupon import next_coupon
from .window.next_exposure import next_exposure
from .window.process_window import process_window
from .window.verdict import coupon_verdict

Model = TypeVar("Model", bound=Contract)


@dataclass(frozen=True)
class Calculator:
    """One calculator with its contract."""

    name: str
    summary: str
    takes: type[Contract]
    gives: type[Contract]
    run: Callable[[Any], Contract]

    def __call__(self, inputs: Any) -> dict[str, Any]:
        """Validate a JSON-like object, compute, and return a JSON-like object.

        Raises
        ------
        Problem
            With a message per field when the input cannot be used.
        """
        return self.run(validated(self.takes, inputs)).model_dump(mode="json")


def _calculator(
    name: str, summary: str, run: Callable[[Any], Contract], gives: type[Contract] | None = None
) -> Calculator:
    """The contract is read off the function's own annotations; ``gives`` where it returns one of several of a kind."""
    hints = get_type_hints(run)
    returned = hints.pop("return")
    return Calculator(name, summary, next(iter(hints.values())), gives or returned, run)


CALCULATORS: dict[str, Calculator] = {
    c.name: c
    for c in (
        _calculator("working-curve", "How deep light cures, from squares", working_curve),
        _calculator("exposure-ladder", "Exposures for a series of coupons", exposure_ladder),
        _calculator("coupon-verdict", "Judge one coupon: under, ok, over", coupon_verdict),
        _calculator("next-exposure", "The next exposure worth a coupon", next_exposure),
        _calculator("print-time", "Minutes and millilitres of a print", print_time),
        _calculator("size-fit", "Scale error and edge growth of one coupon", size_fit),
        _calculator("process-window", "Lanes, chances, window and policies of one arm", process_window, WindowResult),
        _calculator("next-coupon", "The next coupon worth printing, or why to stop", next_coupon),
        _calculator("compare-arms", "What changing one setting moved", compare_arms),
        _calculator("plate-uniformity", "Which part of the plate stays inside the window", plate_uniformity),
        _calculator("start-exposure", "A first estimate for a pair never calibrated", start_exposure),
        _calculator("temperature-effect", "Percent of exposure per °C", temperature_effect),
        _calculator("control-chart", "Limits, runs and drift of check coupons", control_chart),
        _calculator("gauge-study", "How far readings by several people can be trusted", gauge_study),
        _calculator("strength", "Stress, modulus, stiffness or energy of one specimen", strength),
        _calculator("drop-staircase", "Median drop height, up and down", drop_staircase),
        _calculator("sample-summary", "Mean, spread, tolerance bound and outlier", sample_summary),
        _calculator("compare", "Groups against a baseline", compare),
        _calculator("sample-size", "Specimens a difference needs", sample_size),
        _calculator("property-index", "One weighted number, and what it hangs on", property_index),
        _calculator("post-cure", "Hardness against minutes under the lamp", post_cure),
        _calculator("blend", "Pours, price and expectations of a recipe", blend),
        _calculator("top-up", "What to pour into a vat with a heel", top_up),
        _calculator("blend-response", "Fractions of an additive that meet every constraint", blend_response),
        _calculator("viscosity-curve", "Viscosity against temperature, and how warm it must be", viscosity_curve),
        _calculator("warm-up", "Minutes, energy and cost to warm a chamber", warm_up),
        _calculator("cool-down", "How long a chamber stays above a floor", cool_down),
        _calculator("warm-up-fit", "What a chamber is, from a logged heating curve", warm_up_fit),
        _calculator("water-bath", "Minutes a bottle stays in warm water", water_bath),
        _calculator("print-success", "How often parts come out whole, against exposure", print_success),
        _calculator("print-window", "Window and chances of a pair, from prints of parts", print_window, WindowResult),
        _calculator("failure-places", "Where on the plate parts fail, against chance", failure_places),
        _calculator("trace", "Causes of a failed print, and the check to make next", trace),
        _calculator("plan-day", "When each task of a day or week begins", plan_day),
        _calculator("success-temperature", "How warm resin must be for prints to succeed", success_temperature),
    )
}


def validated(model: type[Model], inputs: Any) -> Model:
    """Check a JSON-like object against a contract; raise Problem naming every field that is wrong."""
    try:
        return model.model_validate(inputs)
    except ValidationError as error:
        raise Problem("The input cannot be used as it is.", field_messages(error)) from None


def field_messages(error: ValidationError) -> dict[str, str]:
    """Messages by dotted field path, in words people can act on."""
    messages: dict[str, str] = {}
    for problem in error.errors():
        place = ".".join(str(part) for part in problem["loc"]) or "input"
        messages.setdefault(place, _words(dict(problem)))
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


def _words(problem: dict[str, Any]) -> str:
    kind, context = problem["type"], problem.get("ctx", {})
    if kind in _WORDS:
        return _WORDS[kind]
    if kind in ("greater_than", "greater_than_equal", "less_than", "less_than_equal"):
        limit = next(iter(context.values()))
        bound = {"greater_than": "more than", "greater_than_equal": "at least", "less_than": "less than"}
        return f"Give {bound.get(kind, 'at most')} {limit:g}." if isinstance(limit, int | float) else problem["msg"]
    if kind == "too_short":
        if context.get("actual_length") == 0:
            return "The list is empty: give at least one."
        return f"{context.get('actual_length')} are too few: give {context.get('min_length')} at least."
    if kind == "too_long":
        return f"At most {context.get('max_length')} are taken."
    if kind == "string_too_short":
        return "This is needed."
    if kind == "string_too_long":
        return f"At most {context.get('max_length')} characters."
    if kind == "literal_error":
        return f"Give one of {context.get('expected')}."
    if kind == "value_error":
        return str(context.get("error", problem["msg"])) + "."
    return str(problem["msg"]) + "."


def schema(name: str) -> dict[str, Any]:
    """JSON Schema of a calculator's input and output."""
    calculator = CALCULATORS[name]
    return {
        "input": calculator.takes.model_json_schema(mode="validation"),
        "output": calculator.gives.model_json_schema(mode="serialization"),
    }


def run_text(name: str, text: str) -> dict[str, Any]:
    """Run a calculator on JSON text, refusing NaN and infinity with the same words as elsewhere."""
    return CALCULATORS[name](read_json(text))
