"""Several coupons on one plate, each at its own exposure: places, and masks that say which is which."""

from __future__ import annotations

import io
import json
import math
import random
import zipfile
from collections.abc import Sequence
from dataclasses import dataclass
from html import escape
from typing import Any

import numpy as np

from .description import Coupon, Raster, Unfit
from .masks import Cut, Mask, cut_at, layers_of, mask_of, written

GAP_MM = 3.0
MARGIN_MM = 2.0

Box = tuple[float, float, float, float]


@dataclass(frozen=True)
class Placed:
    """A coupon on the plate: its corner from the plate's corner, its code and its exposure."""

    coupon: Coupon
    code: str
    exposure_s: float
    x_mm: float
    y_mm: float

    @property
    def box(self) -> Box:
        return (self.x_mm, self.y_mm, self.coupon.width_mm, self.coupon.height_mm)


def places(
    width_mm: float, height_mm: float, plate_mm: tuple[float, float], pixel_mm: float, keep_off: Sequence[Box] = ()
) -> list[tuple[float, float]]:
    """Corners at which a coupon fits, nearest to the middle of the plate first; arrows all point the same way.

    Parameters
    ----------
    keep_off : boxes (x, y, width, height), mm
        Known marks of screen and film.
    """
    raster = Raster(pixel_mm)
    columns, rows = (
        max(math.floor((along - 2 * MARGIN_MM + GAP_MM) / (size + GAP_MM)), 0)
        for along, size in zip(plate_mm, (width_mm, height_mm), strict=True)
    )
    left = (plate_mm[0] - columns * width_mm - (columns - 1) * GAP_MM) / 2
    top = (plate_mm[1] - rows * height_mm - (rows - 1) * GAP_MM) / 2
    corners = [
        (raster.on(left + column * (width_mm + GAP_MM)), raster.on(top + row * (height_mm + GAP_MM)))
        for row in range(rows)
        for column in range(columns)
    ]
    free = [c for c in corners if not any(_overlap((*c, width_mm, height_mm), mark) for mark in keep_off)]

    def away(corner: tuple[float, float]) -> float:
        return math.hypot(corner[0] + width_mm / 2 - plate_mm[0] / 2, corner[1] + height_mm / 2 - plate_mm[1] / 2)

    return sorted(free, key=lambda corner: (round(away(corner), 3), corner))


def shuffled(
    free: list[tuple[float, float]], count: int, seed: int, noun: str = "coupons"
) -> list[tuple[float, float]]:
    """The ``count`` places nearest to the middle, in an order that does not follow exposure.

    Raises
    ------
    Unfit
        Says how many fit.
    """
    if count > len(free):
        many = f"{len(free)} fit" if len(free) != 1 else "one fits"
        raise Unfit("exposures_s", f"{count} {noun} do not fit on this plate: {many}.")
    chosen = free[:count]
    random.Random(seed).shuffle(chosen)
    return chosen


def lie_together(sizes_mm: Sequence[tuple[float, float]], plate_mm: tuple[float, float]) -> bool:
    """Whether pieces of these sizes lie on one plate in rows, the highest first; a closer packing is not tried."""
    across, up = (along - 2 * MARGIN_MM for along in plate_mm)
    rows: list[tuple[float, float]] = []  # What is free in each row, and its height.
    top = 0.0
    for width, height in sorted(sizes_mm, key=lambda size: -size[1]):
        row = next((i for i, (free, high) in enumerate(rows) if free >= width and high >= height), None)
        if row is not None:
            free, high = rows[row]
            rows[row] = (free - width - GAP_MM, high)
            continue
        if width > across or top + height > up:
            return False
        rows.append((across - width - GAP_MM, height))
        top += height + GAP_MM
    return True


def _overlap(a: Box, b: Box) -> bool:
    return a[0] < b[0] + b[2] and b[0] < a[0] + a[2] and a[1] < b[1] + b[3] and b[1] < a[1] + a[3]


def plate_archive(
    placed: Sequence[Placed],
    plate_mm: tuple[float, float],
    pixel_mm: float,
    layer_mm: float,
    exposures: dict[float, list[float]],
) -> bytes:
    """A ZIP of plate masks with a manifest: which exposure belongs to which region.

    Parameters
    ----------
    exposures : dict
        For each normal exposure, the exposure of every layer, s.
    """
    width, height = round(plate_mm[0] / pixel_mm), round(plate_mm[1] / pixel_mm)
    layers = layers_of(placed[0].coupon, layer_mm)
    regions = [
        {
            "code": p.code,
            "exposure_s": p.exposure_s,
            "x_px": round(p.x_mm / pixel_mm),
            "y_px": round(p.y_mm / pixel_mm),
            "width_px": round(p.coupon.width_mm / pixel_mm),
            "height_px": round(p.coupon.height_mm / pixel_mm),
        }
        for p in placed
    ]
    out = io.BytesIO()
    listed: list[dict[str, Any]] = []
    names: dict[bytes, str] = {}
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as archive_file:
        before: list[Cut] = []
        for number in range(layers):
            cuts = [cut_at(p.coupon, (number + 0.5) * layer_mm) for p in placed]
            if cuts != before:
                before, lit = cuts, _plate_mask(placed, cuts, (height, width), pixel_mm)
                name, area = written(archive_file, names, lit), float(np.count_nonzero(lit)) * pixel_mm**2
            listed.append(
                {
                    "layer": number + 1,
                    "mask": name,
                    "area_mm2": round(area, 3),
                    "volume_ml": round(area * layer_mm / 1000, 6),
                    "flashes": _flashes({p.code: exposures[p.exposure_s][number] for p in placed}),
                }
            )
        manifest = {
            "kind": placed[0].coupon.kind,
            "pixel_um": 1000 * pixel_mm,
            "layer_height_um": 1000 * layer_mm,
            "width_px": width,
            "height_px": height,
            "regions": regions,
            "layers": listed,
        }
        archive_file.writestr("manifest.json", json.dumps(manifest, indent=1))
    return out.getvalue()


def _plate_mask(placed: Sequence[Placed], cuts: Sequence[Cut], shape: tuple[int, int], pixel_mm: float) -> Mask:
    """The light of one layer of the whole plate. Coupons of a plate differ in their lettering only, so most of their masks are the same."""
    lit = np.zeros(shape, dtype=np.uint8)
    masks: dict[Cut, Mask] = {}
    for p, cut in zip(placed, cuts, strict=True):
        if cut not in masks:
            masks[cut] = mask_of(p.coupon, cut, pixel_mm)
        x, y, mask = round(p.x_mm / pixel_mm), round(p.y_mm / pixel_mm), masks[cut]
        lit[y : y + mask.shape[0], x : x + mask.shape[1]] = mask
    return lit


def _flashes(seconds: dict[str, float]) -> list[dict[str, Any]]:
    """What to light in turn, so that every region gets its own sum: all of them first, the longest alone at last."""
    flashes, before = [], 0.0
    for step in sorted(set(seconds.values())):
        flashes.append(
            {"seconds": round(step - before, 6), "regions": [code for code, s in seconds.items() if s >= step]}
        )
        before = step
    return flashes


def plate_svg(placed: Sequence[Placed], plate_mm: tuple[float, float], keep_off: Sequence[Box] = ()) -> str:
    """The plate from above with code and exposure of every place."""
    width, height = plate_mm
    parts = [
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width:g} {height:g}" width="{width:g}mm" '
        f'height="{height:g}mm" font-family="monospace">',
        f'<rect width="{width:g}" height="{height:g}" fill="#fff" stroke="#8a91a0" stroke-width="0.4"/>',
    ]
    for x, y, w, h in keep_off:
        parts.append(f'<rect x="{x:g}" y="{y:g}" width="{w:g}" height="{h:g}" fill="#e6b8a0"/>')
    for p in placed:
        x, y, w, h = p.box
        parts.append(
            f'<rect x="{x:g}" y="{y:g}" width="{w:g}" height="{h:g}" fill="#e8e4da" stroke="#38415a" stroke-width="0.3"/>'
        )
        for text, down in ((f"{p.exposure_s:g} s", 0.45), (p.code, 0.75)):
            size = min(h / 4, w / 6)
            parts.append(
                f'<text x="{x + w / 2:g}" y="{y + h * down:g}" font-size="{size:g}" text-anchor="middle" '
                f'fill="#1c2333">{escape(text)}</text>'
            )
    return "\n".join([*parts, "</svg>"])
