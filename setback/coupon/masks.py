"""Layer masks: one picture per layer at the printer's pixel, white where light falls, with a manifest."""

from __future__ import annotations

import io
import json
import math
import zipfile
from typing import Any

import numpy as np

from .description import Coupon, Outline

Mask = np.ndarray[Any, np.dtype[np.uint8]]


def layer_mask(coupon: Coupon, z_mm: float, pixel_mm: float) -> Mask:
    """Which pixels are lit at a height: a pixel belongs to a shape when its centre does. 255 is light."""
    rows, columns = round(coupon.height_mm / pixel_mm), round(coupon.width_mm / pixel_mm)
    lit = np.zeros((rows, columns), dtype=np.uint8)
    for role, value in ((("floor", "solid", "mark"), 255), (("gap",), 0)):
        for shape in coupon.shapes:
            outline = shape.section(z_mm) if shape.role in role else None
            if outline is not None:
                _fill(lit, outline, pixel_mm, value)
    return lit


def _fill(lit: Mask, outline: Outline, pixel_mm: float, value: int) -> None:
    """Set the pixels whose centres lie in a convex outline."""
    xs, ys = zip(*outline, strict=True)
    left, right = max(int(min(xs) / pixel_mm) - 1, 0), min(math.ceil(max(xs) / pixel_mm) + 1, lit.shape[1])
    top, bottom = max(int(min(ys) / pixel_mm) - 1, 0), min(math.ceil(max(ys) / pixel_mm) + 1, lit.shape[0])
    if left >= right or top >= bottom:
        return
    x = (np.arange(left, right) + 0.5)[None, :] * pixel_mm
    y = (np.arange(top, bottom) + 0.5)[:, None] * pixel_mm
    inside = np.ones((bottom - top, right - left), dtype=bool)
    turn = _orientation(outline)
    for (x1, y1), (x2, y2) in zip(outline, outline[1:] + outline[:1], strict=True):
        inside &= turn * ((x2 - x1) * (y - y1) - (y2 - y1) * (x - x1)) >= 0
    lit[top:bottom, left:right][inside] = value


def _orientation(outline: Outline) -> float:
    twice = sum(x1 * y2 - x2 * y1 for (x1, y1), (x2, y2) in zip(outline, outline[1:] + outline[:1], strict=True))
    return 1.0 if twice > 0 else -1.0


def archive(
    coupon: Coupon,
    pixel_mm: float,
    layer_mm: float,
    exposure_s: float | None,
    base_layers: int,
    base_exposure_s: float | None,
) -> bytes:
    """A ZIP of PNG masks and ``manifest.json``; equal layers share one picture."""
    from PIL import Image

    layers = math.ceil(round(coupon.thickness_mm / layer_mm, 6))
    out = io.BytesIO()
    listed: list[dict[str, Any]] = []
    names: dict[bytes, str] = {}
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as kept:
        for number in range(layers):
            mask = layer_mask(coupon, (number + 0.5) * layer_mm, pixel_mm)
            held = mask.tobytes()
            if held not in names:
                names[held] = f"mask-{len(names) + 1:04d}.png"
                picture = io.BytesIO()
                Image.fromarray(mask).save(picture, "PNG", compress_level=3)
                kept.writestr(names[held], picture.getvalue())
            area_mm2 = float((mask > 0).sum()) * pixel_mm**2
            base = number < base_layers
            listed.append(
                {
                    "layer": number + 1,
                    "mask": names[held],
                    "exposure_s": base_exposure_s if base else exposure_s,
                    "area_mm2": round(area_mm2, 3),
                    "volume_ml": round(area_mm2 * layer_mm / 1000, 6),
                }
            )
        manifest = {
            "kind": coupon.kind, "pixel_um": 1000 * pixel_mm, "layer_height_um": 1000 * layer_mm,
            "width_px": round(coupon.width_mm / pixel_mm), "height_px": round(coupon.height_mm / pixel_mm),
            "exposure_s": exposure_s, "layers": listed,
        }  # fmt: skip
        kept.writestr("manifest.json", json.dumps(manifest, indent=1))
    return out.getvalue()
