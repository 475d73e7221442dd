"""The virtual printer obeys physics: what moves what, and in which direction."""

import math
from dataclasses import replace

import pytest

from setback.core.reading.size import growth_um
from setback.core.reading.tally import ReadFeature, tally
from setback.coupon import KINDS
from setback.simulate import hidden, physics
from setback.simulate.hidden import Conditions, Machine, Material
from setback.simulate.printed import print_coupon, size_true_s
from setback.simulate.reader import Reader, read

FLAT, SUPPORT = KINDS["flat"](0.035, 0.4), KINDS["support"](0.035, 0.4)
MACHINE, MATERIAL, USUAL = Machine(), Material(1.0), Conditions(2.0)


def printed(coupon, exposure_s, seed=1, machine=MACHINE, material=MATERIAL, **conditions):
    return print_coupon(coupon, machine, material, replace(USUAL, exposure_s=exposure_s, **conditions), seed)


def evidence(made, seed=1, reader=None):
    drawn = {f.key: f for f in made.coupon.features}
    seen = read(made, seed, reader)
    features = [
        ReadFeature(
            key=s.key,
            kind=drawn[s.key].kind,
            side=drawn[s.key].side,
            size_mm=drawn[s.key].size_mm,
            axis=drawn[s.key].axis,
            state=s.state,
            measured_mm=s.measured_mm,
        )
        for s in seen
    ]
    return tally(made.conditions.exposure_s, features)


def shares(made, kind):
    return [o.share for o in made.outcomes if o.kind == kind]


def test_growth_rises_with_exposure_and_crosses_zero_at_size_true():
    true = size_true_s(MACHINE, MATERIAL, USUAL)
    grown = [growth_um(evidence(printed(FLAT, true * k)).evidence) for k in (0.85, 1.0, 1.3, 1.8)]
    assert grown == sorted(grown)
    assert abs(grown[1]) < 4


def test_more_light_makes_walls_stand_slots_close_and_tips_hold():
    dim, bright = printed(FLAT, 1.6), printed(FLAT, 4.2)
    assert sum(shares(dim, "wall")) < sum(shares(bright, "wall"))
    assert sum(shares(dim, "slot")) > sum(shares(bright, "slot"))
    held = [sum(shares(printed(SUPPORT, t), "tip")) for t in (1.5, 2.5, 4)]
    assert held == sorted(held) and held[0] < held[-1]


def test_the_ends_are_all_or_nothing():
    states = [s.state for t in (1.2, 1.8, 2.6, 3.8, 5) for s in read(printed(FLAT, t), 1) if s.state]
    assert states.count("partial") < 0.1 * len(states)
    assert set(shares(printed(SUPPORT, 2.4), "tip")) <= {0.0, 1.0}


def ends(**conditions):
    """Exposures at which the wanted wall stands and the wanted slot closes, to a few percent."""
    ladder = [1.05**n for n in range(8, 60)]
    prints = [printed(FLAT, t, **conditions) for t in ladder]

    def first(kind, size, gone):
        keys = {f.key for f in FLAT.features if f.kind == kind and abs(f.size_mm - size) < 0.01}
        for t, made in zip(ladder, prints, strict=True):
            if all((o.share < 0.5) == gone for o in made.outcomes if o.key in keys):
                return t
        return ladder[-1]

    return first("wall", 0.21, False), first("slot", 0.28, True)


@pytest.mark.long
def test_the_window_narrows_with_cold_and_widens_with_rest():
    def ratio(**conditions):
        lower, upper = ends(**conditions)
        return upper / lower

    usual = ratio()
    assert ratio(temp_c=10) < 0.95 * usual
    assert ratio(rest_s=0) < 0.95 * usual
    assert ratio(rest_s=4) >= usual


@pytest.mark.parametrize(
    ("change", "brighter"),
    [
        ({"screen_hours": 3000.0}, False),
        ({"place_mm": (5.0, 5.0)}, False),
        ({"rest_s": 0.0}, False),
        ({"temp_c": 15.0}, False),
        ({"temp_c": 30.0}, True),
        ({"power_pct": 50.0}, False),
    ],
)
def test_size_true_moves_with_age_place_rest_and_temperature(change, brighter):
    usual, changed = (size_true_s(MACHINE, MATERIAL, g) for g in (USUAL, replace(USUAL, **change)))
    assert (changed < 0.99 * usual) if brighter else (changed > 1.01 * usual)


def test_size_true_is_where_the_blurred_mask_is_as_wide_as_drawn_not_a_number_kept_anywhere():
    """A bar printed at it comes out as drawn, whatever blurs the mask."""
    for material in (MATERIAL, replace(MATERIAL, scatter_mm=0.09), replace(MATERIAL, penetration_mm=0.25)):
        still = replace(material, shrinkage=0.0)
        true = size_true_s(MACHINE, still, USUAL)
        made = printed(FLAT, true, material=still)
        exact = replace(made, flicker=1.0)
        sizes = {f.key: f.size_mm for f in FLAT.features}
        errors = [o.size_mm - sizes[o.key] for o in exact.outcomes if o.size_mm is not None]
        assert errors and max(map(abs, errors)) < 0.004


def test_bridges_lose_clearance_to_light_that_goes_on():
    bridge = KINDS["z-bridge"](0.035, 0.4)
    losses = []
    for material in (MATERIAL, replace(MATERIAL, penetration_mm=0.27)):
        made = printed(bridge, 3.0, material=material)
        sizes = {f.key: f.size_mm for f in bridge.features}
        losses.append(sum(sizes[o.key] - o.size_mm for o in made.outcomes))
    assert 0 < losses[0] < losses[1]


def test_a_depth_square_is_as_thick_as_the_working_curve_says():
    depth = KINDS["depth"](0.035, 0.4)
    thick = {t: printed(depth, t).thickness_mm for t in (2.0, 4.0)}
    assert thick[4.0] - thick[2.0] == pytest.approx(MATERIAL.penetration_mm * math.log(2), rel=1e-9)
    assert printed(depth, 0.5).thickness_mm == 0


def test_light_falls_toward_the_corners_and_with_the_screen():
    plate = MACHINE.plate_mm
    assert physics.evenness(MACHINE, (plate[0] / 2, plate[1] / 2)) == 1
    assert physics.evenness(MACHINE, (0, 0)) == pytest.approx(1 - MACHINE.falloff)


def test_a_tilted_light_shows_on_one_side():
    assert evidence(printed(FLAT, 2.4, machine=replace(MACHINE, tilt=-1.0))).findings


def test_the_same_seed_prints_and_reads_the_same_and_another_does_not():
    one, same, other = (printed(FLAT, 2.2, seed=s) for s in (7, 7, 8))
    assert one.outcomes == same.outcomes and one.outcomes != other.outcomes
    assert read(one, 3) == read(same, 3) != read(one, 4)


def test_a_biased_reader_reads_larger_by_the_bias():
    made = printed(FLAT, 2.2)
    plain, biased = (evidence(made, 5, Reader(caliper_sd_mm=0, caliper_bias_mm=b)).evidence for b in (0.0, 0.05))
    shift = [b.measured_mm - a.measured_mm for a, b in zip(plain.blocks, biased.blocks, strict=True)]
    assert shift == pytest.approx([0.05] * len(shift), abs=0.011)


def test_what_is_hardly_cured_cannot_be_measured():
    made = printed(FLAT, 0.9)
    assert not [s for s in read(made, 1) if s.measured_mm is not None]
    assert set(shares(made, "wall")) == {0.0}


def test_every_seed_is_a_machine_and_a_material_of_its_own():
    machines = {hidden.machine(s, "mono screen", 35, (153, 87)) for s in range(20)}
    materials = {hidden.material(s, "tough", "tinted", (2, 5)) for s in range(20)}
    assert len(machines) == len(materials) == 20
    assert hidden.material(3, "basic", "clear", None) == hidden.material(3, "basic", "clear", None)
    dim = hidden.machine(1, "colour screen", 47, (120, 68))
    assert dim.light < 0.5 * hidden.machine(1, "mono screen", 47, (120, 68)).light
