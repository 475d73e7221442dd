"""What a line of a brief asks, in words: the same on the screen and on the certificate."""

from __future__ import annotations

from ..testing.methods import PROPERTIES
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
        words += "; " + ", ".join(_under(demand.property, condition) for condition in demand.conditions)
    return words


def _under(key: str, condition: Condition) -> str:
    """One condition by the label its method gives it."""
    setup = PROPERTIES[key][0].setup if key in PROPERTIES else ()
    field = next((setup_field for setup_field in setup if setup_field.key == condition.key), None)
    name = field.label.lower() if field else condition.key.replace("_", " ")
    shown_value = condition.value
    value = (
        f"{shown_value:g}"
        if isinstance(shown_value, float)
        else "yes"
        if shown_value is True
        else "no"
        if shown_value is False
        else shown_value
    )
    return f"{name} {value} {field.unit if field else ''}".strip()
