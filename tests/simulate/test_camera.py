"""Pictures of virtual coupons show what became of them."""

import io
from dataclasses import replace

import numpy as np
from PIL import Image

from setback.coupon import KINDS
from setback.coupon.lettering import embossed
from setback.simulate.camera import MARGIN_MM, photograph
from setback.simulate.hidden import Conditions, Machine, Material
from setback.simulate.printed import print_coupon

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


def test_a_fixed_seed_gives_the_same_picture_and_another_does_not():
    assert shot("flat", 2.0)[2] == shot("flat", 2.0)[2]
    assert shot("flat", 2.0)[2] != shot("flat", 2.0, seed=4)[2]


def test_a_missing_wall_leaves_flat_ground_and_a_standing_one_does_not():
    coupon, made, content = shot("flat", 1.75)
    thin = [f for f in coupon.features if f.kind == "wall" and made.share(f.key) == 0]
    thick = [f for f in coupon.features if f.kind == "wall" and made.share(f.key) == 1 and f.size_mm > 0.3]
    assert thin and thick
    assert max(roughness(content, coupon, f) for f in thin) < min(roughness(content, coupon, f) for f in thick)


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


def test_code_and_exposure_can_be_told_apart_in_the_picture():
    one, other = shot("flat", 2.0)[2], shot("flat", 2.0, code="WWWW")[2]
    assert np.abs(pixels(one) - pixels(other)).max() > 20


def test_every_coupon_can_be_photographed_with_light_noise_and_a_slant():
    for kind in ("flat", "support", "z-bridge", "grid", "depth"):
        coupon, _, content = shot(kind, 2.5)
        grey = pixels(content)
        assert grey.shape[1] / grey.shape[0] > 0.9 * (coupon.width_mm / coupon.height_mm) ** 0.5
        corner = grey[:30, :30]
        assert 0.5 < corner.std() < 25
        assert abs(grey[:40, :40].mean() - grey[-40:, -40:].mean()) > 5, "light falls from one side"
