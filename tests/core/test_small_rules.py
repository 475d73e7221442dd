"""Small rules of the job: what looks like a slip, what may help, which rests to try, what a plate may be trusted with."""

import itertools
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from setback.core.calibrate.preparation import CHECKS, missing
from setback.core.calibrate.rests import exposures_to_try, rests_to_try
from setback.core.calibrate.ways import WAYS, effective_exposure_s, shuffle_again
from setback.core.contract import Problem
from setback.core.plate.grid_map import dose_from_growth
from setback.core.printing.plausible import check_layer_height, check_range
from setback.core.qualify.properties import ASKABLE
from setback.core.statistics.figures import decimals, shown
from setback.core.window.remedies import remedies, thicker_um


class TestPlausible:
    @pytest.mark.parametrize("height", [5, 30, 50, 100, 200])
    def test_heights_that_are_printed_pass(self, height):
        check_layer_height(height)

    @pytest.mark.parametrize(("typed", "meant"), [(500, 50), (0.05, 50), (50_000, 50), (1000, 100), (3, 30)])
    def test_a_slip_of_the_unit_or_the_point_names_what_was_meant(self, typed, meant):
        with pytest.raises(Problem) as caught:
            check_layer_height(typed)
        assert caught.value.suggest == {"layer_height_um": pytest.approx(meant)}

    def test_what_is_nobodys_slip_says_the_range(self):
        with pytest.raises(Problem) as caught:
            check_layer_height(4e8)
        assert "from 5 to 200" in caught.value.fields["layer_height_um"] and not caught.value.suggest

    @pytest.mark.parametrize(("low", "high"), [(4, 1.5), (1, 60)])
    def test_swapped_and_absurd_ranges_are_said_at_the_high_end(self, low, high):
        with pytest.raises(Problem) as caught:
            check_range(low, high)
        assert "high_s" in caught.value.fields

    def test_a_wide_range_is_still_a_range(self):
        check_range(1, 50)


class TestRemedies:
    def test_the_cheapest_comes_first_and_what_cannot_help_is_left_out(self):
        assert [r.code for r in remedies("tips", "slots")] == ["rest", "warm", "slow", "tips", "tolerance"]
        assert [r.code for r in remedies("walls", "z")] == ["rest", "warm", "slow", "layer", "tolerance"]

    def test_what_the_temperature_speaks_for_comes_first(self):
        assert [r.code for r in remedies("tips", "slots", 11)] == ["warm", "rest", "slow", "tips", "tolerance"]
        assert remedies("tips", "slots", 24) == remedies("tips", "slots")

    def test_a_lane_of_its_own_still_gets_what_always_helps(self):
        assert [r.code for r in remedies("new-lane", "other")] == ["rest", "warm", "slow"]

    def test_a_thicker_layer_has_half_the_layers(self):
        assert thicker_um(50) == 100


class TestRests:
    def test_from_no_rest_at_all(self):
        assert rests_to_try(0, 9, False) == [1.0, 2.0]

    def test_a_shorter_one_is_tried_beside_longer_ones(self):
        assert rests_to_try(2, 9, False) == [1.0, 4.0, 8.0]

    def test_a_delay_that_includes_the_motion_is_offered_in_its_own_counting(self):
        assert rests_to_try(9, 9, True) == [10.0, 11.0]
        assert rests_to_try(11, 9, True) == [10.0, 13.0, 17.0]

    def test_a_delay_shorter_than_the_motion_is_no_rest(self):
        assert rests_to_try(4, 9, True) == rests_to_try(9, 9, True)

    @given(now=st.floats(0, 60), motion=st.floats(0, 30), includes=st.booleans())
    def test_rests_rise_differ_from_now_and_end(self, now, motion, includes):
        offered = rests_to_try(now, motion, includes)
        own = motion if includes else 0
        assert offered == sorted(offered) and len(set(offered)) == len(offered) <= 3
        assert all(o <= max(own + 16, now) + 0.1 for o in offered)

    def test_four_exposures_by_equal_ratios(self):
        made = exposures_to_try(None, 1.5, 12)
        assert made[0] == 1.5 and made[-1] == pytest.approx(12)
        assert {round(b / a, 9) for a, b in itertools.pairwise(made)} == {2.0}


class TestWays:
    def test_light_of_a_place_counts_where_it_is_known(self):
        assert effective_exposure_s(2.5, 0.92) == pytest.approx(2.3) and effective_exposure_s(2.5, None) == 2.5

    @pytest.mark.parametrize(
        ("places", "exposures", "times"), [(12, 4, 3), (12, 5, 2), (4, 5, 1), (20, 2, 3), (3, 0, 3)]
    )
    def test_each_exposure_is_repeated_as_often_as_fits_up_to_three(self, places, exposures, times):
        assert shuffle_again(places, exposures) == times

    def test_every_way_says_what_it_costs_in_trust(self):
        assert all(way.gives and way.limit for way in WAYS.values()) and not WAYS["separate"].needs


class TestGridMap:
    def test_even_growth_is_even_light(self):
        assert dose_from_growth([[10, 10], [10, 10]], 50) == [[1, 1], [1, 1]]

    def test_more_growth_was_more_light_by_the_slope_of_the_size_lane(self):
        made = dose_from_growth([[0, 20]], 50)
        assert made[0][1] / made[0][0] == pytest.approx(math.exp(20 / 50), rel=1e-3)

    @given(shift=st.floats(-100, 100), growth=st.lists(st.floats(-40, 40), min_size=2, max_size=12))
    def test_shrinkage_falls_out(self, shift, growth):
        assert dose_from_growth([growth], 60)[0] == pytest.approx(
            dose_from_growth([[g + shift for g in growth]], 60)[0], abs=2e-4
        )

    @pytest.mark.parametrize("slope", [0, -5])
    def test_growth_that_does_not_rise_says_nothing_of_light(self, slope):
        with pytest.raises(Problem) as caught:
            dose_from_growth([[1, 2]], slope)
        assert "slope_um" in caught.value.fields


class TestPreparation:
    def test_what_was_not_ticked_is_named(self):
        ticked = [check.key for check in CHECKS["print"][1:]]
        assert [check.key for check in missing("print", ticked)] == [CHECKS["print"][0].key]
        assert missing("campaign", [check.key for check in CHECKS["campaign"]]) == []

    def test_keys_are_checks_of_their_own_and_danger_carries_its_caution(self):
        for checks in CHECKS.values():
            assert len({check.key for check in checks}) == len(checks)
        cautions = " ".join(check.caution for check in CHECKS["campaign"])
        assert (
            "sensitises skin" in cautions
            and "Solvent vapour burns" in cautions
            and "Never look into the lamp" in cautions
        )


class TestNames:
    def test_a_property_says_its_method_once(self):
        names = [one.name for one in ASKABLE.values()]
        assert len(set(names)) == len(names)
        for name in names:
            head, _, method = name.partition(", ")
            assert head.lower() != method.lower()

    def test_each_stands_under_its_method(self):
        assert ASKABLE["set.latitude"].group == "Parameter set" and ASKABLE["stiffness.stiffness"].name == "Stiffness"


class TestFigures:
    @pytest.mark.parametrize(
        ("value", "uncertainty", "places"),
        [
            (59.04, 2.1, 0),
            (59.04, 0.21, 1),
            (59.04, 0.13, 2),
            (59.04, 15, 0),
            (0.3512, 0.02, 2),
            (0.3512, 0.012, 3),
            (3082.4, 30, 0),
        ],
    )
    def test_the_uncertainty_says_where_a_number_ends(self, value, uncertainty, places):
        assert decimals(value, uncertainty) == places

    @pytest.mark.parametrize(("value", "text"), [(59.04, "59.0"), (0.3512, "0.351"), (3082.4, "3082"), (0.0, "0")])
    def test_without_an_uncertainty_three_digits_are_shown(self, value, text):
        assert shown(value) == text

    @given(value=st.floats(-1e6, 1e6), uncertainty=st.floats(1e-6, 1e5))
    def test_what_is_shown_is_never_off_by_more_than_the_uncertainty(self, value, uncertainty):
        assert abs(float(shown(value, uncertainty)) - value) <= max(uncertainty, 0.5)
