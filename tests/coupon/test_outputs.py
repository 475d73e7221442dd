"""Solid, masks and drawing of every coupon: closed volumes, and agreement on every feature by sampling."""

import csv
import io
import json
import re
import zipfile

import numpy as np
import pytest
import trimesh
from PIL import Image

from setback.coupon import KINDS
from setback.coupon.lettering import embossed
from setback.coupon.masks import archive, layer_mask, layer_table, layers, layers_of
from setback.coupon.plan_svg import plan_svg
from setback.coupon.solid import exported, solid

PIXEL, FLOOR = 0.035, 0.4


@pytest.fixture(scope="module", params=sorted(KINDS))
def coupon(request):
    return embossed(KINDS[request.param](PIXEL, FLOOR), "104R", "2.65s")


@pytest.mark.parametrize("kind", ["stl", "3mf"])
def test_files_open_as_closed_volumes_of_the_stated_size(coupon, kind):
    opened = trimesh.load(io.BytesIO(exported(coupon, kind)), file_type=kind, force="mesh")
    opened.merge_vertices()
    assert opened.is_volume
    assert opened.volume / 1000 == pytest.approx(coupon.volume_ml, rel=0.01)
    extent = opened.bounds[1] - opened.bounds[0]
    assert extent[2] == pytest.approx(coupon.thickness_mm, abs=0.01)
    assert extent[0] == pytest.approx(coupon.width_mm, abs=5.1) and extent[0] <= coupon.width_mm + PIXEL


def middle(shape, share):
    z = shape.low_mm + share * (shape.high_mm - shape.low_mm)
    points = np.array(shape.section(z))
    return (*points.mean(axis=0), z)


def test_masks_drawing_and_solid_agree_on_every_feature(coupon):
    body = solid(coupon)
    named = set(re.findall(r'data-feature="([^"]+)"', plan_svg(coupon)))
    places, expected, masks = [], [], {}
    for shape in coupon.shapes:
        if shape.role == "text":
            continue
        assert shape.feature is None or shape.feature in named
        for share in (0.3, 0.7):
            x, y, z = middle(shape, share)
            if z not in masks:
                masks[z] = layer_mask(coupon, z, PIXEL)
            lit = masks[z][int(y / PIXEL), int(x / PIXEL)] > 0
            # A place in a solid may be cut by a gap that lies over it.
            cut = any(gap.role == "gap" and gap.section(z) and _inside(gap.section(z), x, y) for gap in coupon.shapes)
            assert lit == (shape.role != "gap" and not cut), (shape.feature, share)
            places.append((x, y, z))
            expected.append(lit)
    assert list(body.contains(np.array(places))) == expected


def _inside(outline, x, y):
    signs = [
        (x2 - x1) * (y - y1) - (y2 - y1) * (x - x1)
        for (x1, y1), (x2, y2) in zip(outline, outline[1:] + outline[:1], strict=True)
    ]
    return all(s > 0 for s in signs) or all(s < 0 for s in signs)


def test_a_feature_is_as_many_pixels_wide_as_it_says():
    coupon = KINDS["flat"](PIXEL, FLOOR)
    mask = layer_mask(coupon, FLOOR + 0.5, PIXEL) > 0
    for feature in coupon.features:
        if feature.kind in ("vernier", "fit", "legible"):
            continue
        shape = next(s for s in coupon.shapes if s.feature == feature.key)
        (left, top), (right, bottom) = shape.points[0], shape.points[2]
        row, column = int((top + bottom) / 2 / PIXEL), int((left + right) / 2 / PIXEL)
        line = mask[:, column] if feature.axis == "y" else mask[row]
        at = row if feature.axis == "y" else column
        start = end = at
        while start > 0 and line[start - 1] == line[at]:
            start -= 1
        while end < len(line) - 1 and line[end + 1] == line[at]:
            end += 1
        assert end - start + 1 == round(feature.size_mm / PIXEL), feature.key


EXPOSURES = [24.0] * 4 + [2.65] * 24


def test_the_archive_says_what_every_layer_is():
    coupon = embossed(KINDS["flat"](PIXEL, FLOOR), "104R", "2.65s")
    held = zipfile.ZipFile(io.BytesIO(archive(coupon, PIXEL, 0.05, 2.65, EXPOSURES)))
    manifest = json.loads(held.read("manifest.json"))
    layers = manifest["layers"]
    assert len(layers) == 28 and [x["exposure_s"] for x in layers[:5]] == [24, 24, 24, 24, 2.65]
    assert sum(x["volume_ml"] for x in layers) == pytest.approx(coupon.volume_ml, rel=0.01)
    for name in {x["mask"] for x in layers}:
        picture = Image.open(io.BytesIO(held.read(name)))
        assert picture.size == (manifest["width_px"], manifest["height_px"])
    assert len({x["mask"] for x in layers}) == 2


def test_the_table_of_layers_counts_what_the_masks_light():
    coupon = KINDS["support"](PIXEL, FLOOR)
    rows = list(csv.DictReader(io.StringIO(layer_table(layers(coupon, PIXEL, 0.05, [2.0] * layers_of(coupon, 0.05))))))
    assert [int(r["number"]) for r in rows] == list(range(1, len(rows) + 1))
    assert sum(float(r["volume_ml"]) for r in rows) == pytest.approx(coupon.volume_ml, rel=0.01)
    lit = (layer_mask(coupon, 3.025, PIXEL) > 0).sum() * PIXEL**2
    assert float(rows[60]["area_mm2"]) == pytest.approx(lit, abs=0.001)


def test_lettering_is_read_from_left_to_right_and_never_leaves_its_place():
    plain = KINDS["flat"](PIXEL, FLOOR)
    places = [s for s in plain.shapes if s.text == "code"]
    for code in ("104R", "9999999999W"):
        made = [s for s in embossed(plain, code, "").shapes if s not in plain.shapes]
        assert made
        for shape in made:
            (left, top), (right, bottom) = shape.points[0], shape.points[2]
            assert any(
                p.points[0][0] - 2 * PIXEL <= left
                and right <= p.points[2][0] + 2 * PIXEL
                and p.points[0][1] - 2 * PIXEL <= top
                and bottom <= p.points[2][1] + 8 * PIXEL
                for p in places
            )
    assert embossed(plain, "", "").volume_ml == pytest.approx(plain.volume_ml)
