"""Control chart: limits, runs, drift and the hour at which it leaves the window."""

import math
import random

import numpy as np
import pytest

from setback.core.climate.temperature_effect import TemperatureEffectInput, temperature_effect
from setback.core.contract import Problem
from setback.core.statistics.control_chart import ControlChartInput, control_chart
from tests.length import FULL

from .coverage import Coverage


def chart(values, **more):
    return control_chart(ControlChartInput(values=values, **more))


def quiet(count, seed=1):
    chance = random.Random(seed)
    return [chance.gauss(0, 2) for _ in range(count)]


def test_a_point_outside_is_named_and_a_quiet_process_is_in_control():
    calm = quiet(30)
    assert chart(calm).outside == [] and chart(calm).in_control
    assert chart([*calm, 25]).outside == [30]


def test_eight_on_one_side_are_a_run_and_seven_are_none():
    wobble = [1.0, -1.0] * 6
    assert chart([*wobble, *[2.0, 1.5] * 4]).runs == [(12, 19)]
    assert chart([*wobble, *([2.0, 1.5] * 4)[:7]]).runs == []


@pytest.mark.honesty
@pytest.mark.parametrize(("coupons", "with_hours"), [(30, False), (100, False), (60, True)])
def test_a_printer_that_does_not_change_is_left_in_peace(coupons, with_hours):
    """Looked at after every coupon, as a shop does; by Shewhart's limits and runs alone half would alarm within thirty."""
    rng = np.random.default_rng(1)
    counted = Coverage(f"false alarm within {coupons} coupons{', with hours' if with_hours else ''}")
    looks = range(3, coupons + 1)
    for _ in range(2000 if FULL else 60):
        values = rng.standard_normal(coupons).tolist()
        if with_hours:
            hours = np.cumsum(rng.uniform(5, 40, coupons)).tolist()
            counted.count(any(not chart(values[:n], hours=hours[:n]).in_control for n in looks))
        else:
            counted.count(not chart(values).in_control)
    print(f"\n{counted}")
    asked = 1 - math.exp(-coupons / 500)
    assert counted.most(1.5 * asked) and counted.least(asked / 1.5 if not with_hours else asked / 4)


@pytest.mark.parametrize(("shift", "within"), [(1.5, 20), (3.0, 6)])
def test_a_change_that_lasts_is_noticed(shift, within):
    rng = np.random.default_rng(2)
    noticed = 0
    for _ in range(60):
        values = rng.standard_normal(50)
        values[25:] += shift
        noticed += any(25 <= alarm.index < 25 + within for alarm in chart(values.tolist()).alarms)
    assert noticed >= 40


def test_false_alarms_come_as_often_as_is_asked():
    rng = np.random.default_rng(3)
    samples = [rng.standard_normal(60).tolist() for _ in range(150)]
    often, seldom = (sum(bool(chart(v, between_false_alarms=n).alarms) for v in samples) for n in (50, 2000))
    assert often > 60 and seldom < 15


def test_alarms_look_back_only():
    """What comes later does not change what was said of what came before."""
    values = [*quiet(20), 25.0, *quiet(10, seed=2)]
    whole, part = chart(values), chart(values[:21])
    assert [a.index for a in whole.alarms if a.index <= 20] == [a.index for a in part.alarms] == [20]
    assert part.alarms[0].kind == "one value"


def test_a_fading_screen_is_seen_with_the_hour_it_leaves():
    hours = [100.0 * i for i in range(24)]
    values = [a - 0.01 * h for a, h in zip(quiet(24), hours, strict=True)]
    drift = chart(values, hours=hours, window_lower=-45, window_upper=45).drift
    assert drift.shown and drift.per_100_hours == pytest.approx(-1, abs=0.2)
    assert drift.leaves_at_hours == pytest.approx(4500, rel=0.15) and drift.leaves_from_hours < drift.leaves_at_hours


def test_no_drift_promises_no_hour():
    hours = [100.0 * i for i in range(24)]
    drift = chart(quiet(24), hours=hours, window_lower=-45, window_upper=45).drift
    assert not drift.shown and drift.leaves_at_hours is None


def test_few_values_are_said_to_be_few():
    assert "few" in {w.code for w in chart([1, 2, 3]).warnings}
    assert "no-spread" in {w.code for w in chart([1, 1, 1]).warnings}


@pytest.mark.parametrize(
    ("more", "field"),
    [({"hours": [1]}, "hours"), ({"hours": [2, 1]}, "hours"), ({"window_lower": 3, "window_upper": 1}, "window_upper")],
)
def test_bad_input_is_said_at_its_field(more, field):
    with pytest.raises(Problem) as problem:
        chart([1, 2], **more)
    assert field in problem.value.fields


def effect(points, temp_c=None):
    given = [{"temp_c": t, "exposure_s": s} for t, s in points]
    return temperature_effect(TemperatureEffectInput.model_validate({"points": given, "temp_c": temp_c}))


class TestTemperature:
    def test_outside_the_fitted_range_it_refuses(self):
        points = [(18, 3.0), (22, 2.7), (26, 2.45)]
        assert effect(points, 28).exposure_s < 2.45
        for temp in (14.9, 29.1):
            with pytest.raises(Problem) as problem:
                effect(points, temp)
            assert "temp_c" in problem.value.fields

    def test_one_temperature_tells_nothing_and_two_say_no_uncertainty(self):
        with pytest.raises(Problem):
            effect([(20, 3.0), (20, 2.9)])
        two = effect([(18, 3.0), (26, 2.4)])
        assert two.percent_per_c_ci is None and "two-points" in {w.code for w in two.warnings}

    def test_the_wrong_way_round_is_said(self):
        assert "wrong-direction" in {w.code for w in effect([(18, 2.4), (22, 2.7), (26, 3.1)]).warnings}
