"""The life of parameter sets: events, rules, check coupons."""

from __future__ import annotations

from typing import Any

from ...core.status.validity import Rule
from ...services.reading.readings import ReasonInput
from ...services.sets import checks, events
from ...services.sets import validity as service
from ..wiring import Blueprint, takes, work

blueprint = Blueprint("validity", __name__, url_prefix="/api", tag="Validity")


@blueprint.get("/validity-rules")
@blueprint.output(service.RulesView)
def rules() -> Any:
    """What makes a set due or lapses it."""
    return service.rules_view(work())


@blueprint.post("/validity-rules")
@takes(blueprint, Rule)
@blueprint.output(service.RulesView, status_code=201)
def add_rule(body: Rule) -> Any:
    """Add a kind of event of this shop."""
    return service.add_rule(work(), body)


@blueprint.put("/validity-rules/<key>/limit")
@takes(blueprint, service.LimitInput)
@blueprint.output(service.RulesView)
def change_limit(key: str, body: service.LimitInput) -> Any:
    """Set a limit of this shop."""
    return service.change_limit(work(), key, body)


@blueprint.post("/validity-rules/<key>/forget")
@blueprint.output(service.RulesView)
def forget_rule(key: str) -> Any:
    """Go back to the rule that came with Setback."""
    return service.forget_rule(work(), key)


@blueprint.post("/events/preview")
@takes(blueprint, events.EventInput)
@blueprint.output(events.EventPreview)
def preview(body: events.EventInput) -> Any:
    """Which sets an event would touch, before it is recorded."""
    return events.preview(work(), body)


@blueprint.post("/events")
@takes(blueprint, events.EventInput)
@blueprint.output(events.Recorded, status_code=201)
def record(body: events.EventInput) -> Any:
    """Record an event; sets it touches become due or lapse."""
    return events.record(work(), body)


@blueprint.post("/events/<event_id>/withdraw")
@takes(blueprint, ReasonInput)
@blueprint.output(events.EventView)
def withdraw(event_id: str, body: ReasonInput) -> Any:
    """Withdraw an event, with a reason."""
    return events.withdraw(work(), event_id, body.reason)


@blueprint.post("/events/<event_id>/restore")
@blueprint.output(events.EventView)
def restore(event_id: str) -> Any:
    """Let a withdrawn event count again."""
    return events.restore(work(), event_id)


@blueprint.get("/sets/<id_or_code>/life")
@blueprint.output(checks.SetLife)
def life(id_or_code: str) -> Any:
    """The life of a set: events, checks, and why it stands as it does."""
    return checks.life(work(), id_or_code)


@blueprint.post("/sets/<id_or_code>/check")
@blueprint.output(checks.PlannedCheck, status_code=201)
def plan_check(id_or_code: str) -> Any:
    """Plan a check coupon of a set."""
    return checks.plan(work(), id_or_code)


@blueprint.get("/printers/<printer_id>/control-chart")
@blueprint.output(checks.ChartView)
def control_chart(printer_id: str) -> Any:
    """Check coupons of a printer over time."""
    return checks.printer_chart(work(), printer_id)
