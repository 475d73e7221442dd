"""Series and plates of one's own: what fits is drawn, what does not is said."""

import pytest

from setback.coupon import KINDS, SERIES, Unfit, drawn
from setback.coupon.flat import SLOTS_MM, WALLS_MM

PIXEL, FLOOR = 0.035, 0.4


def test_a_series_of_ones_own_lands_on_whole_pixels_with_its_mirror_image():
    coupon = KINDS["flat"](PIXEL, FLOOR, walls_mm=(0.14, 0.28, 0.42))
    walls = [f for f in coupon.features if f.kind == "wall"]
    assert sorted({f.size_mm for f in walls}) == pytest.approx([0.14, 0.28, 0.42])
    assert [f.side for f in walls].count("left") == [f.side for f in walls].count("right") == 3
    assert len([f for f in coupon.features if f.kind == "slot"]) == 2 * len(SLOTS_MM)


def test_parameters_draw_the_same_coupon_again():
    for kind, more in (
        ("flat", {"walls_mm": (0.1, 0.2)}),
        ("support", {"tips_mm": (0.3, 0.5)}),
        ("grid", {"plate_mm": (150, 80)}),
    ):
        coupon = KINDS[kind](PIXEL, FLOOR, **more)
        assert drawn(kind, coupon.parameters) == coupon
        assert set(coupon.parameters) - {"pixel_mm", "floor_mm", "thickness_mm"} == set(more) <= set(SERIES[kind])
    assert "walls_mm" not in KINDS["flat"](PIXEL, FLOOR, walls_mm=WALLS_MM).parameters


@pytest.mark.parametrize(
    ("kind", "more", "said"),
    [
        ("flat", {"walls_mm": (0.02, 0.2)}, "under one pixel"),
        ("flat", {"slots_mm": (0.3, 0.2)}, "small to large"),
        ("flat", {"walls_mm": (0.2,)}, "2 to 14"),
        ("flat", {"walls_mm": (2.0, 4.0, 6.0, 8.0, 9.0)}, "4 of 5 do"),
        ("support", {"tips_mm": (0.5, 2.0)}, "no thicker than its foot"),
        ("support", {"tips_mm": tuple(0.2 + 0.05 * i for i in range(14))}, "do not fit"),
        ("grid", {"plate_mm": (30, 80)}, "34 × 34"),
    ],
)
def test_what_cannot_be_drawn_is_said(kind, more, said):
    with pytest.raises(Unfit, match=said):
        KINDS[kind](PIXEL, FLOOR, **more)


def test_a_grid_is_spread_over_its_plate():
    coupon = KINDS["grid"](PIXEL, FLOOR, plate_mm=(153, 87))
    bars = [f for f in coupon.features if f.kind == "outer"]
    assert len(bars) == 9
    xs = sorted({round(f.hit[0]) for f in bars})
    assert len(xs) == 3 and xs[0] < 6 and xs[-1] > 140


@pytest.mark.parametrize("kind", sorted(KINDS))
def test_every_part_that_tells_something_lies_on_the_drawing(kind):
    coupon = KINDS[kind](PIXEL, FLOOR)
    assert coupon.parts
    for part in coupon.parts:
        x, y, width, height = part.place
        assert part.name and part.tells
        assert x >= 0 and y >= 0 and x + width <= coupon.width_mm + 0.1 and y + height <= coupon.height_mm + 0.6
