"""Gathers what is known of a set by property: from its own window, its plate, its route, and the tests made with it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

from ...core.qualify.verdict import Condition, EvidenceShown, NotCounted, Offered, Requirement
from ...core.testing.methods import PROPERTIES
from ...core.testing.results import BatchResult
from ...core.window.contract import window_outcome
from ...store import shelf
from ...store import testing as store
from ...store.sets import parameter_sets
from ...store.sets import validity as lives
from ..sets.cards import usable_plate
from ..testing.print_spread import OtherTests
from ..testing.records import Held, held_tests
from ..testing.results import worked_out
from ..unit_of_work import UnitOfWork

NEWEST = 300
# A cure or an exposure that differs by less than this is the set's own.
SAME = 0.02


@dataclass
class Tried:
    """One group's result of one property, with the rows it comes from."""

    record: Held
    group: store.GroupRow
    made: BatchResult


@dataclass
class Known:
    """All that is looked up once for some sets."""

    sets: dict[str, parameter_sets.SetRow]
    tried: dict[tuple[str, str], list[Tried]] = field(default_factory=dict)
    prices: dict[str, float | None] = field(default_factory=dict)
    cures: dict[str, float] = field(default_factory=dict)


def known(work: UnitOfWork, sets: Sequence[lives.LivingSet], properties: set[str]) -> Known:
    """Look up the tests of all materials at once; only methods that are asked for are worked out."""
    evidence = Known(parameter_sets.by_ids(work.db, [s.id for s in sets]))
    materials = sorted({s.material_id for s in sets})
    evidence.prices = shelf.prices(work.db, materials)
    routes = sorted({s.route_version_id for s in sets if s.route_version_id})
    evidence.cures = shelf.cure_minutes(work.db, routes)
    methods = {PROPERTIES[key][0].key for key in properties if key in PROPERTIES}
    tests = store.tests_of_materials(work.db, materials, NEWEST) if methods else []
    rows = [row for row in tests if row.method in methods]
    others = OtherTests(work)
    for record in held_tests(work, rows):
        groups = {g.number: g for g in record.groups}
        for prop in worked_out(record, earlier=others.spreads(record)):
            for batch in prop.batches:
                if batch.n:
                    group = groups[batch.number]
                    key = (group.material_id, f"{record.method.key}.{prop.key}")
                    evidence.tried.setdefault(key, []).append(Tried(record, group, batch))
    return evidence


def offered(work: UnitOfWork, evidence: Known, living_set: lives.LivingSet, requirement: Requirement) -> Offered:
    """What there is of one property for one set, and what is there and does not count."""
    if requirement.property.startswith("set."):
        return _of_set(work, evidence, living_set, requirement)
    usable, left_out = [], []
    for trial in evidence.tried.get((living_set.material_id, requirement.property), []):
        reason = _why_not(trial, living_set, requirement.conditions)
        if reason:
            left_out.append(NotCounted(source=trial.record.row.code, why=reason))
        else:
            usable.append(_shown(trial))
    missing = "It was never tested." if not usable and not left_out else "No test of it counts for this set."
    return Offered(usable=usable[:50], left_out=left_out[:50], missing=missing)


def _why_not(trial: Tried, living_set: lives.LivingSet, conditions: list[Condition]) -> str:
    group, setup = trial.group, trial.record.row.setup
    if group.parameter_set_id != living_set.id:
        return f"made with {group.set_code}" if group.set_code else "made without an issued set"
    if group.exposure_s and abs(math.log(group.exposure_s / living_set.exposure_s)) > SAME:
        return f"made at {group.exposure_s:g} s instead of {living_set.exposure_s:g} s"
    if group.cure_min is not None and group.route_cure_min and abs(group.cure_min - group.route_cure_min) > SAME:
        return f"cured {group.cure_min:g} min instead of {group.route_cure_min:g}"
    differs = [c for c in conditions if not _same(setup.get(c.key), c.value)]
    if differs:
        fields = {f.key: f for f in trial.record.method.setup}
        return "; ".join(
            f"{fields[c.key].label.lower()} {_said(setup.get(c.key))} instead of {_said(c.value)}" for c in differs
        )
    if group.condition:
        return f"tried with: {group.condition}"
    return ""


def _same(value: Any, required: Any) -> bool:
    if isinstance(value, int | float) and isinstance(required, int | float) and not isinstance(value, bool):
        return math.isclose(value, required, rel_tol=1e-6, abs_tol=1e-9)
    return bool(value == required)


def _said(value: Any) -> str:
    return f"{value:g}" if isinstance(value, int | float) and not isinstance(value, bool) else str(value)


def _shown(trial: Tried) -> EvidenceShown:
    result, row = trial.made, trial.record.row
    summary = result.summary
    setup = ", ".join(
        f"{f.label.lower()} {_said(row.setup[f.key])}{f' {f.unit}' if f.unit else ''}"
        for f in trial.record.method.setup
        if row.setup.get(f.key) not in (None, "")
    )
    return EvidenceShown(
        source=row.code,
        value=result.centre,
        ci=result.centre_ci,
        bound_low=summary.bound_lower if summary else None,
        bound_high=summary.bound_upper if summary else None,
        values=[d.value for d in result.dots if not d.unbroken],
        unbroken=[d.value for d in result.dots if d.unbroken],
        reliability=summary.reliability_shown if summary else None,
        sd=summary.sd if summary else None,
        n=result.n,
        prints=result.prints,
        made_under=setup,
        centre="median" if result.staircase else "mean",
    )


def _of_set(work: UnitOfWork, evidence: Known, living_set: lives.LivingSet, requirement: Requirement) -> Offered:
    row = evidence.sets[living_set.id]
    fact = SET_FACTS[requirement.property](work, evidence, living_set, row, requirement)
    if fact is None:
        return Offered(missing=NOT_SAID.get(requirement.property, "The set does not say."))
    return Offered(usable=[fact])


def _fact(code: str, value: float | None) -> EvidenceShown | None:
    return None if value is None else EvidenceShown(source=code, value=value, ci=None, exact=True, n=1)


def _growth(living_set: lives.LivingSet, row: parameter_sets.SetRow) -> EvidenceShown | None:
    near = [p for p in window_outcome(row.result).predictions if abs(p.exposure_s - row.exposure_s) < 1e-9]
    if not near or near[0].growth_um is None:
        return None
    ci = near[0].growth_ci_um
    # Growth is asked for as a size: a shrunk edge is as wrong as a grown one.
    value = abs(near[0].growth_um)
    if ci is None:
        return EvidenceShown(source=living_set.code, value=value, ci=None, exact=True, n=1)
    low, high = sorted((abs(ci[0]), abs(ci[1])))
    return EvidenceShown(
        source=living_set.code,
        value=value,
        ci=(0.0 if ci[0] < 0 < ci[1] else low, high),
        n=len(row.input.get("coupons", [])),
    )


def _finest(living_set: lives.LivingSet, row: parameter_sets.SetRow, kind: str) -> EvidenceShown | None:
    """The finest wall that stood with no more light than the set's, or slot that stayed open with no less."""
    whole = {"walls": "standing", "slots": "open"}[kind]
    sizes = [
        f["size_mm"]
        for coupon in row.input.get("coupons", [])
        if (
            coupon["exposure_s"] <= row.exposure_s * 1.001
            if kind == "walls"
            else coupon["exposure_s"] >= row.exposure_s * 0.999
        )
        for f in coupon.get(kind, [])
        if f[whole] == f["of"] and not f.get("partial")
    ]
    return _fact(living_set.code, min(sizes, default=None))


def _cost(evidence: Known, living_set: lives.LivingSet, requirement: Requirement) -> EvidenceShown | None:
    price = evidence.prices.get(living_set.material_id)
    return _fact(living_set.code, None if price is None else price * (requirement.amount or 0) / 1000)


NOT_SAID = {
    "set.latitude": "An end of its window is not found: it is only where the ladder stopped, or not known well enough."
}
SET_FACTS = {
    "set.latitude": lambda work, evidence, living_set, row, requirement: _fact(
        living_set.code, None if living_set.latitude_pct is None else round(living_set.latitude_pct)
    ),
    "set.growth": lambda work, evidence, living_set, row, requirement: _growth(living_set, row),
    "set.wall": lambda work, evidence, living_set, row, requirement: _finest(living_set, row, "walls"),
    "set.slot": lambda work, evidence, living_set, row, requirement: _finest(living_set, row, "slots"),
    "set.tip": lambda work, evidence, living_set, row, requirement: _fact(living_set.code, living_set.tip_proven_mm),
    "set.plate": lambda work, evidence, living_set, row, requirement: _fact(living_set.code, usable_plate(work, row)),
    "set.cold": lambda work, evidence, living_set, row, requirement: _fact(living_set.code, living_set.temp_low_c),
    "set.warm": lambda work, evidence, living_set, row, requirement: _fact(living_set.code, living_set.temp_high_c),
    "set.cure": lambda work, evidence, living_set, row, requirement: _fact(
        living_set.code, evidence.cures.get(living_set.route_version_id or "")
    ),
    "set.cost": lambda work, evidence, living_set, row, requirement: _cost(evidence, living_set, requirement),
}
