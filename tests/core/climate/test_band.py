"""The band proposed for a set, and what it rests on."""

import pytest

from setback.core.climate.band import proposed_band


def test_without_an_effect_it_reaches_two_degrees_beyond_the_coupons():
    band = proposed_band((23, 23), 2.9, (2.6, 3.3), None)
    assert (band.low_c, band.high_c, band.basis) == (21, 25, "coupons")
    assert "no temperature effect is shown" in band.why


def test_with_an_effect_it_reaches_as_far_as_the_window_does():
    # 2 % a degree, an exposure 11 % above the lower end and 14 % below the upper one: 5 and 6 degrees.
    band = proposed_band((22.5, 24), 2.9, (2.9 / 1.11, 2.9 * 1.14), -2.0)
    assert (band.low_c, band.high_c, band.basis) == (18, 30, "effect")


@pytest.mark.parametrize(("exposure_s", "low", "high"), [(2.6, 22, 31), (3.3, 15, 24)])
def test_it_never_leaves_out_a_temperature_that_was_printed_at(exposure_s, low, high):
    band = proposed_band((22.5, 23.6), exposure_s, (2.6, 3.3), -1.0)
    assert band.low_c <= 22.5 and band.high_c >= 23.6 and (band.low_c, band.high_c) == (low, high)


def test_an_effect_the_wrong_way_round_corrects_nothing():
    assert proposed_band((23, 23), 2.9, (2.6, 3.3), 1.0).basis == "coupons"


def test_where_no_coupon_says_how_warm_it_was_none_is_proposed():
    assert proposed_band(None, 2.9, None, None).low_c is None
