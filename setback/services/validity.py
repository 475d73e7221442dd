"""State of parameter sets, derived from events, check coupons and records; never stored."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from datetime import datetime

from pydantic import Field

from ..core.contract import Contract, Problem
from ..core.control_chart import ControlChartInput, ControlChartResult, control_chart
from ..core.validity import Check, Happening, Rule, SetFacts, Validity, shipped_rules, validity
from ..store import shelf
from ..store import validity as store
from ..store.rows import insert
from .bench import Bench, Conflict, View

DAYS_PER_MONTH = 30.44
LEAST_CHECKS = 5
"""A drift is looked for from this many check coupons on."""


class LimitInput(Contract):
    limit: float = Field(gt=0, le=1_000_000)


class RulesView(View):
    rules: list[Rule]
    own: list[str] = Field(description="Kinds and limits this shop has set itself")


def rules(bench: Bench) -> dict[str, Rule]:
    """The rules that ship, with the shop's own kinds and limits over them."""
    own = {row.key: Rule.model_validate(row.rule) for row in store.own_rules(bench.db)}
    return {**shipped_rules(), **own}


def rules_view(bench: Bench) -> RulesView:
    return RulesView(rules=list(rules(bench).values()), own=[row.key for row in store.own_rules(bench.db)])


def change_limit(bench: Bench, key: str, given: LimitInput) -> RulesView:
    """Set the shop's own limit of a rule that has one."""
    with bench.write() as answer:
        rule = rules(bench).get(key)
        if rule is None or rule.limit is None:
            said = f"There is no limit called {key}."
            raise Problem(said, {"limit": said})
        _keep(bench, rule.model_copy(update={"limit": given.limit}))
        return answer(rules_view(bench))


def add_rule(bench: Bench, given: Rule) -> RulesView:
    """Add a kind of event of the shop's own: data alone, no code knows it by name."""
    with bench.write() as answer:
        if given.key in shipped_rules():
            said = f"{given.key} is a kind that ships; only its limit can be changed."
            raise Problem(said, {"key": said})
        if given.derived or given.limit is not None:
            said = "A kind of your own is an event that somebody records: it follows from no record by itself."
            raise Problem(said, {"derived": said})
        _keep(bench, given)
        return answer(rules_view(bench))


def forget_rule(bench: Bench, key: str) -> RulesView:
    """Back to what ships; a kind of the shop's own goes, while no event of it is on record."""
    with bench.write() as answer:
        if key not in shipped_rules() and bench.db.execute("SELECT 1 FROM event WHERE kind = ?", (key,)).fetchone():
            raise Conflict("Events of this kind are on record: it stays.")
        bench.db.execute("DELETE FROM validity_rule WHERE key = ?", (key,))
        return answer(rules_view(bench))


def _keep(bench: Bench, rule: Rule) -> None:
    bench.db.execute("DELETE FROM validity_rule WHERE key = ?", (rule.key,))
    insert(
        bench.db, "validity_rule", key=rule.key, rule=rule.model_dump(mode="json"), technician_id=bench.technician_id(),
        changed_at=bench.now(),
    )  # fmt: skip


def states(bench: Bench, sets: Sequence[store.LivingSet]) -> dict[str, Validity]:
    """State of each set by its id. A fixed number of queries, whatever the number of sets."""
    if not sets:
        return {}
    held_rules = rules(bench)
    checks = store.checks_of_sets(bench.db, [s.id for s in sets])
    happenings = [*_events(bench, sets), *_derived(bench, sets, checks, held_rules)]
    # A happening that names its set lies with that set, so that no set looks through those of its neighbours.
    by_place: dict[str | None, list[Happening]] = defaultdict(list)
    for happening in happenings:
        by_place[happening.set_id or happening.printer_id].append(happening)
    made: dict[str, list[Check]] = defaultdict(list)
    for c in checks:
        made[c.parameter_set_id].append(Check(set_id=c.parameter_set_id, at=c.at, passed=c.passed))
    return {
        s.id: validity(facts(s), [*by_place[s.printer_id], *by_place[None], *by_place[s.id]], made[s.id], held_rules)
        for s in sets
    }


def facts(held: store.LivingSet) -> SetFacts:
    return SetFacts(
        id=held.id, material_id=held.material_id, printer_id=held.printer_id, issued_at=held.issued_at,
        bottle_id=held.bottle_id, lot=held.lot, route_version_id=held.route_version_id,
    )  # fmt: skip


def _events(bench: Bench, sets: Sequence[store.LivingSet]) -> list[Happening]:
    printers, materials = sorted({s.printer_id for s in sets}), sorted({s.material_id for s in sets})
    since = min(s.issued_at for s in sets)
    return [happening_of(e) for e in store.events(bench.db, printers, materials, since)]


def happening_of(event: store.EventRow) -> Happening:
    detail = " · ".join(part for part in (event.bottle and f"{event.bottle}, lot {event.lot}", event.note) if part)
    return Happening(
        rule=event.kind, at=event.happened_at, detail=detail, event_id=event.id, printer_id=event.printer_id,
        material_id=event.material_id, bottle_id=event.bottle_id, lot=event.lot,
    )  # fmt: skip


def _derived(
    bench: Bench, sets: Sequence[store.LivingSet], checks: list[store.CheckRow], held: dict[str, Rule]
) -> list[Happening]:
    """What records say by themselves: dates, routes, hours, litres, months, temperatures, failed checks, drift."""
    now = bench.now()
    routes = store.newer_routes(bench.db, sorted({s.route_version_id for s in sets if s.route_version_id}))
    hours_then = store.hours_at(bench.db, sorted({s.arm_id for s in sets}))
    hours_now = shelf.screen_hours(bench.db, sorted({s.printer_id for s in sets}))
    uses = {u.set_id: u for u in store.uses(bench.db, [s.id for s in sets])}
    passed: dict[str, store.CheckRow] = {c.parameter_set_id: c for c in checks if c.passed}
    found: list[Happening] = []
    for s in sets:
        last = passed.get(s.id)
        since = last.at if last else s.issued_at

        def say(rule: str, at: str, detail: str, s: store.LivingSet = s) -> None:
            found.append(Happening(rule=rule, at=at, detail=detail, set_id=s.id, printer_id=s.printer_id))

        if s.route_version_id in routes:
            say("finish-route-changed", routes[s.route_version_id], "The route has a newer version.")
        if s.best_before is not None and s.best_before < now[:10]:
            say("past-its-date", max(f"{s.best_before}T23:59:59Z", s.issued_at), f"Best before {s.best_before}.")
        then = last.screen_hours if last and last.screen_hours is not None else hours_then.get(s.arm_id)
        gone = hours_now.get(s.printer_id, 0.0) - then if then is not None else 0.0
        if (limit := held["hours"].limit) is not None and gone >= limit:
            say("hours", now, f"{gone:.0f} screen hours since.")
        months = (_moment(now) - _moment(since)).days / DAYS_PER_MONTH
        if (limit := held["months"].limit) is not None and months >= limit:
            say("months", now, f"{months:.0f} months since.")
        use = uses.get(s.id)
        if use is not None:
            if (limit := held["litres"].limit) is not None and use.litres >= limit:
                say("litres", now, f"{use.litres:.1f} l printed with it.")
            if use.outside_at is not None:
                say(
                    "temperature",
                    use.outside_at,
                    f"Printed at {use.outside_c:g} °C, band {s.temp_low_c:g} to {s.temp_high_c:g} °C.",
                )
    for check in checks:
        if not check.passed:
            found.append(
                Happening(rule="check-failed", at=check.at, detail=f"{check.code}: {_found(check)}.",
                          set_id=check.parameter_set_id, printer_id=check.printer_id)
            )  # fmt: skip
    return found + _drifting(bench, sets, held, hours_now, hours_then, now)


def _drifting(
    bench: Bench, sets: Sequence[store.LivingSet], held: dict[str, Rule], hours_now: dict[str, float],
    then: dict[str, float], now: str,
) -> list[Happening]:  # fmt: skip
    """Sets of printers whose check coupons drift out of the window within the shop's limit of hours."""
    rows: dict[str, list[store.CheckRow]] = defaultdict(list)
    for check in store.checks_of_printers(bench.db, sorted({s.printer_id for s in sets})):
        rows[check.printer_id].append(check)
    found = []
    for s in sets:
        limit, now_h = held["drift"].limit, hours_now.get(s.printer_id, 0.0)
        made = chart(rows.get(s.printer_id, []), s, then.get(s.arm_id))
        leaves = made.drift.leaves_at_hours if made and made.drift and made.drift.shown else None
        if leaves is None or limit is None or leaves - now_h > limit:
            continue
        said = (
            f"Leaves the window in about {leaves - now_h:.0f} h."
            if leaves > now_h
            else "By the drift it has left its window."
        )
        found.append(Happening(rule="drift", at=now, detail=said, set_id=s.id, printer_id=s.printer_id))
    return found


def chart(
    checks: list[store.CheckRow], window_of: store.LivingSet | None, issued_hours: float | None = None
) -> ControlChartResult | None:
    """Control chart of a printer's check coupons in percent of dose, with the window of one set.

    A check coupon is off from what its own set was issued on. For a set without checks of its own the window is moved
    to where the drift stood when that set was issued; where that is not known it is left out.
    """
    told = [c for c in checks if c.off_pct is not None]
    if len(told) < LEAST_CHECKS:
        return None
    hours = [c.screen_hours for c in told]
    known = [h for h in hours if h is not None]
    rising = len(known) == len(hours) and known == sorted(known)
    values = [c.off_pct for c in told if c.off_pct is not None]
    plain = ControlChartInput(values=values, hours=known if rising else None)
    ends = window_pct(window_of) if window_of is not None else None
    if window_of is None or ends is None:
        return control_chart(plain)
    moved = 0.0
    if all(c.parameter_set_id != window_of.id for c in told):
        drift = control_chart(plain).drift
        if drift is None or issued_hours is None:
            return control_chart(plain)
        moved = sum(values) / len(values) + drift.per_100_hours / 100 * (issued_hours - sum(known) / len(known))
    return control_chart(plain.model_copy(update={"window_lower": ends[0] + moved, "window_upper": ends[1] + moved}))


def _found(check: store.CheckRow) -> str:
    """What a check coupon found, in words."""
    if check.judged_by == "dose" and check.off_pct is not None:
        return f"{check.verdict}, its dose {check.off_pct:+.0f} % is beyond the window"
    return f"{check.verdict} by {check.judged_by}" if check.judged_by else str(check.verdict)


def window_pct(held: store.LivingSet) -> tuple[float, float] | None:
    """Ends of a set's window in percent of its exposure."""
    if held.lower_s is None or held.upper_s is None:
        return None
    lower, upper = (100 * (end / held.exposure_s - 1) for end in (held.lower_s, held.upper_s))
    return min(lower, -0.01), max(upper, 0.01)


def _moment(text: str) -> datetime:
    return datetime.fromisoformat(text)
