"""A first estimate: what it leans on, and how sure it says it is."""

import math
import random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from setback.core.calibrate.exposure_effects import USUAL, KnownExposure
from setback.core.calibrate.exposure_scales import left_out, shop_noise
from setback.core.calibrate.start_exposure import MIXING_SD, StartExposureInput, mixed, posteriors, start_exposure
from setback.core.contract import Problem
from tests.length import FULL
from tests.seeded_labs import pooled

SLATE = {"material": "slate", "printer": "north", "layer_height_um": 50, "exposure_s": 2.4}


def guess(known, target, **more):
    return start_exposure(StartExposureInput.model_validate({"known": known, "target": target, **more}))


def width(result):
    return math.log(result.interval_s[1] / result.interval_s[0])


def test_with_nothing_known_it_is_the_usual_and_says_so():
    result = guess([], {"material": "new", "printer": "north", "layer_height_um": 50})
    assert result.exposure_s == pytest.approx(2.5) and result.carried_by == []
    assert "prior-only" in {w.code for w in result.warnings}


def test_every_relation_narrows_it():
    target = {"material": "slate", "printer": "south", "layer_height_um": 50}
    nothing = guess([], target)
    elsewhere = guess([SLATE], target)
    beside = guess([SLATE, {**SLATE, "material": "clear", "printer": "south", "exposure_s": 3.0}], target)
    assert width(nothing) > width(elsewhere) > width(beside)
    assert elsewhere.basis == "This material elsewhere." and "other materials on this printer" in beside.basis


def test_a_relative_of_the_line_counts_for_more_than_a_stranger():
    target = {"material": "chalk", "line": "s", "printer": "north", "layer_height_um": 50}
    known = [{**SLATE, "line": "s", "exposure_s": 4.0}, {**SLATE, "material": "clear", "exposure_s": 2.0}]
    result = guess(known, target)
    assert result.carried_by[0].exposure_s == 4.0 and result.carried_by[0].share > 0.5


def test_an_old_colour_screen_needs_far_more():
    target = {"material": "slate", "printer": "old", "engine": "colour", "layer_height_um": 50}
    assert guess([SLATE], target).exposure_s > 3 * guess([SLATE], {**target, "engine": "mono"}).exposure_s


def test_a_known_penetration_depth_fixes_the_way_of_layer_height():
    target = {"material": "slate", "printer": "north", "layer_height_um": 100, "penetration_depth_mm": 0.2}
    result = guess([{**SLATE, "penetration_depth_mm": 0.2}], target)
    same = guess([{**SLATE, "penetration_depth_mm": 0.2}], {**target, "layer_height_um": 50})
    assert result.exposure_s / same.exposure_s == pytest.approx(math.exp(0.25))


def test_warm_resin_needs_less():
    target = {"material": "slate", "printer": "north", "layer_height_um": 50}
    ratio = guess([SLATE], {**target, "temp_c": 35}).exposure_s / guess([SLATE], {**target, "temp_c": 25}).exposure_s
    assert ratio == pytest.approx(math.exp(-0.25))


def test_a_narrow_makers_range_counts_for_more_than_a_wide_one():
    target = {"material": "new", "printer": "north", "layer_height_um": 50}
    narrow = guess([SLATE], target, vendor_range={"low_s": 5.5, "high_s": 6.5})
    wide = guess([SLATE], target, vendor_range={"low_s": 3, "high_s": 12})
    assert abs(math.log(narrow.exposure_s / 6)) < abs(math.log(wide.exposure_s / 6))
    with pytest.raises(Problem):
        guess([SLATE], target, vendor_range={"low_s": 6, "high_s": 3})


@settings(max_examples=40, deadline=None)
@given(
    st.lists(st.tuples(st.sampled_from("abc"), st.sampled_from("xy"), st.floats(0.5, 30)), min_size=2, max_size=8),
    st.randoms(use_true_random=False),
)
def test_the_order_of_what_is_known_does_not_matter(rows, chance):
    known = [{"material": m, "printer": p, "layer_height_um": 50, "exposure_s": t} for m, p, t in rows]
    mixed = known[:]
    chance.shuffle(mixed)
    target = {"material": "a", "printer": "y", "layer_height_um": 50}
    first, second = guess(known, target), guess(mixed, target)
    assert first.exposure_s == pytest.approx(second.exposure_s) and first.log_sd == pytest.approx(second.log_sd)


@pytest.mark.long
@pytest.mark.honesty
def test_its_intervals_hold_as_often_as_they_say():
    """Labs with truths of their own, each calibration left out in turn."""
    labs = 200 if FULL else 25
    share = pooled(labs)
    print(f"\n| first estimates, {labs} labs, each left out in turn, 80 % intervals | {100 * share:.1f} % | all |")
    assert (0.75 if FULL else 0.72) < share < (0.85 if FULL else 0.88)


SHOP = [
    {"material": m, "line": line, "printer": p, "layer_height_um": 50, "exposure_s": 2.4 * a * b}
    for m, line, a in (("a", "s", 1.0), ("b", "s", 1.1), ("c", "t", 0.8), ("d", "t", 0.85))
    for p, b in (("x", 1.0), ("y", 1.2), ("z", 0.9))
]
RELATIVE = {"material": "e", "line": "s", "printer": "x", "layer_height_um": 50}


@pytest.mark.parametrize("place", [0, 4, 11])
@pytest.mark.parametrize("factor", [10, 0.1])
def test_a_mistyped_exposure_hardly_moves_a_guess(place, factor):
    mistyped = [dict(one) for one in SHOP]
    mistyped[place]["exposure_s"] *= factor
    right, wrong = guess(SHOP, RELATIVE), guess(mistyped, RELATIVE)
    assert wrong.exposure_s == pytest.approx(right.exposure_s, rel=0.08)
    assert width(wrong) < 1.2 * width(right)


def test_below_ten_calibrations_the_usual_spreads_hold():
    known = [KnownExposure.model_validate(one) for one in SHOP]
    assert shop_noise(known[:9]).scales == USUAL and shop_noise(known).scales != USUAL


@pytest.mark.parametrize(("pair", "residual"), [(0.02, 0.03), (0.25, 0.2)])
def test_a_shops_own_calibrations_tell_how_far_they_spread(pair, residual):
    """Tight shops become surer, loose ones less sure than the usual."""
    chance, known = random.Random(3), []
    materials = {f"m{i}": chance.gauss(0, 0.3) for i in range(12)}
    printers = {f"p{i}": chance.gauss(0, 0.3) for i in range(6)}
    for material, effect in materials.items():
        for printer, light in printers.items():
            off = chance.gauss(0, pair) + chance.gauss(0, residual)
            exposure = math.exp(0.9 + effect + light + off)
            known.append({"material": material, "printer": printer, "layer_height_um": 50, "exposure_s": exposure})
    scales = shop_noise([KnownExposure.model_validate(one) for one in known]).scales
    # The usual spreads hold the estimate near them a little.
    found, true, usual = math.hypot(scales.pair, scales.residual), math.hypot(pair, residual), 0.144
    assert min(true, usual) < found < max(true, usual) and abs(found - true) < 0.5 * abs(usual - true)


def test_leaving_one_out_in_closed_form_is_leaving_it_out():
    known = [KnownExposure.model_validate(one) for one in SHOP]
    mean, sd = left_out(known)[5]
    (belief,) = posteriors([*known[:5], *known[6:]], [known[5]])
    assert mean == pytest.approx(belief.mean, abs=0.03)
    assert sd == pytest.approx(math.hypot(math.sqrt(belief.variance), belief.residual), rel=0.15)


def test_a_blend_lies_between_its_parts_by_volume_and_is_less_sure_than_they_are():
    mean, variance = mixed([(0.8, math.log(2), 0.01), (0.2, math.log(8), 0.09)])
    assert math.exp(mean) == pytest.approx(2 * 4**0.2)
    assert math.sqrt(variance) == pytest.approx(math.hypot(0.8 * 0.1 + 0.2 * 0.3, MIXING_SD))
    # Shares count among the resins; a dye multiplies what they need.
    assert mixed([(0.4, math.log(2), 0.0), (0.1, math.log(8), 0.0)], math.log(1.5))[0] == pytest.approx(
        mean + math.log(1.5)
    )
    assert mixed([(1.0, math.log(3), 0.0)])[0] == pytest.approx(math.log(3))
