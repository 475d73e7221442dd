"""Whether a schedule holds: minute by minute, by none of the planner's own rules or code."""

from collections import defaultdict

from setback.core.plan.contract import PlanDayInput, Schedule


def faults(inputs: PlanDayInput, schedule: Schedule) -> list[str]:
    """Everything that is wrong with a schedule, in words; empty when it holds."""
    found: list[str] = []
    tasks = {task.key: task for task in inputs.tasks}
    planned = {row.key: row for row in schedule.tasks}
    if len(planned) != len(schedule.tasks):
        found.append("a task is planned twice")
    works = {minute for span in inputs.shifts for minute in range(span.from_min, span.to_min)}
    at_work: dict[int, list[str]] = defaultdict(list)
    used: dict[tuple[str, int], int] = defaultdict(int)
    for key, row in planned.items():
        task = tasks[key]
        if row.end_min - row.start_min != task.minutes or row.start_min < 0 or row.end_min > inputs.horizon_min:
            found.append(f"{key} has other minutes, or lies outside the plan")
        if task.pinned_min is not None and row.start_min != task.pinned_min:
            found.append(f"{key} is not where it is pinned")
        if task.windows is not None and not any(
            w.from_min <= row.start_min and row.end_min <= w.to_min for w in task.windows
        ):
            found.append(f"{key} lies outside its windows")
        for minute in range(row.start_min, row.start_min + task.person_min):
            at_work[minute].append(key)
        if task.resource is not None:
            for minute in range(row.start_min, row.end_min):
                used[task.resource, minute] += task.places
        if task.attended:
            alone = [minute for minute in range(row.start_min, row.end_min) if not near(works, minute)]
            if alone:
                found.append(f"nobody is there for {key} at {alone[0]}")
    found += vats(inputs, schedule, at_work, used)
    found += [f"{names} want the technician at {minute}" for minute, names in at_work.items() if len(names) > 1]
    found += [f"{names} at {minute}, when nobody works" for minute, names in at_work.items() if minute not in works]
    for resource in inputs.resources:
        for minute in {at for key, at in used if key == resource.key}:
            if used[resource.key, minute] > resource.places:
                found.append(f"{resource.key} is over its places at {minute}")
            if resource.open is not None and not any(s.from_min <= minute < s.to_min for s in resource.open):
                found.append(f"{resource.key} is used at {minute}, when it is shut")
    for wait in inputs.waits:
        if wait.after in planned:
            if wait.before not in planned:
                found.append(f"{wait.after} is planned without {wait.before}")
                continue
            waited = planned[wait.after].start_min - planned[wait.before].end_min
            if waited < wait.least_min or (wait.most_min is not None and waited > wait.most_min):
                found.append(f"{wait.after} waits {waited} min after {wait.before}")
    return found


def near(works: set[int], minute: int) -> bool:
    """At work, or on a break of at most two hours between two stretches of work."""
    if minute in works:
        return True
    before = next((minute - back for back in range(1, 121) if minute - back in works), None)
    after = next((minute + on for on in range(1, 121) if minute + on in works), None)
    return before is not None and after is not None and after - before - 1 <= 120


def vats(
    inputs: PlanDayInput, schedule: Schedule, at_work: dict[int, list[str]], used: dict[tuple[str, int], int]
) -> list[str]:
    """Walk along each printer: its vat holds what each print needs, and is changed while nothing runs there."""
    found = []
    tasks = {task.key: task for task in inputs.tasks}
    for resource in inputs.resources:
        resin = resource.resin
        rows = [row for row in schedule.tasks if tasks[row.key].resource == resource.key and tasks[row.key].resin]
        for row in sorted(rows, key=lambda row: row.start_min):
            change = row.change_from_min
            if (tasks[row.key].resin != resin) != (change is not None):
                found.append(f"{row.key} needs {tasks[row.key].resin}, {resin} is in the vat, change at {change}")
            resin = tasks[row.key].resin
            if change is None:
                continue
            if change + resource.change_min > row.start_min:
                found.append(f"the vat of {row.key} is changed while it prints")
            for minute in range(change, change + resource.change_min):
                at_work[minute].append(f"vat for {row.key}")
                used[resource.key, minute] += 1
    return found
