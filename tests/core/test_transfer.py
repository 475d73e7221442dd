"""Exposures carried over from another printer."""

import pytest

from setback.core.transfer import by_light_meter, by_reference_resin


def test_a_reference_resin_tells_the_ratio_and_says_how():
    made = by_reference_resin(3.0, 2.4, 7.2, "Slate 2", "Cormorant", "Gannet")
    assert made.exposure_s == pytest.approx(9.0) and made.interval_s[0] < 9 < made.interval_s[1]
    assert "3.00 times as long" in made.explained and "Slate 2" in made.explained


def test_half_the_light_takes_twice_the_time_and_is_less_sure():
    made = by_light_meter(3.0, 4.0, 2.0, "Cormorant", "Gannet")
    other = by_reference_resin(3.0, 2.0, 4.0, "Slate 2", "Cormorant", "Gannet")
    assert made.exposure_s == pytest.approx(other.exposure_s) == pytest.approx(6.0)
    assert made.interval_s[1] / made.interval_s[0] > other.interval_s[1] / other.interval_s[0]
