"""What each lane is called and asks for; a lane is entered in one place."""

import numpy as np
import pytest

from setback.core.reading.evidence import CouponEvidence
from setback.core.window import lanes
from setback.core.window.contract import WindowInput
from setback.core.window.lanes import LANES, Found, Lane, LaneFit, Limits
from setback.core.window.lanes.base import OVER, RIGHT
from setback.core.window.process_window import process_window
from setback.core.window.verdict import VerdictInput, coupon_verdict

LN3 = 1.0986122886681098
LIMITS = Limits(
    growth_tol_um=45,
    walls_size_mm=0.21,
    slots_size_mm=0.35,
    tips_size_mm=0.42,
    z_bloom_max_um=150,
    fail_tip_size_mm=0.3,
)


def needs(key, **changes):
    return LANES[key].needs(LIMITS.model_copy(update=changes)).replace("\u2009", " ")


@pytest.mark.parametrize(
    ("key", "changes", "words"),
    [
        ("size", {}, "within ±45 µm"),
        ("size", {"growth_target_um": 10}, "within 10 ±45 µm"),
        ("z", {}, "at most 150 µm"),
        ("walls", {}, "0.21 mm, 90 % stand"),
        ("slots", {"slots_probability": 0.955}, "0.35 mm, 95.5 % open"),
        ("tips", {}, "0.42 mm, hold 95 %"),
        ("tips", {"tips_per_part": 24}, "0.42 mm, 24 hold 95 %"),
        ("cure", {}, "binds to the layer below"),
        ("fail-tip", {}, "0.3 mm lets go"),
    ],
)
def test_it_says_what_it_asks_of_the_parts(key, changes, words):
    assert needs(key, **changes) == words


def test_every_lane_has_a_name_of_its_own():
    assert len({lane.name for lane in LANES.values()}) == len(LANES)


def test_a_lane_entered_there_is_drawn_and_counts_without_another_line(monkeypatch):
    """A lane that forbids all light above 3 s: it takes part in the window, named, worded and placed last."""
    end = Found("upper", np.array([LN3]), np.array([1.0]))
    ends = Lane(
        "three",
        "No more than three",
        lambda limits: "at most 3 s",
        lambda _: LaneFit("three", upper=end),
        judge=lambda coupon, limits: OVER if coupon.exposure_s > 3 else RIGHT,
    )
    monkeypatch.setitem(lanes.LANES, "three", ends)
    coupons = [
        CouponEvidence.model_validate(
            {
                "exposure_s": t,
                "blocks": [
                    {"kind": "outer", "nominal_mm": 8, "measured_mm": 8 + g},
                    {"kind": "outer", "nominal_mm": 2, "measured_mm": 2 + g},
                ],
            }
        )
        for t, g in ((1.5, -0.06), (2.0, -0.02), (2.8, 0.02), (4.0, 0.05))
    ]
    made = process_window(WindowInput(coupons=coupons, limits=Limits(growth_tol_um=45), exposure_step_s=0.1))
    assert made.window.upper_from == "three" and made.window.upper_s == pytest.approx(3)
    assert made.lanes["three"].name == "No more than three" and made.lanes["three"].needs == "at most 3 s"
    assert made.lanes["three"].place > made.lanes["size"].place
    judged = [coupon_verdict(VerdictInput(coupon=c, limits=Limits())) for c in coupons]
    assert [(v.verdict, v.over, v.judged) for v in judged] == [("ok", [], ["three"])] * 3 + [
        ("over", ["three"], ["three"])
    ]


def test_every_limit_is_asked_for_by_its_lane_once():
    asked = [field.key for lane in LANES.values() for field in lane.fields]
    assert len(asked) == len(set(asked)) and set(asked) <= set(Limits.model_fields)
    assert set(Limits.model_fields) - set(asked) == {"fail_tip_probability"}, "as it ships; nobody asked to change it"
    for lane in LANES.values():
        assert bool(lane.fields) == (lane.coupon is not None)
        wanted = LIMITS.model_copy(update={f.key: getattr(LIMITS, f.key) or 1 for f in lane.fields})
        assert not lane.limited(Limits()) and (not lane.fields or lane.limited(wanted))
