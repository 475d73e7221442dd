"""Several coupons on a plate: places, shuffling, and masks that say which exposure belongs where."""

import io
import json
import zipfile

import numpy as np
import pytest
from PIL import Image

from setback.coupon import KINDS, Unfit
from setback.coupon.masks import layer_mask
from setback.coupon.plate import GAP_MM, MARGIN_MM, Placed, lie_together, places, plate_archive, plate_svg, shuffled

PIXEL = 0.05
FLAT = KINDS["flat"](PIXEL, 0.4)
PLATE = (153.0, 87.0)


def test_places_lie_on_the_plate_on_whole_pixels_and_never_touch():
    free = places(FLAT.width_mm, FLAT.height_mm, PLATE, PIXEL)
    assert len(free) == 4
    for x, y in free:
        assert x >= MARGIN_MM - PIXEL and x + FLAT.width_mm <= PLATE[0] - MARGIN_MM + PIXEL
        assert y >= MARGIN_MM - PIXEL and y + FLAT.height_mm <= PLATE[1] - MARGIN_MM + PIXEL
        assert abs(x / PIXEL - round(x / PIXEL)) < 1e-6
    for i, (x, y) in enumerate(free):
        for u, v in free[i + 1 :]:
            assert abs(x - u) >= FLAT.width_mm or abs(y - v) >= FLAT.height_mm


def test_known_marks_are_kept_off():
    free = places(FLAT.width_mm, FLAT.height_mm, PLATE, PIXEL, keep_off=[(30, 20, 1, 1)])
    assert len(free) == 3 and not any(x <= 30 <= x + FLAT.width_mm and y <= 20 <= y + FLAT.height_mm for x, y in free)


def test_too_small_a_plate_says_how_many_fit():
    free = places(FLAT.width_mm, FLAT.height_mm, PLATE, PIXEL)
    with pytest.raises(Unfit, match="6 coupons do not fit on this plate: 4 fit"):
        shuffled(free, 6, 1)
    with pytest.raises(Unfit, match="0 fit"):
        shuffled(places(FLAT.width_mm, FLAT.height_mm, (40, 30), PIXEL), 1, 1)
    assert sorted(shuffled(free, 4, 1)) == sorted(free)
    assert len({tuple(shuffled(free, 4, seed)) for seed in range(12)}) > 4


def test_the_manifest_says_which_exposure_belongs_to_which_region():
    exposures = [2.0, 2.6, 3.4]
    spots = shuffled(places(FLAT.width_mm, FLAT.height_mm, PLATE, PIXEL), 3, 5)
    placed = [Placed(FLAT, f"P{i}", t, *spot) for i, (t, spot) in enumerate(zip(exposures, spots, strict=True))]
    held = zipfile.ZipFile(
        io.BytesIO(plate_archive(placed, PLATE, PIXEL, 0.05, {t: [20.0] * 4 + [t] * 24 for t in exposures}))
    )
    manifest = json.loads(held.read("manifest.json"))
    mask = np.asarray(Image.open(io.BytesIO(held.read(manifest["layers"][20]["mask"])))).astype(bool)
    assert mask.shape == (manifest["height_px"], manifest["width_px"])
    covered = np.zeros_like(mask)
    for region, p in zip(manifest["regions"], placed, strict=True):
        assert region["code"] == p.code and region["exposure_s"] == p.exposure_s
        x, y, w, h = (region[k] for k in ("x_px", "y_px", "width_px", "height_px"))
        assert np.array_equal(mask[y : y + h, x : x + w], layer_mask(FLAT, 20.5 * 0.05, PIXEL) > 0)
        covered[y : y + h, x : x + w] = True
    assert not mask[~covered].any()
    # Every region gets its own sum of flashes, in every layer.
    for number, layer in enumerate(manifest["layers"]):
        for p in placed:
            lit = sum(f["seconds"] for f in layer["flashes"] if p.code in f["regions"])
            assert lit == pytest.approx(20.0 if number < 4 else p.exposure_s)
    assert len(manifest["layers"][0]["flashes"]) == 1 and len(manifest["layers"][9]["flashes"]) == 3


def test_the_drawing_names_every_place():
    spots = places(FLAT.width_mm, FLAT.height_mm, PLATE, PIXEL)[:2]
    drawn = plate_svg([Placed(FLAT, "P1", 2.0, *spots[0]), Placed(FLAT, "P2", 3.1, *spots[1])], PLATE, [(1, 1, 2, 2)])
    assert "P1" in drawn and "3.1 s" in drawn


def test_pieces_lie_together_in_rows_with_gaps_and_margins():
    across = 2 * 40 + GAP_MM + 2 * MARGIN_MM
    assert lie_together([(40, 20)] * 4, (across, 2 * 20 + GAP_MM + 2 * MARGIN_MM))
    assert not lie_together([(40, 20)] * 4, (across, 2 * 20 + GAP_MM + 2 * MARGIN_MM - 0.1))
    assert not lie_together([(40, 20)] * 4, (across - 0.1, 50))
    # A lower piece lies beside a higher one.
    assert lie_together([(40, 10), (40, 20)], (across, 20 + 2 * MARGIN_MM))
    assert lie_together([], (1, 1))
