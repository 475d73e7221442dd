"""What a print costs in time: every second is accounted for."""

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from setback.core.calculators import CALCULATORS
from setback.core.contract import Problem
from setback.core.printing.print_time import layer_exposures

timing = CALCULATORS["print-time"]
USUAL = {
    "layers": 200,
    "base_layers": 4,
    "transition_layers": 3,
    "exposure_s": 2.4,
    "base_exposure_s": 24,
    "rest_before_s": 1,
    "lift_mm": 6,
    "lift_mm_min": 60,
    "retract_mm_min": 150,
}
PARTS = st.tuples(st.integers(1, 300), st.integers(0, 20), st.integers(0, 20)).filter(lambda p: p[0] >= p[1] + p[2])


@given(PARTS, st.floats(0.1, 20), st.floats(0.1, 60), st.floats(0, 10))
def test_time_is_light_plus_what_every_layer_takes_besides(parts, normal, base, rest):
    layers, base_layers, transition = parts
    got = timing(
        {
            **USUAL,
            "layers": layers,
            "base_layers": base_layers,
            "transition_layers": transition,
            "exposure_s": normal,
            "base_exposure_s": base,
            "rest_before_s": rest,
        }
    )
    assert got["total_s"] == pytest.approx(got["exposure_total_s"] + layers * got["overhead_per_layer_s"])
    assert got["exposure_total_s"] == pytest.approx(sum(layer_exposures(layers, base_layers, transition, base, normal)))
    assert layers * min(normal, base) - 1e-9 <= got["exposure_total_s"] <= layers * max(normal, base) + 1e-9


@given(PARTS, st.floats(0.1, 20), st.floats(0.1, 60))
def test_layers_step_straight_from_base_to_normal(parts, normal, base):
    layers, base_layers, transition = parts
    each = layer_exposures(layers, base_layers, transition, base, normal)
    assert len(each) == layers and each[:base_layers] == [base] * base_layers
    way = [base, *each[base_layers : base_layers + transition], normal]
    steps = [b - a for a, b in pairwise(way)]
    assert all(step == pytest.approx(steps[0], abs=1e-9) for step in steps)


def test_motion_is_up_and_down_at_their_own_speeds():
    """6 mm up at 60 mm/min take 6 s, down at 150 mm/min 2.4 s."""
    got = timing({**USUAL, "rest_before_s": 0})
    assert got["overhead_per_layer_s"] == pytest.approx(8.4)


def test_a_delay_from_the_start_of_motion_is_rest_only_as_far_as_it_outlasts_it():
    inside = timing({**USUAL, "rest_before_s": 10, "delay_includes_motion": True})
    assert inside["rest_before_s"] == pytest.approx(10 - 8.4) and not inside["warnings"]
    swallowed = timing({**USUAL, "rest_before_s": 5, "delay_includes_motion": True})
    assert swallowed["rest_before_s"] == 0
    assert "8.4 s" in swallowed["warnings"][0]["message"]
    assert swallowed["overhead_per_layer_s"] == pytest.approx(8.4)


@given(st.lists(st.floats(0.5, 10), min_size=1, max_size=6))
def test_a_ladder_costs_what_its_prints_cost_one_by_one(exposures):
    got = timing({**USUAL, "exposures_s": exposures, "volume_ml": 1.2})
    alone = [timing({**USUAL, "exposure_s": t})["total_s"] for t in exposures]
    assert [cost["total_s"] for cost in got["ladder"]] == pytest.approx(alone)
    assert got["ladder_total_s"] == pytest.approx(sum(alone))
    assert got["ladder_volume_ml"] == pytest.approx(1.2 * len(exposures))


def test_without_a_ladder_or_a_volume_nothing_is_said_of_them():
    alone = timing(USUAL)
    assert alone["ladder"] == [] and alone["ladder_total_s"] is None and alone["ladder_volume_ml"] is None
    assert timing({**USUAL, "exposures_s": [2]})["ladder_volume_ml"] is None


def test_base_layers_without_an_exposure_of_their_own_are_printed_like_the_others():
    plain = {k: v for k, v in USUAL.items() if k != "base_exposure_s"}
    assert timing(plain)["exposure_total_s"] == pytest.approx(200 * 2.4)


def test_more_base_layers_than_layers_are_refused_with_the_least_that_would_do():
    with pytest.raises(Problem) as told:
        timing({**USUAL, "layers": 5, "base_layers": 4, "transition_layers": 3})
    assert told.value.fields == {"layers": "Give at least 7."}
