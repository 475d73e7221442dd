"""What may be mixed: rules as data (``blend_rules.json``), each with its severity, reason and test."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Literal

from ..contract import Contract

Severity = Literal["forbid", "warn", "note"]


@dataclass(frozen=True)
class PartFacts:
    """What the rules look at in one part."""

    name: str
    fraction: float
    is_dye: bool = False
    family: str | None = None
    wash_class: str | None = None
    chemistry: str | None = None
    maker: str | None = None
    maker_approves: bool | None = None


class BlendRule(Contract):
    """``when`` names the test, ``of`` what it looks at, ``values`` or ``limit`` what it is held against."""

    key: str
    severity: Severity
    when: Literal["differ", "unknown", "together", "share-above", "not-approved"]
    of: str = ""
    values: list[str] = []
    limit: float | None = None
    message: str


class Finding(Contract):
    """A rule of mixing that fired, with its severity and the parts it concerns."""

    key: str
    severity: Severity
    message: str
    materials: list[str]


@cache
def shipped() -> tuple[BlendRule, ...]:
    """The rules that come with Setback, as they stand in ``blend_rules.json``."""
    data = json.loads((files(__package__) / "blend_rules.json").read_text())
    return tuple(BlendRule.model_validate(rule) for rule in data)


def findings(parts: Sequence[PartFacts], rules: Sequence[BlendRule] | None = None) -> list[Finding]:
    """What the rules say of a mixture, forbidding ones first. A single material mixes with nothing."""
    used = [p for p in parts if p.fraction > 0]
    order = {"forbid": 0, "warn": 1, "note": 2}
    fired = [
        Finding(key=rule.key, severity=rule.severity, message=rule.message.format(names=_and(names)), materials=names)
        for rule in rules or shipped()
        if (names := _TESTS[rule.when](rule, used))
    ]
    return sorted(fired, key=lambda f: order[f.severity])


def _differ(rule: BlendRule, parts: list[PartFacts]) -> list[str]:
    parts_with = [
        (p.name, getattr(p, rule.of)) for p in parts if not p.is_dye and getattr(p, rule.of) not in (None, "unknown")
    ]
    return [name for name, _ in parts_with] if len({value for _, value in parts_with}) > 1 else []


def _unknown(rule: BlendRule, parts: list[PartFacts]) -> list[str]:
    resins = [p for p in parts if not p.is_dye]
    return [p.name for p in resins if getattr(p, rule.of) in (None, "unknown")] if len(resins) > 1 else []


def _together(rule: BlendRule, parts: list[PartFacts]) -> list[str]:
    by_value = {value: [p.name for p in parts if getattr(p, rule.of) == value] for value in rule.values}
    return [name for names in by_value.values() for name in names] if all(by_value.values()) else []


def _share_above(rule: BlendRule, parts: list[PartFacts]) -> list[str]:
    dyes = [p for p in parts if p.is_dye]
    return [p.name for p in dyes] if sum(p.fraction for p in dyes) > (rule.limit or 0) else []


def _not_approved(rule: BlendRule, parts: list[PartFacts]) -> list[str]:
    makers = {p.maker for p in parts if p.maker}
    return [p.name for p in parts if not p.maker_approves] if len(parts) > 1 and len(makers) > 1 else []


_TESTS: dict[str, Callable[[BlendRule, list[PartFacts]], list[str]]] = {
    "differ": _differ,
    "unknown": _unknown,
    "together": _together,
    "share-above": _share_above,
    "not-approved": _not_approved,
}


def _and(names: Sequence[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and {names[-1]}"
