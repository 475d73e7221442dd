import itertools

import pytest

from setback.core.reading.picture.hole_code import encoded, number_of
from setback.coupon import KINDS, drawn
from setback.coupon.description import Unfit, area, on_pixels
from setback.coupon.lettering import embossed
from setback.coupon.masks import layer_mask
from setback.coupon.solid import solid

PIXELS = (0.019, 0.035, 0.047)


def bounds(points):
    xs, ys = zip(*points, strict=True)
    return min(xs), min(ys), max(xs), max(ys)


@pytest.mark.parametrize("pixel", PIXELS)
@pytest.mark.parametrize("kind", KINDS)
class TestEveryCoupon:
    def test_stays_on_its_floor(self, kind, pixel):
        coupon = KINDS[kind](pixel, 0.4)
        for shape in coupon.shapes:
            if kind == "notched-bar" and shape.role == "gap":
                continue  # the notch opens at the edge
            left, top, right, bottom = bounds(shape.points)
            assert left >= -pixel and top >= -pixel
            assert right <= coupon.width_mm + pixel and bottom <= coupon.height_mm + pixel

    def test_features_are_whole_pixels_and_distinct(self, kind, pixel):
        coupon = KINDS[kind](pixel, 0.4)
        series = {}
        for feature in coupon.features:
            if feature.kind not in ("z-gap", "legible"):
                assert abs(feature.size_mm / pixel - round(feature.size_mm / pixel)) < 1e-4
            series.setdefault((feature.kind, feature.side, feature.axis), []).append(feature.size_mm)
        if kind != "grid":  # whose pads repeat the same sizes
            assert all(len(set(sizes)) == len(sizes) for sizes in series.values())

    def test_upright_edges_land_on_whole_pixels(self, kind, pixel):
        coupon = KINDS[kind](pixel, 0.4)
        for shape in coupon.shapes:
            if (
                shape.feature is None
                or shape.role == "text"
                or shape.base is not None
                or len(shape.points) != 4
                or shape.feature == "gauge"
            ):
                continue
            for x, y in shape.points:
                assert abs(x / pixel - round(x / pixel)) < 1e-3, shape.feature
                assert abs(y / pixel - round(y / pixel)) < 1e-3, shape.feature

    def test_solids_of_different_features_do_not_touch(self, kind, pixel):
        coupon = KINDS[kind](pixel, 0.4)
        solids = [s for s in coupon.shapes if s.role == "solid" and s.feature]
        for a, b in itertools.combinations(solids, 2):
            if a.feature == b.feature or a.high_mm <= b.low_mm or b.high_mm <= a.low_mm:
                continue
            (al, at, ar, ab), (bl, bt, br, bb) = bounds(a.points), bounds(b.points)
            assert ar <= bl + 1e-9 or br <= al + 1e-9 or ab <= bt + 1e-9 or bb <= at + 1e-9, (a.feature, b.feature)

    def test_every_feature_is_drawn(self, kind, pixel):
        coupon = KINDS[kind](pixel, 0.4)
        drawn = {s.feature for s in coupon.shapes}
        assert {f.key for f in coupon.features} <= drawn


@pytest.mark.parametrize("kind", ["flat", "support", "z-bridge"])
@pytest.mark.parametrize("pixel", [0.019, 0.035, 0.047])
def test_volume_grows_with_the_floor_by_its_area(kind, pixel):
    thin, thick = KINDS[kind](pixel, 0.4), KINDS[kind](pixel, 0.9)
    gained = 1000 * (thick.volume_ml - thin.volume_ml)
    assert gained == pytest.approx(0.5 * thin.width_mm * thin.height_mm, rel=1e-4)


def test_series_are_mirrored_so_that_one_sided_loss_shows():
    coupon = KINDS["flat"](0.035, 0.4)
    for left in (f for f in coupon.features if f.side == "left"):
        right = next(f for f in coupon.features if f.key == left.key.replace("left", "right"))
        assert right.size_mm == left.size_mm
        assert right.hit[0] + right.hit[2] == pytest.approx(coupon.width_mm - left.hit[0])


def test_sizes_below_a_pixel_still_differ():
    assert on_pixels((0.1, 0.11, 0.12), 0.1) == [0.1, 0.2, 0.3]


def test_area():
    assert area(((0, 0), (2, 0), (2, 3), (0, 3))) == 6


@pytest.mark.parametrize("pixel", PIXELS)
class TestSecondDesign:
    def drawn(self, pixel, **more):
        return KINDS["flat"](pixel, 0.4, design=2, **more)

    def test_holes_go_through_the_floor_and_are_wider_than_any_slot(self, pixel):
        coupon = embossed(self.drawn(pixel), "1047R", "2.4s")
        row = [s for s in coupon.shapes if s.role == "hole" and min(y for _, y in s.points) > 33]
        widest = max(f.size_mm for f in coupon.features if f.kind == "slot")
        assert 3 <= len(row) == 2 + sum(encoded(number_of("1047R")))
        for hole in row:
            left, top, right, bottom = bounds(hole.points)
            assert hole.low_mm == 0 and hole.high_mm == 0.4
            assert min(right - left, bottom - top) >= 0.8 - pixel and right - left > widest

    def test_the_taper_plug_widens_by_whole_pixels_and_is_held_by_a_neck_alone(self, pixel):
        coupon = self.drawn(pixel)
        plays = [f.size_mm for f in coupon.features if f.kind == "taper"]
        steps = {round((a - b) / pixel, 6) for a, b in itertools.pairwise(plays)}
        assert len(plays) == 13 and len(steps) == 1 and steps.pop() in (1.0, 2.0)
        assert plays[0] > 0 > plays[-1]
        # All round its place the floor is cut through, but for a core under it and the neck.
        z = layer_mask(coupon, 0.2, 0.02)
        around = z[round(23.4 / 0.02) : round(29.5 / 0.02), round(46.8 / 0.02) : round(47.7 / 0.02)]
        assert around.mean() < 40

    def test_the_solid_is_watertight_and_weighs_what_is_said(self, pixel):
        coupon = embossed(self.drawn(pixel), "104R", "2.4s")
        body = solid(coupon)
        assert body.is_volume and body.volume / 1000 == pytest.approx(coupon.volume_ml, rel=1e-3)

    def test_what_is_printed_keeps_its_design(self, pixel):
        old = KINDS["flat"](pixel, 0.4)
        assert "design" not in old.parameters and any(f.kind == "fit" for f in old.features)
        assert drawn("flat", old.parameters) == old
        assert drawn("flat", self.drawn(pixel).parameters) == self.drawn(pixel)

    def test_slots_too_wide_for_the_holes_and_designs_that_are_none_are_refused(self, pixel):
        with pytest.raises(Unfit, match="leave room"):
            self.drawn(pixel, slots_mm=(0.5, 2.4))
        with pytest.raises(Unfit, match="designs 1 and 2"):
            KINDS["flat"](pixel, 0.4, design=3)
