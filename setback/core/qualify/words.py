"""What a line of a brief asks, in words: the same on the screen and on the certificate."""

from __future__ import annotations

from ..methods import PROPERTIES
from .verdict import Condition, Demand

BASES = {"mean": "by the mean", "bound": "by what nine parts in ten keep", "every": "by every specimen"}


def asked(demand: Demand, unit: str) -> str:
    """At least or at most, by what, with which margin, under which conditions."""
    words = f"at {demand.at} {demand.limit:g} {unit}".strip()
    if not demand.property.startswith("set."):
        words += f" {BASES[demand.basis]}"
    if demand.margin_pct:
        words += f", with {demand.margin_pct:g} % margin"
    if demand.amount:
        words += f", for {demand.amount:g} ml"
    if demand.conditions:
        words += "; " + ", ".join(_under(demand.property, one) for one in demand.conditions)
    return words


def _under(key: str, condition: Condition) -> str:
    """One condition by the label its method gives it."""
    setup = PROPERTIES[key][0].setup if key in PROPERTIES else ()
    field = next((one for one in setup if one.key == condition.key), None)
    name = field.label.lower() if field else condition.key.replace("_", " ")
    held = condition.value
    value = f"{held:g}" if isinstance(held, float) else "yes" if held is True else "no" if held is False else held
    return f"{name} {value} {field.unit if field else ''}".strip()
