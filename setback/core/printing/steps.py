"""Exposure steps: printers set exposure in whole steps, so rounding is decimal, half up."""

from __future__ import annotations

from decimal import ROUND_CEILING, ROUND_FLOOR, ROUND_HALF_UP, Decimal

# A value computed in binary floating point may miss a step by a few units in the last place.
_SLACK = Decimal("1e-9")


def _count(value_s: float, step_s: float) -> Decimal:
    return Decimal(repr(float(value_s))) / Decimal(repr(float(step_s)))


def _on_step(count: Decimal, step_s: float) -> float:
    return float(count * Decimal(repr(float(step_s))))


def round_to_step(value_s: float, step_s: float) -> float:
    """Nearest whole step, half up."""
    count = (_count(value_s, step_s) + _SLACK).to_integral_value(ROUND_HALF_UP)
    return _on_step(count, step_s)


def floor_to_step(value_s: float, step_s: float) -> float:
    """Largest whole step not above ``value_s``."""
    return _on_step((_count(value_s, step_s) + _SLACK).to_integral_value(ROUND_FLOOR), step_s)


def ceil_to_step(value_s: float, step_s: float) -> float:
    """Smallest whole step not below ``value_s``."""
    return _on_step((_count(value_s, step_s) - _SLACK).to_integral_value(ROUND_CEILING), step_s)


def move(value_s: float, steps: int, step_s: float) -> float:
    """``value_s`` moved by a whole number of steps."""
    return float(Decimal(repr(float(value_s))) + steps * Decimal(repr(float(step_s))))


def steps_between(low_s: float, high_s: float, step_s: float) -> list[float]:
    """Every whole step from ``low_s`` to ``high_s``, both ends included when they are steps."""
    first = (_count(low_s, step_s) - _SLACK).to_integral_value(ROUND_CEILING)
    last = (_count(high_s, step_s) + _SLACK).to_integral_value(ROUND_FLOOR)
    return [_on_step(Decimal(i), step_s) for i in range(int(first), int(last) + 1)]


def shown(value_s: float, step_s: float) -> str:
    """An exposure with as many decimals as the printer's step has."""
    places = max(-int(Decimal(repr(float(step_s))).normalize().as_tuple().exponent), 0)
    return f"{value_s:.{places}f}"
