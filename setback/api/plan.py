"""The day planned: the plan, its making, ticks, pins, own tasks, settings and calendar."""

from __future__ import annotations

from typing import Any

from flask import Response

from ..services.lab import jobs
from ..services.plan import calendar_feed, own_tasks, plan_settings, planning, ticks, worth_doing
from ..store.plan import OwnTask
from .lab.jobs import wake
from .wiring import Blueprint, list_of, takes, work

blueprint = Blueprint("plan", __name__, url_prefix="/api", tag="Plan")


@blueprint.get("/plan")
@blueprint.output(planning.WorkPlan)
def plan() -> Any:
    """The plan as it stands, against the clock."""
    return planning.view(work())


@blueprint.get("/plan/worth-doing")
@blueprint.output(list_of(worth_doing.WorthDoing))
def suggestions() -> Any:
    """What is worth doing beside what is planned already."""
    return {"items": worth_doing.worth_doing(work())}


@blueprint.post("/plan/make")
@takes(blueprint, planning.MakeInput)
@blueprint.output(jobs.JobView, status_code=201)
def make_plan(body: planning.MakeInput) -> Any:
    """Look for the best plan of everything that waits."""
    job = jobs.queue(work(), "plan", planning.order(work(), body))
    wake()
    return job


@blueprint.put("/plan/pins")
@takes(blueprint, planning.MoveInput)
@blueprint.output(planning.WorkPlan)
def move_task(body: planning.MoveInput) -> Any:
    """Pin a task to a time, or let go of it."""
    return planning.move(work(), body)


@blueprint.post("/plan/ticks")
@takes(blueprint, ticks.TickInput)
@blueprint.output(ticks.Ticked, status_code=201)
def tick_task(body: ticks.TickInput) -> Any:
    """Note that a step was begun or is done."""
    return ticks.tick(work(), body)


@blueprint.post("/plan/ticks/<tick_id>/withdraw")
@blueprint.output(planning.WorkPlan)
def withdraw_tick(tick_id: str) -> Any:
    """Let a tick no longer count."""
    return ticks.withdraw(work(), tick_id)


@blueprint.get("/plan/history")
@blueprint.output(list_of(ticks.StepHistory))
def plan_history() -> Any:
    """Planned against real minutes, by kind of step."""
    return {"items": ticks.history(work())}


@blueprint.put("/plan/due")
@takes(blueprint, own_tasks.DueInput)
@blueprint.output(planning.WorkPlan)
def set_job_due(body: own_tasks.DueInput) -> Any:
    """Say when a job is needed by."""
    return own_tasks.set_due(work(), body)


@blueprint.get("/plan/own-tasks")
@blueprint.output(list_of(OwnTask))
def own_tasks_to_do() -> Any:
    """Tasks of one's own that are not done."""
    return {"items": own_tasks.listed(work())}


@blueprint.post("/plan/own-tasks")
@takes(blueprint, own_tasks.OwnTaskInput)
@blueprint.output(OwnTask, status_code=201)
def add_own_task(body: own_tasks.OwnTaskInput) -> Any:
    """Add a task of one's own."""
    return own_tasks.add(work(), body)


@blueprint.put("/plan/own-tasks/<task_id>")
@takes(blueprint, own_tasks.OwnTaskInput)
@blueprint.output(OwnTask)
def change_own_task(task_id: str, body: own_tasks.OwnTaskInput) -> Any:
    """Change a task of one's own."""
    return own_tasks.change(work(), task_id, body)


@blueprint.post("/plan/own-tasks/<task_id>/withdraw")
@blueprint.output(OwnTask)
def withdraw_own_task(task_id: str) -> Any:
    """Take a task of one's own out of the plan."""
    return own_tasks.withdraw(work(), task_id)


@blueprint.post("/plan/own-tasks/<task_id>/restore")
@blueprint.output(OwnTask)
def restore_own_task(task_id: str) -> Any:
    """Bring a task of one's own back."""
    return own_tasks.restore(work(), task_id)


@blueprint.post("/printers/<printer_id>/down")
@takes(blueprint, own_tasks.DownInput)
@blueprint.output(planning.WorkPlan)
def printer_down(printer_id: str, body: own_tasks.DownInput) -> Any:
    """Note that a printer cannot be used."""
    return own_tasks.down(work(), printer_id, body)


@blueprint.post("/printers/<printer_id>/back")
@blueprint.output(planning.WorkPlan)
def printer_back(printer_id: str) -> Any:
    """Note that a printer can be used again."""
    return own_tasks.back(work(), printer_id)


@blueprint.get("/plan/settings")
@blueprint.output(plan_settings.PlanSettings)
def settings() -> Any:
    """Working hours, places and minutes the plan goes by."""
    return plan_settings.plan_settings(work())


@blueprint.put("/plan/settings")
@takes(blueprint, plan_settings.PlanSettings)
@blueprint.output(plan_settings.PlanSettings)
def change_settings(body: plan_settings.PlanSettings) -> Any:
    """Change what the plan goes by."""
    return plan_settings.change(work(), body)


@blueprint.get("/plan/calendar.ics")
@blueprint.doc(description="The plan as an iCalendar file.")
def plan_calendar() -> Any:
    """The plan for a calendar program."""
    return _as_calendar(calendar_feed.calendar(work()))


@blueprint.get("/plan/feeds")
@blueprint.output(calendar_feed.Feeds)
def feeds() -> Any:
    """Addresses by which the plan can be read."""
    return calendar_feed.feeds(work())


@blueprint.post("/plan/feeds")
@blueprint.output(calendar_feed.FeedAddress, status_code=201)
def open_feed() -> Any:
    """A new address to read the plan by; it is shown once."""
    return calendar_feed.open_feed(work())


@blueprint.post("/plan/feeds/<feed_id>/revoke")
@blueprint.output(calendar_feed.Feeds)
def revoke_feed(feed_id: str) -> Any:
    """Let an address no longer be read."""
    return calendar_feed.revoke(work(), feed_id)


@blueprint.get("/plan/feeds/<token>.ics")
@blueprint.doc(description="The plan as an iCalendar file, by an address of its own.")
def read_feed(token: str) -> Any:
    """The plan behind an address."""
    return _as_calendar(calendar_feed.read_feed(work(), token))


def _as_calendar(text: bytes) -> Response:
    headers = {"Content-Disposition": "inline; filename=plan.ics", "Cache-Control": "no-store"}
    return Response(text, mimetype="text/calendar", headers=headers)
