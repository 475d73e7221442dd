"""Pictures of virtual coupons show what became of them."""

import io
from dataclasses import replace

import cv2
import numpy as np
import pytest
from PIL import Image

from setback.coupon import KINDS
from setback.coupon.lettering import embossed
from setback.simulate.camera import MARGIN_MM, Placed, Shot, homography, photograph, photograph_tray
from setback.simulate.hidden import Conditions, Machine, Material
from setback.simulate.printed import print_coupon
from setback.simulate.scene import scene, stopped_mm

MATERIAL = Material(1.0, tint=(60, 90, 140))


def shot(kind, exposure_s, seed=3, code="104R"):
    coupon = KINDS[kind](0.035, 0.4)
    made = print_coupon(coupon, Machine(), MATERIAL, Conditions(exposure_s), 1)
    content = photograph(made, embossed(coupon, code, f"{exposure_s:g}s"), seed)
    return coupon, made, content


def pixels(content):
    return np.asarray(Image.open(io.BytesIO(content)).convert("L"), dtype=float)


def roughness(content, coupon, feature):
    """How much brightness changes within a feature's place: edges and shadows of what stands."""
    grey = pixels(content)
    scale = grey.shape[1] / (coupon.width_mm + 2 * MARGIN_MM)
    x, y, width, height = feature.hit
    left, top = (x + MARGIN_MM) * scale, (y + MARGIN_MM) * scale
    part = grey[round(top) : round(top + height * scale), round(left) : round(left + width * scale)]
    return float(np.percentile(part, 98) - np.percentile(part, 2))


@pytest.mark.long
def test_a_fixed_seed_gives_the_same_picture_and_another_does_not():
    assert shot("flat", 2.0)[2] == shot("flat", 2.0)[2]
    assert shot("flat", 2.0)[2] != shot("flat", 2.0, seed=4)[2]


@pytest.mark.long
def test_a_missing_wall_leaves_flat_ground_and_a_standing_one_does_not():
    coupon, made, content = shot("flat", 1.75)
    thin = [f for f in coupon.features if f.kind == "wall" and made.share(f.key) == 0]
    thick = [f for f in coupon.features if f.kind == "wall" and made.share(f.key) == 1 and f.size_mm > 0.3]
    assert thin and thick
    assert max(roughness(content, coupon, f) for f in thin) < min(roughness(content, coupon, f) for f in thick)


@pytest.mark.long
def test_tips_that_let_go_carry_no_load_in_the_picture():
    coupon, made, content = shot("support", 2.0)
    shares = {f.key: made.share(f.key) for f in coupon.features}
    assert {0.0, 1.0} <= set(shares.values())

    def loads(state):
        """Where the load lies: the outer end of the tip's place."""
        spots = [f for f in coupon.features if shares[f.key] == state]
        ends = [(f.hit[0], f.hit[1] if f.side == "left" else f.hit[1] + f.hit[3] - 1.8, f.hit[2], 1.8) for f in spots]
        return [roughness(content, coupon, replace(f, hit=end)) for f, end in zip(spots, ends, strict=True)]

    assert min(loads(1)) > 1.5 * max(loads(0))


@pytest.mark.long
def test_code_and_exposure_can_be_told_apart_in_the_picture():
    one, other = shot("flat", 2.0)[2], shot("flat", 2.0, code="WWWW")[2]
    assert np.abs(pixels(one) - pixels(other)).max() > 20


@pytest.mark.long
def test_every_coupon_can_be_photographed_with_light_noise_and_a_slant():
    for kind in ("flat", "support", "z-bridge", "grid", "depth"):
        coupon, _, content = shot(kind, 2.5)
        grey = pixels(content)
        assert grey.shape[1] / grey.shape[0] > 0.9 * (coupon.width_mm / coupon.height_mm) ** 0.5
        corner = grey[:30, :30]
        assert 0.5 < corner.std() < 25
        assert abs(grey[:40, :40].mean() - grey[-40:, -40:].mean()) > 5, "light falls from one side"


def second(exposure_s, seed=1):
    coupon = KINDS["flat"](0.035, 0.35, design=2)
    made = print_coupon(coupon, Machine(), MATERIAL, Conditions(exposure_s), seed)
    return made, embossed(coupon, "104R", "2s")


@pytest.mark.long
class TestShots:
    def test_a_scan_carries_its_resolution_and_its_size(self):
        made, lettered = second(2.4)
        image = Image.open(io.BytesIO(photograph(made, lettered, 1, Shot(scanner_dpi=600))))
        assert image.info["dpi"] == (600, 600)
        assert image.width == pytest.approx((lettered.width_mm + 2 * MARGIN_MM) / 25.4 * 600, rel=0.01)

    def test_seen_aslant_what_is_nearer_to_the_lens_moves_against_the_floor(self):
        shot = Shot(tilt_deg=20, tilt_to_deg=0)
        low, high = (
            cv2.perspectiveTransform(np.array([[[0.0, 0.0]]]), homography(shot, z, (800, 600)))[0, 0] for z in (0, 1)
        )
        straight = [
            cv2.perspectiveTransform(np.array([[[0.0, 0.0]]]), homography(Shot(tilt_deg=0), z, (800, 600)))[0, 0]
            for z in (0, 1)
        ]
        assert np.hypot(*(high - low)) == pytest.approx(shot.px_per_mm * np.sin(np.radians(20)), rel=0.05)
        assert np.hypot(*(straight[1] - straight[0])) < 0.01

    @pytest.mark.parametrize(
        "spoiled",
        [
            {"shadow": 0.5},
            {"glare": 0.8},
            {"dust": 200},
            {"fingerprints": 3},
            {"defocus_mm": 0.1},
            {"motion_mm": 0.3},
            {"distortion": -0.05},
            {"warmth": 1.0},
            {"uneven": 0.7},
            {"quality": 30},
            {"mirrored": True},
        ],
    )
    def test_everything_that_can_be_wrong_changes_the_picture(self, spoiled):
        made, lettered = second(2.4)
        plain = Shot(px_per_mm=12)
        before, after = (
            np.asarray(Image.open(io.BytesIO(photograph(made, lettered, 1, one))), dtype=float)
            for one in (plain, replace(plain, **spoiled))
        )
        assert np.abs(before - after).mean() > 0.4

    def test_a_tray_shows_each_coupon_where_it_lies(self):
        made, lettered = second(2.4)
        tray = [Placed(made, lettered, x_mm=-30), Placed(made, lettered, x_mm=30, turn_deg=90)]
        grey = pixels(photograph_tray(tray, 1, Shot(px_per_mm=8)))
        assert grey.shape[1] > 1.8 * grey.shape[0] * 0.9
        halves = grey[:, : grey.shape[1] // 2], grey[:, grey.shape[1] // 2 :]
        assert all(half.std() > 15 for half in halves)


class TestScene:
    def test_edges_lie_where_the_print_has_them_to_a_few_micrometres(self):
        made, lettered = second(2.6)
        stage = scene(made, lettered, 0.02, 0.01)
        top = stage.slices[-1].solid
        bar = next(f for f in lettered.features if f.key == "outer-x-2")
        x, y, width, height = bar.hit
        rows = slice(round((y + 0.3 * height) / 0.02), round((y + 0.7 * height) / 0.02))
        columns = slice(round((x - 0.5) / 0.02), round((x + width + 0.5) / 0.02))
        cell = stage.width_mm / top.shape[1]
        seen = float(top[rows, columns].sum(axis=1).mean()) * cell
        true = next(o.size_mm for o in made.outcomes if o.key == "outer-x-2")
        assert seen - MATERIAL.shrinkage * width == pytest.approx(true, abs=0.004)

    def test_the_taper_plug_stands_where_play_ends(self):
        deep, shallow = (stopped_mm(*second(t)) for t in (2.0, 4.5))
        steps = [o for o in second(4.5)[0].outcomes if o.kind == "taper"]
        stop = next(i for i, o in enumerate(steps) if o.size_mm <= 0)
        assert shallow < deep
        assert shallow == pytest.approx(0.5 + 0.35 * stop, abs=0.03)

    def test_where_a_wall_stands_in_part_just_that_part_is_there(self):
        for exposure in np.linspace(1.6, 2.4, 9):
            made, lettered = second(float(exposure))
            part = [o for o in made.outcomes if o.kind == "wall" and 0.3 < (o.share or 0) < 0.7]
            if part:
                break
        shape = next(s for s in lettered.shapes if s.feature == part[0].key)
        xs, ys = zip(*shape.points, strict=True)
        top = scene(made, lettered, 0.02).slices[-1].solid
        middle = top[round(min(ys) / 0.02) : round(max(ys) / 0.02), round((min(xs) + max(xs)) / 0.04)]
        assert float((middle > 0.5).mean()) == pytest.approx(part[0].share, abs=0.12)
