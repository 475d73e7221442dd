import random

from setback.core.tally import ReadFeature, tally
from setback.core.verdict import growth_um
from setback.coupon import flat, support
from setback.simulate.exposure import Truth, expose

FLAT, SUPPORT = flat(0.035, 0.4), support(0.035, 0.4)
TRUTH = Truth(0.8)


def evidence(coupon, exposure, truth=TRUTH, temp=25, seed=1):
    seen = expose(coupon.features, exposure, truth, 0.05, temp, random.Random(seed))
    drawn = {f.key: f for f in coupon.features}
    features = [
        ReadFeature(
            key=s.key, kind=drawn[s.key].kind, side=drawn[s.key].side, size_mm=drawn[s.key].size_mm,
            axis=drawn[s.key].axis, state=s.state, measured_mm=s.measured_mm,
        )
        for s in seen
    ]  # fmt: skip
    return tally(exposure, features)


def test_growth_rises_with_exposure_and_crosses_zero_at_twice_the_edge_dose():
    grown = [growth_um(evidence(FLAT, t).evidence) for t in (1.4, 2.0, 2.8, 4.0)]
    assert grown == sorted(grown)
    true = 2 * TRUTH.edge_exposure_s(0.05, 25)
    assert abs(growth_um(evidence(FLAT, true).evidence)) < 8


def test_warm_resin_needs_less_light():
    assert TRUTH.edge_exposure_s(0.05, 30) < TRUTH.edge_exposure_s(0.05, 20)


def test_walls_stand_slots_close_and_tips_hold_with_more_light():
    dim, bright = evidence(FLAT, 1.6).evidence, evidence(FLAT, 4.2).evidence
    assert sum(w.standing for w in dim.walls) < sum(w.standing for w in bright.walls)
    assert sum(s.open for s in dim.slots) > sum(s.open for s in bright.slots)
    held = [sum(t.held for t in evidence(SUPPORT, t).evidence.tips) for t in (1.5, 2.5, 4)]
    assert held == sorted(held) and held[0] < held[-1]


def test_uneven_light_shows_on_one_side():
    assert evidence(FLAT, 2.6, Truth(0.8, right_light=0.7)).findings


def test_a_seed_gives_the_same_reading():
    assert evidence(FLAT, 2.4, seed=7) == evidence(FLAT, 2.4, seed=7)
