"""State of parameter sets, derived from events, check coupons and records; never stored."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from datetime import datetime

from pydantic import Field

from ...core.contract import Contract, Problem
from ...core.statistics.control_chart import ControlChartInput, ControlChartResult, control_chart
from ...core.status.validity import Check, Happening, Rule, SetFacts, Validity, shipped_rules, validity
from ...store import shelf
from ...store.rows import delete, insert
from ...store.sets import validity as store
from ..unit_of_work import Conflict, UnitOfWork, View

DAYS_PER_MONTH = 30.44
LEAST_CHECKS = 5
"""A drift is looked for from this many check coupons on."""


class LimitInput(Contract):
    """A limit of this shop, in the rule's unit."""

    limit: float = Field(gt=0, le=1_000_000)
    was: float = Field(description="The limit that is changed, as it was seen")


class RulesView(View):
    """Rules, and which of them this shop has set itself."""

    rules: list[Rule]
    own: list[str] = Field(description="Kinds and limits this shop has set itself")


def rules(work: UnitOfWork) -> dict[str, Rule]:
    """The rules that ship, with the shop's own kinds and limits over them."""
    own_rules = {row.key: Rule.model_validate(row.rule) for row in store.own_rules(work.db)}
    return {**shipped_rules(), **own_rules}


def rules_view(work: UnitOfWork) -> RulesView:
    """Rules as they hold in this lab."""
    return RulesView(rules=list(rules(work).values()), own=[row.key for row in store.own_rules(work.db)])


def change_limit(work: UnitOfWork, key: str, request: LimitInput) -> RulesView:
    """Set the shop's own limit of a rule that has one."""
    with work.write() as answer:
        rule = rules(work).get(key)
        if rule is None or rule.limit is None:
            message = f"There is no limit called {key}."
            raise Problem(message, {"limit": message})
        if rule.limit != request.was:
            raise Conflict(f"This limit is {rule.limit:g} by now. Look at it, then change it again.")
        _keep(work, rule.model_copy(update={"limit": request.limit}))
        return answer(rules_view(work))


def add_rule(work: UnitOfWork, rule: Rule) -> RulesView:
    """Add a kind of event of the shop's own: data alone, no code knows it by name."""
    with work.write() as answer:
        if rule.key in shipped_rules():
            message = f"{rule.key} is a kind that ships; only its limit can be changed."
            raise Problem(message, {"key": message})
        if rule.derived or rule.limit is not None:
            message = "A kind of your own is an event that somebody records: it follows from no record by itself."
            raise Problem(message, {"derived": message})
        _keep(work, rule)
        return answer(rules_view(work))


def forget_rule(work: UnitOfWork, key: str) -> RulesView:
    """Back to what ships; a kind of the shop's own goes, while no event of it is on record."""
    with work.write() as answer:
        if key not in shipped_rules() and store.is_on_record(work.db, key):
            raise Conflict("Events of this kind are on record: it stays.")
        delete(work.db, "validity_rule", key, key="key")
        return answer(rules_view(work))


def _keep(work: UnitOfWork, rule: Rule) -> None:
    delete(work.db, "validity_rule", rule.key, key="key")
    insert(
        work.db,
        "validity_rule",
        key=rule.key,
        rule=rule.model_dump(mode="json"),
        technician_id=work.technician_id(),
        changed_at=work.now(),
    )


def states(work: UnitOfWork, sets: Sequence[store.LivingSet]) -> dict[str, Validity]:
    """State of each set by its id. A fixed number of queries, whatever the number of sets."""
    if not sets:
        return {}
    held_rules = rules(work)
    checks = store.checks_of_sets(work.db, [s.id for s in sets])
    happenings = [*_events(work, sets), *_derived(work, sets, checks, held_rules)]
    # A happening that names its set lies with that set, so that no set looks through those of its neighbours.
    by_place: dict[str | None, list[Happening]] = defaultdict(list)
    for happening in happenings:
        by_place[happening.set_id or happening.printer_id].append(happening)
    checks_by_set: dict[str, list[Check]] = defaultdict(list)
    for c in checks:
        checks_by_set[c.parameter_set_id].append(Check(set_id=c.parameter_set_id, at=c.at, passed=c.passed))
    return {
        s.id: validity(
            facts(s), [*by_place[s.printer_id], *by_place[None], *by_place[s.id]], checks_by_set[s.id], held_rules
        )
        for s in sets
    }


def facts(living_set: store.LivingSet) -> SetFacts:
    """What the rules ask of a set."""
    return SetFacts(
        id=living_set.id,
        material_id=living_set.material_id,
        printer_id=living_set.printer_id,
        issued_at=living_set.issued_at,
        bottle_id=living_set.bottle_id,
        lot=living_set.lot,
        route_version_id=living_set.route_version_id,
    )


def _events(work: UnitOfWork, sets: Sequence[store.LivingSet]) -> list[Happening]:
    printers, materials = sorted({s.printer_id for s in sets}), sorted({s.material_id for s in sets})
    since = min(s.issued_at for s in sets)
    return [happening_of(e) for e in store.events(work.db, printers, materials, since)]


def happening_of(event: store.EventRow) -> Happening:
    """An event as the rules see it."""
    detail = " · ".join(part for part in (event.bottle and f"{event.bottle}, lot {event.lot}", event.note) if part)
    return Happening(
        rule=event.kind,
        at=event.happened_at,
        detail=detail,
        event_id=event.id,
        printer_id=event.printer_id,
        material_id=event.material_id,
        bottle_id=event.bottle_id,
        lot=event.lot,
    )


def _derived(
    work: UnitOfWork, sets: Sequence[store.LivingSet], checks: list[store.CheckRow], all_rules: dict[str, Rule]
) -> list[Happening]:
    """What records say by themselves: dates, routes, hours, litres, months, temperatures, failed checks, drift."""
    now = work.now()
    routes = store.newer_routes(work.db, sorted({s.route_version_id for s in sets if s.route_version_id}))
    hours_then = store.hours_at(work.db, sorted({s.arm_id for s in sets}))
    hours_now = shelf.screen_hours(work.db, sorted({s.printer_id for s in sets}))
    uses = {u.set_id: u for u in store.uses(work.db, [s.id for s in sets])}
    passed: dict[str, store.CheckRow] = {c.parameter_set_id: c for c in checks if c.passed}
    happenings: list[Happening] = []
    for s in sets:
        last = passed.get(s.id)
        since = last.at if last else s.issued_at

        def say(rule: str, at: str, detail: str, s: store.LivingSet = s) -> None:
            """Note that a rule applies to this set."""
            happenings.append(Happening(rule=rule, at=at, detail=detail, set_id=s.id, printer_id=s.printer_id))

        if s.route_version_id in routes:
            say("finish-route-changed", routes[s.route_version_id], "The route has a newer version.")
        if s.best_before is not None and s.best_before < now[:10]:
            say("past-its-date", max(f"{s.best_before}T23:59:59Z", s.issued_at), f"Best before {s.best_before}.")
        then = last.screen_hours if last and last.screen_hours is not None else hours_then.get(s.arm_id)
        hours_since = hours_now.get(s.printer_id, 0.0) - then if then is not None else 0.0
        if (limit := all_rules["hours"].limit) is not None and hours_since >= limit:
            say("hours", now, f"{hours_since:.0f} screen hours since.")
        months = (_moment(now) - _moment(since)).days / DAYS_PER_MONTH
        if (limit := all_rules["months"].limit) is not None and months >= limit:
            say("months", now, f"{months:.0f} months old.")
        use = uses.get(s.id)
        if use is not None:
            if (limit := all_rules["litres"].limit) is not None and use.litres >= limit:
                say("litres", now, f"{use.litres:.1f} l printed with it.")
            if use.outside_at is not None:
                say(
                    "temperature",
                    use.outside_at,
                    f"Printed at {use.outside_c:g} °C, band {s.temp_low_c:g} to {s.temp_high_c:g} °C.",
                )
    for check in checks:
        if not check.passed:
            happenings.append(
                Happening(
                    rule="check-failed",
                    at=check.at,
                    detail=f"{check.code}: {_found(check)}.",
                    set_id=check.parameter_set_id,
                    printer_id=check.printer_id,
                )
            )
    return happenings + _drifting(work, sets, all_rules, hours_now, hours_then, now)


def _drifting(
    work: UnitOfWork,
    sets: Sequence[store.LivingSet],
    all_rules: dict[str, Rule],
    hours_now: dict[str, float],
    then: dict[str, float],
    now: str,
) -> list[Happening]:
    """Sets of printers whose check coupons drift out of the window within the shop's limit of hours."""
    rows: dict[str, list[store.CheckRow]] = defaultdict(list)
    for check in store.checks_of_printers(work.db, sorted({s.printer_id for s in sets})):
        rows[check.printer_id].append(check)
    happenings = []
    for s in sets:
        limit, now_h = all_rules["drift"].limit, hours_now.get(s.printer_id, 0.0)
        result = chart(rows.get(s.printer_id, []), s, then.get(s.arm_id))
        leaves = result.drift.leaves_at_hours if result and result.drift and result.drift.shown else None
        if leaves is None or limit is None or leaves - now_h > limit:
            continue
        message = (
            f"Leaves the window in about {leaves - now_h:.0f} h."
            if leaves > now_h
            else "By the drift it has left its window."
        )
        happenings.append(Happening(rule="drift", at=now, detail=message, set_id=s.id, printer_id=s.printer_id))
    return happenings


def chart(
    checks: list[store.CheckRow], window_of: store.LivingSet | None, issued_hours: float | None = None
) -> ControlChartResult | None:
    """Control chart of a printer's check coupons in percent of dose, with the window of one set.

    A check coupon is off from what its own set was issued on. For a set without checks of its own the window is moved
    to where the drift stood when that set was issued; where that is not known it is left out.
    """
    checked = [c for c in checks if c.off_pct is not None]
    if len(checked) < LEAST_CHECKS:
        return None
    hours = [c.screen_hours for c in checked]
    hours_known = [h for h in hours if h is not None]
    rising = len(hours_known) == len(hours) and hours_known == sorted(hours_known)
    values = [c.off_pct for c in checked if c.off_pct is not None]
    plain = ControlChartInput(values=values, hours=hours_known if rising else None)
    ends = window_pct(window_of) if window_of is not None else None
    if window_of is None or ends is None:
        return control_chart(plain)
    moved = 0.0
    if all(c.parameter_set_id != window_of.id for c in checked):
        drift = control_chart(plain).drift
        if drift is None or issued_hours is None:
            return control_chart(plain)
        moved = sum(values) / len(values) + drift.per_100_hours / 100 * (
            issued_hours - sum(hours_known) / len(hours_known)
        )
    return control_chart(plain.model_copy(update={"window_lower": ends[0] + moved, "window_upper": ends[1] + moved}))


def _found(check: store.CheckRow) -> str:
    """What a check coupon found, in words."""
    if check.judged_by == "dose" and check.off_pct is not None:
        return f"{check.verdict}, its dose {check.off_pct:+.0f} % is beyond the window"
    return f"{check.verdict} by {check.judged_by}" if check.judged_by else str(check.verdict)


def window_pct(living_set: store.LivingSet) -> tuple[float, float] | None:
    """Ends of a set's window in percent of its exposure."""
    if living_set.lower_s is None or living_set.upper_s is None:
        return None
    lower, upper = (100 * (end / living_set.exposure_s - 1) for end in (living_set.lower_s, living_set.upper_s))
    return min(lower, -0.01), max(upper, 0.01)


def _moment(text: str) -> datetime:
    return datetime.fromisoformat(text)
