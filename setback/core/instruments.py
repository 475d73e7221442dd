"""Small instruments of the bench: what each kind measures, and how what it says is read. Anything else it says is a fault, never a value."""

from __future__ import annotations

import json
import math
import re
from dataclasses import dataclass


@dataclass(frozen=True)
class InstrumentKind:
    """What a kind of instrument measures: its unit, and between which values a reading is one."""

    unit: str
    low: float
    high: float
    decimals: int
    fills_fields: bool = False
    """Its button puts a reading into the field that has the focus."""


INSTRUMENT_KINDS = {
    "probe": InstrumentKind("°C", -60, 150, 1),
    "light meter": InstrumentKind("mW/cm²", 0, 500, 2),
    "caliper": InstrumentKind("mm", -300, 300, 2, fills_fields=True),
    "force gauge": InstrumentKind("N", -5000, 5000, 1),
    "scale": InstrumentKind("g", -5000, 30_000, 2, fills_fields=True),
}
MM_PER_INCH = 25.4
LONGEST_ANSWER = 4096
"""Bytes of an answer; an instrument that says more says nonsense."""
LONGEST_FAULT = 200
_LINE = re.compile(r"^\s*([+-]?)\s*(\d{1,6}(?:[.,]\d{1,6})?)\s*([A-Za-z°²/]{0,8})\s*$")
_SERIAL_UNITS = {"caliper": {"": 1.0, "mm": 1.0, "in": MM_PER_INCH}, "scale": {"": 1.0, "g": 1.0, "kg": 1000.0}}


class Nonsense(Exception):
    """What an instrument said is no reading; the message says what it said."""


@dataclass(frozen=True)
class Shown:
    """What an instrument shows: its value in the unit of its kind, how often its button was pressed, and what is wrong with it."""

    value: float | None
    presses: int
    age_s: float
    fault: str | None


def read_answer(kind: str, content: bytes) -> Shown:
    """What an instrument answers over HTTP: a JSON object with ``value``, ``unit``, ``presses``, ``age_s`` and ``fault``.

    Parameters
    ----------
    kind : str
        One of :data:`INSTRUMENT_KINDS`; its unit is the only one that is taken.
    content : bytes
        The body of the answer.

    Raises
    ------
    Nonsense
        When it is no such object, of another unit, or out of the range of its kind.
    """
    if len(content) > LONGEST_ANSWER:
        raise Nonsense("It said more than an instrument has to say.")
    try:
        answer = json.loads(content)
    except (ValueError, RecursionError):
        raise Nonsense("It said something that is no JSON.") from None
    if not isinstance(answer, dict):
        raise Nonsense("It said something that is no reading.")
    presses, age_s, fault = answer.get("presses", 0), answer.get("age_s", 0), answer.get("fault")
    if not isinstance(presses, int) or isinstance(presses, bool) or not 0 <= presses < 2**53:
        raise Nonsense("Its count of presses is no number.")
    if not _is_number(age_s) or age_s < 0:
        raise Nonsense("Its age of the reading is no number of seconds.")
    if fault is not None and not isinstance(fault, str):
        raise Nonsense("Its fault is no text.")
    if answer.get("value") is None:
        return Shown(None, presses, float(age_s), fault[:LONGEST_FAULT] if fault else None)
    unit = INSTRUMENT_KINDS[kind].unit
    if answer.get("unit") != unit:
        raise Nonsense(f"It measures in {str(answer.get('unit'))[:20]}; a {kind} is read in {unit}.")
    value = _in_range(kind, answer["value"])
    return Shown(value, presses, float(age_s), fault[:LONGEST_FAULT] if fault else None)


def read_line(kind: str, line: bytes) -> float:
    """The value of a line that a caliper or a scale sends when its button is pressed: a number, and its unit where it says one.

    Raises
    ------
    Nonsense
        When it is anything else.
    """
    try:
        text = line.decode("ascii").strip("\0\r\n ")
    except UnicodeDecodeError:
        raise Nonsense("It sent something that is no text: is the speed of the line right?") from None
    match = _LINE.match(text)
    if match is None:
        raise Nonsense(f"It sent “{text[:30]}”, which is no reading.")
    sign, number, unit = match.groups()
    factors = _SERIAL_UNITS[kind]
    if unit.lower() not in factors:
        raise Nonsense(f"It measures in {unit}; a {kind} is read in {INSTRUMENT_KINDS[kind].unit}.")
    value = float(number.replace(",", ".")) * factors[unit.lower()]
    return _in_range(kind, -value if sign == "-" else value)


def _is_number(value: object) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool) and math.isfinite(value)


def _in_range(kind: str, value: object) -> float:
    about = INSTRUMENT_KINDS[kind]
    if not isinstance(value, int | float) or not _is_number(value):
        raise Nonsense("Its value is no number.")
    if not about.low <= value <= about.high:
        raise Nonsense(f"It shows {value:g} {about.unit}, which no {kind} can.")
    return round(float(value), 4)
