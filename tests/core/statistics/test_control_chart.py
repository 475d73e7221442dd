"""Control chart: limits, runs, drift and the hour at which it leaves the window."""

import random

import pytest

from setback.core.climate.temperature_effect import TemperatureEffectInput, temperature_effect
from setback.core.contract import Problem
from setback.core.statistics.control_chart import ControlChartInput, control_chart


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
