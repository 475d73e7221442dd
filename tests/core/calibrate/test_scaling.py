"""An exposure at another light power, and how many coupons settle a carried one."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from setback.core.calibrate.scaling import by_power, coupons_to_settle

percent = st.floats(1, 100)


@given(percent, percent)
def test_half_the_light_takes_twice_as_long_within_an_interval_that_grows_with_the_step(first, other):
    carried = by_power(2.4, first, other)
    low, high = carried.interval_s
    assert carried.exposure_s == pytest.approx(2.4 * first / other) and low < carried.exposure_s < high
    back = by_power(carried.exposure_s, other, first)
    assert back.exposure_s == pytest.approx(2.4)
    assert high / low >= by_power(2.4, 100, 100).interval_s[1] / by_power(2.4, 100, 100).interval_s[0] - 1e-12


def test_an_interval_as_wide_as_the_window_takes_one_coupon_and_twice_as_wide_one_more():
    assert coupons_to_settle((2.0, 2.3), 20) == 1
    assert coupons_to_settle((1.6, 2.3), 25) == 2
    assert coupons_to_settle((1.0, 4.0), 20) == 4
    assert coupons_to_settle((1.0, 4.0), None) == coupons_to_settle((1.0, 4.0), 20)
    assert coupons_to_settle((2.0, 2.0), 20) == 1
