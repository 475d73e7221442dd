"""The earlier process window at the edges of its evidence, and what must hold for any evidence."""

import copy
import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from setback.core.calculators import validated
from setback.core.contract import Problem
from setback.core.earlier_window.contract import WindowInput
from setback.core.earlier_window.process_window import process_window
from setback.core.steps import round_to_step


def window(given):
    return process_window(validated(WindowInput, given)).model_dump(mode="json")


LIMITS = {"growth_tol_um": 45}


def block(growth_um, nominal=7, kind="outer", scale=1.0):
    sign = 1 if kind == "outer" else -1
    return {"kind": kind, "nominal_mm": nominal, "measured_mm": nominal * scale + sign * 2 * growth_um / 1000}


def sized(exposure, growth_um, **more):
    return {
        "exposure_s": exposure,
        "blocks": [block(growth_um, n, k) for n in (7, 11) for k in ("outer", "inner")],
        **more,
    }


def tips(exposure, held, of=2, size=0.4):
    return {"exposure_s": exposure, "tips": [{"size_mm": size, "held": held, "of": of}]}


def ask(coupons, limits, step=0.05, **more):
    return window({"coupons": coupons, "limits": limits, "exposure_step_s": step, **more})


def codes(result):
    return [w["code"] for w in result["warnings"]]


def both_sides(slope=100.0, exposures=(1.5, 2, 2.7, 3.6), jitter=(1, -2, 2, -1)):
    """Size lane on both sides; a little scatter so that the doubt is not zero."""
    return [sized(t, slope * math.log(t / 2.3) + j) for t, j in zip(exposures, jitter, strict=True)]


class TestLittleEvidence:
    def test_one_exposure_gives_raw_readings_and_what_to_print_next(self):
        result = ask([sized(2, -80, walls=[{"size_mm": 0.2, "standing": 1, "of": 2}])], LIMITS)
        assert result["lanes"] == {} and result["window"] is None
        assert result["raw"][0]["growth_um"] == pytest.approx(-80) and result["raw"][0]["walls_of"] == 2
        assert result["next"]["exposure_s"] == 3.0
        assert "one-exposure" in codes(result)

    def test_two_exposures_leave_no_intervals_and_prove_nothing(self):
        result = ask([sized(1, -100), sized(4, 100)], {"growth_tol_um": 10})
        size = result["lanes"]["size"]
        assert size["lower_ci_s"] is None and size["upper_ci_s"] is None
        low, high = size["lower_s"], size["upper_s"]
        assert result["policies"]["hardest-in-tolerance"] == round_to_step(high / 1.05 - 0.025, 0.05)
        assert low < result["policies"]["centre"] < high

    def test_two_exposures_never_prove_a_conflict(self):
        coupons = [
            {**tips(1, 0), "slots": [{"size_mm": 0.3, "open": 1}]},
            {**tips(4, 2), "slots": [{"size_mm": 0.3, "open": 0}]},
        ]
        result = ask(coupons, {"tips_size_mm": 0.4, "slots_size_mm": 0.3})
        assert result["conflict"] is None or result["conflict"]["proven"] is False
        assert "two-exposures" in codes(result)

    def test_only_one_side_known(self):
        result = ask([tips(1.6, 0), tips(2, 0), tips(2.5, 2), tips(3.1, 2)], {"tips_size_mm": 0.4})
        assert result["window"] is None and result["policies"] is None
        assert result["open_side"] == "upper"

    def test_nothing_left(self):
        result = ask([sized(2, 0, damaged=True), sized(3, 10, uncured=True)], LIMITS)
        assert "none-left" in codes(result) and len(result["left_out"]) == 2


class TestLeftOut:
    def test_faulty_coupons_are_named_and_do_not_count(self):
        good = both_sides()
        spoiled = sized(2.2, 400, label="K7", uncured=True, damaged=True)
        result = ask([*good, spoiled], LIMITS)
        assert result["window"] == ask(good, LIMITS)["window"]
        assert result["left_out"] == [{"coupon": "K7", "exposure_s": 2.2, "why": ["damaged", "uncured"]}]

    def test_included_on_purpose_they_count_and_stay_provisional(self):
        early = sized(2.2, 30, label="K7", uncured=True, include=True)
        result = ask([*both_sides(), early], LIMITS)
        assert result["left_out"] == [] and result["provisional"] is True
        assert "included" in codes(result)
        assert result["window"] != ask(both_sides(), LIMITS)["window"]


class TestDirection:
    def test_swapped_coupons_leave_the_lane_out(self):
        result = ask([sized(1.5, 60), sized(2, 20), sized(3, -50)], LIMITS)
        assert "size" not in result["lanes"]
        assert "wrong-direction" in codes(result) and result["provisional"] is True
        assert any("swapped" in w["message"] for w in result["warnings"])

    def test_tips_that_hold_less_with_more_light(self):
        result = ask([tips(1.5, 2), tips(2, 1), tips(3, 0)], {"tips_size_mm": 0.4})
        assert result["lanes"] == {} and "wrong-direction" in codes(result)

    def test_slots_that_open_with_more_light(self):
        coupons = [
            {"exposure_s": t, "slots": [{"size_mm": 0.3, "open": k, "of": 2}]} for t, k in ((1, 0), (2, 1), (3, 2))
        ]
        assert "wrong-direction" in codes(ask(coupons, {"slots_size_mm": 0.3}))

    def test_small_features_that_beat_large_ones(self):
        coupons = [
            {"exposure_s": t, "walls": [{"size_mm": 0.1, "standing": 1}, {"size_mm": 0.5, "standing": n}]}
            for t, n in ((1, 0), (2, 0), (3, 1))
        ]
        assert "wrong-direction" in codes(ask(coupons, {"walls_size_mm": 0.2}))

    def test_features_undone_by_more_light_name_the_higher_coupon(self):
        def walls(exposure, standing, label):
            sizes = (0.1, 0.15, 0.2, 0.3, 0.4)
            return {
                "exposure_s": exposure,
                "label": label,
                "walls": [{"size_mm": s, "standing": int(i >= 5 - standing)} for i, s in enumerate(sizes)],
            }

        result = ask(
            [walls(1.5, 2, "A"), walls(2, 4, "B"), walls(2.6, 2, "C"), walls(4, 5, "D")], {"walls_size_mm": 0.2}
        )
        said = [w["message"] for w in result["warnings"] if w["code"] == "not-monotone"]
        assert len(said) == 1 and said[0].endswith("repeat C.")
        assert result["lanes"]["walls"]["bracket_s"] is None

    def test_a_weak_slope_is_kept_and_said(self):
        coupons = [sized(t, g) for t, g in ((1.5, -10), (2, 30), (2.6, -20), (3.4, 20))]
        result = ask(coupons, LIMITS)
        assert "weak" in codes(result) and "size" in result["lanes"]


class TestCensored:
    def test_all_formed_counts_as_the_lowest_printed(self):
        result = ask([tips(1.5, 2), tips(2, 2), tips(3, 2)], {"tips_size_mm": 0.4, "tips_probability": 0.999})
        lane = result["lanes"]["tips"]
        assert lane["lower_s"] == pytest.approx(1.5) and lane["bracket_s"] == [None, 1.5]
        assert "censored" in codes(result)

    def test_none_formed_sends_to_longer_exposures(self):
        result = ask([tips(1.5, 0), tips(2, 0), tips(3, 0)], {"tips_size_mm": 0.4})
        assert result["beyond_ladder"] == ["tips"] and result["print_direction"] == ["longer"]
        assert result["lanes"]["tips"]["lower_s"] is None and result["lanes"]["tips"]["beyond"] == "longer"

    def test_closed_slots_send_to_shorter_exposures(self):
        coupons = [{"exposure_s": t, "slots": [{"size_mm": 0.3, "open": 0}]} for t in (2, 3)]
        result = ask(coupons, {"slots_size_mm": 0.3})
        assert result["print_direction"] == ["shorter"]

    def test_no_size_on_the_needed_side_leaves_the_lane_out(self):
        coupons = [
            {"exposure_s": t, "walls": [{"size_mm": 0.1, "standing": 0}, {"size_mm": 0.4, "standing": 1}]}
            for t in (1, 2, 3)
        ]
        result = ask(coupons, {"walls_size_mm": 0.2})
        assert "walls" not in result["lanes"] and "too-few" in codes(result)

    def test_each_coupon_with_another_size_drops_the_size_term(self):
        coupons = [tips(1.5, 0, size=0.3), tips(2, 1, size=0.35), tips(3, 2, size=0.4)]
        result = ask(coupons, {"tips_size_mm": 0.35})
        assert "size-dropped" in codes(result) and "tips" in result["lanes"]


class TestCapped:
    SHARP = [tips(t, h) for t, h in ((1.6, 0), (2.0, 0), (2.6, 2), (3.4, 2))]

    def test_sharp_evidence_is_never_blurred(self):
        few = [tips(t, h, of=1) for t, h in ((1.6, 0), (2.0, 0), (2.1, 1))]
        lane = ask(few, {"tips_size_mm": 0.4, "tips_probability": 0.95})["lanes"]["tips"]
        assert lane["lower_capped"] is True and lane["lower_s"] == pytest.approx(2.1)
        assert lane["bracket_s"] == [2.0, 2.1] and lane["lower_ci_s"][1] > 2.1

    def test_not_for_a_whole_part(self):
        few = [tips(t, h, of=1) for t, h in ((1.6, 0), (2.0, 0), (2.1, 1))]
        lane = ask(few, {"tips_size_mm": 0.4, "tips_per_part": 24})["lanes"]["tips"]
        assert lane["lower_capped"] is False

    def test_not_when_anything_formed_in_part(self):
        coupons = copy.deepcopy(self.SHARP)
        coupons[1]["tips"][0]["partial"] = 1
        assert ask(coupons, {"tips_size_mm": 0.4})["lanes"]["tips"]["lower_capped"] is False

    def test_predictions_beyond_a_capped_end_keep_the_probability(self):
        few = [tips(t, h, of=1) for t, h in ((1.6, 0), (2.0, 0), (2.1, 1))]
        result = ask(few, {"tips_size_mm": 0.4}, exposures_s=[2.0, 2.1])
        assert [p["tip_probability"] >= 0.95 for p in result["predictions"]] == [False, True]

    def test_contradicting_order_has_no_bracket(self):
        coupons = [tips(t, h) for t, h in ((1.6, 2), (2.0, 0), (2.6, 2), (3.4, 2))]
        assert ask(coupons, {"tips_size_mm": 0.4})["lanes"]["tips"]["bracket_s"] is None

    def test_fail_tip_ends_are_never_capped(self):
        coupons = [
            {"exposure_s": t, "tips": [{"size_mm": 0.2, "held": a, "of": 2}, {"size_mm": 0.4, "held": b, "of": 2}]}
            for t, a, b in ((1.5, 0, 0), (2, 0, 2), (3, 0, 2), (4, 2, 2))
        ]
        result = ask(coupons, {"tips_size_mm": 0.4, "fail_tip_size_mm": 0.2})
        lane = result["lanes"]["fail-tip"]
        assert lane["upper_capped"] is False and lane["upper_s"] < 4


class TestConflict:
    def coupons(self, gap):
        """Tips hold from 2 s up; slots close above 2 s / gap."""
        rows = []
        for t in (1.2, 1.4, 1.6, 1.8, 2.0, 2.2, 2.5, 2.8):
            open_until = 2.0 / gap
            rows.append(
                {
                    "exposure_s": t,
                    "tips": [{"size_mm": 0.4, "held": 8 if t >= 2 else 0, "of": 8}],
                    "slots": [{"size_mm": 0.3, "open": 8 if t <= open_until else 0, "of": 8}],
                }
            )
        return rows

    def test_proven_conflict_offers_nothing(self):
        result = ask(self.coupons(1.5), {"tips_size_mm": 0.4, "slots_size_mm": 0.3})
        conflict = result["conflict"]
        assert conflict["proven"] is True and conflict["try_s"] is None
        assert result["window"] is None and result["policies"] is None
        assert [r["code"] for r in conflict["remedies"]][:3] == ["rest", "warm", "slow"]
        assert "tips" in [r["code"] for r in conflict["remedies"]]

    def test_unproven_conflict_is_worth_one_more_coupon(self):
        result = ask(self.coupons(1.1), {"tips_size_mm": 0.4, "slots_size_mm": 0.3})
        conflict = result["conflict"]
        assert conflict["proven"] is False
        assert conflict["try_s"] == round_to_step(math.sqrt(conflict["lower_s"] * conflict["upper_s"]), 0.05)
        assert result["policies"] is None


class TestNoStep:
    def test_a_window_between_two_steps_is_said(self):
        result = ask(both_sides(), {"growth_tol_um": 5}, step=0.5)
        assert result["window"] is not None
        assert set(result["policies"].values()) == {None}
        assert "no-step" in codes(result)


class TestGauge:
    def test_a_gauge_study_widens_the_size_lane(self):
        plain, wide = (ask(both_sides(), LIMITS, reproducibility_sd_um=sd)["lanes"]["size"] for sd in (None, 20))
        assert wide["lower_s"] == pytest.approx(plain["lower_s"])
        assert wide["lower_ci_s"][0] < plain["lower_ci_s"][0] and wide["lower_ci_s"][1] > plain["lower_ci_s"][1]


class TestBadInput:
    @pytest.mark.parametrize(
        ("change", "field"),
        [
            ({"coupons": []}, "coupons"),
            ({"exposure_step_s": float("nan")}, "exposure_step_s"),
            ({"exposure_step_s": -1}, "exposure_step_s"),
            ({"exposure_step_s": "fast"}, "exposure_step_s"),
            ({"colour": "grey"}, "colour"),
            ({"coupons": [{"exposure_s": math.inf}]}, "coupons.0.exposure_s"),
            (
                {"coupons": [{"exposure_s": 2, "walls": [{"size_mm": 0.2, "standing": 3, "of": 2}]}]},
                "coupons.0.walls.0",
            ),
        ],
    )
    def test_names_the_field(self, change, field):
        given_ = {"coupons": both_sides(), "limits": LIMITS, "exposure_step_s": 0.05, **change}
        with pytest.raises(Problem) as caught:
            window(given_)
        assert field in caught.value.fields
        assert caught.value.fields[field]


# Properties that must hold for any evidence

LADDER = (1.2, 1.6, 2.1, 2.8, 3.7)


@st.composite
def evidence(draw, most_luck=1):
    """Coupons from a plausible printer, with counting noise: slots, walls and tips in their right order."""
    slope = draw(st.floats(40, 160))
    true = draw(st.floats(1.6, 2.9))
    noise = draw(st.lists(st.floats(-8, 8), min_size=len(LADDER), max_size=len(LADDER)))
    holds = draw(st.floats(1.3, 2.2))
    closes = draw(st.floats(2.4, 3.6))
    luck = draw(st.lists(st.integers(-most_luck, most_luck), min_size=2 * len(LADDER), max_size=2 * len(LADDER)))
    coupons = []
    for i, t in enumerate(LADDER):
        coupons.append(
            sized(t, slope * math.log(t / true) + noise[i])
            | {
                "tips": [
                    {"size_mm": s, "held": min(max((4 if t * s / 0.4 > holds else 0) + luck[2 * i], 0), 4), "of": 4}
                    for s in (0.3, 0.4, 0.5)
                ],
                "slots": [
                    {
                        "size_mm": s,
                        "open": min(max((4 if t * 0.3 / s < closes else 0) + luck[2 * i + 1], 0), 4),
                        "of": 4,
                    }
                    for s in (0.2, 0.3, 0.4)
                ],
            }
        )
    return coupons


ALL = {"growth_tol_um": 60, "tips_size_mm": 0.4, "slots_size_mm": 0.3, "tips_probability": 0.9}


@settings(max_examples=60, deadline=None)
@given(evidence(), st.floats(5, 80), st.floats(1, 60))
def test_more_tolerance_never_narrows_the_size_lane(coupons, tolerance, more):
    narrow, wide = (ask(coupons, {"growth_tol_um": t})["lanes"].get("size") for t in (tolerance, tolerance + more))
    assert (narrow is None) == (wide is None)
    if narrow:
        assert wide["lower_used_s"] <= narrow["lower_used_s"] * (1 + 1e-9)
        assert wide["upper_used_s"] >= narrow["upper_used_s"] * (1 - 1e-9)


@settings(max_examples=40, deadline=None)
@given(evidence(), st.randoms(use_true_random=False))
def test_order_of_coupons_does_not_matter(coupons, chance):
    shuffled = list(coupons)
    chance.shuffle(shuffled)
    assert ask(shuffled, ALL) == ask(coupons, ALL)


def _exposures(result):
    """Every exposure a result carries, by its place."""
    held = {}

    def walk(value, place):
        if isinstance(value, dict):
            for key, inner in value.items():
                walk(inner, f"{place}.{key}")
        elif isinstance(value, list):
            for i, inner in enumerate(value):
                walk(inner, f"{place}.{i}")
        elif isinstance(value, float) and ("_s" in place.split(".")[-1] or ".policies." in place or "_s." in place):
            held[place] = value

    walk({k: v for k, v in result.items() if k not in ("warnings",)}, "")
    return held


@settings(max_examples=40, deadline=None)
@given(evidence(), st.sampled_from([0.5, 2.0, 4.0, 10.0]))
def test_scaling_time_scales_every_exposure(coupons, k):
    cure = {"penetration_depth_mm": 0.13, "critical_exposure_s": 0.5, "layer_height_um": 50, "min_overcure_um": 20}
    plain = ask(coupons, ALL, cure=cure)
    scaled_coupons = [{**c, "exposure_s": c["exposure_s"] * k} for c in coupons]
    scaled = ask(scaled_coupons, ALL, step=0.05 * k, cure={**cure, "critical_exposure_s": 0.5 * k})
    a, b = _exposures(plain), _exposures(scaled)
    assert a.keys() == b.keys() and a
    for place, value in a.items():
        assert b[place] == pytest.approx(k * value, rel=1e-5), place


@settings(max_examples=80, deadline=None)
@given(
    st.booleans().flatmap(lambda quiet: evidence(most_luck=0 if quiet else 1)), st.sampled_from([0.01, 0.05, 0.1, 0.25])
)
def test_policies_are_in_order_on_the_step_and_inside_what_was_printed(coupons, step):
    result = ask(coupons, ALL, step=step)
    policies = result["policies"]
    if result["window"] is None:
        assert policies is None, "without a window no exposure is offered"
        return
    low, high = result["window"]["lower_s"], result["window"]["upper_s"]
    for value in policies.values():
        if value is not None:
            assert max(low, LADDER[0]) - 1e-9 <= value <= min(high, LADDER[-1]) + 1e-9
            assert round_to_step(value, step) == value
    if policies["centre"] is not None:
        assert policies["support-safe"] <= policies["centre"] <= policies["hardest-in-tolerance"]
    for lane in result["lanes"].values():
        for end in ("lower_used_s", "upper_used_s"):
            assert lane[end] is None or LADDER[0] - 1e-9 <= lane[end] <= LADDER[-1] + 1e-9


@settings(max_examples=40, deadline=None)
@given(evidence())
def test_one_reason_explains_every_state(coupons):
    result = ask(coupons, ALL)
    reasons = [result["window"], result["conflict"], result["beyond_ladder"], result["open_side"]]
    assert sum(bool(reason) for reason in reasons) == 1
