"""A campaign of eight coupons on the virtual printer finds the exposure its hidden truth calls size-true."""

from dataclasses import replace

import pytest

from setback.core.earlier_window.contract import WindowInput
from setback.core.earlier_window.process_window import process_window
from setback.core.evidence import Limits
from setback.core.ladder import LadderInput, exposure_ladder
from setback.core.steps import round_to_step
from setback.core.verdict import VerdictInput, coupon_verdict
from setback.core.window.next_exposure import JudgedCoupon, NextExposureInput, next_exposure
from setback.simulate import hidden
from setback.simulate.printed import print_coupon, size_true_s
from tests.length import FULL
from tests.simulate.test_hidden import FLAT, evidence

LIMITS = Limits(growth_tol_um=45, walls_size_mm=0.21, slots_size_mm=0.35)
STEP, RANGE, COUPONS = 0.1, (1.5, 4.0), 8
SEEDS = 400 if FULL else 40


class Campaign:
    """Four coupons over the maker's range, then four where the app says, read by a reader with the usual error."""

    def __init__(self, seed):
        self.seed = seed
        self.machine = hidden.machine(seed, "mono screen", 35, (153, 87))
        self.material = hidden.material(seed, "basic", "opaque", RANGE)
        self.usual = hidden.Conditions(1.0)
        self.read, self.judged = [], []
        ladder = LadderInput(low_s=RANGE[0], high_s=RANGE[1], count=4, exposure_step_s=STEP)
        for exposure in exposure_ladder(ladder).exposures_s:
            self.coupon(exposure)

    def coupon(self, exposure_s):
        number = len(self.read)
        given = replace(self.usual, exposure_s=exposure_s)
        made = print_coupon(FLAT, self.machine, self.material, given, 1000 * self.seed + number)
        seen = evidence(made, 1000 * self.seed + 500 + number).evidence.model_copy(update={"label": str(number)})
        self.read.append(seen)
        verdict = coupon_verdict(VerdictInput(coupon=seen, limits=LIMITS)).verdict
        self.judged.append(JudgedCoupon(exposure_s=exposure_s, verdict=verdict))

    def window(self):
        return process_window(WindowInput(coupons=self.read, limits=LIMITS, exposure_step_s=STEP))

    def offered(self):
        given = NextExposureInput(coupons=self.judged, exposure_step_s=STEP, low_s=RANGE[0], high_s=RANGE[1])
        return next_exposure(given).exposure_s

    def close_in(self):
        """Around what is thought to be size-true so far."""
        while len(self.read) < COUPONS:
            found = self.window().size_true_s
            around = (1.0, 0.9, 1.12, 1.0)[len(self.read) % 4]
            self.coupon(round_to_step(found * around, STEP) if found else self.offered())

    def follow(self):
        """Wherever the next exposure is offered; around size-true when there is no gap left."""
        while len(self.read) < COUPONS:
            offered = self.offered()
            if offered is None:
                self.close_in()
                return
            self.coupon(offered)

    def error(self):
        found = self.window().size_true_s
        return abs(found / size_true_s(self.machine, self.material, self.usual) - 1) if found else 1.0


@pytest.mark.honesty
@pytest.mark.parametrize("way", ["close_in", "follow"])
def test_eight_coupons_land_within_five_percent_for_nine_seeds_in_ten(way):
    errors = []
    for seed in range(SEEDS):
        campaign = Campaign(seed)
        getattr(campaign, way)()
        errors.append(campaign.error())
    assert sum(e <= 0.05 for e in errors) >= 0.9 * SEEDS, sorted(errors)[-6:]
