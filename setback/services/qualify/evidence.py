"""Gathers what is known of a set by property: from its own window, its plate, its route, and the tests made with it."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

from ...core.methods import PROPERTIES
from ...core.qualify.verdict import Condition, Demand, EvidenceShown, NotCounted, Offered
from ...core.strength.results import BatchResult
from ...core.window.contract import WindowResult
from ...store import parameter_sets, shelf
from ...store import tests as store
from ...store import validity as lives
from ..bench import Bench
from ..cards import usable_plate
from ..testing.bench_entry import Held, held_tests
from ..testing.results import worked_out

NEWEST = 300
# A cure or an exposure that differs by less than this is the set's own.
SAME = 0.02


@dataclass
class Tried:
    """One group's result of one property, with the rows it comes from."""

    held: Held
    group: store.GroupRow
    made: BatchResult


@dataclass
class Known:
    """All that is looked up once for some sets."""

    sets: dict[str, parameter_sets.SetRow]
    tried: dict[tuple[str, str], list[Tried]] = field(default_factory=dict)
    prices: dict[str, float | None] = field(default_factory=dict)
    cures: dict[str, float] = field(default_factory=dict)


def known(bench: Bench, sets: Sequence[lives.LivingSet], properties: set[str]) -> Known:
    """Look up the tests of all materials at once; only methods that are asked for are worked out."""
    made = Known(parameter_sets.by_ids(bench.db, [s.id for s in sets]))
    materials = sorted({s.material_id for s in sets})
    made.prices = shelf.prices(bench.db, materials)
    routes = sorted({s.route_version_id for s in sets if s.route_version_id})
    made.cures = shelf.cure_minutes(bench.db, routes)
    methods = {PROPERTIES[key][0].key for key in properties if key in PROPERTIES}
    tests = store.tests_of_materials(bench.db, materials, NEWEST) if methods else []
    rows = [row for row in tests if row.method in methods]
    for held in held_tests(bench, rows):
        groups = {g.number: g for g in held.groups}
        for one in worked_out(held):
            for batch in one.batches:
                if batch.n:
                    group = groups[batch.number]
                    key = (group.material_id, f"{held.method.key}.{one.key}")
                    made.tried.setdefault(key, []).append(Tried(held, group, batch))
    return made


def offered(bench: Bench, held: Known, one: lives.LivingSet, demand: Demand) -> Offered:
    """What there is of one property for one set, and what is there and does not count."""
    if demand.property.startswith("set."):
        return _of_set(bench, held, one, demand)
    usable, left_out = [], []
    for tried in held.tried.get((one.material_id, demand.property), []):
        why = _why_not(tried, one, demand.conditions)
        if why:
            left_out.append(NotCounted(source=tried.held.row.code, why=why))
        else:
            usable.append(_shown(tried))
    missing = "It was never tested." if not usable and not left_out else "No test of it counts for this set."
    return Offered(usable=usable[:50], left_out=left_out[:50], missing=missing)


def _why_not(tried: Tried, one: lives.LivingSet, conditions: list[Condition]) -> str:
    group, setup = tried.group, tried.held.row.setup
    if group.parameter_set_id != one.id:
        return f"made with {group.set_code}" if group.set_code else "made without an issued set"
    if group.exposure_s and abs(math.log(group.exposure_s / one.exposure_s)) > SAME:
        return f"made at {group.exposure_s:g} s instead of {one.exposure_s:g} s"
    if group.cure_min is not None and group.route_cure_min and abs(group.cure_min - group.route_cure_min) > SAME:
        return f"cured {group.cure_min:g} min instead of {group.route_cure_min:g}"
    differs = [c for c in conditions if not _same(setup.get(c.key), c.value)]
    if differs:
        fields = {f.key: f for f in tried.held.method.setup}
        return "; ".join(
            f"{fields[c.key].label.lower()} {_said(setup.get(c.key))} instead of {_said(c.value)}" for c in differs
        )
    if group.condition:
        return f"tried with: {group.condition}"
    return ""


def _same(held: Any, wanted: Any) -> bool:
    if isinstance(held, int | float) and isinstance(wanted, int | float) and not isinstance(held, bool):
        return math.isclose(held, wanted, rel_tol=1e-6, abs_tol=1e-9)
    return bool(held == wanted)


def _said(value: Any) -> str:
    return f"{value:g}" if isinstance(value, int | float) and not isinstance(value, bool) else str(value)


def _shown(tried: Tried) -> EvidenceShown:
    made, row = tried.made, tried.held.row
    summary = made.summary
    setup = ", ".join(
        f"{f.label.lower()} {_said(row.setup[f.key])}{f' {f.unit}' if f.unit else ''}"
        for f in tried.held.method.setup
        if row.setup.get(f.key) not in (None, "")
    )
    return EvidenceShown(
        source=row.code, value=made.centre, ci=made.centre_ci,
        bound_low=summary.tolerance_lower if summary else None, bound_high=summary.tolerance_upper if summary else None,
        values=[d.value for d in made.dots if not d.unbroken], unbroken=[d.value for d in made.dots if d.unbroken],
        reliability=summary.reliability_shown if summary else None, sd=summary.sd if summary else None, n=made.n,
        made_under=setup, centre="median" if made.staircase else "mean",
    )  # fmt: skip


def _of_set(bench: Bench, held: Known, one: lives.LivingSet, demand: Demand) -> Offered:
    row = held.sets[one.id]
    told = SET_FACTS[demand.property](bench, held, one, row, demand)
    if told is None:
        return Offered(missing=NOT_SAID.get(demand.property, "The set does not say."))
    return Offered(usable=[told])


def _fact(code: str, value: float | None) -> EvidenceShown | None:
    return None if value is None else EvidenceShown(source=code, value=value, ci=None, exact=True, n=1)


def _growth(one: lives.LivingSet, row: parameter_sets.SetRow) -> EvidenceShown | None:
    near = [p for p in WindowResult.model_validate(row.result).predictions if abs(p.exposure_s - row.exposure_s) < 1e-9]
    if not near or near[0].growth_um is None:
        return None
    ci = near[0].growth_ci_um
    # Growth is asked for as a size: a shrunk edge is as wrong as a grown one.
    value = abs(near[0].growth_um)
    if ci is None:
        return EvidenceShown(source=one.code, value=value, ci=None, exact=True, n=1)
    low, high = sorted((abs(ci[0]), abs(ci[1])))
    return EvidenceShown(
        source=one.code, value=value, ci=(0.0 if ci[0] < 0 < ci[1] else low, high), n=len(row.input["coupons"])
    )


def _finest(one: lives.LivingSet, row: parameter_sets.SetRow, kind: str) -> EvidenceShown | None:
    """The finest wall that stood with no more light than the set's, or slot that stayed open with no less."""
    whole = {"walls": "standing", "slots": "open"}[kind]
    sizes = [
        f["size_mm"]
        for coupon in row.input["coupons"]
        if (coupon["exposure_s"] <= row.exposure_s * 1.001 if kind == "walls" else coupon["exposure_s"] >= row.exposure_s * 0.999)
        for f in coupon.get(kind, [])
        if f[whole] == f["of"] and not f.get("partial")
    ]  # fmt: skip
    return _fact(one.code, min(sizes, default=None))


def _cost(held: Known, one: lives.LivingSet, demand: Demand) -> EvidenceShown | None:
    price = held.prices.get(one.material_id)
    return _fact(one.code, None if price is None else price * (demand.amount or 0) / 1000)


NOT_SAID = {
    "set.latitude": "An end of its window is not found: it is only where the ladder stopped, or not known well enough."
}
SET_FACTS = {
    "set.latitude": lambda bench, held, one, row, demand: _fact(
        one.code, None if one.latitude_pct is None else round(one.latitude_pct)
    ),
    "set.growth": lambda bench, held, one, row, demand: _growth(one, row),
    "set.wall": lambda bench, held, one, row, demand: _finest(one, row, "walls"),
    "set.slot": lambda bench, held, one, row, demand: _finest(one, row, "slots"),
    "set.tip": lambda bench, held, one, row, demand: _fact(one.code, one.tip_proven_mm),
    "set.plate": lambda bench, held, one, row, demand: _fact(one.code, usable_plate(bench, row)),
    "set.cold": lambda bench, held, one, row, demand: _fact(one.code, one.temp_low_c),
    "set.warm": lambda bench, held, one, row, demand: _fact(one.code, one.temp_high_c),
    "set.cure": lambda bench, held, one, row, demand: _fact(one.code, held.cures.get(one.route_version_id or "")),
    "set.cost": lambda bench, held, one, row, demand: _cost(held, one, demand),
}
