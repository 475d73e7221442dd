"""Whole prints by month with their intervals, and whether the newest differ from those before."""

import numpy as np
import pytest
from scipy.stats import binomtest

from setback.core.prints.over_time import MonthOfPrints, change, month_shares


def shares(*counts):
    return month_shares([MonthOfPrints(month=f"2026-{n:02d}", prints=p, whole=w) for n, (p, w) in enumerate(counts, 1)])


def test_a_share_lies_inside_its_interval_and_few_prints_have_a_wide_one():
    few, many = shares((10, 8), (100, 80))
    assert few.ci[0] < few.share == 0.8 < few.ci[1]
    assert few.ci[1] - few.ci[0] > 2 * (many.ci[1] - many.ci[0])


def test_none_and_all_whole_end_at_the_edges():
    none, every = shares((5, 0), (5, 5))
    assert none.ci[0] == 0 and 0 < none.ci[1] < 0.5
    assert every.ci[1] == 1 and 0.5 < every.ci[0] < 1


@pytest.mark.parametrize("truth", [0.5, 0.8, 0.95])
def test_intervals_hold_what_they_claim_on_the_whole(truth):
    rng = np.random.default_rng(int(100 * truth))
    inside = [shares((20, int(w)))[0].ci for w in rng.binomial(20, truth, 600)]
    held = sum(low <= truth <= high for low, high in inside)
    # Jeffreys' interval is right on average; for one share it may fall some points short.
    assert binomtest(held, 600, 0.92, alternative="less").pvalue > 1e-4


def test_a_change_is_shown_and_chance_is_not():
    good, bad = [True] * 19 + [False], [True, False] * 10
    told = change(bad + good * 3)
    assert told.shown and (told.newest, told.newest_whole, told.before, told.before_whole) == (20, 10, 60, 57)
    assert not change(good * 4).shown
    assert change(good + [True] * 5) is None


def test_shops_without_a_change_are_rarely_told_of_one():
    rng = np.random.default_rng(7)
    told = [change(list(rng.random(90) < 0.85)).shown for _ in range(500)]
    assert sum(told) <= 12
