"""A picture of a virtual coupon, as a camera over a bench sees it."""

from __future__ import annotations

import io
import math
from dataclasses import replace
from itertools import pairwise
from typing import Any

import numpy as np
from PIL import Image
from scipy.ndimage import gaussian_filter

from ..coupon.description import Coupon
from ..coupon.masks import layer_mask
from . import physics
from .printed import Printed, spread

Heights = np.ndarray[Any, np.dtype[np.float32]]

CELL_MM = 0.06
MARGIN_MM = 4.0
MOST_LEVELS = 22
WIDEST_PX = 1280
FINE = ("flat", "grid")
"""Kinds whose edges are looked at; others show only what stands."""
BENCH = (168.0, 164.0, 156.0)
LAMP = np.array([-0.5, -0.62, 0.6])


def photograph(printed: Printed, lettered: Coupon, seed: int) -> bytes:
    """JPEG of a coupon on a bench: what did not form is missing, what closed is filled.

    Parameters
    ----------
    printed : Printed
        What became of its features.
    lettered : Coupon
        The same coupon with code and exposure embossed.
    seed : int
        The same seed gives the same picture.
    """
    chance = np.random.default_rng(seed)
    heights = _heights(printed, lettered)
    shaded = _lit(heights, printed, chance)
    image = Image.fromarray(np.clip(shaded, 0, 255).astype(np.uint8))
    image = _seen(image, chance)
    out = io.BytesIO()
    image.save(out, "JPEG", quality=86)
    return out.getvalue()


def _heights(printed: Printed, lettered: Coupon) -> Heights:
    """Height of the coupon above the bench at each cell, mm."""
    margin = round(MARGIN_MM / CELL_MM)
    left_standing = _without_lost(printed, lettered)
    fine = {(s.low_mm, s.high_mm) for s in left_standing.shapes if s.feature and s.base is None}
    field = np.zeros(layer_mask(left_standing, 0.0, CELL_MM).shape, dtype=np.float32)
    thickness = left_standing.thickness_mm if printed.thickness_mm is None else printed.thickness_mm
    for z, top in _levels(left_standing):
        mask = layer_mask(left_standing, z, CELL_MM)
        blurred = any(low < z < high for low, high in fine) and printed.coupon.kind in FINE
        cured = _cured(printed, mask, z) if blurred else mask > 0
        field = np.where(cured, np.float32(min(top, thickness)), field)
    return np.pad(field, margin)


def _cured(printed: Printed, mask: Any, z_mm: float) -> Any:
    """Where a layer is solid: the blurred light suffices, and nothing tore it away."""
    machine, material, conditions = printed.machine, printed.material, printed.conditions
    light = spread(
        mask.astype(np.float32) / 255,
        CELL_MM,
        physics.blur_mm(machine, material, conditions),
        material.scatter_mm,
        material.spread,
    )
    later = max((printed.coupon.thickness_mm - z_mm) / conditions.layer_mm, 0.0)
    across = np.linspace(-0.5, 0.5, mask.shape[1]) * machine.tilt
    need = physics.needed_share(machine, material, conditions, later) / (printed.flicker * (1 + across))
    # The floor and marks got base exposure; a soft layer leaves at least their trace.
    return light >= np.clip(need, 0.02, 0.85)[None, :]


def _levels(coupon: Coupon) -> list[tuple[float, float]]:
    """Heights to look at, (middle, top), from the bench up; no more than a few."""
    edges = sorted({s.low_mm for s in coupon.shapes} | {s.high_mm for s in coupon.shapes if s.role != "text"})
    parts = [(a, b) for a, b in pairwise(edges) if b - a > 1e-6]
    while len(parts) < MOST_LEVELS and any(b - a > 0.3 for a, b in parts) and any(s.base for s in coupon.shapes):
        i = max(range(len(parts)), key=lambda n: parts[n][1] - parts[n][0])
        a, b = parts[i]
        parts[i : i + 1] = [(a, (a + b) / 2), ((a + b) / 2, b)]
    if len(parts) > MOST_LEVELS:
        step = len(parts) / MOST_LEVELS
        parts = [parts[min(int((i + 1) * step) - 1, len(parts) - 1)] for i in range(MOST_LEVELS)]
    return [((a + b) / 2, b) for a, b in parts]


def _without_lost(printed: Printed, lettered: Coupon) -> Coupon:
    """What is left of the coupon: lost walls and tips are gone, closed slots are no gaps any more."""
    # A bar that could not be measured was washed away.
    shares = {
        o.key: 0.0 if o.kind == "outer" and o.size_mm is None else o.share
        for o in printed.outcomes
        if o.kind not in ("vernier", "fit", "legible")
    }
    left_standing = []
    for shape in lettered.shapes:
        share = shares.get(shape.feature) if shape.feature else None
        if share is not None and share < 0.3:
            if shape.role == "gap" or shape.top is None:
                continue
            # A tip that let go leaves the lower part of its strut.
            cut = shape.low_mm + 0.55 * (shape.high_mm - shape.low_mm)
            end = shape.section(cut)
            if end is not None:
                left_standing.append(replace(shape, high_mm=cut, top=end))
            continue
        left_standing.append(shape)
    return replace(lettered, shapes=tuple(left_standing))


def _lit(heights: Heights, printed: Printed, chance: np.random.Generator) -> Any:
    """Shade heights under one lamp from the upper left: slope, shadow, a little gloss."""
    soft = gaussian_filter(heights, 0.8, truncate=2.5)
    down, right = np.gradient(soft, np.float32(CELL_MM))
    lamp = (LAMP / np.linalg.norm(LAMP)).astype(np.float32)
    facing = (lamp[2] - right * lamp[0] - down * lamp[1]) / np.sqrt(down * down + right * right + 1)
    formed = np.clip(soft * 5, 0, 1)
    body = 0.62 + 0.5 * facing + 0.06 * np.tanh(soft - 0.6)
    bright = np.clip(facing, 0, 1) ** 8
    gloss = 60 * bright * bright * bright
    clear = np.float32(printed.material.clarity)
    ys, xs = (np.linspace(0, 1, n, dtype=np.float32) for n in heights.shape)
    lamp_light = (1.06 - 0.16 * xs[None, :] - 0.12 * ys[:, None]) * (1 - 0.5 * _shadow(soft) * (1 - 0.5 * clear))
    bench = 1 + 0.05 * _grain(heights.shape, chance)
    lit = np.empty((*heights.shape, 3), dtype=np.float32)
    for channel, (wood, tint) in enumerate(zip(BENCH, printed.material.tint, strict=True)):
        ground = np.float32(wood) * bench
        part = (np.float32(tint) * body + gloss) * (1 - 0.55 * clear) + ground * (0.55 * clear)
        lit[..., channel] = (ground + (part - ground) * formed) * lamp_light
    return lit


def _shadow(soft: Heights) -> Heights:
    """Cast to the lower right, softer with distance."""
    shadow = np.zeros_like(soft)
    for reach in (4, 8, 14, 22):
        moved = np.roll(soft, (round(reach * 0.75), round(reach * 0.6)), axis=(0, 1))
        shadow = np.maximum(shadow, np.clip((moved - reach * CELL_MM * 0.55 - soft) * 4, 0, 1) * (1 - reach / 40))
    return gaussian_filter(shadow, 2.0, truncate=2.0)


def _grain(shape: tuple[int, ...], chance: np.random.Generator) -> Heights:
    """Soft mottling of the bench: coarse noise, drawn out."""
    coarse = chance.standard_normal((shape[0] // 3 + 2, shape[1] // 3 + 2), dtype=np.float32)
    drawn = Image.fromarray(gaussian_filter(coarse, 0.8)).resize((shape[1], shape[0]), Image.Resampling.BILINEAR)
    return np.asarray(drawn)


def _seen(image: Image.Image, chance: np.random.Generator) -> Image.Image:
    """Slight perspective and turn, the sensor's size, and its noise."""
    width, height = image.size
    lean = chance.uniform(-0.012, 0.012, 8) * np.array([width, height] * 4)
    turn = math.radians(chance.uniform(-1.2, 1.2))
    corners = np.array([(0, 0), (0, height), (width, height), (width, 0)], dtype=float)
    middle = np.array([width / 2, height / 2])
    spin = np.array([[math.cos(turn), -math.sin(turn)], [math.sin(turn), math.cos(turn)]])
    source = (corners - middle) * 0.95 @ spin.T + middle + lean.reshape(4, 2)
    scale = min(1.0, WIDEST_PX / width)
    size = (round(width * scale), round(height * scale))
    turned = image.transform(
        size,
        Image.Transform.QUAD,
        tuple(source.ravel()),
        Image.Resampling.BILINEAR,
        fillcolor=tuple(round(b) for b in BENCH),
    )
    pixels = np.asarray(turned, dtype=np.float32)
    noise = chance.standard_normal(pixels.shape, dtype=np.float32)
    return Image.fromarray(np.clip(pixels + 1.4 * noise + 2.4 * noise[..., :1], 0, 255).astype(np.uint8))
