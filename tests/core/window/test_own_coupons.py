"""Lanes from coupons of a workshop's own: whatever features somebody draws, limits cover the truth and never claim more than ours."""

import math
import random

import pytest
from scipy.stats import binom

from setback.core.reading.evidence import CouponEvidence
from setback.core.window.contract import WindowInput
from setback.core.window.process_window import process_window
from tests.length import FULL

LABS = 300 if FULL else 24
SCALE_SD, SIZE_SD, COUPON_SD, NOISE = 0.03, 0.03, 0.02, 0.03
"""Of the sizes of a coupon together, of each of them, of the light of a coupon, of a feature in ln light."""


def own_lab(seed: int):
    """Coupons with features drawn at random, their limits, and where the end of their lane truly lies, s."""
    chance = random.Random(seed)
    lane = chance.choice(["walls", "slots", "tips"])
    required = chance.uniform(0.15, 0.5)
    a = math.log(chance.uniform(1.5, 6))
    k = {"walls": 0.38, "tips": 0.65, "slots": required / 2 / 0.05}[lane] * math.exp(chance.gauss(0, 0.25))
    rising = lane != "slots"

    def threshold(size: float) -> float:
        if lane == "slots":
            # A slot closes where the light has grown its edges together: narrower ones at less.
            return a + k * (size / required - 1)
        u = math.log(size / required)
        return a + (k * (math.exp(-1.5 * u) - 1) / 1.5 if lane == "walls" else k * (math.exp(-2 * u) - 1))

    scale = chance.gauss(0, SCALE_SD)
    sizes = sorted(
        {round(required * chance.uniform(0.6, 1.5), 2) for _ in range(chance.randint(5, 9))} | {round(required, 2)}
    )
    drawn = {size: size * (1 + scale) * (1 + chance.gauss(0, SIZE_SD)) for size in sizes}
    each = chance.randint(1, 4)
    word = {"walls": "standing", "slots": "open", "tips": "held"}[lane]
    coupons = []
    for step in range(6):
        light = a + (step - 2.5) * 0.22
        shift = chance.gauss(0, COUPON_SD)
        rows = []
        for size in sizes:
            past = [light + shift > threshold(drawn[size]) + chance.gauss(0, NOISE) for _ in range(each)]
            rows.append({"size_mm": size, word: sum(past) if rising else each - sum(past), "of": each})
        coupons.append({"exposure_s": round(math.exp(light), 2), lane: rows})
    probability = 0.9
    limits = {f"{lane}_size_mm": required, f"{lane}_probability": probability}
    reach = NOISE * 1.2816
    truth = math.exp(a + reach) if rising else math.exp(a - reach)
    return lane, coupons, limits, truth


def ends(lane, coupons, limits, own):
    evidence = [CouponEvidence.model_validate(coupon | {"own": own}) for coupon in coupons]
    result = process_window(WindowInput(coupons=evidence, limits=limits, exposure_step_s=0.05))
    fitted = result.lanes.get(lane)
    side = "upper" if lane == "slots" else "lower"
    interval = getattr(fitted, f"{side}_ci_s") if fitted else None
    return interval if interval and getattr(fitted.found, side) else None


@pytest.mark.honesty
def test_limits_cover_the_truth_and_are_at_least_as_wide_as_ours():
    covered, narrower, found = [], 0, 0
    for seed in range(LABS):
        lane, coupons, limits, truth = own_lab(seed)
        interval, ours = ends(lane, coupons, limits, True), ends(lane, coupons, limits, False)
        if interval is None:
            continue
        found += 1
        covered.append(interval[0] <= truth <= interval[1])
        if ours is not None:
            narrower += math.log(interval[1] / interval[0]) < 0.995 * math.log(ours[1] / ours[0])
    print(f"{sum(covered)} of {len(covered)} ends covered, {narrower} narrower than ours, {found} of {LABS} found")
    faults = covered.count(False)
    assert found >= LABS / 3
    assert not faults or binom.sf(faults - 1, len(covered), 0.10) > 0.05
    assert narrower == 0
