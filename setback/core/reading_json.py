"""JSON from outside, read with a clear refusal of whatever no person and no program of theirs would send."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

from .contract import Problem

DEEPEST = 40
"""Lists and objects inside one another; our own go to seven."""
SMALLEST = 1e-300
"""Numbers nearer to nothing than this overflow whatever divides by them."""


def read_json(text: str) -> Any:
    """What a text holds.

    Raises
    ------
    Problem
        When it is no JSON, is nested without end, or holds a number of thousands of digits; naming the place of text with a zero
        byte, and of numbers that are all but nothing.
    """
    try:
        inputs = json.loads(text)
    except json.JSONDecodeError as error:
        raise Problem(f"This is not valid JSON: {error.msg} at line {error.lineno}.", {"input": str(error)}) from None
    except RecursionError:
        raise _too_deep() from None
    except ValueError:
        message = "It holds a number of thousands of digits."
        raise Problem(message, {"input": message}) from None
    fields = dict(_odd(inputs, (), 0))
    if fields:
        raise Problem("The input cannot be used as it is.", fields)
    return inputs


def _odd(value: Any, path: tuple[str, ...], depth: int) -> Iterator[tuple[str, str]]:
    if depth > DEEPEST:
        raise _too_deep()
    if isinstance(value, str) and "\0" in value:
        yield ".".join(path) or "input", "This holds a character that no text has (a zero byte): type it again."
    elif isinstance(value, float) and 0 < abs(value) < SMALLEST:
        yield ".".join(path) or "input", "This number is all but nothing: give 0, or the number that was meant."
    elif isinstance(value, dict):
        for name, inner in value.items():
            yield from _odd(inner, (*path, str(name)), depth + 1)
    elif isinstance(value, list):
        for number, inner in enumerate(value):
            yield from _odd(inner, (*path, str(number)), depth + 1)


def _too_deep() -> Problem:
    message = "It is nested too deep."
    return Problem(message, {"input": message})
