"""What a requirement of a brief asks, in words: the same on the screen and on the certificate."""

from __future__ import annotations

from ..testing.methods import PROPERTIES
from .verdict import Condition, Requirement

BASES = {"mean": "at the mean", "bound": "at the tolerance bound", "every": "for every specimen"}
SIGNS = {"least": "≥", "most": "≤"}


def asked(requirement: Requirement, unit: str) -> str:
    """The limit, what it is judged at, with which margin, under which conditions."""
    words = f"{SIGNS[requirement.at]} {requirement.limit:g} {unit}".strip()
    if not requirement.property.startswith("set."):
        words += f" {BASES[requirement.basis]}"
    if requirement.margin_pct:
        words += f", with {requirement.margin_pct:g} % margin"
    if requirement.amount:
        words += f", for {requirement.amount:g} ml"
    if requirement.conditions:
        words += "; " + ", ".join(_under(requirement.property, condition) for condition in requirement.conditions)
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
