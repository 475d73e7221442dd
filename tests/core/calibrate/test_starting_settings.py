"""Settings to begin with: which set is most like, and a base exposure by the lab's own rule."""

import pytest

from setback.core.calibrate.starting_settings import BaseRule, Kin, base_exposure, most_like


def kin(code, material="m", line=None, family=None, opacity=None, at="2025-01-01"):
    return Kin(code, material, line, family, opacity, at)


OTHERS = [
    kin("S-1", "a", "Harbour", "tough", "opaque", "2025-06-01"),
    kin("S-2", "b", "Reef", "basic", "opaque", "2025-02-01"),
    kin("S-3", "c", "Reef", "basic", "clear", "2025-03-01"),
]


@pytest.mark.parametrize(
    ("own", "code", "words"),
    [
        (kin("", "b", "Reef", "basic", "opaque"), "S-2", "this material"),
        (kin("", "x", "Reef", "flexible", "clear"), "S-3", "line"),
        (kin("", "x", "Cliff", "basic", "opaque"), "S-2", "family and opacity"),
        (kin("", "x", "Cliff", "tough", "clear"), "S-1", "same family"),
        (kin("", "x", None, None, None), "S-1", "newest"),
    ],
)
def test_the_set_that_is_most_like_comes_first(own, code, words):
    found, said = most_like(own, OTHERS)
    assert found.code == code and words in said


def test_without_a_set_there_is_none():
    assert most_like(kin(""), []) is None


def test_a_base_exposure_by_a_multiple_is_on_the_printers_step_and_seconds_win():
    assert base_exposure(2.63, BaseRule(multiple=8), 0.1) == (21.1, "8 times the expected 2.6 s")
    assert base_exposure(2.63, BaseRule(multiple=8, seconds=30), 0.1)[0] == 30
    assert base_exposure(2.63, BaseRule(), 0.1) is None
