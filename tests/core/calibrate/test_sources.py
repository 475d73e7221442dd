"""Where a range comes from: room on both sides, on the printer's step, and no more trust than it deserves."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from setback.core.calibrate.rests import exposures_to_try, rests_to_try
from setback.core.calibrate.sources import SOURCES, around, from_curve, from_strip, measured_since
from setback.core.calibrate.ways import WAYS, effective_exposure_s, shuffle_again


def test_sources_stand_in_order_of_rising_trust():
    assert list(SOURCES) == [
        "own guess",
        "maker",
        "borrowed",
        "light meter",
        "reference resin",
        "dose strip",
        "working curve",
        "prediction",
    ]
    assert all(source.trust for source in SOURCES.values())


@given(st.floats(0.2, 60), st.sampled_from([0.05, 0.1, 0.5]))
def test_a_borrowed_number_has_room_on_both_sides_and_lies_on_steps(number, step):
    made = around(number, 1.6, step)
    assert made.low_s <= number + step and made.high_s >= number * 1.6 - 1e-9
    for end in (made.low_s, made.high_s):
        assert abs(end / step - round(end / step)) < 1e-6 and end >= step - 1e-9


def test_a_sure_curve_still_leaves_room_and_a_vague_one_does_not_span_decades():
    sure, vague = from_curve(3.0, (2.98, 3.02), 0.1), from_curve(3.0, (0.01, 900), 0.1)
    assert sure.low_s < 2.5 and sure.high_s > 3.5
    assert vague.low_s >= 0.7 and vague.high_s <= 12
    assert from_curve(3.0, None, 0.1) == sure


@pytest.mark.parametrize(
    ("areas", "inside", "outside"),
    [
        ([(1, "under"), (2, "under"), (4, "ok"), (8, "over")], (2.5, 6), 12),
        ([(1, "under"), (2, "under")], (2.2,), 0.9),
        ([(4, "over"), (8, "over")], (3.0,), 9),
        ([(1, "ok"), (2, "ok")], (1, 2), 9),
        ([(2, "over"), (4, "under")], (2, 4), 20),
    ],
)
def test_a_strip_leaves_open_what_it_did_not_rule_out(areas, inside, outside):
    made = from_strip(areas, 0.1)
    assert all(made.low_s <= t <= made.high_s for t in inside) and not made.low_s <= outside <= made.high_s


def test_a_strip_of_mixed_areas_says_nothing():
    assert from_strip([(2, "mixed")], 0.1) is None and from_strip([], 0.1) is None


def test_a_plate_repeats_what_fits_and_three_times_at_most():
    assert [shuffle_again(places, 5) for places in (3, 5, 11, 40)] == [1, 1, 2, 3]
    assert effective_exposure_s(2.0, 0.9) == pytest.approx(1.8) and effective_exposure_s(2.0, None) == 2.0
    assert set(WAYS) == {"separate", "plate", "strip"}


class TestRests:
    def test_they_stand_at_equal_ratios_around_the_one_at_hand(self):
        assert rests_to_try(1.0, 8.4, False) == [0.5, 2.0, 4.0]
        assert rests_to_try(0.0, 8.4, False) == [1.0, 2.0]

    def test_a_delay_that_includes_the_motion_is_offered_above_it(self):
        assert min(rests_to_try(3.0, 8.4, True)) > 8.4
        assert rests_to_try(10.4, 8.4, True) == [9.4, 12.4, 16.4]

    def test_without_a_window_the_range_is_used(self):
        made = exposures_to_try(None, 1.0, 8.0)
        assert made == pytest.approx([1, 2, 4, 8])


class TestMeasuredSince:
    ALL = set(SOURCES)

    def test_what_a_calibration_measured_itself_is_offered_over_what_it_began_with(self):
        assert measured_since("maker", {"maker", "working curve"}) == "working curve"
        assert measured_since("maker", {"maker", "dose strip"}) == "dose strip"

    def test_of_two_the_more_trusted_and_none_below_the_chosen(self):
        assert measured_since("own guess", self.ALL) == "working curve"
        assert measured_since("dose strip", self.ALL) == "working curve"
        assert measured_since("working curve", self.ALL) is None

    def test_a_prediction_is_reckoned_and_not_measured(self):
        assert measured_since("maker", {"maker", "prediction"}) is None
        assert measured_since("prediction", self.ALL) is None
