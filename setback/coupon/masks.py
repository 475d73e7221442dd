"""Layer masks: one picture per layer at the printer's pixel, white where light falls, with a manifest."""

from __future__ import annotations

import csv
import hashlib
import io
import json
import math
import zipfile
from collections.abc import Iterator, Sequence
from dataclasses import asdict, dataclass, fields
from typing import Any

import numpy as np

from .description import CUT, Coupon, Outline

Mask = np.ndarray[Any, np.dtype[np.uint8]]


Cut = tuple[tuple[int, Outline], ...]
"""What is drawn at one height, in order: 255 lights the inside of an outline, 0 takes the light away."""


def cut_at(coupon: Coupon, z_mm: float) -> Cut:
    """The outlines at a height: what is solid first, then the gaps in it."""
    return tuple(
        (value, outline)
        for roles, value in ((("floor", "solid", "mark"), 255), (CUT, 0))
        for shape in coupon.shapes
        if shape.role in roles and (outline := shape.section(z_mm)) is not None
    )


def layer_mask(coupon: Coupon, z_mm: float, pixel_mm: float) -> Mask:
    """Which pixels are lit at a height: a pixel belongs to a shape when its centre does. 255 is light."""
    return mask_of(coupon, cut_at(coupon, z_mm), pixel_mm)


def layer_masks(coupon: Coupon, pixel_mm: float, layer_mm: float, count: int) -> Iterator[Mask]:
    """The mask of every layer from the plate up. Neighbours that cut the same outlines share one array, so do not write to it."""
    before: Cut | None = None
    mask: Mask | None = None
    for number in range(count):
        cut = cut_at(coupon, (number + 0.5) * layer_mm)
        if mask is None or cut != before:
            before, mask = cut, mask_of(coupon, cut, pixel_mm)
        yield mask


def mask_of(coupon: Coupon, cut: Cut, pixel_mm: float) -> Mask:
    """Pixels of a coupon that one cut lights."""
    rows, columns = round(coupon.height_mm / pixel_mm), round(coupon.width_mm / pixel_mm)
    lit = np.zeros((rows, columns), dtype=np.uint8)
    for value, outline in cut:
        _fill(lit, outline, pixel_mm, value)
    return lit


def _fill(lit: Mask, outline: Outline, pixel_mm: float, value: int) -> None:
    """Set the pixels whose centres lie in a convex outline."""
    xs, ys = zip(*outline, strict=True)
    left, right = max(int(min(xs) / pixel_mm) - 1, 0), min(math.ceil(max(xs) / pixel_mm) + 1, lit.shape[1])
    top, bottom = max(int(min(ys) / pixel_mm) - 1, 0), min(math.ceil(max(ys) / pixel_mm) + 1, lit.shape[0])
    if left >= right or top >= bottom:
        return
    x = (np.arange(left, right) + 0.5) * pixel_mm
    y = (np.arange(top, bottom) + 0.5) * pixel_mm
    if len(outline) == 4 and len(set(xs)) == 2 and len(set(ys)) == 2:  # An upright rectangle, as most are.
        columns, rows = np.flatnonzero((x >= min(xs)) & (x <= max(xs))), np.flatnonzero((y >= min(ys)) & (y <= max(ys)))
        if len(columns) and len(rows):
            lit[top + rows[0] : top + rows[-1] + 1, left + columns[0] : left + columns[-1] + 1] = value
        return
    inside = np.ones((bottom - top, right - left), dtype=bool)
    turn = _orientation(outline)
    for (x1, y1), (x2, y2) in zip(outline, outline[1:] + outline[:1], strict=True):
        inside &= turn * ((x2 - x1) * (y[:, None] - y1) - (y2 - y1) * (x[None, :] - x1)) >= 0
    lit[top:bottom, left:right][inside] = value


def _orientation(outline: Outline) -> float:
    twice = sum(x1 * y2 - x2 * y1 for (x1, y1), (x2, y2) in zip(outline, outline[1:] + outline[:1], strict=True))
    return 1.0 if twice > 0 else -1.0


def layers_of(coupon: Coupon, layer_mm: float) -> int:
    return math.ceil(round(coupon.thickness_mm / layer_mm, 6))


@dataclass(frozen=True)
class Layer:
    """One layer: what is lit, how much resin it takes, and for how long light falls."""

    number: int
    area_mm2: float
    volume_ml: float
    exposure_s: float | None


def layers(coupon: Coupon, pixel_mm: float, layer_mm: float, exposures: Sequence[float | None]) -> list[Layer]:
    """Area and volume of every layer, counted on its mask. ``exposures`` has one entry per layer."""
    rows = []
    masks = layer_masks(coupon, pixel_mm, layer_mm, len(exposures))
    for number, (exposure, mask) in enumerate(zip(exposures, masks, strict=True)):
        rows.append(_layer(number, mask, pixel_mm, layer_mm, exposure))
    return rows


def _layer(number: int, mask: Mask, pixel_mm: float, layer_mm: float, exposure_s: float | None) -> Layer:
    area = float(np.count_nonzero(mask)) * pixel_mm**2
    return Layer(number + 1, round(area, 3), round(area * layer_mm / 1000, 6), exposure_s)


def layer_table(rows: Sequence[Layer]) -> str:
    """Layers as CSV."""
    out = io.StringIO()
    table = csv.DictWriter(out, fieldnames=[f.name for f in fields(Layer)])
    table.writeheader()
    table.writerows(asdict(row) for row in rows)
    return out.getvalue()


def written(archive_file: zipfile.ZipFile, names: dict[bytes, str], mask: Mask) -> str:
    """Put a mask into the archive as a picture of one bit per pixel; equal layers share one picture."""
    from PIL import Image

    digest = hashlib.sha256(np.packbits(mask > 0).tobytes()).digest()
    if digest not in names:
        names[digest] = f"mask-{len(names) + 1:04d}.png"
        picture = io.BytesIO()
        Image.fromarray(mask > 0).save(picture, "PNG", compress_level=1)
        archive_file.writestr(names[digest], picture.getvalue())
    return names[digest]


def archive(
    coupon: Coupon, pixel_mm: float, layer_mm: float, normal_s: float | None, exposures: Sequence[float | None]
) -> bytes:
    """A ZIP of PNG masks and ``manifest.json``; ``exposures`` has one entry per layer."""
    out = io.BytesIO()
    listed: list[dict[str, Any]] = []
    names: dict[bytes, str] = {}
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as archive_file:
        before, name = None, ""
        masks = layer_masks(coupon, pixel_mm, layer_mm, len(exposures))
        for number, (exposure, mask) in enumerate(zip(exposures, masks, strict=True)):
            if mask is not before:
                before, name = mask, written(archive_file, names, mask)
            row = asdict(_layer(number, mask, pixel_mm, layer_mm, exposure))
            listed.append({"layer": row.pop("number"), "mask": name, **row})
        manifest = {
            "kind": coupon.kind,
            "pixel_um": 1000 * pixel_mm,
            "layer_height_um": 1000 * layer_mm,
            "width_px": round(coupon.width_mm / pixel_mm),
            "height_px": round(coupon.height_mm / pixel_mm),
            "exposure_s": normal_s,
            "layers": listed,
        }
        archive_file.writestr("manifest.json", json.dumps(manifest, indent=1))
    return out.getvalue()
