"""Ticking off: a step was begun or is done. It starts and ends its timer, and records what it ticked for."""

from __future__ import annotations

from pydantic import Field

from ...core.contract import Contract
from ...store import plan as store
from ...store.rows import insert, update
from ..blends import vats
from ..lab import timers
from ..unit_of_work import Conflict, UnitOfWork, View, present
from .planning import WorkPlan, view
from .tasks import WorkTask, collect

TIMED = ("print", "wash", "dry", "cure", "warm")
"""Steps that run by themselves for a known time."""
RECORDED = {
    "print": "A print is done when its coupons are marked as printed, or it is reported on.",
    "read": "A reading is done when it is saved.",
    "blend": "A batch goes on by what is entered on its page.",
}
"""Where the steps are done that a tick does not do."""
PLACE = "/plan"


class TickInput(Contract):
    """A step that was begun, or is done."""

    task: str = Field(max_length=80, description="Key of the task")
    done: bool = Field(False, description="It is done; else it was begun now")


class Ticked(View):
    """The tick, and the plan after it."""

    id: str = Field(description="To withdraw it by")
    plan: WorkPlan


def tick(work: UnitOfWork, request: TickInput) -> Ticked:
    """Note that a step was begun or is done.

    Raises
    ------
    Conflict
        When somebody else ticked it already, or it is done by its own record.
    """
    with work.write() as answer:
        technician = work.technician()
        task = present(next((row for row in collect(work).tasks if row.key == request.task), None), "task")
        ticked = store.tick(work.db, task.key)
        if ticked is not None and not request.done:
            raise Conflict(f"{ticked.initials} began it at {ticked.begun_at[11:16]} UTC.")
        if request.done and task.recorded:
            raise Conflict(RECORDED[task.kind])
        if request.done and ticked is not None:
            update(work.db, "plan_tick", ticked.id, done_at=work.now())
            if ticked.timer_id is not None:
                update(work.db, "timer", ticked.timer_id, ended_at=work.now())
            tick_id = ticked.id
        else:
            tick_id = work.new_id()
            insert(
                work.db,
                "plan_tick",
                id=tick_id,
                task_key=task.key,
                kind=task.kind,
                name=task.name,
                planned_min=task.minutes,
                begun_at=work.now(),
                done_at=work.now() if request.done else None,
                timer_id=None if request.done else _timer(work, task),
                technician_id=technician.id,
                recorded_at=work.now(),
            )
        if request.done and task.kind == "vat" and task.link is not None:
            vats.put(work, task.link.rsplit("/", 1)[1], vats.VatInput(kind="stir"))
        store.drop_pins(work.db, [task.key])
        return answer(Ticked(id=tick_id, plan=view(work)))


def _timer(work: UnitOfWork, task: WorkTask) -> str | None:
    """A timer for what runs by itself, inside the transaction of its tick."""
    if task.kind not in TIMED:
        return None
    return timers.put(work, timers.TimerInput(name=task.name[:80], seconds=60.0 * task.minutes, place=PLACE))


def withdraw(work: UnitOfWork, tick_id: str) -> WorkPlan:
    """Let a tick no longer count: the step is planned again. What a tick recorded elsewhere is withdrawn there."""
    with work.write() as answer:
        ticked = present(store.tick_by_id(work.db, tick_id), "tick")
        update(work.db, "plan_tick", ticked.id, withdrawn_at=work.now())
        if ticked.timer_id is not None:
            update(work.db, "timer", ticked.timer_id, ended_at=work.now())
        return answer(view(work))


class StepHistory(View):
    """How long a kind of step was planned for, and how long it took here."""

    kind: str
    count: int
    planned_min: float
    took_min: float


def history(work: UnitOfWork, newest: int = 30) -> list[StepHistory]:
    """Planned against real minutes, of the newest ticks of each kind."""
    return [StepHistory.model_validate(row.model_dump()) for row in store.took(work.db, newest)]
