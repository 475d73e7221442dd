"""The support coupon: one graded series of leaning tips, too thin to safe, each under the same small load."""

from __future__ import annotations

import math

from .description import SIDES, Coupon, Feature, Shape, area, box, on_pixels

TIPS_MM = (0.15, 0.20, 0.25, 0.30, 0.36, 0.43, 0.52, 0.62)
WIDTH, HEIGHT = 46.0, 24.0
RISE_MM = 6.0
LOAD_MM = (3.4, 1.6, 1.2)


def support(pixel_mm: float, floor_mm: float, thickness_mm: float | None = None) -> Coupon:
    """Draw the support coupon. Two tips of each size lean opposite ways, so that one-sided loss shows."""
    thickness = thickness_mm if thickness_mm is not None else floor_mm + RISE_MM + LOAD_MM[2]
    sizes = on_pixels(TIPS_MM, pixel_mm)
    shapes: list[Shape] = [Shape("floor", box(0, 0, WIDTH, HEIGHT))]
    features: list[Feature] = []
    volume = WIDTH * HEIGHT * floor_mm
    pitch = (WIDTH - 4) / len(sizes)
    for side, foot_y, tip_y in zip(SIDES, (11.0, 13.0), (4.2, 19.8), strict=True):
        for i, size in enumerate(sizes):
            x = 2 + pitch * (i + 0.5)
            key = f"tip-{side}-{i + 1}"
            load_y = tip_y - LOAD_MM[1] if side == "left" else tip_y
            foot = 0.7
            strut = ((x - foot, foot_y), (x + foot, foot_y), (x + size / 2, tip_y), (x - size / 2, tip_y))
            shapes.append(Shape("solid", strut, key))
            shapes.append(Shape("solid", box(x - LOAD_MM[0] / 2, load_y, LOAD_MM[0], LOAD_MM[1]), key))
            low, high = min(load_y, foot_y), max(load_y + LOAD_MM[1], foot_y)
            features.append(Feature(key, "tip", size, (x - pitch / 2, low, pitch, high - low), side=side))
            length = math.hypot(RISE_MM, foot_y - tip_y)
            volume += math.pi * length / 3 * (foot**2 + foot * size / 2 + size**2 / 4)
            volume += area(box(0, 0, LOAD_MM[0], LOAD_MM[1])) * LOAD_MM[2]
    shapes.append(Shape("text", box(2.4, 21.6, 10, 2), text="code"))
    shapes.append(Shape("text", box(14.4, 21.8, 8, 1.6), text="exposure"))
    shapes.append(Shape("mark", ((42.6, 21.4), (44.6, 22.4), (42.6, 23.4))))
    return Coupon(
        kind="support",
        title="Support coupon",
        tells="Which support tips hold at this exposure.",
        does_not_tell="Fine sizes across the plate.",
        width_mm=WIDTH,
        height_mm=HEIGHT,
        thickness_mm=thickness,
        volume_ml=volume / 1000,
        shapes=tuple(shapes),
        features=tuple(features),
        parameters={"pixel_mm": pixel_mm, "floor_mm": floor_mm, "thickness_mm": thickness},
    )
