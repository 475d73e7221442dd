"""A plan's input, looked up by key, and what cannot be planned said at its place."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import networkx as nx

from ..contract import Problem
from .contract import PlanDayInput, PlannedTask, PlanTask, Resource, Schedule, Wait

BREAK_MIN = 120
"""Between two stretches of work no further apart the technician is about, on a break."""
SAME_STRETCH_MIN = 5
"""Work that follows within so many minutes is no new interruption."""

Spans = list[tuple[int, int]]


@dataclass(frozen=True)
class Day:
    """The input of a plan with everything about a task at hand."""

    inputs: PlanDayInput

    @cached_property
    def tasks(self) -> dict[str, PlanTask]:
        return {task.key: task for task in self.inputs.tasks}

    @cached_property
    def resources(self) -> dict[str, Resource]:
        return {resource.key: resource for resource in self.inputs.resources}

    @cached_property
    def order(self) -> list[str]:
        """Keys with every task behind those it waits for."""
        return list(nx.lexicographical_topological_sort(self.graph, key=list(self.tasks).index))

    @cached_property
    def graph(self) -> nx.DiGraph[str]:
        graph: nx.DiGraph[str] = nx.DiGraph()
        graph.add_nodes_from(self.tasks)
        graph.add_edges_from((wait.before, wait.after) for wait in self.inputs.waits)
        return graph

    @cached_property
    def waits_of(self) -> dict[str, list[Wait]]:
        """Waits that end at each task."""
        waits: dict[str, list[Wait]] = {key: [] for key in self.tasks}
        for wait in self.inputs.waits:
            waits[wait.after].append(wait)
        return waits

    @cached_property
    def shifts(self) -> Spans:
        return joined([(span.from_min, span.to_min) for span in self.inputs.shifts], 0)

    @cached_property
    def presence(self) -> Spans:
        """When the technician is about, breaks too."""
        return joined(self.shifts, BREAK_MIN)

    @cached_property
    def due(self) -> dict[str, int]:
        """When each task is needed at the latest for itself and for all that waits for it; without a date, the horizon."""
        due = {key: self.tasks[key].due_min for key in self.tasks}
        latest = {key: self.inputs.horizon_min if at is None else at for key, at in due.items()}
        for key in reversed(self.order):
            for following in self.graph.successors(key):
                latest[key] = min(latest[key], latest[following])
        return latest

    def starts(self, task: PlanTask) -> Spans:
        """Minutes at which a task may begin, both ends in them, by its own windows, its resource's and the technician's."""
        last = self.inputs.horizon_min - task.minutes
        spans = [(0, last)] if last >= 0 else []
        if task.pinned_min is not None:
            spans = both(spans, [(task.pinned_min, task.pinned_min)])
        if task.person_min:
            spans = both(spans, [(a, b - task.person_min) for a, b in self.shifts])
        if task.attended:
            spans = both(spans, [(a, b - task.minutes) for a, b in self.presence])
        resource = self.resources.get(task.resource) if task.resource else None
        for windows in (task.windows, resource.open if resource else None):
            if windows is not None:
                spans = both(spans, [(span.from_min, span.to_min - task.minutes) for span in windows])
        return spans


def joined(spans: Spans, gap: int) -> Spans:
    """Stretches in order, those no further apart than the gap made one."""
    together: Spans = []
    for start, end in sorted(spans):
        if together and start - together[-1][1] <= gap:
            together[-1] = (together[-1][0], max(end, together[-1][1]))
        else:
            together.append((start, end))
    return together


def both(spans: Spans, others: Spans) -> Spans:
    """What lies in both of two lists of stretches, ends in them; a stretch that ends before it begins is none."""
    common = [(max(a, c), min(b, d)) for a, b in spans for c, d in others]
    return sorted((a, b) for a, b in common if b >= a)


def day_of(inputs: PlanDayInput) -> Day:
    """The input, refused where its keys do not fit together.

    Raises
    ------
    Problem
        When a key is doubled or unknown, tasks wait for each other in a circle, or a task takes more places than there are.
    """
    day = Day(inputs)
    _keys(inputs, day)
    if not nx.is_directed_acyclic_graph(day.graph):
        circle = ", ".join(edge[0] for edge in nx.find_cycle(day.graph))
        raise Problem(f"These tasks wait for each other: {circle}.", {"waits": f"These wait for each other: {circle}."})
    for at, task in enumerate(inputs.tasks):
        if task.resource and task.places > day.resources[task.resource].places:
            message = f"{task.resource} has {day.resources[task.resource].places} places."
            raise Problem(message, {f"tasks.{at}.places": message})
    return day


def _keys(inputs: PlanDayInput, day: Day) -> None:
    for name, rows in (("tasks", inputs.tasks), ("resources", inputs.resources)):
        keys = [row.key for row in rows]
        for at, key in enumerate(keys):
            if key in keys[:at]:
                raise Problem(f"“{key}” stands twice.", {f"{name}.{at}.key": f"“{key}” stands twice."})
    for at, task in enumerate(inputs.tasks):
        if task.resource is not None and task.resource not in day.resources:
            raise Problem(
                f"No resource is called “{task.resource}”.", {f"tasks.{at}.resource": "No resource is called so."}
            )
    for at, wait in enumerate(inputs.waits):
        for end in ("before", "after"):
            if getattr(wait, end) not in day.tasks:
                message = f"No task is called “{getattr(wait, end)}”."
                raise Problem(message, {f"waits.{at}.{end}": message})
        if wait.most_min is not None and wait.most_min < wait.least_min:
            message = "The longest wait is shorter than the shortest."
            raise Problem(message, {f"waits.{at}.most_min": message})


def schedule_of(day: Day, starts: dict[str, int], changes: dict[str, int]) -> Schedule:
    """Starts, with what they come to.

    Parameters
    ----------
    starts : dict
        Minute at which each task begins.
    changes : dict
        Minute at which a vat is changed for a print.
    """
    tasks = []
    for key in sorted(starts, key=lambda key: (starts[key], day.order.index(key))):
        task = day.tasks[key]
        end = starts[key] + task.minutes
        late = max(0, end - task.due_min) if task.due_min is not None else 0
        tasks.append(
            PlannedTask(key=key, start_min=starts[key], end_min=end, change_from_min=changes.get(key), late_min=late)
        )
    return Schedule(
        tasks=tasks,
        finish_min=max((task.end_min for task in tasks), default=0),
        lateness_min=sum(task.late_min for task in tasks),
        interruptions=len(joined(person_spans(day, starts, changes), SAME_STRETCH_MIN)),
        changes=len(changes),
    )


def person_spans(day: Day, starts: dict[str, int], changes: dict[str, int]) -> Spans:
    """When the technician is at work."""
    by_hand = [(at, at + day.tasks[key].person_min) for key, at in starts.items() if day.tasks[key].person_min]
    vats = [(at, at + day.resources[day.tasks[key].resource or ""].change_min) for key, at in changes.items()]
    return sorted(by_hand + [span for span in vats if span[1] > span[0]])
