"""Coupons to learn on: levels, the truth that goes with them, and the example pictures that are shipped."""

from __future__ import annotations

import json
import math
from importlib.resources import files

import pytest

from setback.simulate import lessons
from setback.simulate.hidden import Conditions, Machine
from setback.simulate.printed import print_coupon

EXAMPLES = files("setback.simulate") / "examples"


@pytest.mark.parametrize("level", lessons.LEVELS)
def test_a_round_begins_as_far_off_as_its_level_says_and_is_the_same_again(level):
    low, high = lessons.LEVELS[level].off
    for seed in range(12):
        about = lessons.lesson(level, seed)
        off = math.log(about.first_s / about.right_s)
        step = lessons.STEP_S / about.right_s
        assert low * lessons.LESS - step <= abs(off) <= high + step
        assert lessons.lesson(level, seed) == about


@pytest.mark.long
def test_the_right_exposure_is_called_right_by_its_own_truth():
    about = lessons.lesson(1, 5)
    printed = print_coupon(lessons.drawing(), Machine(lessons.PIXEL_MM), about.resin, Conditions(about.right_s), 5)
    states = lessons.true_states(printed)
    assert sum(key.startswith("taper") for key in states) == 1
    shown = lessons.coupon_of(about, 0, lessons.on_step(about.right_s))
    assert shown.call == "right" and abs(shown.growth_um) < lessons.RIGHT_UM
    # The flicker of each print moves nothing but marks at their edge.
    assert sum(shown.states.get(key) != state for key, state in states.items()) <= 6


def test_shipped_examples_are_of_todays_drawings_and_their_truth_is_todays():
    index = json.loads((EXAMPLES / "index.json").read_text())
    assert index.keys() == lessons.OFF.keys()
    for kind, about in index.items():
        assert about["parameters"] == json.loads(json.dumps(lessons.drawing(kind).parameters))
        assert all((EXAMPLES / f"{kind}-{call}.jpg").is_file() for call in lessons.OFF[kind])
    today = lessons.example("support", "under")
    assert index["support"]["examples"]["under"]["states"] == today.states
    growths = [index["flat"]["examples"][call]["growth_um"] for call in ("under", "right", "over")]
    assert growths[0] < -lessons.RIGHT_UM and abs(growths[1]) < 3 and growths[2] > lessons.RIGHT_UM
