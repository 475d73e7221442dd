"""The window where the bench departs from the book: a sentence, never an error, and an offer only where it is earned."""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from setback.core.reading.evidence import CouponEvidence
from setback.core.window.contract import WindowInput
from setback.core.window.process_window import process_window

SIZES = [0.1, 0.15, 0.2, 0.25, 0.3, 0.35, 0.4, 0.5]
LIMITS = {"growth_tol_um": 45, "walls_size_mm": 0.2, "slots_size_mm": 0.3, "tips_size_mm": 0.4}


def flat(exposure_s, label=None, true_s=2.5, **more):
    """A flat coupon as it comes out without noise: walls stand and slots close round the nominal exposure."""
    x = math.log(exposure_s / true_s)
    stands = [x > -0.5 - 0.4 * math.log(s / 0.2) for s in SIZES]
    is_open = [x < 0.5 + (s - 0.3) / 0.1 for s in SIZES]
    # The edge of a blurred image; where too little light is left the bars wash away.
    left = 2 - math.exp(-x)
    growth = 0.05 * (x if x > 0 else math.log(max(left, 0.1)))
    blocks = [
        {"kind": kind, "nominal_mm": n, "measured_mm": round(n + sign * 2 * growth, 3)}
        if left > 0.15
        else {"kind": kind, "nominal_mm": n, "state": "washed"}
        for n in (7, 11)
        for kind, sign in (("outer", 1), ("inner", -1))
        if left > 0.15 or kind == "outer"
    ]
    return {
        "exposure_s": exposure_s,
        "label": label or f"F{exposure_s:g}",
        "blocks": blocks,
        "walls": [{"size_mm": s, "standing": 2 * w, "of": 2} for s, w in zip(SIZES, stands, strict=True)],
        "slots": [{"size_mm": s, "open": 2 * o, "of": 2} for s, o in zip(SIZES, is_open, strict=True)],
        **more,
    }


def support(exposure_s, true_s=2.5, **more):
    x = math.log(exposure_s / true_s)
    tips = [
        {"size_mm": s, "held": 3 * (x > -0.35 - 1.2 * math.log(s / 0.4)), "of": 3}
        for s in (0.25, 0.3, 0.35, 0.4, 0.5, 0.6)
    ]
    return {"exposure_s": exposure_s, "label": f"S{exposure_s:g}", "tips": tips, **more}


def window(coupons, limits=LIMITS, step=0.1, **more):
    return process_window(
        WindowInput.model_validate({"coupons": coupons, "limits": limits, "exposure_step_s": step, **more})
    )


def codes(result):
    return {warning.code for warning in result.warnings}


LADDER = [flat(t) for t in (1.2, 1.6, 2.0, 2.5, 3.2, 4.2)]
TIPS = [support(t) for t in (1.4, 1.7, 2.0, 2.6)]


def test_a_sound_campaign_is_offered_with_its_chances():
    result = window(LADDER + TIPS)
    assert result.decision == "offer" and not result.missing_lanes
    assert result.policies["support-safe"] <= result.policies["centre"] <= result.policies["hardest-in-tolerance"]
    assert all(result.policies_p[name] >= 0.8 for name, t in result.policies.items() if t is not None)
    assert result.size_true_s == pytest.approx(2.5, rel=0.04)
    steps = [one.exposure_s for one in result.p_holds]
    assert steps[0] == 1.2 and steps[-1] == 4.2 and all(0 <= one.p <= 1 for one in result.p_holds)
    assert {p.exposure_s for p in result.predictions} >= set(steps)
    centre = next(p for p in result.predictions if p.exposure_s == result.policies["centre"])
    assert centre.growth_ci_um[0] < centre.growth_um < centre.growth_ci_um[1]
    assert centre.tip_ci[0] <= centre.tip_probability <= 1 and centre.walls_ci[0] <= centre.walls_of


def test_without_the_tips_that_were_asked_for_nothing_is_offered():
    result = window(LADDER)
    assert result.missing_lanes == ["tips"] and result.decision == "more" and result.policies is None
    assert "missing-lane" in codes(result)


def test_one_exposure_and_two():
    one = window([flat(2.0)])
    assert (one.decision, one.lanes, one.policies) == ("more", {}, None) and one.next is not None
    two = window([flat(1.6), flat(3.2)], {"growth_tol_um": 45})
    assert two.decision != "offer" and not two.lanes["size"].found.upper


def test_limits_that_exclude_each_other_are_said_with_the_gap():
    limits = {"growth_tol_um": 45, "walls_size_mm": 0.15, "slots_size_mm": 0.2}
    far = [flat(t) for t in (0.8, 1.2, 1.6, 2.0, 2.5, 3.2, 4.2, 5.5)]
    for coupon in far:
        x = math.log(coupon["exposure_s"] / 2.5)
        coupon["walls"] = [{"size_mm": s, "standing": 2 * (x > 0.4 - 0.4 * math.log(s / 0.2)), "of": 2} for s in SIZES]
        coupon["slots"] = [{"size_mm": s, "open": 2 * (x < -0.4 + (s - 0.2) / 0.1), "of": 2} for s in SIZES]
    result = window(far, limits)
    assert result.decision == "none" and result.p_window <= 0.05 and result.policies is None
    assert {result.conflict.lower_from, result.conflict.upper_from} == {"walls", "slots"}
    assert result.conflict.gap_ci_pct[0] < result.conflict.gap_pct < result.conflict.gap_ci_pct[1]
    assert result.conflict.message.startswith("No exposure is right")


def test_a_lane_that_runs_the_wrong_way_is_left_out_and_asked_about():
    turned = [{**flat(t), "blocks": flat(2.5**2 / t)["blocks"]} for t in (1.6, 2.0, 2.5, 3.2)]
    result = window(turned, {"growth_tol_um": 45, "walls_size_mm": 0.2})
    assert "wrong-direction" in codes(result) and result.decision == "more" and result.provisional
    assert "size" in result.missing_lanes


def test_two_swapped_coupons_are_named():
    coupons = [flat(t) for t in (1.2, 1.6, 2.0, 2.5, 3.2, 4.2)]
    coupons[1], coupons[4] = (
        {**coupons[4], "exposure_s": 1.6, "label": "A"},
        {**coupons[1], "exposure_s": 3.2, "label": "B"},
    )
    result = window(coupons + TIPS)
    assert {one.coupon for one in result.contradictions} == {"A", "B"}
    assert result.decision == "more" and all("Repeat it" in one.message for one in result.contradictions)


def test_bars_that_washed_away_are_evidence():
    gone = {"kind": "outer", "nominal_mm": 7, "state": "washed"}
    thin = {**flat(1.0), "blocks": [gone, {**gone, "nominal_mm": 11}], "label": "thin"}
    with_it = window([thin, *LADDER], {"growth_tol_um": 45})
    without = window(LADDER, {"growth_tol_um": 45})
    assert with_it.ladder_s[0] == 1.0 and with_it.size_true_s == pytest.approx(without.size_true_s, rel=0.03)
    with pytest.raises(ValueError, match="not both"):
        CouponEvidence.model_validate({"exposure_s": 1, "blocks": [{**gone, "measured_mm": 7}]})


def test_temperatures_correct_the_light_and_are_said():
    cool = [
        {**flat(t, true_s=2.5 * math.exp(0.025 * (24 - c))), "temp_c": c}
        for t, c in zip((1.6, 2.0, 2.5, 3.2, 4.0), (24, 22, 20, 18, 16), strict=True)
    ]
    result = window(cool, {"growth_tol_um": 45}, reference_temp_c=24)
    assert "temperature-spread" in codes(result)
    assert result.size_true_ci_s[0] <= 2.5 <= result.size_true_ci_s[1]
    assert "temperature-unknown" in codes(window(LADDER))
    assert "temperature-missing" in codes(window([{**LADDER[0], "temp_c": 24}, *LADDER[1:]]))


def test_nothing_outside_what_was_printed():
    dim = window([flat(t) for t in (0.9, 1.1, 1.3, 1.5)], {"walls_size_mm": 0.2, "slots_size_mm": 0.3})
    assert dim.window is None and dim.beyond_ladder == ["walls"] and dim.print_direction == ["longer"]
    wide = window(LADDER, {"growth_tol_um": 45})
    assert wide.window.lower_s >= 1.2 and wide.window.upper_s <= 4.2
    assert all(1.2 <= one.exposure_s <= 4.2 for one in wide.p_holds)


def test_an_end_that_is_only_the_ladders_gives_no_latitude():
    result = window([flat(t) for t in (2.3, 2.5, 2.8)], {"growth_tol_um": 45})
    assert result.window is None or result.window.latitude_pct is None


@pytest.mark.parametrize("step", [0.1, 1.0])
def test_three_decades_and_coarse_steps_are_no_error(step):
    result = window(
        [flat(t) for t in (0.1 if step < 1 else 1, 1, 10, 100) if t], {"growth_tol_um": 45, "walls_size_mm": 0.2}, step
    )
    assert result.decision in ("more", "offer", "none", "narrow")


def test_sharp_evidence_is_not_blurred():
    """Between the last exposure that failed and the first that held lies the end."""
    result = window(LADDER + TIPS)
    for name, side in (("walls", "lower"), ("tips", "lower"), ("slots", "upper")):
        lane = result.lanes[name]
        low, high = lane.bracket_s
        assert low is None or high is None or low * 0.97 <= getattr(lane, f"{side}_s") <= high * 1.03


COUPON = st.builds(
    lambda t, walls, slots, grown, temp: {
        "exposure_s": t,
        "walls": [{"size_mm": s, "standing": n, "of": 2} for s, n in zip(SIZES, walls, strict=False)],
        "slots": [{"size_mm": s, "open": n, "of": 2} for s, n in zip(SIZES, slots, strict=False)],
        "blocks": [{"kind": "outer", "nominal_mm": 7, "measured_mm": 7 + g} for g in grown],
        "temp_c": temp,
    },
    st.floats(0.1, 90),
    st.lists(st.integers(0, 2), max_size=8),
    st.lists(st.integers(0, 2), max_size=8),
    st.lists(st.floats(-0.3, 0.3), max_size=2),
    st.none() | st.floats(-20, 80),
)


@settings(max_examples=25)
@given(st.lists(COUPON, min_size=1, max_size=6))
def test_whatever_was_read_there_is_an_answer(coupons):
    result = window(coupons, {"growth_tol_um": 45, "walls_size_mm": 0.2, "slots_size_mm": 0.3})
    assert all(math.isfinite(one.p) and 0 <= one.p <= 1 for one in result.p_holds)
    assert (result.policies is None) == (result.decision != "offer")
    if result.window:
        assert result.window.lower_s < result.window.upper_s
