"""Settings to begin with, from experience: those of the set that is most like, and a base exposure by the lab's own rule."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from pydantic import Field

from ..contract import Contract, Seconds
from ..printing.steps import ceil_to_step


class BaseRule(Contract):
    """How a base exposure is reckoned before anything was tried: a multiple of the exposure, or seconds."""

    multiple: float | None = Field(None, ge=1, le=30, description="Times the exposure of a normal layer")
    seconds: Seconds | None = Field(None, description="The same for every material; wins over a multiple")


@dataclass(frozen=True)
class Kin:
    """A material with a set on a printer, as far as it matters for being alike."""

    code: str
    material_id: str
    line: str | None
    family: str | None
    opacity: str | None
    issued_at: str


LIKENESS: tuple[tuple[Callable[[Kin, Kin], bool], str], ...] = (
    (lambda own, kin: kin.material_id == own.material_id, "this material"),
    (lambda own, kin: own.line is not None and kin.line == own.line, "another colour of its line"),
    (
        lambda own, kin: own.family is not None and (kin.family, kin.opacity) == (own.family, own.opacity),
        "a resin of the same family and opacity",
    ),
    (lambda own, kin: own.family is not None and kin.family == own.family, "a resin of the same family"),
)


def most_like(own: Kin, others: Sequence[Kin]) -> tuple[Kin, str] | None:
    """The set of a printer whose material is most like, the newest of several; and in words how it is alike.

    The same material comes first, then another colour of its line, then its family and opacity, then its family; else the newest set.
    """
    ordered = sorted(others, key=lambda kin: kin.issued_at, reverse=True)
    for is_like, words in LIKENESS:
        found = next((kin for kin in ordered if is_like(own, kin)), None)
        if found is not None:
            return found, words
    return (ordered[0], "the newest set") if ordered else None


def base_exposure(exposure_s: float, rule: BaseRule, step_s: float) -> tuple[float, str] | None:
    """Base exposure by a rule on the printer's step, s, with the rule in words; None where there is no rule."""
    if rule.seconds is not None:
        return rule.seconds, f"{rule.seconds:g} s, as always here"
    if rule.multiple is None:
        return None
    value = round(ceil_to_step(rule.multiple * exposure_s, step_s), 6)
    return value, f"{rule.multiple:g} times the expected {exposure_s:.2g} s"
