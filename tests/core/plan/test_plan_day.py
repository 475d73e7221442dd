"""A planned day holds by a checker that knows nothing of the planner, is never worse than the order by due date, and says what does not fit."""

import os

import pytest

from setback.core.calculators import CALCULATORS
from setback.core.contract import Problem
from setback.core.plan.contract import PlanDayInput
from setback.core.plan.plan_day import plan_day
from tests.core.plan.checker import faults
from tests.core.plan.days import random_day

LONG = os.environ.get("SETBACK_LENGTH") == "full"
HOUR = 60
EIGHT_HOURS = [{"from_min": 0, "to_min": 8 * HOUR}]
TWO_DAYS = [*EIGHT_HOURS, {"from_min": 24 * HOUR, "to_min": 32 * HOUR}]
ONE = {"shifts": EIGHT_HOURS, "horizon_min": 48 * HOUR, "deterministic": 0.1}


def planned(tasks, waits=(), resources=(), **changes):
    inputs = PlanDayInput.model_validate(
        {**ONE, "tasks": list(tasks), "waits": list(waits), "resources": list(resources), **changes}
    )
    result = plan_day(inputs)
    assert faults(inputs, result.best) == [] and faults(inputs, result.by_due_date) == []
    return result


def starts(result):
    return {row.key: row.start_min for row in result.best.tasks}


def rank(schedule):
    return (schedule.lateness_min, schedule.finish_min, schedule.interruptions, schedule.changes)


def holds(seed, **changes):
    inputs = random_day(seed, **changes)
    result = plan_day(inputs)
    assert faults(inputs, result.best) == [] and faults(inputs, result.by_due_date) == []
    assert rank(result.best) <= rank(result.by_due_date)
    assert result.best.finish_min <= result.by_due_date.finish_min
    assert result.bound_finish_min <= result.best.finish_min
    assert {row.key for row in result.best.tasks} | {row.key for row in result.left_out} == {
        task.key for task in inputs.tasks
    }
    return result


@pytest.mark.parametrize("seed", range(10))
def test_random_days_hold_and_are_never_worse_than_by_due_date(seed):
    holds(seed, jobs=7, deterministic=0.1)


@pytest.mark.long
def test_twenty_five_jobs_end_earlier_than_by_due_date():
    result = holds(1, deterministic=0.4)
    assert len(result.best.tasks) > 100
    assert result.best.finish_min <= 0.85 * result.by_due_date.finish_min


@pytest.mark.long
@pytest.mark.honesty
def test_two_hundred_days_of_twenty_five_jobs():
    effort = {"seconds": 10, "workers": 2} if LONG else {"deterministic": 0.2}
    earlier = [
        1 - result.best.finish_min / result.by_due_date.finish_min
        for result in (holds(seed, **effort) for seed in range(200 if LONG else 1))
    ]
    assert sum(share >= 0.15 for share in earlier) >= len(earlier) / 2


def test_the_same_input_gives_the_same_plan():
    inputs = random_day(3, jobs=5, deterministic=0.1)
    assert plan_day(inputs) == plan_day(inputs)


def test_what_is_needed_first_comes_first_and_lateness_outweighs_the_finish():
    tasks = [
        {"key": "long", "minutes": 300, "person_min": 300},
        {"key": "urgent", "minutes": 60, "person_min": 60, "due_min": 60},
    ]
    result = planned(tasks)
    assert starts(result) == {"urgent": 0, "long": 60} and result.best.lateness_min == 0
    assert result.status == "best possible" and result.gap_min == 0


def test_a_wait_of_at_most_so_long_moves_what_comes_before_it():
    # Read within the hour: what is cured near the evening is not cured before the next morning.
    tasks = [
        {"key": "cure", "minutes": 30, "person_min": 5, "resource": "lamp"},
        {"key": "busy", "minutes": 450, "person_min": 450, "pinned_min": 10},
        {"key": "read", "minutes": 30, "person_min": 30},
    ]
    waits = [{"before": "cure", "after": "read", "least_min": 10, "most_min": 60}]
    result = planned(tasks, waits, [{"key": "lamp"}], shifts=TWO_DAYS)
    assert starts(result)["cure"] >= 23 * HOUR and starts(result)["read"] >= 24 * HOUR


def test_prints_run_over_night_unless_somebody_must_be_there():
    night = {"key": "print", "minutes": 10 * HOUR, "person_min": 5, "resource": "Gannet"}
    assert starts(planned([night], (), [{"key": "Gannet"}])) == {"print": 0}
    result = planned([night | {"attended": True}], (), [{"key": "Gannet"}])
    assert result.best.tasks == [] and "somebody must be there for 600 min" in result.left_out[0].why
    assert result.left_out[0].resource == "person"


def test_a_vat_is_changed_once_and_by_somebody():
    prints = [
        {"key": f"{resin} {at}", "minutes": 60, "person_min": 5, "resource": "Gannet", "resin": resin}
        for at in range(2)
        for resin in ("Rinsewell", "Slate 2")
    ]
    printer = {"key": "Gannet", "resin": "Slate 2", "change_min": 30}
    result = planned(prints, (), [printer])
    assert result.best.changes == 1 and result.best.finish_min == 4 * HOUR + 30
    assert sorted(starts(result), key=starts(result).get)[:2] == ["Slate 2 0", "Slate 2 1"]


def test_places_of_a_lamp_are_shared():
    cures = [{"key": f"cure {at}", "minutes": 30, "person_min": 1, "resource": "lamp", "places": 2} for at in range(3)]
    result = planned(cures, (), [{"key": "lamp", "places": 4}])
    assert sorted(starts(result).values()) == [0, 1, 30]


def test_work_close_together_is_one_interruption():
    tasks = [{"key": f"read {at}", "minutes": 20, "person_min": 20} for at in range(4)]
    tasks.append({"key": "print", "minutes": 300, "person_min": 5, "resource": "Gannet"})
    assert planned(tasks, (), [{"key": "Gannet"}]).best.interruptions == 1


def test_a_task_longer_than_the_shift_and_what_waits_for_it_are_left_out():
    tasks = [
        {"key": "all night", "name": "breaking 200 bars", "minutes": 9 * HOUR, "person_min": 9 * HOUR},
        {"key": "after", "minutes": 10, "person_min": 10},
        {"key": "else", "minutes": 10, "person_min": 10},
    ]
    result = planned(tasks, [{"before": "all night", "after": "after"}])
    assert starts(result) == {"else": 0}
    assert [row.key for row in result.left_out] == ["all night", "after"]
    assert "the longest stretch of work has 480 min" in result.left_out[0].why
    assert "breaking 200 bars" in result.left_out[1].why


def test_a_printer_that_is_shut_is_used_after_it():
    task = {"key": "print", "minutes": 60, "person_min": 5, "resource": "Gannet"}
    shut = {"key": "Gannet", "open": [{"from_min": 200, "to_min": 48 * HOUR}]}
    assert starts(planned([task], (), [shut])) == {"print": 200}


def test_a_pin_that_cannot_be_kept_is_said():
    tasks = [
        {"key": "print", "minutes": 120, "person_min": 5, "resource": "Gannet"},
        {"key": "wash", "minutes": 10, "person_min": 10, "pinned_min": 30},
    ]
    result = planned(tasks, [{"before": "print", "after": "wash"}], [{"key": "Gannet"}])
    assert [row.key for row in result.left_out] == ["wash"] and "pinned" in result.left_out[0].why


@pytest.mark.parametrize(
    ("changes", "field"),
    [
        ({"tasks": [{"key": "a", "minutes": 5}, {"key": "a", "minutes": 5}]}, "tasks.1.key"),
        ({"tasks": [{"key": "a", "minutes": 5, "resource": "nowhere"}]}, "tasks.0.resource"),
        ({"waits": [{"before": "a", "after": "zz"}]}, "waits.0.after"),
        ({"waits": [{"before": "a", "after": "b"}, {"before": "b", "after": "a"}]}, "waits"),
        ({"waits": [{"before": "a", "after": "b", "least_min": 9, "most_min": 3}]}, "waits.0.most_min"),
        ({"tasks": [{"key": "a", "minutes": 5, "person_min": 9}]}, "tasks.0"),
        ({"shifts": []}, "shifts"),
        (
            {"tasks": [{"key": "a", "minutes": 5, "resource": "r", "places": 3}], "resources": [{"key": "r"}]},
            "tasks.0.places",
        ),
    ],
)
def test_what_does_not_fit_together_is_refused_at_its_place(changes, field):
    two = [{"key": "a", "minutes": 5}, {"key": "b", "minutes": 5}]
    with pytest.raises(Problem) as refused:
        CALCULATORS["plan-day"]({**ONE, "tasks": two, **changes})
    assert field in refused.value.fields


def test_nothing_to_do_is_a_plan_too():
    result = planned([])
    assert result.best.tasks == [] and result.best.finish_min == 0 and result.status == "best possible"
