"""What real printers do besides: each thing moves what it should, in the direction it should. Sources: docs/virtual-printer.md."""

import math
import statistics
from dataclasses import replace

import numpy as np
import pytest

from setback.coupon import KINDS
from setback.simulate import hidden, physics
from setback.simulate.hidden import Conditions, Machine, Material
from setback.simulate.printed import print_coupon, size_true_s, spread
from setback.simulate.reader import Reader, read

FLAT, SUPPORT, DEPTH = KINDS["flat"](0.035, 0.4), KINDS["support"](0.035, 0.4), KINDS["depth"](0.035, 0.4)
MACHINE, MATERIAL, USUAL = Machine(), Material(1.0), Conditions(2.4)


def printed(coupon, seed=1, machine=MACHINE, material=MATERIAL, **conditions):
    return print_coupon(coupon, machine, material, replace(USUAL, **conditions), seed)


def total(made, kind):
    return sum(o.share for o in made.outcomes if o.kind == kind)


def mean_size(made, kind="outer"):
    return statistics.fmean(o.size_mm - 0.0 for o in made.outcomes if o.kind == kind and o.size_mm is not None)


def test_dose_from_print_to_print_is_each_printers_own():
    sds = [hidden.machine(seed, "mono screen", 35, (153, 87)).dose_sd for seed in range(60)]
    assert 0.008 <= min(sds) < 0.012 and 0.021 < max(sds) <= 0.025

    def scatter(sd):
        made = [printed(DEPTH, seed, replace(MACHINE, dose_sd=sd)) for seed in range(60)]
        return statistics.stdev(m.thickness_mm for m in made)

    # Depth is Dp times ln dose, so that it scatters by Dp times the spread.
    assert scatter(0.025) == pytest.approx(MATERIAL.penetration_mm * 0.025, rel=0.3)
    assert scatter(0.025) > 2 * scatter(0.008)


def test_larger_layers_and_closed_cups_pull_harder():
    pull = [physics.peel_force(MACHINE, MATERIAL, USUAL, area) for area in (0.5, 1, 2)]
    assert pull == sorted(pull)
    sucked = [physics.peel_force(MACHINE, MATERIAL, replace(USUAL, cup_mm2=cup)) for cup in (0, 100, 400)]
    assert sucked[2] == pytest.approx(2 * sucked[0]) and sucked[1] > sucked[0]
    assert total(printed(SUPPORT, cup_mm2=600), "tip") < total(printed(SUPPORT), "tip")
    assert total(printed(FLAT, cup_mm2=600), "wall") <= total(printed(FLAT), "wall")


def test_bleaching_lets_a_large_dose_go_deeper_than_jacobs():
    bleached = replace(MATERIAL, bleaching=0.05)
    depths = [[printed(DEPTH, material=m, exposure_s=t).thickness_mm for t in (2, 8, 32)] for m in (MATERIAL, bleached)]
    extra = [b - a for a, b in zip(*depths, strict=True)]
    assert extra == sorted(extra) and extra[0] > 0
    # Steps of ln dose are no longer alike.
    assert depths[1][2] - depths[1][1] > depths[1][1] - depths[1][0]
    assert depths[0][2] - depths[0][1] == pytest.approx(depths[0][1] - depths[0][0])
    for depth in (0.02, 0.1, 0.4):
        assert physics.cure_depth_mm(bleached, physics.ln_dose_for(bleached, depth)) == pytest.approx(depth)


def test_an_old_film_clings_clouds_and_dims():
    old = replace(USUAL, film_prints=4000)
    assert physics.peel_force(MACHINE, MATERIAL, old) == pytest.approx(2 * physics.peel_force(MACHINE, MATERIAL, USUAL))
    assert physics.blur_mm(MACHINE, MATERIAL, old) > physics.blur_mm(MACHINE, MATERIAL, USUAL)
    assert physics.light(MACHINE, old) < physics.light(MACHINE, USUAL)
    assert total(printed(SUPPORT, film_prints=4000), "tip") < total(printed(SUPPORT), "tip")
    assert size_true_s(MACHINE, MATERIAL, old) > size_true_s(MACHINE, MATERIAL, USUAL)


def test_a_foot_that_is_not_taken_off_is_read_as_growth():
    made = printed(FLAT, base_ratio=10)
    read_off = {
        deburrs: {s.key: s.measured_mm for s in read(made, 3, Reader(deburrs=deburrs)) if s.measured_mm}
        for deburrs in (True, False)
    }
    for feature in made.coupon.features:
        if feature.kind in ("outer", "inner"):
            difference = read_off[False][feature.key] - read_off[True][feature.key]
            assert (difference > 0.03) if feature.kind == "outer" else (difference < -0.03)
    assert physics.foot_mm(MATERIAL, replace(USUAL, base_ratio=1)) == 0


def test_grey_edges_thin_walls_before_bars():
    """Fading the mask over a pixel takes the peak of what is narrow, and leaves a bar's half-lit edge where it was."""
    sharp, grey = printed(FLAT), printed(FLAT, grey_px=2)
    assert total(grey, "wall") < total(sharp, "wall")
    assert mean_size(grey) == pytest.approx(mean_size(sharp), abs=0.02)


def test_the_cold_thickens_faster_than_andrade_has_it():
    glassy = replace(MATERIAL, glassy_k=190)
    assert physics.viscosity(glassy, 25) == physics.viscosity(MATERIAL, 25)
    near = (physics.viscosity(glassy, 26) - physics.viscosity(glassy, 24)) / 2
    straight = (physics.viscosity(MATERIAL, 26) - physics.viscosity(MATERIAL, 24)) / 2
    assert near == pytest.approx(straight, rel=0.02)
    assert physics.viscosity(glassy, 5) > 1.15 * physics.viscosity(MATERIAL, 5)
    assert physics.viscosity(glassy, 45) > physics.viscosity(MATERIAL, 45)
    assert physics.viscosity(glassy, -70) < math.inf


def test_depth_squares_follow_light_and_warmth():
    usual = printed(DEPTH).thickness_mm
    assert printed(DEPTH, power_pct=50).thickness_mm == pytest.approx(
        usual - MATERIAL.penetration_mm * math.log(2), abs=0.001
    )
    assert printed(DEPTH, temp_c=35).thickness_mm > usual


@pytest.mark.parametrize("kind", ["exponential", "gaussian", "heavy"])
def test_every_spread_keeps_half_the_light_at_a_straight_edge(kind):
    edge = np.zeros(2400, dtype=np.float32)
    edge[:1200] = 1
    lit = spread(edge, 0.002, 0.018, 0.05, kind)
    # Cells 1199 and 1200 meet at the edge; the other end of the strip is far away.
    assert (lit[1199] + lit[1200]) / 2 == pytest.approx(0.5, abs=0.02)
    assert np.all(np.diff(lit[700:1700]) <= 1e-5)


def test_tails_differ_as_their_names_say():
    edge = np.zeros(2400, dtype=np.float32)
    edge[:1200] = 1
    far = {kind: spread(edge, 0.002, 0.018, 0.05, kind)[1200 + 125] for kind in ("gaussian", "exponential", "heavy")}
    assert far["gaussian"] < far["exponential"] < far["heavy"]


def test_seeds_draw_every_kind_of_resin():
    drawn = [hidden.material(seed, "basic", "opaque", None) for seed in range(60)]
    assert {m.spread for m in drawn} == {"exponential", "gaussian", "heavy"}
    assert len({m.bleaching for m in drawn}) == 60 and all(120 <= m.glassy_k <= 200 for m in drawn)
