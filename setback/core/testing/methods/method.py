"""What a test method consists of: specimen, fixture, steps with their readings, cautions, calculation and source."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from ...contract import Notice, Problem

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


def checked_setup(method: Method, row: Row) -> dict[str, Any]:
    """The settings of a whole test, checked; raises Problem naming the fields that are wrong."""
    return _checked(method.setup, row, "The test is not set up yet.")


def checked_row(method: Method, row: Row) -> dict[str, Any]:
    """What was read off one specimen, checked.

    Raises
    ------
    Problem
        Naming each field that is missing or cannot be. A reading whose section has not been measured is refused: the
        section comes first.
    """
    return _checked(method.reads, row, "The specimen cannot be kept like this.")


def _checked(fields: Sequence[Field], row: Row, message: str) -> dict[str, Any]:
    problems = {key: "This method does not ask for it." for key in row if key not in {f.key for f in fields}}
    values: dict[str, Any] = {}
    for field_of in fields:
        value = row.get(field_of.key)
        if value is None or value == "" or value == []:
            if not field_of.optional:
                problems[field_of.key] = f"{field_of.label} is needed."
            continue
        problem = _problem(field_of, value)
        if problem:
            problems[field_of.key] = problem
        else:
            values[field_of.key] = value
    if problems:
        raise Problem(message, problems)
    return values


def _problem(asked_field: Field, value: Any) -> str | None:
    if asked_field.kind == "yes":
        return None if isinstance(value, bool) else "Say yes or no."
    if asked_field.kind == "choice":
        return None if value in asked_field.choices else f"One of: {', '.join(asked_field.choices)}."
    several = value if asked_field.kind == "numbers" and isinstance(value, list | tuple) else [value]
    for number in several:
        if isinstance(number, bool) or not isinstance(number, int | float) or not math.isfinite(number):
            return "Give a number."
        if asked_field.kind in ("count", "rating") and number != int(number):
            return "Give a whole number."
        if not asked_field.low <= number <= asked_field.high:
            return f"Between {asked_field.low:g} and {asked_field.high:g}{' ' + asked_field.unit if asked_field.unit else ''}."
    return None


def mean_of(row: Row, key: str) -> float | None:
    """The mean of several readings of one thing, or the one reading."""
    value = row.get(key)
    if value is None:
        return None
    several = value if isinstance(value, list | tuple) else [value]
    return math.fsum(several) / len(several)
