"""The order by due date: each task at its earliest time, those that are needed first in front. What a careful person does by hand."""

from __future__ import annotations

from bisect import insort
from dataclasses import dataclass, field

import networkx as nx

from .contract import PlanTask, TaskLeftOut
from .problem import Day, Spans, both

MOST_TRIES = 200
"""A chain with longest waits is shifted so often until it fits, or it does not."""


@dataclass(order=True)
class Use:
    """A task on its resource."""

    start: int
    end: int
    key: str = field(compare=False)
    places: int = field(compare=False)
    resin: str | None = field(compare=False)
    change: int | None = field(compare=False, default=None)

    @property
    def begins(self) -> int:
        """With the change of its vat, where it lies before it."""
        return self.start if self.change is None else self.change


@dataclass
class Placements:
    """What is placed so far."""

    starts: dict[str, int] = field(default_factory=dict)
    changes: dict[str, int] = field(default_factory=dict)
    person: Spans = field(default_factory=list)
    uses: dict[str, list[Use]] = field(default_factory=dict)

    def copy(self) -> Placements:
        """A copy to try on."""
        uses = {key: list(rows) for key, rows in self.uses.items()}
        return Placements(dict(self.starts), dict(self.changes), list(self.person), uses)

    def add(self, day: Day, task: PlanTask, start: int, change: int | None) -> None:
        """Put a task at a minute."""
        self.starts[task.key] = start
        if task.person_min:
            insort(self.person, (start, start + task.person_min))
        if task.resource is not None:
            insort(
                self.uses.setdefault(task.resource, []),
                Use(start, start + task.minutes, task.key, task.places, task.resin, change),
            )
        if change is not None:
            self.changes[task.key] = change
            length = day.resources[task.resource or ""].change_min
            if length:
                insort(self.person, (change, change + length))

    def remove(self, day: Day, key: str) -> None:
        """Take a pinned task out again, where it was placed."""
        start = self.starts.pop(key, None)
        if start is None:
            return
        task = day.tasks[key]
        if task.person_min:
            self.person.remove((start, start + task.person_min))
        if task.resource is not None:
            self.uses[task.resource] = [use for use in self.uses[task.resource] if use.key != key]
        change = self.changes.pop(key, None)
        length = day.resources[task.resource or ""].change_min if change is not None else 0
        if change is not None and length:
            self.person.remove((change, change + length))


class TooLate(Exception):
    """A task cannot begin as soon after another as it must."""

    def __init__(self, before: str, floor: int) -> None:
        super().__init__(before)
        self.before, self.floor = before, floor


def by_due_date(day: Day) -> tuple[Placements, list[TaskLeftOut]]:
    """Place every chain of tasks in the order of its earliest due date, and say what does not fit."""
    placed, left_out = Placements(), []
    pinned = sorted((task.pinned_min, key) for key, task in day.tasks.items() if task.pinned_min is not None)
    for _, key in pinned:
        try:
            _place(day, placed, day.tasks[key], 0)
        except NoRoom as none:
            left_out.append(TaskLeftOut(key=key, why=none.why, resource=none.resource))
    chains = [sorted(chain, key=day.order.index) for chain in nx.weakly_connected_components(day.graph)]
    first = list(day.tasks)
    for chain in sorted(chains, key=lambda chain: (min(day.due[key] for key in chain), min(map(first.index, chain)))):
        placed = _chain(day, placed, chain, left_out)
    return placed, left_out


class NoRoom(Exception):
    """Nothing free up to the horizon."""

    def __init__(self, why: str, resource: str | None) -> None:
        super().__init__(why)
        self.why, self.resource = why, resource


def _chain(day: Day, before: Placements, chain: list[str], left_out: list[TaskLeftOut]) -> Placements:
    """A chain at its earliest; where a longest wait breaks, what comes before it begins later."""
    floors: dict[str, int] = {}
    out = {row.key for row in left_out}
    for _ in range(MOST_TRIES):
        placed = before.copy()
        try:
            failed = _in_order(day, placed, chain, floors, out)
        except TooLate as late:
            floors[late.before] = late.floor
            continue
        if failed is None:
            return placed
        left_out.append(failed)
        out.add(failed.key)
        before.remove(day, failed.key)
    left_out += [
        TaskLeftOut(key=key, why="no times suit it and what it waits for together", resource=None)
        for key in chain
        if key not in out and key not in before.starts
    ]
    return before


def _in_order(
    day: Day, placed: Placements, chain: list[str], floors: dict[str, int], out: set[str]
) -> TaskLeftOut | None:
    """Place the tasks of a chain; the first that finds no room, where one does not."""
    for key in chain:
        if key in out:
            continue
        waits = day.waits_of[key]
        missing = next((wait.before for wait in waits if wait.before in out), None)
        if missing is not None:
            return TaskLeftOut(
                key=key, why=f"it waits for {day.tasks[missing].name or missing}, which is left out", resource=None
            )
        ends = {wait.before: placed.starts[wait.before] + day.tasks[wait.before].minutes for wait in waits}
        earliest = max([floors.get(key, 0), *(ends[wait.before] + wait.least_min for wait in waits)])
        if key in placed.starts:
            start = placed.starts[key]
            if start < earliest:
                return TaskLeftOut(
                    key=key, why="what comes before it ends after the time it is pinned to", resource=None
                )
        else:
            try:
                start = _place(day, placed, day.tasks[key], earliest)
            except NoRoom as none:
                return TaskLeftOut(key=key, why=none.why, resource=none.resource)
        for wait in waits:
            if wait.most_min is not None and start > ends[wait.before] + wait.most_min:
                floor = start - wait.most_min - day.tasks[wait.before].minutes
                if wait.before in _pins(day) or floor <= floors.get(wait.before, -1):
                    return TaskLeftOut(key=key, why=_too_long(wait.most_min), resource=day.tasks[key].resource)
                raise TooLate(wait.before, floor)
    return None


def _pins(day: Day) -> set[str]:
    return {key for key, task in day.tasks.items() if task.pinned_min is not None}


def _too_long(most_min: int) -> str:
    return f"it must begin within {most_min} min of what comes before it, and nothing is free then"


def _place(day: Day, placed: Placements, task: PlanTask, earliest: int) -> int:
    """Put a task at its earliest free minute, with the change of the vat it needs."""
    spans = both(day.starts(task), [(earliest, day.inputs.horizon_min)])
    if not spans:
        raise NoRoom(*_why_never(day, task))
    slots = _slots(day, placed, task)
    best: tuple[int, int | None] | None = None
    for low, high, change_after in slots:
        placement = _earliest(day, placed, task, both(spans, [(low, high)]), change_after)
        if placement is not None and (best is None or placement[0] < best[0]):
            best = placement
    if best is None:
        reason = task.windows_why or "nothing is free for it up to the end of the plan"
        raise NoRoom(reason, task.resource or "person")
    placed.add(day, task, *best)
    return best[0]


def _why_never(day: Day, task: PlanTask) -> tuple[str, str | None]:
    """What keeps a task from ever beginning."""
    longest = max(end - start for start, end in day.shifts)
    if task.person_min > longest:
        return (
            f"it takes {task.person_min} min of a person, and the longest stretch of work has {longest} min",
            "person",
        )
    about = max(end - start for start, end in day.presence)
    if task.attended and task.minutes > about:
        return f"somebody must be there for {task.minutes} min, and nobody is for longer than {about} min", "person"
    if task.windows_why:
        return task.windows_why, task.resource
    if task.pinned_min is not None:
        return "it cannot run at the time it is pinned to", task.resource or "person"
    return "no time up to the end of the plan suits it", task.resource or "person"


def _slots(day: Day, placed: Placements, task: PlanTask) -> list[tuple[int, int, int | None]]:
    """Between which minutes a task may begin on its resource; for a print that changes the vat, after which minute it may be changed."""
    horizon = day.inputs.horizon_min
    if task.resource is None or day.resources[task.resource].places > 1:
        return [(0, horizon, None)]
    resource = day.resources[task.resource]
    resin, free_from = resource.resin, 0
    slots: list[tuple[int, int, int | None]] = []
    for use in placed.uses.get(task.resource, []):
        if task.resin in (None, resin) and use.begins - task.minutes >= free_from:
            slots.append((free_from, use.begins - task.minutes, None))
        resin, free_from = use.resin or resin, use.end
    changes = task.resin not in (None, resin)
    slots.append((free_from, horizon, free_from if changes else None))
    return slots


def _earliest(
    day: Day, placed: Placements, task: PlanTask, spans: Spans, change_after: int | None
) -> tuple[int, int | None] | None:
    """The earliest free minute in stretches, and when the vat is changed for it."""
    if change_after is None:
        start = _free(day, placed, task, spans, placed.person)
        return None if start is None else (start, None)
    length = day.resources[task.resource or ""].change_min
    change = change_after
    busy = placed.person
    if length:
        room = [(max(a, change_after), b - length) for a, b in day.shifts if b - length >= max(a, change_after)]
        free = _gap(room, length, placed.person)
        if free is None:
            return None
        change, busy = free, sorted([*placed.person, (free, free + length)])
    start = _free(day, placed, task, both(spans, [(change + length, day.inputs.horizon_min)]), busy)
    return None if start is None else (start, change)


def _free(day: Day, placed: Placements, task: PlanTask, spans: Spans, busy: Spans) -> int | None:
    """The earliest minute at which the technician and places of its resource are free."""
    resource = day.resources[task.resource] if task.resource else None
    uses = placed.uses.get(task.resource or "", []) if resource and resource.places > 1 else []
    ends = sorted({end for _, end in busy} | {use.end for use in uses})
    for low, high in spans:
        for start in [low, *(end for end in ends if low < end <= high)]:
            if task.person_min and any(a < start + task.person_min and b > start for a, b in busy):
                continue
            if resource and _most_used(uses, start, start + task.minutes) + task.places > resource.places:
                continue
            return start
    return None


def _gap(spans: Spans, length: int, busy: Spans) -> int | None:
    """The earliest minute from which the technician is free for so long."""
    for low, high in spans:
        for start in [low, *sorted(end for _, end in busy if low < end <= high)]:
            if not any(a < start + length and b > start for a, b in busy):
                return start
    return None


def _most_used(uses: list[Use], start: int, end: int) -> int:
    """Places taken at once, at most, in a stretch."""
    crossing = [use for use in uses if use.start < end and use.end > start]
    moments = [start, *(use.start for use in crossing if use.start > start)]
    return max((sum(use.places for use in crossing if use.start <= at < use.end) for at in moments), default=0)
