import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from setback.core.calculators import CALCULATORS
from setback.core.contract import Problem

curve = CALCULATORS["working-curve"]


def points(dp, tc, times, off=()):
    noise = list(off) + [0.0] * (len(times) - len(off))
    return [{"exposure_s": t, "depth_mm": dp * math.log(t / tc) + e} for t, e in zip(times, noise, strict=True)]


@given(dp=st.floats(0.03, 0.6), tc=st.floats(0.1, 5), layer=st.floats(10, 200))
def test_exact_points_give_back_what_made_them(dp, tc, layer):
    got = curve({"points": points(dp, tc, [1.5 * tc, 3 * tc, 9 * tc]), "layer_heights_um": [layer]})
    assert got["penetration_depth_mm"] == pytest.approx(dp, rel=1e-6)
    assert got["critical_exposure_s"] == pytest.approx(tc, rel=1e-6)
    found = got["layer_exposures"][0]
    assert dp * math.log(found["exposure_s"] / tc) == pytest.approx((layer + 100) / 1000, rel=1e-6)
    assert found["z_bloom_um"] == pytest.approx(100, abs=1e-3)
    assert found["z_bloom_accumulated_um"] > found["z_bloom_um"]


def test_order_of_points_does_not_matter_and_more_squares_narrow_the_uncertainty():
    few = points(0.13, 1.0, [3, 6, 12, 24], [0.004, -0.003, 0.002, -0.002])
    many = [{**point, "square": f"{set_of} {i}"} for set_of in "abc" for i, point in enumerate(few)]
    a, b = curve({"points": few, "layer_heights_um": [50]}), curve({"points": many, "layer_heights_um": [50]})
    assert b["penetration_depth_se_mm"] < a["penetration_depth_se_mm"] and b["n"] == 12
    narrow, wide = (x["layer_exposures"][0]["exposure_ci_s"] for x in (b, a))
    assert narrow[1] - narrow[0] < wide[1] - wide[0]
    assert curve({"points": few[::-1]})["penetration_depth_mm"] == pytest.approx(a["penetration_depth_mm"])


def test_readings_of_one_square_count_as_their_mean():
    squares = points(0.13, 1.0, [3, 6, 12, 24], [0.004, -0.003, 0.002, -0.002])
    three_each = [{**one, "depth_mm": one["depth_mm"] + off} for one in squares for off in (-0.005, 0, 0.005)]
    by_name = [{**one, "square": str(i // 3)} for i, one in enumerate(three_each)]
    alone = curve({"points": squares, "layer_heights_um": [50]})
    for readings in (three_each, by_name):
        got = curve({"points": readings, "layer_heights_um": [50]})
        assert got["n"] == 4
        assert got["critical_exposure_ci_s"] == pytest.approx(alone["critical_exposure_ci_s"])


def test_the_drawn_line_and_band_are_the_calculators_own():
    got = curve({"points": points(0.13, 1.0, [3, 6, 12, 24], [0.004, -0.003, 0.002, -0.002])})
    for point in got["curve"]:
        expected = got["penetration_depth_mm"] * math.log(point["exposure_s"] / got["critical_exposure_s"])
        assert point["depth_mm"] == pytest.approx(expected, abs=1e-9)
        assert point["depth_ci_mm"][0] < point["depth_mm"] < point["depth_ci_mm"][1]


def codes(**given):
    return {w["code"] for w in curve(given)["warnings"]}


def test_what_leans_on_too_little_is_said():
    two = points(0.13, 1.0, [3, 12])
    assert "two-points" in codes(points=two)
    assert curve({"points": two})["penetration_depth_se_mm"] is None
    assert "extrapolated" in codes(points=points(0.13, 1.0, [8, 12, 30]), layer_heights_um=[25])
    assert "poor-fit" in codes(points=points(0.13, 1.0, [3, 6, 12, 24], [0.08, -0.09, 0.08, -0.05]))
    assert "too-thick" in codes(points=points(0.4, 0.5, [2, 4, 12]))
    assert "too-thin" in codes(points=points(0.13, 1.0, [1.2, 4, 12]), layer_heights_um=[50])
    assert codes(points=points(0.13, 1.0, [2.6, 6, 12]), layer_heights_um=[50]) == set()


@pytest.mark.parametrize(("dp", "character"), [(0.08, "opaque"), (0.17, "between"), (0.3, "clear")])
def test_it_says_what_the_number_means(dp, character):
    got = curve({"points": points(dp, 1.0, [3, 6, 12])})
    assert got["character"] == character and f"{1000 * dp * math.log(2):.0f} µm" in got["meaning"]


@pytest.mark.parametrize(
    "bad",
    [
        points(0.1, 1, [4]),
        points(0.1, 1, [4]) * 3,
        [{"exposure_s": 2, "depth_mm": 0.3}, {"exposure_s": 4, "depth_mm": 0.2}],
    ],
)
def test_what_makes_no_curve_is_refused(bad):
    with pytest.raises(Problem) as told:
        curve({"points": bad})
    assert "points" in told.value.fields
