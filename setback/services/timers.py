"""Timers: started at a step, named, several at once; they outlive the page and the server."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Annotated

from pydantic import Field, StringConstraints

from ..core.contract import Contract
from ..store import timers as store
from ..store.rows import insert, update
from .bench import Bench, Conflict, View, iso, present

LONGEST_S = 7 * 86_400


class TimerInput(Contract):
    name: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]
    seconds: float = Field(ge=1, le=LONGEST_S)
    place: str | None = Field(None, max_length=200, pattern=r"^/", description="Page it belongs to")


class TimerView(View):
    id: str
    name: str
    seconds: float
    started_at: str
    due_at: str
    left_s: float = Field(description="Below 0 when it is due")
    place: str | None
    ended_at: str | None


class Timers(View):
    now: str
    items: list[TimerView]


def timers(bench: Bench) -> Timers:
    return Timers(now=bench.now(), items=[_view(bench, row) for row in store.running(bench.db)])


def start(bench: Bench, given: TimerInput) -> TimerView:
    with bench.write() as answer:
        now = bench.clock()
        timer_id = bench.new_id()
        insert(
            bench.db, "timer", id=timer_id, name=given.name, seconds=given.seconds, started_at=iso(now),
            due_at=iso(now + timedelta(seconds=given.seconds)), place=given.place,
            technician_id=bench.technician_id(),
        )  # fmt: skip
        return answer(_view(bench, present(store.timer(bench.db, timer_id), "timer")))


def end(bench: Bench, timer_id: str) -> TimerView:
    """Take a timer off the bar: heard, or not wanted any more."""
    with bench.write() as answer:
        row = present(store.timer(bench.db, timer_id), "timer")
        if row.ended_at is not None:
            raise Conflict(f"{row.name} is off already.")
        update(bench.db, "timer", timer_id, ended_at=bench.now())
        return answer(_view(bench, present(store.timer(bench.db, timer_id), "timer")))


def end_at(bench: Bench, place: str, at: str) -> None:
    """Take every timer of a page off the bar, inside whoever's transaction: what they were for is done."""
    store.end_at(bench.db, place, at)


def resume_at(bench: Bench, place: str, at: str) -> None:
    """Undo :func:`end_at`: what was taken off at that moment runs again, and what was off before stays off."""
    store.resume_at(bench.db, place, at)


def resume(bench: Bench, timer_id: str) -> TimerView:
    """Undo :func:`end`."""
    with bench.write() as answer:
        present(store.timer(bench.db, timer_id), "timer")
        update(bench.db, "timer", timer_id, ended_at=None)
        return answer(_view(bench, present(store.timer(bench.db, timer_id), "timer")))


def _view(bench: Bench, row: store.Timer) -> TimerView:
    left = (datetime.fromisoformat(row.due_at.replace("Z", "+00:00")) - bench.clock()).total_seconds()
    return TimerView(
        id=row.id, name=row.name, seconds=row.seconds, started_at=row.started_at, due_at=row.due_at, left_s=left,
        place=row.place, ended_at=row.ended_at,
    )  # fmt: skip
