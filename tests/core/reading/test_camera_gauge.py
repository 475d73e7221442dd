"""A camera's systematic error from coupons read both ways."""

from __future__ import annotations

import random

import pytest

from setback.core.reading.camera_gauge import SizePair, camera_bias


def pairs(bias_um, coupons=8, sd_um=3.0, seed=1):
    chance = random.Random(seed)
    made = []
    for n in range(coupons):
        off = bias_um + chance.gauss(0, sd_um)
        for drawn in (7.0, 11.0):
            made.append(SizePair(str(n), "outer", drawn + 2 * off / 1000, drawn))
            made.append(SizePair(str(n), "inner", drawn - 2 * off / 1000, drawn))
    return made


def test_bars_too_wide_and_notches_too_narrow_are_one_bias_of_edges():
    gauge = camera_bias(pairs(12.0))
    assert gauge.coupons == 8 and gauge.bias_um == pytest.approx(12, abs=3) and gauge.shown
    assert gauge.bias_ci_um[0] < 12 < gauge.bias_ci_um[1]


def test_scale_alone_is_no_bias_of_edges():
    # A wrong resolution makes bars and notches of one size longer alike.
    wrong = [SizePair(str(n), kind, 7.07, 7.0) for n in range(5) for kind in ("outer", "inner")]
    assert camera_bias(wrong).bias_um == pytest.approx(0) and not camera_bias(wrong).shown


def test_planted_biases_lie_within_their_interval_in_19_of_20():
    inside = 0
    for seed in range(200):
        low, high = camera_bias(pairs(5.0, coupons=6, seed=seed)).bias_ci_um
        inside += low <= 5.0 <= high
    assert inside >= 183


def test_few_coupons_show_nothing():
    assert camera_bias([]) is None
    assert camera_bias(pairs(40.0, coupons=2)).bias_ci_um is None and not camera_bias(pairs(40.0, coupons=2)).shown
