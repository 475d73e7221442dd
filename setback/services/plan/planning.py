"""The plan as it stands: made by the solver, kept until something changes, and shown against the clock."""

from __future__ import annotations

import time
from collections.abc import Callable
from datetime import datetime, timedelta
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any, Literal
from zoneinfo import ZoneInfo

from pydantic import AwareDatetime, Field

from ...core.contract import Contract, Problem
from ...core.plan.contract import PERSON, PlanDayInput, PlanDayResult, TaskLeftOut
from ...core.plan.hours import shifts
from ...core.plan.plan_day import plan_day
from ...core.plan.problem import Day
from ...store import plan as store
from ..apart import run as in_a_child
from ..unit_of_work import UnitOfWork, View, iso, present
from .budget import Budget, budget
from .plan_settings import PlanSettings, plan_settings
from .tasks import Collected, PlanLane, WorkTask, collect

Progress = Callable[[float, str], None]
LONGEST_S = 10.0
AGAIN_S = 1.2
"""After a tick or a move: it begins near what stands, and a person waits for it."""
LATE_AFTER_MIN = 10
"""A step that nobody began so long after its time makes the plan an old one."""
SLACK_S = 20.0
WORKERS = 2


class MakeInput(Contract):
    """How long to look for the best plan."""

    seconds: float = Field(LONGEST_S, gt=0, le=LONGEST_S)


class MakeOrder(MakeInput):
    """The same in the queue, with who asked for it."""

    initials: str | None


def order(work: UnitOfWork, request: MakeInput) -> dict[str, Any]:
    """What the worker is handed."""
    return MakeOrder(**request.model_dump(), initials=work.initials).model_dump()


class TaskPlanned(WorkTask):
    """A task with its place in the plan."""

    starts_at: str
    ends_at: str
    change_at: str | None = Field(description="When the vat is changed for it")
    changed_at: str | None = Field(description="When that is done")
    late_min: int = Field(description="Minutes past when it is needed")
    state: Literal["planned", "running", "overdue"] = Field(
        description="Overdue: its time has come and nobody began it"
    )
    pinned: bool
    night: bool = Field(description="It runs while nobody is there")


class NotPlanned(View):
    """A task that does not fit, with the reason."""

    key: str
    name: str
    why: str
    instead: str = Field(description="What would let it fit")


class JobDone(View):
    """When a job is through with what is known of it."""

    job: str
    link: str | None
    done_at: str
    due_at: str | None
    late_min: int
    ml: float = Field(description="Resin it still takes")
    minutes: int = Field(description="From its first step that is left to the end of its last")
    person_min: int = Field(description="Minutes of the technician it still takes")


class PlanQuality(View):
    """How good the plan is."""

    finish_at: str
    by_due_date_finish_at: str = Field(description="When the order by due date alone would end")
    lateness_min: int
    by_due_date_lateness_min: int
    interruptions: int
    changes: int
    gap_min: int = Field(description="Minutes by which a plan could at most end earlier")
    status: str


class WorkPlan(View):
    """The plan of a lab, against the clock."""

    now: str
    time_zone: str
    made_at: str | None = Field(description="Null while none was made")
    old: list[str] = Field(description="Why it should be made anew; empty while it stands")
    lanes: list[PlanLane]
    shifts: list[tuple[str, str]] = Field(description="When the technician works")
    steps: list[TaskPlanned]
    not_planned: list[NotPlanned]
    waiting: list[WorkTask] = Field(description="Tasks that came up since the plan was made")
    what_now: TaskPlanned | None = Field(description="What is to be done first")
    then: TaskPlanned | None
    jobs: list[JobDone]
    compared: PlanQuality | None
    budget: Budget | None
    down: list[store.PrinterDown]


def run(work: UnitOfWork, progress: Progress, request: dict[str, Any]) -> dict[str, Any]:
    """Make the plan in a process of its own and keep it; one that is stopped or fails leaves the one before."""
    making = MakeOrder.model_validate(request)
    work.initials, seconds = making.initials, making.seconds
    collected = collect(work, seconds)
    inputs = collected.inputs.model_copy(update={"workers": WORKERS})
    began = time.monotonic()
    with TemporaryDirectory() as folder:
        best_so_far = Path(folder) / "best"

        def meanwhile(_: float) -> None:
            share = min((time.monotonic() - began) / (seconds + 2), 0.99)
            words = best_so_far.read_text() if best_so_far.exists() else ""
            progress(share, words or "Looking for the best order")

        result = in_a_child(
            solved,
            inputs.model_dump_json(),
            str(best_so_far),
            field="plan",
            seconds=seconds + SLACK_S,
            meanwhile=meanwhile,
        )
    with work.write():
        plan_id, now = work.new_id(), work.now()
        row = store.StoredPlan(
            id=plan_id,
            begins_at=collected.begins_at,
            made_at=now,
            made_from=collected.made_from,
            tasks=[task.model_dump() for task in collected.tasks],
            result=result,
        )
        store.put_plan(work.db, row, work.technician_id())
    return {"tasks": len(collected.tasks)}


def solved(inputs: str, best_so_far: str) -> dict[str, Any]:
    """In the child: plain JSON in, plain values out; the best so far is left in a file that the waiting process reads."""

    def tell(_: float, words: str) -> None:
        Path(best_so_far).write_text(words)

    return plan_day(PlanDayInput.model_validate_json(inputs), tell).model_dump(mode="json")


def view(work: UnitOfWork) -> WorkPlan:
    """The plan as it stands."""
    settings = plan_settings(work)
    collected = collect(work)
    stored = store.newest_plan(work.db)
    now = work.clock()
    spans = shifts(settings.hours, datetime.fromisoformat(collected.begins_at), collected.inputs.horizon_min)
    base = WorkPlan(
        now=work.now(),
        time_zone=settings.hours.time_zone,
        made_at=stored.made_at if stored else None,
        old=[],
        lanes=collected.lanes,
        shifts=[(_at(collected.begins_at, a), _at(collected.begins_at, b)) for a, b in spans],
        steps=[],
        not_planned=[],
        waiting=collected.tasks,
        what_now=None,
        then=None,
        jobs=[],
        compared=None,
        budget=None,
        down=store.printers_down(work.db),
    )
    if stored is None:
        return base
    return _against_the_clock(work, base, collected, stored, settings, now)


def _against_the_clock(
    work: UnitOfWork,
    base: WorkPlan,
    collected: Collected,
    stored: store.StoredPlan,
    settings: PlanSettings,
    now: datetime,
) -> WorkPlan:
    result = PlanDayResult.model_validate(stored.result)
    tasks = {task.key: task for task in collected.tasks}
    pins = store.pins(work.db)
    placed = {row.key: row for row in result.best.tasks}
    left_out = {row.key: row for row in result.left_out}
    spans = [(datetime.fromisoformat(a), datetime.fromisoformat(b)) for a, b in base.shifts]
    steps = []
    for key, row in placed.items():
        if key not in tasks:
            continue
        starts_at, ends_at = _at(stored.begins_at, row.start_min), _at(stored.begins_at, row.end_min)
        began = collected.running.get(key)
        overdue = began is None and now - datetime.fromisoformat(starts_at) > timedelta(minutes=LATE_AFTER_MIN)
        steps.append(
            TaskPlanned(
                **tasks[key].model_dump(),
                starts_at=began or starts_at,
                ends_at=ends_at,
                change_at=None if row.change_from_min is None else _at(stored.begins_at, row.change_from_min),
                changed_at=None
                if row.change_from_min is None
                else _at(stored.begins_at, row.change_from_min + settings.handling.change_min),
                late_min=row.late_min,
                state="running" if began else "overdue" if overdue else "planned",
                pinned=key in pins,
                night=tasks[key].kind == "print" and _alone(starts_at, ends_at, spans),
            )
        )
    steps.sort(key=lambda step: (step.starts_at, step.ends_at))
    waiting = [task for task in collected.tasks if task.key not in placed and task.key not in left_out]
    to_begin = _ready(steps, collected)
    return base.model_copy(
        update={
            "steps": steps,
            "old": _old(collected, stored, steps, waiting),
            "waiting": waiting,
            "not_planned": [_not_planned(tasks[key], row, base) for key, row in left_out.items() if key in tasks],
            "what_now": to_begin[0] if to_begin else None,
            "then": to_begin[1] if len(to_begin) > 1 else None,
            "jobs": _jobs(steps),
            "compared": _compared(stored.begins_at, result),
            "budget": budget(work, collected.tasks, result.best, _minutes(base.shifts, stored.begins_at), settings),
        }
    )


def _not_planned(task: WorkTask, row: TaskLeftOut, base: WorkPlan) -> NotPlanned:
    """What is in its way by name, and what would let it fit."""
    lane = next((lane for lane in base.lanes if lane.key == row.resource), None)
    is_down = any(printer.printer_id == row.resource for printer in base.down)
    if is_down and lane is not None:
        reason, instead = (
            f"{lane.name} is {lane.detail}",
            f"note that {lane.name} is back, or plan it on another printer",
        )
    elif row.resource == PERSON:
        reason, instead = row.why, "lengthen the working hours, or remove something that is needed later"
    elif row.resource is None:
        reason, instead = row.why, "it fits as soon as what it waits for does"
    else:
        reason, instead = row.why, f"let go of a pin on {lane.name if lane else 'it'}, or remove what is needed later"
    return NotPlanned(key=task.key, name=task.name, why=reason, instead=instead)


def _ready(steps: list[TaskPlanned], collected: Collected) -> list[TaskPlanned]:
    """Steps somebody can begin now: what they wait for is done; the earliest of the plan first."""
    open_keys = {step.key for step in steps}
    before: dict[str, set[str]] = {}
    for wait in collected.inputs.waits:
        before.setdefault(wait.after, set()).add(wait.before)
    ready = [step for step in steps if step.state != "running" and not before.get(step.key, set()) & open_keys]
    return sorted(ready, key=lambda step: step.change_at or step.starts_at)


def _old(
    collected: Collected, stored: store.StoredPlan, steps: list[TaskPlanned], waiting: list[WorkTask]
) -> list[str]:
    """Why a plan no longer fits."""
    reasons = []
    overdue = [step for step in steps if step.state == "overdue"]
    if overdue:
        reasons.append(f"{overdue[0].name} was planned for earlier and is not begun")
    if waiting:
        more = f" and {len(waiting) - 1} more" if len(waiting) > 1 else ""
        reasons.append(f"{waiting[0].name}{more} came up since")
    if not reasons and collected.made_from != stored.made_from:
        reasons.append("the work, the pins or the hours have changed since")
    return reasons


def _jobs(steps: list[TaskPlanned]) -> list[JobDone]:
    """When each job is through, the soonest first; errands and stirs only where they come too late."""
    rows: dict[str, JobDone] = {}
    for step in sorted(steps, key=lambda step: step.ends_at):
        if step.kind in ("own", "vat") and not step.late_min:
            continue
        for job in step.jobs:
            of_job = [other for other in steps if job in other.jobs]
            first = min(other.starts_at for other in of_job)
            took = datetime.fromisoformat(step.ends_at) - datetime.fromisoformat(first)
            rows[job] = JobDone(
                job=job,
                link=step.link,
                done_at=step.ends_at,
                due_at=step.due_at,
                late_min=max(other.late_min for other in of_job),
                ml=sum(other.ml for other in of_job),
                minutes=round(took.total_seconds() / 60),
                person_min=sum(other.person_min for other in of_job),
            )
    return sorted(rows.values(), key=lambda row: row.done_at)


def _compared(begins_at: str, result: PlanDayResult) -> PlanQuality:
    return PlanQuality(
        finish_at=_at(begins_at, result.best.finish_min),
        by_due_date_finish_at=_at(begins_at, result.by_due_date.finish_min),
        lateness_min=result.best.lateness_min,
        by_due_date_lateness_min=result.by_due_date.lateness_min,
        interruptions=result.best.interruptions,
        changes=result.best.changes,
        gap_min=result.gap_min,
        status=result.status,
    )


def _alone(starts_at: str, ends_at: str, spans: list[tuple[datetime, datetime]]) -> bool:
    """Whether it goes on after the last stretch of work of its day."""
    start = datetime.fromisoformat(starts_at)
    last = max((end for _, end in spans if end.date() == start.date()), default=start)
    return datetime.fromisoformat(ends_at) > last


def _at(begins_at: str, minute: int) -> str:
    return iso(datetime.fromisoformat(begins_at) + timedelta(minutes=minute))


def _minutes(spans: list[tuple[str, str]], begins_at: str) -> list[tuple[int, int]]:
    first = datetime.fromisoformat(begins_at)
    return [
        (
            max(0, round((datetime.fromisoformat(a) - first).total_seconds() / 60)),
            round((datetime.fromisoformat(b) - first).total_seconds() / 60),
        )
        for a, b in spans
    ]


class MoveInput(Contract):
    """Where a task is pinned to; nothing lets it be planned freely again."""

    task: str = Field(max_length=80, description="Key of the task")
    starts_at: AwareDatetime | None = Field(
        None, description="When it is to begin, with its zone; null to let go of it"
    )


def move(work: UnitOfWork, request: MoveInput) -> WorkPlan:
    """Pin a task to a time, or let go of it; the rest is planned around it.

    Raises
    ------
    Problem
        When the time has passed, or the task cannot run then: with the reason and the next time that suits it.
    """
    with work.write() as answer:
        if request.starts_at is None:
            store.drop_pins(work.db, [request.task])
            return answer(view(work))
        collected = collect(work)
        task = present(next((row for row in collected.inputs.tasks if row.key == request.task), None), "task")
        begins = datetime.fromisoformat(collected.begins_at)
        minute = round((request.starts_at - begins).total_seconds() / 60)
        free = Day(collected.inputs).starts(task.model_copy(update={"pinned_min": None}))
        if minute < 0 or not any(a <= minute <= b for a, b in free):
            nearest = next((max(a, minute) for a, b in free if b >= max(minute, 0)), None)
            when = "" if nearest is None else f" From {_words(begins, nearest, work)} it can."
            reason = (
                "That time has passed."
                if minute < 0
                else "It cannot run then: nobody is there, or its printer is down."
            )
            raise Problem(reason + when, {"starts_at": reason + when})
        store.put_pin(work.db, request.task, iso(request.starts_at), work.technician_id(), work.now())
        return answer(view(work))


def _words(begins: datetime, minute: int, work: UnitOfWork) -> str:
    zone = ZoneInfo(plan_settings(work).hours.time_zone)
    return (begins + timedelta(minutes=minute)).astimezone(zone).strftime("%a %H:%M")
