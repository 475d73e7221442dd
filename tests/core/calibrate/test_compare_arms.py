import math

import numpy as np
import pytest

from setback.core.calculators import CALCULATORS
from setback.core.contract import Problem
from tests.core.statistics.coverage import Coverage
from tests.length import FULL

compare = CALCULATORS["compare-arms"]
LIMITS = {"growth_target_um": 0, "growth_tol_um": 40}
EXPOSURES = (1.4, 1.8, 2.3, 3.0, 3.9)
WIGGLE = (2, -3, 1, 2, -2)
LONG = (1.25, 1.4, 1.7, 2.2, 2.9, 4.0, 5.6)
"""Past both ends of every window here: a latitude needs both found."""
LONG_WIGGLE = (1, -2, 2, -3, 1, 2, -2)


def blurred_um(z, slope_um):
    """Growth of an edge whose light falls off exponentially, at z = ln(exposure / nominal): straight above nominal, steeper below."""
    return slope_um * (z if z >= 0 else math.log(2 - math.exp(-z)))


def arm(name, true_s, slope_um=80, exposures=EXPOSURES, wiggle=WIGGLE, **more):
    coupons = []
    for t, off in zip(exposures, wiggle, strict=False):
        growth = (blurred_um(math.log(t / true_s), slope_um) + off) / 1000
        blocks = [
            {"kind": kind, "nominal_mm": n, "measured_mm": n + sign * 2 * growth}
            for kind, sign in (("outer", 1), ("inner", -1))
            for n in (7, 11)
        ]
        coupons.append({"exposure_s": t, "blocks": blocks})
    return {"name": name, "coupons": coupons, **more}


def test_a_shift_is_found_with_its_interval_and_its_sign():
    got = compare({"arms": [arm("a", 2.2), arm("b", 2.2 * 1.15)], "limits": LIMITS})
    shift = got["shifts"][0]
    assert shift["size_true_shift_pct"] == pytest.approx(15, abs=2)
    low, high = shift["size_true_shift_ci_pct"]
    assert 0 < low < 15 < high
    assert "% more light" in shift["message"]
    back = compare({"arms": [arm("b", 2.2 * 1.15), arm("a", 2.2)], "limits": LIMITS})["shifts"][0]
    assert (1 + back["size_true_shift_pct"] / 100) * (1 + shift["size_true_shift_pct"] / 100) == pytest.approx(
        1, abs=2e-3
    )


def test_a_shift_within_its_uncertainty_is_not_shown():
    got = compare({"arms": [arm("a", 2.2), arm("b", 2.205)], "limits": LIMITS})
    assert "not shown" in got["shifts"][0]["message"]


def test_latitude_and_seconds_per_layer_change():
    long = {"exposures": LONG, "wiggle": LONG_WIGGLE}
    slow = arm("slow", 2.2, slope_um=50, seconds_per_layer=11.0, **long)
    got = compare({"arms": [arm("a", 2.2, seconds_per_layer=9.0, **long), slow], "limits": LIMITS})
    assert got["shifts"][0]["latitude_change_pct"] > 0
    assert got["shifts"][0]["seconds_per_layer_change"] == 2.0


def rests(*pairs, times=2):
    return [
        arm(f"rest {rest} s", 2.3, slope_um=slope, rest_s=rest, exposures=LONG * times, wiggle=LONG_WIGGLE * times)
        for rest, slope in pairs
    ]


def test_the_least_rest_that_suffices_is_the_shortest_shown_as_good_as_the_longest():
    assert compare({"arms": rests((0, 110), (2, 81), (4, 80)), "limits": LIMITS})["least_sufficient_rest_s"] == 2
    assert compare({"arms": rests((0, 80), (2, 80), (4, 80)), "limits": LIMITS})["least_sufficient_rest_s"] == 0
    assert compare({"arms": rests((4, 80), (0, 140)), "limits": LIMITS})["least_sufficient_rest_s"] == 4


def test_too_few_coupons_name_no_rest_and_say_what_would():
    got = compare({"arms": rests((0, 80), (4, 80), times=1), "limits": LIMITS})
    assert got["least_sufficient_rest_s"] is None
    assert "5 % of the window" in next(w["message"] for w in got["warnings"] if w["code"] == "rest-not-shown")


def test_a_shorter_rest_with_a_truly_narrower_window_is_not_taken():
    """Windows 12 % apart in width, coupons that scatter: never shown to be as good."""
    rng = np.random.default_rng(1)
    for _ in range(6):
        pair = [
            arm(f"rest {rest}", 2.3, slope_um=slope, rest_s=rest, exposures=LONG, wiggle=rng.normal(0, 2.5, len(LONG)))
            for rest, slope in ((0, 92), (4, 80))
        ]
        assert compare({"arms": pair, "limits": LIMITS})["least_sufficient_rest_s"] != 0


@pytest.mark.long
@pytest.mark.honesty
@pytest.mark.parametrize("apart_c", [0.0, 3.0])
def test_false_differences_among_five_arms(apart_c):
    """All need the same light. Dose varies by 1.5 % from print to print; every second arm was printed warmer."""
    rng = np.random.default_rng(2)
    counted = Coverage(f"false difference among five arms, {apart_c:g} °C apart")
    for _ in range(300 if FULL else 12):
        kappa = 0.025 + 0.008 * rng.standard_normal()
        arms = []
        for number in range(5):
            temp_c = 22 + apart_c * (number % 2)
            true_s = 2.2 * math.exp(-kappa * (temp_c - 22))
            made = arm(str(number), true_s, wiggle=rng.normal(0, 2.5, len(EXPOSURES)))
            doses = np.exp(0.015 * rng.standard_normal(len(EXPOSURES)))
            for coupon, dose in zip(made["coupons"], doses, strict=True):
                coupon["exposure_s"] = round(coupon["exposure_s"] * float(dose), 3)
                coupon["temp_c"] = temp_c
            arms.append(made)
        counted.count(any(shift["shown"] for shift in compare({"arms": arms, "limits": LIMITS})["shifts"]))
    print(f"\n{counted}")
    assert counted.most(0.06)


def test_arms_too_far_apart_in_temperature_are_not_compared():
    def at(made, temp_c):
        return made | {"coupons": [coupon | {"temp_c": temp_c} for coupon in made["coupons"]]}

    got = compare({"arms": [at(arm("cold", 2.2), 14), at(arm("warm", 1.8), 26)], "limits": LIMITS})
    assert got["shifts"][0]["size_true_shift_pct"] is None and not got["shifts"][0]["shown"]
    assert got["shifts"][0]["degrees_apart_c"] == pytest.approx(12)
    assert "temperature-apart" in {w["code"] for w in got["warnings"]}


def test_an_arm_whose_temperature_nobody_noted_is_said():
    warm = arm("warm", 2.2)
    warm["coupons"] = [coupon | {"temp_c": 25} for coupon in warm["coupons"]]
    got = compare({"arms": [warm, arm("unknown", 2.2)], "limits": LIMITS})
    assert "temperature-unknown" in {w["code"] for w in got["warnings"]}


def test_without_ends_found_nothing_is_claimed_about_rests():
    two = [arm(f"rest {r}", 2.3, exposures=(1.8, 3.0), rest_s=r) for r in (0, 3)]
    got = compare({"arms": two, "limits": LIMITS})
    assert got["least_sufficient_rest_s"] is None
    assert "rest-unknown" in {w["code"] for w in got["warnings"]}
    low, high = got["shifts"][0]["size_true_shift_ci_pct"]
    assert low < 0 < high and got["shifts"][0]["latitude_change_pct"] is None


def test_an_arm_without_bars_says_what_is_missing():
    bare = {"name": "b", "coupons": [{"exposure_s": 2.0, "walls": [{"size_mm": 0.2, "standing": 1, "of": 2}]}]}
    got = compare({"arms": [arm("a", 2.2), bare], "limits": LIMITS})
    assert got["shifts"][0]["size_true_shift_pct"] is None
    assert "no-size-true" in {w["code"] for w in got["warnings"]}


def test_one_arm_is_no_comparison():
    with pytest.raises(Problem):
        compare({"arms": [arm("a", 2.2)], "limits": LIMITS})


@pytest.mark.parametrize("alike_mm", [7.03, 7.0])
def test_calipers_that_all_read_alike_make_no_claim(alike_mm):
    alike = {
        "name": "alike",
        "coupons": [
            {"exposure_s": t, "blocks": [{"kind": "outer", "nominal_mm": 7, "measured_mm": alike_mm}]}
            for t in EXPOSURES
        ],
    }
    for arms in ([alike, arm("b", 2.2)], [arm("a", 2.2), alike], [alike, alike | {"name": "again"}]):
        got = compare({"arms": arms, "limits": LIMITS})
        interval = got["shifts"][0]["size_true_shift_ci_pct"]
        assert interval is None or -90 < interval[0] < interval[1] < 900
        assert interval is not None or "no-size-true" in {w["code"] for w in got["warnings"]}


def test_arms_printed_at_different_temperatures_are_compared_at_one():
    def warmer(held, temp_c):
        return held | {"coupons": [c | {"temp_c": temp_c} for c in held["coupons"]]}

    # Both need the same light at one temperature; the second was printed 6 degrees warmer and so needs 14 % less.
    cold, warm = warmer(arm("cold", 2.2), 20), warmer(arm("warm", 2.2 * math.exp(-0.025 * 6)), 26)
    got = compare({"arms": [cold, warm], "limits": LIMITS})["shifts"][0]
    low, high = got["size_true_shift_ci_pct"]
    assert low < 0 < high and abs(got["size_true_shift_pct"]) < 8
    bare = compare({"arms": [arm("cold", 2.2), arm("warm", 2.2 * math.exp(-0.025 * 6))], "limits": LIMITS})["shifts"][0]
    assert bare["size_true_shift_pct"] < -10
