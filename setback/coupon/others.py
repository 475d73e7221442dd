"""Coupons for depth, bloom in Z and evenness over the plate."""

from __future__ import annotations

from .description import Coupon, Feature, Raster, Shape, prism, volume_ml

GAPS_MM = (0.4, 0.6, 0.8, 1.0, 1.2, 1.5)
STAIR_MM = (0.2, 0.4, 0.6, 0.8, 1.0)
PAD_MM = 10.0


def z_bridge(pixel_mm: float, floor_mm: float, thickness_mm: float | None = None) -> Coupon:
    """Bridges with graded clearance, and a stair whose steps have known heights."""
    raster = Raster(pixel_mm)
    slab = 0.8
    thickness = thickness_mm if thickness_mm is not None else floor_mm + GAPS_MM[-1] + slab
    width, height = raster.on(44.0), raster.on(16.0)
    shapes: list[Shape] = [prism("floor", raster.box(0, 0, width, height), 0, floor_mm)]
    features: list[Feature] = []
    for i, gap in enumerate(GAPS_MM):
        x, y = 2.0 + 5.6 * i, 2.0
        under = floor_mm + gap
        for left in (x, x + 3.2):
            shapes.append(prism("solid", raster.box(left, y, 0.8, 7.0), floor_mm, under))
        key = f"z-gap-{i + 1}"
        shapes.append(prism("solid", raster.box(x, y, 4.0, 7.0), under, min(under + slab, thickness), key))
        features.append(Feature(key, "z-gap", gap, (x, y, 4.0, 7.0)))
    for i, step in enumerate(STAIR_MM):
        shapes.append(prism("mark", raster.box(36.4 + 1.4 * i, 2.0, 1.4, 7.0), floor_mm, floor_mm + step))
    _code(shapes, raster, 2.0, 11.0, floor_mm)
    return _coupon(
        "z-bridge", "Z bridge", "Bloom downwards and step heights.", "Sizes across the plate.", raster, width, height,
        thickness, floor_mm, shapes, features,
    )  # fmt: skip


def depth(pixel_mm: float, floor_mm: float, thickness_mm: float | None = None) -> Coupon:
    """One square exposed straight onto the film, without the plate: its thickness is the cure depth."""
    raster = Raster(pixel_mm)
    thickness = thickness_mm if thickness_mm is not None else 0.3
    side = raster.on(PAD_MM)
    shapes = [prism("floor", raster.box(0, 0, side, side), 0, thickness)]
    return _coupon(
        "depth", "Depth square", "How deep light cures at one time; several make the working curve.",
        "Sizes across the plate, or grip.", raster, side, side, thickness, floor_mm, shapes, [],
    )  # fmt: skip


def grid(pixel_mm: float, floor_mm: float, thickness_mm: float | None = None) -> Coupon:
    """Nine small pads with a wall, a slot and a bar each, to be spread over a plate: is light even?"""
    raster = Raster(pixel_mm)
    thickness = thickness_mm if thickness_mm is not None else floor_mm + 0.8
    width, height = raster.on(60.0), raster.on(40.0)
    shapes: list[Shape] = []
    features: list[Feature] = []
    for row in range(3):
        for column in range(3):
            x, y = 1.0 + column * 24.0, 1.0 + row * 14.0
            name = f"{row + 1}{column + 1}"
            shapes.append(prism("floor", raster.box(x, y, PAD_MM, PAD_MM), 0, floor_mm))
            for i, size in enumerate(raster.sizes((0.16, 0.25, 0.36))):
                key = f"wall-{name}-{i + 1}"
                place = raster.box(x + 1.2 + 1.8 * i, y + 1.0, size, 3.4)
                shapes.append(prism("solid", place, floor_mm, thickness, key))
                features.append(Feature(key, "wall", size, (x + 0.4 + 1.8 * i, y + 1.0, 1.6, 3.4)))
            key = f"outer-{name}"
            bar = raster.box(x + 1.0, y + 6.0, 7.0, 2.4)
            shapes.append(prism("solid", bar, floor_mm, thickness, key))
            features.append(
                Feature(key, "outer", round(bar[1][0] - bar[0][0], 6), (x + 1.0, y + 6.0, 7.0, 2.4), axis="x")
            )
    # Short strips hold the pads in one piece at a known distance.
    for row in range(3):
        for column in range(2):
            left = raster.on(1.0 + column * 24.0) + raster.on(PAD_MM)
            reach = raster.on(1.0 + (column + 1) * 24.0) - left
            shapes.append(prism("floor", raster.box(left, 5.5 + row * 14.0, reach, 1.0), 0, floor_mm))
    for row in range(2):
        low = raster.on(1.0 + row * 14.0) + raster.on(PAD_MM)
        reach = raster.on(1.0 + (row + 1) * 14.0) - low
        shapes.append(prism("floor", raster.box(29.5, low, 1.0, reach), 0, floor_mm))
    return _coupon(
        "grid", "Plate grid", "Uniformity and the usable part of the plate.", "Anything else.", raster, width, height,
        thickness, floor_mm, shapes, features,
    )  # fmt: skip


def _code(shapes: list[Shape], raster: Raster, x: float, y: float, floor_mm: float) -> None:
    for name, left, width, height in (("code", x, 16.0, 2.6), ("exposure", x + 20.0, 16.0, 2.6)):
        corners = ((left, y), (left + width, y), (left + width, y + height), (left, y + height))
        shapes.append(Shape("text", corners, text=name, low_mm=floor_mm, high_mm=floor_mm + 0.6))


def _coupon(
    kind: str, title: str, tells: str, does_not: str, raster: Raster, width: float, height: float, thickness: float,
    floor_mm: float, shapes: list[Shape], features: list[Feature],
) -> Coupon:  # fmt: skip
    return Coupon(
        kind=kind, title=title, tells=tells, does_not_tell=does_not, width_mm=width, height_mm=height,
        thickness_mm=thickness, volume_ml=volume_ml(shapes), shapes=tuple(shapes), features=tuple(features),
        parameters={"pixel_mm": raster.pixel_mm, "floor_mm": floor_mm, "thickness_mm": thickness},
    )  # fmt: skip
