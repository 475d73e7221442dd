"""What makes a parameter set due for a check or lapses it, and what renews it.

The rules are data (``validity_rules.json``, and the shop's own): each says which kind of event, on what, does what to
which sets, and why. This module applies them; it knows no kind of event by name.
"""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Annotated, Literal

from pydantic import Field

from ..contract import Contract

Subject = Literal["printer", "bottle", "material", "route", "pair", "set"]
Effect = Literal["due", "lapse"]
Renewal = Literal["check", "calibration"]
State = Literal["valid", "due", "lapsed"]

Text = Annotated[str, Field(min_length=2, max_length=200)]


class Rule(Contract):
    """One kind of event or limit, and what it does to sets.

    ``derived`` kinds follow from records and are never entered by hand; ``limit`` is the shop's own number for
    those that need one. ``only`` and ``spares`` narrow the sets: those resting on the same bottle or lot.
    """

    key: Annotated[str, Field(pattern=r"^[a-z][a-z0-9-]{1,39}$")]
    name: Text
    subject: Subject
    effect: Effect
    why: Text
    renewed_by: list[Renewal] = Field(min_length=1)
    derived: bool = False
    limit: float | None = Field(None, gt=0, le=1_000_000)
    unit: str | None = Field(None, max_length=12)
    only: Literal["same-bottle"] | None = None
    spares: Literal["same-lot"] | None = None
    resets_hours: bool = Field(False, description="The printer's screen hours start again at 0")


@dataclass(frozen=True)
class SetFacts:
    """What a set was issued on. Times are ISO 8601 in UTC, so that they sort as text."""

    id: str
    material_id: str
    printer_id: str
    issued_at: str
    bottle_id: str | None = None
    lot: str | None = None
    route_version_id: str | None = None


@dataclass(frozen=True)
class Happening:
    """Something that happened, by the key of its rule; what it concerns is given as far as the rule's subject asks."""

    rule: str
    at: str
    detail: str = ""
    event_id: str | None = None
    printer_id: str | None = None
    material_id: str | None = None
    bottle_id: str | None = None
    lot: str | None = None
    route_version_id: str | None = None
    set_id: str | None = None


@dataclass(frozen=True)
class Check:
    """A check coupon of a set: within limits it renews."""

    set_id: str
    at: str
    passed: bool


class Cause(Contract):
    """Why a set is due or lapsed."""

    rule: str
    name: str
    effect: Effect
    at: str
    detail: str
    why: str
    renewed_by: list[Renewal]
    event_id: str | None


class Validity(Contract):
    """Whether a set holds, is due for a check or lapsed, and why."""

    state: State
    causes: list[Cause] = Field(description="Standing ones, lapsing ones first, newest first")
    renewed_at: str | None = Field(description="The last check coupon within limits")
    by_check: bool = Field(description="One check coupon can renew it")


@cache
def shipped_rules() -> dict[str, Rule]:
    """The rules that ship, by key."""
    text = (files(__package__) / "validity_rules.json").read_text()
    return {rule.key: rule for rule in (Rule.model_validate(row) for row in json.loads(text))}


def touches(rule: Rule, happening: Happening, facts: SetFacts) -> bool:
    """Whether a happening concerns a set at all."""
    if happening.set_id is not None:
        return happening.set_id == facts.id
    if rule.only == "same-bottle":
        return happening.bottle_id is not None and happening.bottle_id == facts.bottle_id
    if rule.spares == "same-lot" and happening.lot is not None and happening.lot == facts.lot:
        return False
    attributes = {
        "printer": ("printer_id",),
        "bottle": ("material_id",),
        "material": ("material_id",),
        "route": ("route_version_id",),
        "pair": ("printer_id", "material_id"),
        "set": (),
    }[rule.subject]
    return bool(attributes) and all(
        getattr(happening, name) is not None and getattr(happening, name) == getattr(facts, name) for name in attributes
    )


def validity(
    facts: SetFacts, happenings: Sequence[Happening], checks: Sequence[Check], rules: dict[str, Rule]
) -> Validity:
    """State of a set from everything that happened after it was issued.

    A check coupon within limits takes away what stood before it and is renewed by a check; one outside limits is a
    happening of its own. What only a calibration renews stands until another version is issued.
    """
    own_checks = sorted((c for c in checks if c.set_id == facts.id and c.at >= facts.issued_at), key=lambda c: c.at)
    renewed_at = max((c.at for c in own_checks if c.passed), default=None)
    causes = []
    for happening in happenings:
        rule = rules.get(happening.rule)
        if rule is None or happening.at < facts.issued_at or not touches(rule, happening, facts):
            continue
        if renewed_at is not None and renewed_at >= happening.at and "check" in rule.renewed_by:
            continue
        causes.append(
            Cause(
                rule=rule.key,
                name=rule.name,
                effect=rule.effect,
                at=happening.at,
                detail=happening.detail,
                why=rule.why,
                renewed_by=rule.renewed_by,
                event_id=happening.event_id,
            )
        )
    causes.sort(key=lambda c: c.at, reverse=True)
    causes.sort(key=lambda c: c.effect != "lapse")
    state: State = "valid" if not causes else "lapsed" if causes[0].effect == "lapse" else "due"
    return Validity(
        state=state,
        causes=causes,
        renewed_at=renewed_at,
        by_check=bool(causes) and all("check" in c.renewed_by for c in causes),
    )
