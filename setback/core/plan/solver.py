"""The best plan there is time to look for: constraint programming with OR-Tools CP-SAT."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

from .contract import PlanTask
from .problem import SAME_STRETCH_MIN, Day, schedule_of

if TYPE_CHECKING:
    from ortools.sat.python import cp_model

SHARE_OF_FIRST = 0.65
"""Of the time: for lateness and finish; the rest is for fewer interruptions and changes of resin."""
LATE, ON_TIME = "lateness_min", "finish_min"

Progress = Callable[[float, str], None]


@dataclass
class Solved:
    """Starts that were found, and how much better any plan could be."""

    starts: dict[str, int]
    changes: dict[str, int]
    bound_lateness_min: int
    bound_finish_min: int
    proven: bool


@dataclass
class _Model:
    """The model with the variables that are asked for later."""

    model: cp_model.CpModel
    starts: dict[str, cp_model.IntVar]
    changes: dict[str, tuple[cp_model.IntVar, cp_model.IntVar]]
    """Of prints that may need their vat changed: whether, and when."""
    lateness: cp_model.IntVar
    finish: cp_model.IntVar


def solve(day: Day, starts: dict[str, int], changes: dict[str, int], progress: Progress | None = None) -> Solved:
    """Improve on a plan that holds.

    Lateness comes first, then the finish; with both fixed, interruptions of the technician, then changes of resin, then early beginnings.
    The finish never lies after that of the plan it began from.

    Parameters
    ----------
    day : Day
        The input.
    starts, changes : dict
        A plan that holds, in minutes: only its tasks are planned.
    progress : callable, optional
        Told the share of time used and what was found, about once for every better plan.

    Notes
    -----
    P. Laborie, J. Rogerie, P. Shaw, P. Vilím, Constraints 23 (2018), 210-250, for interval scheduling; the solver is CP-SAT of OR-Tools.
    """
    begun_at = time.monotonic()
    tasks = [day.tasks[key] for key in day.order if key in starts]
    if not tasks:
        return Solved({}, {}, 0, 0, True)
    begun = schedule_of(day, starts, changes)
    first = _model(day, tasks, begun.finish_min)
    _hint(first, starts, changes)
    horizon = day.inputs.horizon_min
    first.model.minimize(first.lateness * (horizon + 1) + first.finish)
    until = begun_at + SHARE_OF_FIRST * day.inputs.seconds
    solution = _run(day, first, SHARE_OF_FIRST, until, progress)
    if solution is None:
        return Solved(starts, changes, 0, 0, False)
    best_starts, best_changes, bound, proven = solution
    best = schedule_of(day, best_starts, best_changes)
    bound_lateness, bound_finish = divmod(max(int(bound), 0), horizon + 1)
    if bound_lateness < best.lateness_min:
        bound_finish = 0  # A plan that is less late may end at any time.
    second = _model(day, tasks, best.finish_min)
    _hint(second, best_starts, best_changes)
    second.model.add(second.lateness <= best.lateness_min)
    _fewest_interruptions(day, second, tasks)
    until = min(begun_at + day.inputs.seconds, time.monotonic() + (1 - SHARE_OF_FIRST) * day.inputs.seconds)
    calmer = _run(day, second, 1 - SHARE_OF_FIRST, until, None)
    if calmer is not None:
        calm = schedule_of(day, calmer[0], calmer[1])
        if (calm.interruptions, calm.changes) <= (best.interruptions, best.changes):
            best_starts, best_changes = calmer[0], calmer[1]
    return Solved(best_starts, best_changes, bound_lateness, bound_finish, proven)


def _model(day: Day, tasks: list[PlanTask], latest_finish: int) -> _Model:
    """Times, resources, vats and the technician; nothing yet to aim for."""
    from ortools.sat.python import cp_model

    model = cp_model.CpModel()
    starts: dict[str, cp_model.IntVar] = {}
    by_resource: dict[str, list[tuple[PlanTask, cp_model.IntervalVar]]] = {}
    person = []
    for task in tasks:
        domain = cp_model.Domain.from_intervals([list(span) for span in day.starts(task)])
        start = model.new_int_var_from_domain(domain, task.key)
        starts[task.key] = start
        if task.resource is not None:
            interval = model.new_fixed_size_interval_var(start, task.minutes, f"{task.key} runs")
            by_resource.setdefault(task.resource, []).append((task, interval))
        if task.person_min:
            person.append(model.new_fixed_size_interval_var(start, task.person_min, f"{task.key} by hand"))
    for wait in day.inputs.waits:
        if wait.before in starts and wait.after in starts:
            end = starts[wait.before] + day.tasks[wait.before].minutes
            model.add(starts[wait.after] >= end + wait.least_min)
            if wait.most_min is not None:
                model.add(starts[wait.after] <= end + wait.most_min)
    changes: dict[str, tuple[cp_model.IntVar, cp_model.IntVar]] = {}
    for key, rows in by_resource.items():
        resource = day.resources[key]
        if resource.places > 1:
            model.add_cumulative([row[1] for row in rows], [row[0].places for row in rows], resource.places)
            continue
        model.add_no_overlap([row[1] for row in rows])
        resins = {task.resin for task, _ in rows if task.resin is not None}
        if resins - {resource.resin}:
            changed = _vat(day, model, key, [task for task, _ in rows], starts)
            changes |= changed
            if resource.change_min:
                person += [
                    model.new_optional_fixed_size_interval_var(at, resource.change_min, needed, f"{task} vat")
                    for task, (needed, at) in changed.items()
                ]
    model.add_no_overlap(person)
    finish = model.new_int_var(0, latest_finish, "finish")
    late = []
    for task in tasks:
        model.add(finish >= starts[task.key] + task.minutes)
        if task.due_min is not None:
            by = model.new_int_var(0, day.inputs.horizon_min, f"{task.key} late")
            model.add(by >= starts[task.key] + task.minutes - task.due_min)
            late.append(by)
    lateness = model.new_int_var(0, day.inputs.horizon_min * len(tasks), "lateness")
    model.add(lateness == sum(late))
    return _Model(model, starts, changes, lateness, finish)


def _vat(
    day: Day, model: cp_model.CpModel, printer: str, tasks: list[PlanTask], starts: dict[str, cp_model.IntVar]
) -> dict[str, tuple[cp_model.IntVar, cp_model.IntVar]]:
    """The order of what runs on a printer, and the changes of its vat: after what ran before, and ended before the print begins.

    What runs there without a resin of its own, such as a warm start, stands outside the order: the vat stays as it is.
    """
    resource = day.resources[printer]
    length = resource.change_min
    prints = [task for task in tasks if task.resin is not None]
    others = [task for task in tasks if task.resin is None]
    arcs = [(0, 0, model.new_bool_var(f"{printer} idle"))] if not prints else []
    changes = {}
    domain = _change_times(day, length)
    for at, task in enumerate(prints, 1):
        needed = model.new_bool_var(f"{task.key} changes its vat")
        when = model.new_int_var_from_domain(domain, f"{task.key} vat at")
        model.add(when + length <= starts[task.key]).only_enforce_if(needed)
        for other in others:
            # A change is no part of a task on the printer that has no resin.
            _apart(model, needed, when, length, starts[other.key], other.minutes, f"{task.key} {other.key}")
        into = []
        first = model.new_bool_var(f"{task.key} first")
        arcs += [(0, at, first), (at, 0, model.new_bool_var(f"{task.key} last"))]
        if resource.resin != task.resin:
            into.append(first)
        for before, earlier in enumerate(prints, 1):
            if before == at:
                continue
            follows = model.new_bool_var(f"{earlier.key} then {task.key}")
            arcs.append((before, at, follows))
            end = starts[earlier.key] + earlier.minutes
            model.add(starts[task.key] >= end).only_enforce_if(follows)
            if earlier.resin != task.resin:
                into.append(follows)
                model.add(when >= end).only_enforce_if(follows)
        model.add(sum(into) == needed)
        changes[task.key] = (needed, when)
    model.add_circuit(arcs)
    return changes


def _change_times(day: Day, length: int) -> cp_model.Domain:
    from ortools.sat.python import cp_model

    if not length:
        return cp_model.Domain(0, day.inputs.horizon_min)
    spans = [[start, end - length] for start, end in day.shifts if end - length >= start]
    return cp_model.Domain.from_intervals(spans or [[0, 0]])


def _apart(
    model: cp_model.CpModel,
    needed: cp_model.IntVar,
    when: cp_model.IntVar,
    length: int,
    start: cp_model.IntVar,
    minutes: int,
    name: str,
) -> None:
    """A change before a task or after it."""
    before = model.new_bool_var(f"{name} before")
    model.add(when + length <= start).only_enforce_if(needed, before)
    model.add(when >= start + minutes).only_enforce_if(needed, before.negated())


def _fewest_interruptions(day: Day, built: _Model, tasks: list[PlanTask]) -> None:
    """Aim for as many stretches of work as possible that follow each other directly, then few changes, then early beginnings."""
    model, by_hand = built.model, [task for task in tasks if task.person_min]
    follows: dict[str, list[cp_model.IntVar]] = {task.key: [] for task in by_hand}
    leads: dict[str, list[cp_model.IntVar]] = {task.key: [] for task in by_hand}
    for task in by_hand:
        for earlier in by_hand:
            if earlier.key == task.key:
                continue
            direct = model.new_bool_var(f"{task.key} directly after {earlier.key}")
            end = built.starts[earlier.key] + earlier.person_min
            model.add(built.starts[task.key] >= end).only_enforce_if(direct)
            model.add(built.starts[task.key] <= end + SAME_STRETCH_MIN).only_enforce_if(direct)
            follows[task.key].append(direct)
            leads[earlier.key].append(direct)
    for rows in (*follows.values(), *leads.values()):
        model.add_at_most_one(rows)
    joins = sum(sum(rows) for rows in follows.values())
    changed = sum(needed for needed, _ in built.changes.values())
    small = sum(built.starts.values())
    most_small = (day.inputs.horizon_min + 1) * len(tasks)
    model.minimize(-joins * most_small * (len(tasks) + 1) + changed * most_small + small)


def _hint(built: _Model, starts: dict[str, int], changes: dict[str, int]) -> None:
    for key, variable in built.starts.items():
        built.model.add_hint(variable, starts[key])
    for key, (needed, when) in built.changes.items():
        built.model.add_hint(needed, key in changes)
        if key in changes:
            built.model.add_hint(when, changes[key])


def _so_far(finish_min: int, late_min: int, bound_min: int) -> str:
    """The best plan so far in words, and how much better one could at most be."""
    late = f", {_hours(late_min)} late" if late_min else ""
    gap = "" if late_min or bound_min >= finish_min else f"; at most {_hours(finish_min - bound_min)} could be saved"
    return f"Best so far ends in {_hours(finish_min)}{late}{gap}"


def _hours(minutes: int) -> str:
    return f"{minutes // 60} h {minutes % 60:02d}" if minutes >= 60 else f"{minutes} min"


def _run(
    day: Day, built: _Model, share: float, until: float, progress: Progress | None
) -> tuple[dict[str, int], dict[str, int], float, bool] | None:
    """The best that is found until a moment, or in a share of the effort; what no plan can come below, and whether that is proven."""
    from ortools.sat.python import cp_model

    inputs = day.inputs
    solver = cp_model.CpSolver()
    solver.parameters.random_seed = inputs.seed
    solver.parameters.num_workers = inputs.workers
    if inputs.deterministic is not None:
        solver.parameters.num_workers = 1
        solver.parameters.max_deterministic_time = share * inputs.deterministic
    else:
        solver.parameters.max_time_in_seconds = max(until - time.monotonic(), 0.1)

    class Told(cp_model.CpSolverSolutionCallback):
        def __init__(self) -> None:
            super().__init__()
            self.begun = time.monotonic()

        def on_solution_callback(self) -> None:
            if progress is not None:
                late, finish = divmod(int(self.objective_value), inputs.horizon_min + 1)
                spent = min((time.monotonic() - self.begun) / inputs.seconds, 0.99)
                progress(spent, _so_far(finish, late, int(self.best_objective_bound) % (inputs.horizon_min + 1)))

    status = solver.solve(built.model, Told())
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return None
    starts = {key: int(solver.value(variable)) for key, variable in built.starts.items()}
    changes = {
        key: int(solver.value(when)) for key, (needed, when) in built.changes.items() if solver.boolean_value(needed)
    }
    return starts, changes, float(solver.best_objective_bound), status == cp_model.OPTIMAL
