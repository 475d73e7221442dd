"""Working hours by the clock on the wall, and the steps from a print to its reading."""

from datetime import UTC, datetime, timedelta

import pytest
from pydantic import ValidationError

from setback.core.plan.hours import Stretch, WorkingDay, WorkingHours, shifts
from setback.core.plan.steps import READ_WITHIN_MIN, Handling, PrintJob, Route, prints_of, steps_of, steps_of_plate

MONDAY = datetime(2026, 1, 19, 9, 0, tzinfo=UTC)
ROUTE = Route(wash_fluid="Solvent", lamp="lamp", wash_min=4, dry_min=20, air_min=10, cure_min=6)
DAY_MIN = 24 * 60


def print_job(**changes):
    fields = {
        "key": "J-001",
        "name": "107K, C-001",
        "job": "C-001",
        "printer": "p",
        "resin": "Slate 2",
        "minutes": 52.3,
        "route": ROUTE,
        "readings": 2,
        "reading_min": 5,
        "to_do": ["warm", "print", "wash", "dry", "cure", "read"],
    }
    return PrintJob.model_validate(fields | changes)


def steps(**changes):
    tasks, waits = steps_of(print_job(**changes), Handling())
    return {task.key.rsplit(" ", 1)[1]: task for task in tasks}, {
        (w.before.split()[-1], w.after.split()[-1]): w for w in waits
    }


def test_a_day_begins_where_the_plan_does_and_a_break_is_a_gap():
    spans = shifts(WorkingHours(), MONDAY, 2 * DAY_MIN)
    assert spans[:2] == [(0, 180), (210, 420)]
    assert spans[2] == (DAY_MIN - 90, DAY_MIN + 180)


def test_week_end_and_days_off_have_no_hours():
    hours = WorkingHours(days_off=["2026-01-20"])
    days = {(MONDAY + timedelta(minutes=start)).date().isoformat() for start, _ in shifts(hours, MONDAY, 7 * DAY_MIN)}
    assert days == {"2026-01-19", "2026-01-21", "2026-01-22", "2026-01-23", "2026-01-26"}


def test_summer_time_moves_the_hours_against_the_world_and_not_against_the_wall():
    # Clocks go forward in the night to Sunday 29 March 2026.
    hours = WorkingHours(time_zone="Europe/London")
    friday = datetime(2026, 3, 27, 7, 30, tzinfo=UTC)
    spans = shifts(hours, friday, 4 * DAY_MIN)
    assert spans[0] == (0, 270)
    monday = next(span for span in spans if span[0] > 2 * DAY_MIN)
    assert monday[0] == 3 * DAY_MIN - 60


@pytest.mark.parametrize(
    "changes",
    [
        {"time_zone": "Skerry/Point"},
        {"week": [None] * 6},
        {"days_off": ["the 24th"]},
        {"week": [{"hours": {"begins": "16:00", "ends": "7:30"}}] + [None] * 6},
        {"week": [{"hours": {"begins": "half past", "ends": "16:00"}}] + [None] * 6},
    ],
)
def test_hours_that_are_none_are_refused(changes):
    with pytest.raises(ValidationError):
        WorkingHours.model_validate(changes)


def test_an_hour_of_one_digit_is_read():
    day = WorkingDay(hours=Stretch(begins="7:30", ends="16:00"))
    assert day.hours.begins == "07:30"


def test_a_print_is_washed_dried_cured_and_read_in_this_order():
    tasks, waits = steps()
    assert list(tasks) == ["print", "wash", "dry", "cure", "read"]
    assert (tasks["print"].minutes, tasks["print"].resin, tasks["print"].resource) == (53, "Slate 2", "p")
    assert tasks["wash"].person_min == tasks["wash"].minutes == 8 and tasks["wash"].resource == "wash solvent"
    assert tasks["dry"].person_min == 0 and tasks["read"].minutes == 10
    assert waits["wash", "dry"].most_min == 10
    assert (waits["cure", "read"].least_min, waits["cure", "read"].most_min) == (10, 10 + READ_WITHIN_MIN)


def test_what_is_done_is_no_task_and_a_due_date_stands_at_the_last_step():
    tasks, waits = steps(to_do=["cure", "read"], due_min=600)
    assert list(tasks) == ["cure", "read"] and list(waits) == [("cure", "read")]
    assert tasks["read"].due_min == 600 and tasks["cure"].due_min is None


def test_a_cold_print_is_warmed_first_and_somebody_stays():
    tasks, waits = steps(warm_min=45, attended=True)
    assert tasks["warm"].attended and tasks["print"].attended and waits["warm", "print"].most_min == 0


def test_specimens_age_before_they_are_broken():
    _, waits = steps(rest_before_reading_min=48 * 60)
    assert (waits["cure", "read"].least_min, waits["cure", "read"].most_min) == (48 * 60, 72 * 60)


def test_without_a_route_or_readings_a_print_stands_alone():
    assert list(steps(route=None, readings=0)[0]) == ["print"]


def test_prints_on_one_plate_are_handled_as_one_and_read_apart():
    bend = print_job(key="J-001", job="T-001", name="bend", minutes=40, readings=5)
    pull = print_job(key="J-002", job="T-002", name="pull", minutes=62, readings=3, rest_before_reading_min=90)
    tasks, waits = steps_of_plate([bend, pull], Handling())
    assert [task.key for task in tasks] == [
        *(f"J-001+J-002 {step}" for step in ("print", "wash", "dry", "cure")),
        "J-001 read",
        "J-002 read",
    ]
    assert tasks[0].minutes == 62 and (tasks[4].minutes, tasks[5].minutes) == (25, 15)
    least = {wait.after: wait.least_min for wait in waits if wait.before == "J-001+J-002 cure"}
    assert least == {"J-001 read": 10, "J-002 read": 90}
    assert prints_of(tasks[0].key) == (["J-001", "J-002"], "print")


def test_a_plate_of_one_print_is_that_print():
    assert steps_of_plate([print_job()], Handling()) == steps_of(print_job(), Handling())
