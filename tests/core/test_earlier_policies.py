"""What may be chosen inside a window, and what helps when there is none."""

import math
from dataclasses import dataclass

import pytest

from setback.core.earlier_window.lanes import End
from setback.core.earlier_window.policies import CENTRE, HARDEST, SIZE_TRUE, SUPPORT_SAFE, choose
from setback.core.window.remedies import remedies


@dataclass
class Placed:
    lane: str
    x: float
    end: End


def placed(lane, seconds, safe_s=None):
    x = math.log(seconds)
    return Placed(lane, x, End(x, x, se=0.05, safe_x=math.log(safe_s) if safe_s else None))


def ask(lowers, uppers, size_true=None, step=0.05, guard=5):
    return choose(lowers, uppers, math.log(size_true) if size_true else None, step, guard)


def test_the_guard_and_the_doubt_both_count_whichever_asks_more():
    by_guard = ask([placed("tips", 2.0, 2.01)], [placed("slots", 4.0)]).policies
    by_doubt = ask([placed("tips", 2.0, 2.31)], [placed("slots", 4.0)]).policies
    assert by_guard[SUPPORT_SAFE] == 2.1 and by_doubt[SUPPORT_SAFE] == 2.35


def test_support_safe_needs_a_tips_lane():
    assert ask([placed("walls", 2.0)], [placed("slots", 4.0)]).policies[SUPPORT_SAFE] is None


def test_every_lower_end_is_cleared_not_only_the_highest():
    wide = ask([placed("tips", 2.0, 2.1), placed("walls", 1.9, 2.6)], [placed("slots", 4.0)]).policies
    assert wide[SUPPORT_SAFE] == 2.6


def test_hardest_is_never_below_the_centre():
    narrow = ask([placed("walls", 2.0)], [placed("slots", 2.2, 1.7)]).policies
    assert narrow[HARDEST] == narrow[CENTRE] == 2.1


def test_size_true_outside_the_window_is_none_and_outside_the_others_is_said():
    assert ask([placed("walls", 2.0)], [placed("slots", 4.0)], size_true=1.9).policies[SIZE_TRUE] is None
    low = ask([placed("tips", 2.0, 2.5)], [placed("slots", 4.0)], size_true=2.1)
    assert [w.code for w in low.warnings] == ["size-true-below-support-safe"]
    high = ask([placed("walls", 2.0)], [placed("slots", 4.0, 3.0)], size_true=3.8)
    assert [w.code for w in high.warnings] == ["size-true-above-hardest"]


def test_no_step_inside_gives_none_of_them_and_says_so():
    told = ask([placed("walls", 2.01)], [placed("slots", 2.04)])
    assert set(told.policies.values()) == {None} and told.warnings[0].code == "no-step"


@pytest.mark.parametrize(
    ("lower", "upper", "has", "has_not"),
    [
        ("tips", "size", {"tips", "tolerance"}, {"layer"}),
        ("cure", "z", {"layer"}, {"tips"}),
        ("walls", "slots", {"tolerance"}, {"tips", "layer"}),
    ],
)
def test_remedies_fit_the_conflict_and_the_cheapest_come_first(lower, upper, has, has_not):
    codes = [r.code for r in remedies(lower, upper)]
    assert codes[:3] == ["rest", "warm", "slow"]
    assert has <= set(codes) and not has_not & set(codes)
