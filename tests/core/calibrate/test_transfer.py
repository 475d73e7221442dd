"""Exposures carried over from another printer."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from setback.core.calibrate.transfer import by_light_meter, by_reference_resin


def test_a_reference_resin_tells_the_ratio_and_says_how():
    made = by_reference_resin(3.0, 2.4, 7.2, "Slate 2", "Cormorant", "Gannet")
    assert made.exposure_s == pytest.approx(9.0) and made.interval_s[0] < 9 < made.interval_s[1]
    assert "3.00 times as long" in made.explained and "Slate 2" in made.explained


def test_half_the_light_takes_twice_the_time_and_is_less_sure():
    made = by_light_meter(3.0, 4.0, 2.0, "Cormorant", "Gannet")
    other = by_reference_resin(3.0, 2.0, 4.0, "Slate 2", "Cormorant", "Gannet")
    assert made.exposure_s == pytest.approx(other.exposure_s) == pytest.approx(6.0)
    assert made.interval_s[1] / made.interval_s[0] > other.interval_s[1] / other.interval_s[0]


SECONDS = st.floats(0.2, 60)


@given(SECONDS, SECONDS, SECONDS)
def test_there_and_back_again_is_where_it_began(here, reference_here, reference_there):
    there = by_reference_resin(here, reference_here, reference_there, "Slate 2", "Cormorant", "Gannet").exposure_s
    back = by_reference_resin(there, reference_there, reference_here, "Slate 2", "Gannet", "Cormorant").exposure_s
    assert back == pytest.approx(here)


@given(SECONDS, SECONDS, SECONDS, st.floats(0.01, 1000))
def test_a_meter_of_any_unit_says_the_same(here, light_here, light_there, unit):
    one = by_light_meter(here, light_here, light_there, "Cormorant", "Gannet")
    other = by_light_meter(here, unit * light_here, unit * light_there, "Cormorant", "Gannet")
    assert other.exposure_s == pytest.approx(one.exposure_s)
    assert other.interval_s == pytest.approx(one.interval_s)


@given(SECONDS, SECONDS, SECONDS)
def test_its_uncertainty_is_a_ratio_and_lies_evenly_round_the_value(here, light_here, light_there):
    for made in (
        by_light_meter(here, light_here, light_there, "Cormorant", "Gannet"),
        by_reference_resin(here, light_here, light_there, "Slate 2", "Cormorant", "Gannet"),
    ):
        low, high = made.interval_s
        assert math.sqrt(low * high) == pytest.approx(made.exposure_s)
        assert 1.2 < high / low < 2


def test_the_reference_itself_takes_what_it_takes():
    made = by_reference_resin(2.4, 2.4, 7.2, "Slate 2", "Cormorant", "Gannet")
    assert made.exposure_s == pytest.approx(7.2)
