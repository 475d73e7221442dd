"""The calculator ``plan-day``."""

from __future__ import annotations

from ..contract import Notice
from .by_due_date import by_due_date
from .contract import PlanDayInput, PlanDayResult, Schedule
from .problem import Day, both, day_of, schedule_of
from .solver import Progress, solve


def plan_day(inputs: PlanDayInput, progress: Progress | None = None) -> PlanDayResult:
    """When each task of a day or week begins, on which resource, and how far from the best that is.

    Needed-by times come first, then the shortest finish, then the fewest interruptions of the technician, then the fewest changes of
    resin. The plan begins from the order by due date and is never worse than it, and never ends later.

    Parameters
    ----------
    inputs : PlanDayInput
        Tasks, resources, waits and working hours, in whole minutes from the moment the plan begins.
    progress : callable, optional
        Told the share of the time used and the best so far.

    Raises
    ------
    Problem
        When keys do not fit together, tasks wait for each other, or a task needs more places than there are.

    Notes
    -----
    A serial schedule by due date (R. Kolisch, European Journal of Operational Research 90 (1996), 320-333), improved by constraint
    programming.
    """
    day = day_of(inputs)
    placed, left_out = by_due_date(day)
    greedy = schedule_of(day, placed.starts, placed.changes)
    solved = solve(day, placed.starts, placed.changes, progress)
    improved = schedule_of(day, solved.starts, solved.changes)
    is_better = _rank(improved) < _rank(greedy)
    best = improved if is_better else greedy
    bound_finish = max(solved.bound_finish_min, _longest_chain(day, placed.starts))
    gap = 0 if solved.proven else max(0, best.finish_min - bound_finish)
    if solved.proven:
        bound_finish = best.finish_min
    return PlanDayResult(
        best=best,
        by_due_date=greedy,
        left_out=left_out,
        status="best possible" if solved.proven else "best of the time" if is_better else "by due date",
        bound_finish_min=bound_finish,
        bound_lateness_min=best.lateness_min if solved.proven else min(solved.bound_lateness_min, best.lateness_min),
        gap_min=gap,
        warnings=_warnings(best),
    )


def _rank(schedule: Schedule) -> tuple[int, int, int, int]:
    return (schedule.lateness_min, schedule.finish_min, schedule.interruptions, schedule.changes)


def _longest_chain(day: Day, starts: dict[str, int]) -> int:
    """No plan ends before this: every task at its earliest, as if it had everything for itself."""
    ends: dict[str, int] = {}
    for key in day.order:
        if key not in starts:
            continue
        task = day.tasks[key]
        earliest = max(
            (ends[wait.before] + wait.least_min for wait in day.waits_of[key] if wait.before in ends), default=0
        )
        suits = both(day.starts(task), [(earliest, day.inputs.horizon_min)])
        ends[key] = (suits[0][0] if suits else starts[key]) + task.minutes
    return max(ends.values(), default=0)


def _warnings(best: Schedule) -> list[Notice]:
    late = [task for task in best.tasks if task.late_min]
    if not late:
        return []
    message = f"{len(late)} of {len(best.tasks)} tasks end after they are needed, the latest by {max(task.late_min for task in late)} min."
    return [Notice(code="late", message=message)]
