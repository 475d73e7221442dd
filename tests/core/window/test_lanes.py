"""What each lane is called and asks for; a lane is entered in one place."""

import numpy as np
import pytest

from setback.core.reading.evidence import CouponEvidence, Limits
from setback.core.window import lanes
from setback.core.window.contract import WindowInput
from setback.core.window.lanes import LANES, Found, Lane, LaneFit
from setback.core.window.process_window import process_window

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
    ends = Lane("No more than three", lambda limits: "at most 3 s", lambda _: LaneFit("three", upper=end))
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
