import pytest
from hypothesis import given
from hypothesis import strategies as st

from setback.core.printing.steps import ceil_to_step, floor_to_step, move, round_to_step, steps_between

STEPS = st.sampled_from([0.01, 0.05, 0.1, 0.25, 0.3, 1.0])


@given(st.floats(0.01, 500), STEPS)
def test_floor_and_ceiling_enclose_and_round_is_one_of_them(value, step):
    low, high = floor_to_step(value, step), ceil_to_step(value, step)
    assert low <= value + 1e-6 and high >= value - 1e-6
    assert high - low <= step * (1 + 1e-9)
    assert round_to_step(value, step) in (low, high)


@given(st.integers(0, 5000), STEPS)
def test_whole_steps_are_left_alone(count, step):
    value = move(0.0, count, step)
    assert round_to_step(value, step) == floor_to_step(value, step) == ceil_to_step(value, step) == value


@pytest.mark.parametrize(
    ("value", "step", "rounded"), [(0.15, 0.1, 0.2), (2.25, 0.1, 2.3), (2.625, 0.05, 2.65), (7.5, 1, 8)]
)
def test_halves_go_up(value, step, rounded):
    assert round_to_step(value, step) == rounded


def test_sums_of_tenths_do_not_drift():
    assert move(2.6, 3, 0.1) == 2.9
    assert steps_between(2.6, 3.0, 0.1) == [2.6, 2.7, 2.8, 2.9, 3.0]
    assert steps_between(2.61, 2.69, 0.1) == []
    assert len(steps_between(1.4, 3.9, 0.05)) == 51
