"""What is read besides counts and calipers; and two people's readings of one coupon."""

import pytest

from setback.core.contract import Problem
from setback.core.plate.grid_map import dose_from_growth
from setback.core.plate.uniformity import dose_at
from setback.core.reading.blind import compare_readings
from setback.core.reading.seen_marks import seen_marks, seen_on
from setback.core.reading.tally import ReadFeature


def pair(key, gap, state=None):
    return ReadFeature(key=key, kind="vernier", size_mm=gap, state=state)


def seen(exposure, gap=None, fit=None, code=None):
    features = [pair(f"v{i}", g, "formed" if g == gap else None) for i, g in enumerate((0.105, 0.07, 0.035, 0.0))]
    if fit:
        features.append(ReadFeature(key="f", kind="fit", size_mm=3.4, state=fit))
    if code:
        features.append(ReadFeature(key="c", kind="legible", size_mm=code, state="formed"))
    return seen_on(exposure, f"{exposure} s", features)


class TestMarks:
    def test_a_pair_that_touches_has_grown_by_half_its_gap_at_each_edge(self):
        held = seen(2.0, gap=0.07)
        assert held.vernier_um == pytest.approx(35) and held.vernier_step_um == pytest.approx(17.5)

    def test_the_vernier_finds_where_growth_meets_the_target(self):
        coupons = [seen(2.0, gap=0.035), seen(2.0 * 2**0.5, gap=0.07), seen(4.0, gap=0.105)]
        (mark,) = seen_marks(coupons, growth_target_um=35)
        assert mark.key == "vernier" and mark.exposure_s == pytest.approx(2.0 * 2**0.5, rel=1e-6)
        assert seen_marks(coupons, growth_target_um=-200) == []

    def test_the_gauge_lies_between_going_and_not_going(self):
        marks = {
            m.key: m for m in seen_marks([seen(2, fit="formed"), seen(3, fit="partial"), seen(4, fit="absent")], 0)
        }
        assert marks["gauge"].interval_s == (2, 4)
        assert seen_marks([seen(2, fit="absent"), seen(4, fit="formed")], 0) == []

    def test_the_smallest_code_is_where_the_smallest_characters_are_still_read(self):
        marks = {m.key: m for m in seen_marks([seen(2, code=0.9), seen(3, code=0.65), seen(4, code=0.65)], 0)}
        assert marks["legible"].interval_s == (3, 4)


def wall(key, state):
    return ReadFeature(key=key, kind="wall", size_mm=0.2, side="left", state=state)


def bar(key, measured):
    return ReadFeature(key=key, kind="outer", size_mm=7.0, axis="x", measured_mm=measured)


class TestTwoPeople:
    def test_states_and_sizes_that_differ_are_named(self):
        made = compare_readings([wall("a", "formed"), bar("b", 7.02)], [wall("a", "absent"), bar("b", 7.09)])
        assert [d.key for d in made.disagreements] == ["a", "b"] and "2 of 2" in made.summary
        assert "0.2 mm wall left: formed against absent" in made.disagreements[0].message

    def test_a_bias_too_small_for_any_single_value_is_said(self):
        first, second = [bar(k, 7.0) for k in "abcd"], [bar(k, 7.02) for k in "abcd"]
        made = compare_readings(first, second)
        assert made.disagreements == [] and made.mean_difference_um == pytest.approx(20) and "+20 µm" in made.summary

    def test_what_only_one_has_read_is_not_counted(self):
        made = compare_readings([wall("a", "formed")], [wall("z", "formed")])
        assert made.compared == 0 and "Nothing" in made.summary


class TestLight:
    def test_growth_becomes_light_by_the_slope(self):
        made = dose_from_growth([[0, 10], [-10, 0]], slope_um=100)
        assert made[0][1] > 1 > made[1][0] and made[0][0] == pytest.approx(1)
        with pytest.raises(Problem):
            dose_from_growth([[0, 1]], slope_um=-5)

    def test_light_between_cells_is_straight_and_level_beyond_the_outer_ones(self):
        light = [[0.8, 1.0], [0.8, 1.0]]
        assert dose_at(light, 0.5, 0.5) == pytest.approx(0.9)
        assert dose_at(light, 0.0, 0.1) == pytest.approx(0.8) and dose_at(light, 0.99, 0.9) == pytest.approx(1.0)
