"""Timers: started at a step, named, several at once; they outlive the page and the server."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Annotated

from pydantic import Field, StringConstraints

from ...core.contract import Contract
from ...store.lab import timers as store
from ...store.rows import insert, update
from ..unit_of_work import Conflict, UnitOfWork, View, iso, present

LONGEST_S = 7 * 86_400


class TimerInput(Contract):
    """A timer to start: its name and seconds."""

    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]
    seconds: float = Field(ge=1, le=LONGEST_S)
    place: str | None = Field(None, max_length=200, pattern=r"^/", description="Page it belongs to")


class TimerView(store.Timer):
    """A timer, and the seconds that are left."""

    left_s: float = Field(description="Below 0 when it is due")


class Timers(View):
    """Timers that run, and those that ended lately."""

    now: str
    items: list[TimerView]


def timers(work: UnitOfWork) -> Timers:
    """Timers that run, the next one first."""
    return Timers(now=work.now(), items=[_view(work, row) for row in store.running(work.db)])


def start(work: UnitOfWork, request: TimerInput) -> TimerView:
    """Start a timer."""
    with work.write(by_anybody=True) as answer:
        return answer(_view(work, present(store.timer(work.db, put(work, request)), "timer")))


def put(work: UnitOfWork, request: TimerInput) -> str:
    """The write of :func:`start`, for whoever has a transaction open; its id."""
    now = work.clock()
    timer_id = work.new_id()
    insert(
        work.db,
        "timer",
        id=timer_id,
        name=request.name,
        seconds=request.seconds,
        started_at=iso(now),
        due_at=iso(now + timedelta(seconds=request.seconds)),
        place=request.place,
        technician_id=work.technician_id(),
    )
    return timer_id


def end(work: UnitOfWork, timer_id: str) -> TimerView:
    """Take a timer off the bar: heard, or not wanted any more."""
    with work.write(by_anybody=True) as answer:
        row = present(store.timer(work.db, timer_id), "timer")
        if row.ended_at is not None:
            raise Conflict(f"{row.name} is off already.")
        update(work.db, "timer", timer_id, ended_at=work.now())
        return answer(_view(work, present(store.timer(work.db, timer_id), "timer")))


def end_at(work: UnitOfWork, place: str, at: str) -> None:
    """Take every timer of a page off the bar, inside whoever's transaction: what they were for is done."""
    store.end_at(work.db, place, at)


def resume_at(work: UnitOfWork, place: str, at: str) -> None:
    """Undo :func:`end_at`: what was taken off at that moment runs again, and what was off before stays off."""
    store.resume_at(work.db, place, at)


def resume(work: UnitOfWork, timer_id: str) -> TimerView:
    """Undo :func:`end`."""
    with work.write(by_anybody=True) as answer:
        present(store.timer(work.db, timer_id), "timer")
        update(work.db, "timer", timer_id, ended_at=None)
        return answer(_view(work, present(store.timer(work.db, timer_id), "timer")))


def _view(work: UnitOfWork, row: store.Timer) -> TimerView:
    seconds_left = (datetime.fromisoformat(row.due_at.replace("Z", "+00:00")) - work.clock()).total_seconds()
    return TimerView(
        **vars(row),
        left_s=seconds_left,
    )
