"""Lanes that the parts need and no coupon has shown."""

import pytest

from setback.core.evidence import Limits
from setback.core.missing_lanes import missing_lanes

BOTH = Limits(growth_tol_um=45, tips_size_mm=0.42, z_bloom_max_um=150)


@pytest.mark.parametrize(
    ("kinds", "asked"),
    [
        ({"flat"}, ["support", "z-bridge"]),
        ({"flat", "support"}, ["z-bridge"]),
        ({"flat", "z-bridge"}, ["support"]),
        ({"flat", "support", "z-bridge"}, []),
    ],
)
def test_each_limit_asks_for_the_coupon_that_shows_it(kinds, asked):
    assert [one.kind for one in missing_lanes(BOTH, kinds, 2.0, 3.0, 0.1)] == asked


def test_what_the_parts_do_not_need_is_not_asked():
    assert missing_lanes(Limits(growth_tol_um=45), {"flat"}, 2.0, 3.0, 0.1) == []


def test_three_exposures_across_what_looks_right_on_the_printers_step():
    (tips,) = missing_lanes(Limits(tips_size_mm=0.42), {"flat"}, 2.0, 3.1, 0.1)
    assert tips.exposures_s == [2.0, 2.5, 3.1]


def test_a_window_of_one_step_asks_for_one_coupon():
    (tips,) = missing_lanes(Limits(tips_size_mm=0.42), {"flat"}, 2.5, 2.5, 0.1)
    assert tips.exposures_s == [2.5]


def test_a_window_below_one_step_still_names_an_exposure():
    (tips,) = missing_lanes(Limits(tips_size_mm=0.42), {"flat"}, 0.02, 0.1, 0.1)
    assert tips.exposures_s == [0.1]
