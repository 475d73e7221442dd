"""Scale and edge growth told apart: what was put in comes out, and the uncertainty is honest."""

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from setback.core.calculators import CALCULATORS
from setback.core.reading.evidence import Block
from setback.core.reading.size import fit_size

size = CALCULATORS["size-fit"]
NOMINALS = (7.0, 10.99)


def blocks(scale, growth_mm, *, chance=None, sd=0.0, axes=("x", "y"), kinds=("outer", "inner")):
    noise = chance or random.Random(0)
    return [
        {
            "kind": kind,
            "nominal_mm": nominal,
            "axis": axis,
            "measured_mm": scale * nominal + (2 if kind == "outer" else -2) * growth_mm + noise.gauss(0, sd),
        }
        for axis in axes
        for kind in kinds
        for nominal in NOMINALS
    ]


@given(st.floats(0.98, 1.02), st.floats(-0.1, 0.1))
def test_without_noise_it_gives_back_what_went_in(scale, growth):
    got = size({"features": blocks(scale, growth)})
    assert got["scale_error_pct"] == pytest.approx(100 * (scale - 1), abs=1e-6)
    assert got["edge_growth_um"] == pytest.approx(1000 * growth, abs=1e-6)
    assert got["growth_x_minus_y_um"] == pytest.approx(0, abs=1e-6)


def test_its_95_percent_hold_the_truth_about_that_often():
    chance, growth_held, scale_held = random.Random(11), 0, 0
    for _ in range(300):
        got = size({"features": blocks(1.003, 0.02, chance=chance, sd=0.01)})
        growth_held += got["edge_growth_ci_um"][0] <= 20 <= got["edge_growth_ci_um"][1]
        scale_held += got["scale_error_ci_pct"][0] <= 0.3 <= got["scale_error_ci_pct"][1]
    assert 275 <= growth_held <= 297 and 275 <= scale_held <= 297


@given(st.floats(0.99, 1.01), st.floats(-0.08, 0.08))
def test_drawn_with_the_compensation_it_comes_out_right(scale, growth):
    told = size({"features": blocks(scale, growth)})["compensation"]
    for kind, sign in (("outer", 1), ("inner", -1)):
        drawn = told["scale"] * (10 + sign * 2 * told["per_edge_um"] / 1000)
        assert scale * drawn + sign * 2 * growth == pytest.approx(10, abs=0.005), kind


def test_one_bar_alone_cannot_tell_shrinkage_from_growth_and_says_so():
    got = size({"features": [{"kind": "outer", "nominal_mm": 7, "measured_mm": 7.04}]})
    assert got["scale_error_pct"] is None and got["edge_growth_um"] == pytest.approx(20)
    assert [w["code"] for w in got["warnings"]] == ["scale-not-identified", "no-spread"]
    assert got["edge_growth_ci_um"] is None


def test_two_sizes_of_bars_tell_them_apart_without_a_notch():
    got = size({"features": blocks(1.004, 0.015, axes=("x",), kinds=("outer",))})
    assert got["scale_error_pct"] == pytest.approx(0.4) and got["edge_growth_um"] == pytest.approx(15)


def test_light_that_spreads_more_along_one_axis_shows_in_their_difference():
    features = blocks(1.0, 0.03, axes=("x",)) + blocks(1.0, 0.01, axes=("y",))
    got = size({"features": features})
    assert got["growth_x_minus_y_um"] == pytest.approx(20)
    assert [(one["axis"], one["n"]) for one in got["axes"]] == [("x", 4), ("y", 4)]


def test_coupons_share_one_scale_and_have_each_their_own_growth():
    members = [[Block(**b) for b in blocks(1.002, growth)] for growth in (-0.01, 0.0, 0.03)]
    model = fit_size(members)
    assert model.scale == pytest.approx(1.002)
    assert model.growth_mm == pytest.approx([-0.01, 0.0, 0.03], abs=1e-9)
    assert model.degrees == 3 * 8 - 4
