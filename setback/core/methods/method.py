"""What a test method consists of: specimen, fixture, steps with their readings, cautions, calculation and source."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from ..contract import Notice, Problem

Kind = Literal["number", "numbers", "count", "choice", "rating", "yes"]
Row = Mapping[str, Any]
# What a group as a whole is worked out by: each specimen alone, or the drops of all in their order.
Pattern = Literal["single", "series", "staircase"]


@dataclass(frozen=True)
class Field:
    """One thing to enter: for the whole test, or for each specimen.

    ``unit`` is the unit a value is kept in; other common units are understood at the screen. ``low`` and ``high`` are
    what can be at all; a value outside them is refused.
    """

    key: str
    label: str
    unit: str = ""
    kind: Kind = "number"
    low: float = 0.0
    high: float = 1e6
    choices: tuple[str, ...] = ()
    optional: bool = False
    hint: str = ""
    usual: float | str | bool | None = None


@dataclass(frozen=True)
class Step:
    """One thing to do, the readings it gives, and the caution where the danger is."""

    do: str
    reads: tuple[Field, ...] = ()
    caution: str = ""


@dataclass(frozen=True)
class Property:
    """What comes out. ``rated`` properties are opinions on a scale: they have no tolerance bound."""

    key: str
    name: str
    unit: str
    better: Literal["higher", "lower"]
    rated: bool = False


@dataclass(frozen=True)
class Found:
    """A specimen's result: values by property, loads reached without breaking, and what must be said."""

    values: Mapping[str, float] = field(default_factory=dict)
    unbroken: Mapping[str, float] = field(default_factory=dict)
    notices: Sequence[Notice] = ()


@dataclass(frozen=True)
class Method:
    """One way of testing. ``specimen`` is a kind of the coupon library, or None for a real part."""

    key: str
    name: str
    order: int
    tells: str
    does_not_tell: str
    specimen: str | None
    fixture: str
    setup: tuple[Field, ...]
    steps: tuple[Step, ...]
    cautions: tuple[str, ...]
    properties: tuple[Property, ...]
    calculate: Callable[[Row, Sequence[Row]], Found]
    source: str
    pattern: Pattern = "single"
    # What a series is read against: cycles, minutes.
    against: Field | None = None
    # The gauge section, where a break counts; empty when the method has none.
    breaks_in: str = ""
    # Ways the same material is tried side by side.
    conditions: tuple[str, ...] = ()
    usual_cv_pct: float = 8.0
    minutes_each: float = 4.0

    @property
    def reads(self) -> tuple[Field, ...]:
        """Every field of a specimen, in the order of the steps; what a series is read against comes first."""
        return ((self.against,) if self.against else ()) + tuple(f for step in self.steps for f in step.reads)


def checked_setup(method: Method, given: Row) -> dict[str, Any]:
    """The settings of a whole test, checked; raises Problem naming the fields that are wrong."""
    return _checked(method.setup, given, "The test is not set up yet.")


def checked_row(method: Method, given: Row) -> dict[str, Any]:
    """What was read off one specimen, checked.

    Raises
    ------
    Problem
        Naming each field that is missing or cannot be. A reading whose section has not been measured is refused: the
        section comes first.
    """
    return _checked(method.reads, given, "The specimen cannot be kept like this.")


def _checked(fields: Sequence[Field], given: Row, said: str) -> dict[str, Any]:
    wrong = {key: "This method does not ask for it." for key in given if key not in {f.key for f in fields}}
    held: dict[str, Any] = {}
    for one in fields:
        value = given.get(one.key)
        if value is None or value == "" or value == []:
            if not one.optional:
                wrong[one.key] = f"{one.label} is needed."
            continue
        problem = _problem(one, value)
        if problem:
            wrong[one.key] = problem
        else:
            held[one.key] = value
    if wrong:
        raise Problem(said, wrong)
    return held


def _problem(one: Field, value: Any) -> str | None:
    if one.kind == "yes":
        return None if isinstance(value, bool) else "Say yes or no."
    if one.kind == "choice":
        return None if value in one.choices else f"One of: {', '.join(one.choices)}."
    several = value if one.kind == "numbers" and isinstance(value, list | tuple) else [value]
    for number in several:
        if isinstance(number, bool) or not isinstance(number, int | float) or not math.isfinite(number):
            return "Give a number."
        if one.kind in ("count", "rating") and number != int(number):
            return "Give a whole number."
        if not one.low <= number <= one.high:
            return f"Between {one.low:g} and {one.high:g}{' ' + one.unit if one.unit else ''}."
    return None


def mean_of(row: Row, key: str) -> float | None:
    """The mean of several readings of one thing, or the one reading."""
    held = row.get(key)
    if held is None:
        return None
    several = held if isinstance(held, list | tuple) else [held]
    return math.fsum(several) / len(several)
