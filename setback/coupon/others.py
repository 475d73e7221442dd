"""Coupons for depth, bloom in Z and evenness over the plate."""

from __future__ import annotations

from dataclasses import replace

from .description import Coupon, Feature, Part, Raster, Shape, Unfit, prism, volume_ml

GAPS_MM = (0.4, 0.6, 0.8, 1.0, 1.2, 1.5)
STAIR_MM = (0.2, 0.4, 0.6, 0.8, 1.0)
PAD_MM = 10.0
PADS = 3
EDGE_MM = 2.0


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
    shapes.append(_arrow(40.6, 11.0, 2.4, floor_mm))
    return _coupon(
        "z-bridge",
        "Z bridge",
        "Bloom downwards and step heights.",
        "Sizes across the plate.",
        raster,
        width,
        height,
        thickness,
        floor_mm,
        shapes,
        features,
        (
            Part(
                "Bridges",
                "Clearance lost below a bridge is bloom: light that went on through its first layer.",
                (1.6, 1.6, 33.6, 7.8),
            ),
            Part("Stair", "Steps of known height: what is missing or too much is Z error.", (36.0, 1.6, 7.8, 7.8)),
            Part("Code and exposure", "So that nobody writes on samples with a pen.", (1.6, 10.6, 37.0, 3.4)),
            Part("Arrow", "Points along the plate's X.", (40.2, 10.6, 3.2, 3.2)),
        ),
    )


def depth(pixel_mm: float, floor_mm: float, thickness_mm: float | None = None) -> Coupon:
    """One square exposed straight onto the film, without the plate: its thickness is the cure depth.

    It carries no letters: one flash cannot raise them, and cut out they would leave loose crumbs on the film.
    """
    raster = Raster(pixel_mm)
    thickness = thickness_mm if thickness_mm is not None else 0.3
    side = raster.on(PAD_MM)
    shapes = [prism("floor", raster.box(0, 0, side, side), 0, thickness)]
    return _coupon(
        "depth",
        "Depth square",
        "How deep light cures at one time; several make the working curve.",
        "Sizes across the plate, or grip.",
        raster,
        side,
        side,
        thickness,
        floor_mm,
        shapes,
        [],
        (Part("Square", "Measure its thickness at several places.", (0.0, 0.0, side, side)),),
    )


def grid(
    pixel_mm: float, floor_mm: float, thickness_mm: float | None = None, *, plate_mm: tuple[float, float] | None = None
) -> Coupon:
    """Nine small pads with a wall, a slot and a bar each, spread over a plate: is light even?

    Parameters
    ----------
    plate_mm : (float, float), optional
        Size of the plate; the pads then lie at its corners, edges and middle. Without it they hang together in one
        piece of 60 × 40 mm.
    """
    raster = Raster(pixel_mm)
    thickness = thickness_mm if thickness_mm is not None else floor_mm + 0.8
    span = (60.0, 40.0) if plate_mm is None else (float(plate_mm[0]), float(plate_mm[1]))
    if min(span) < PADS * PAD_MM + 2 * EDGE_MM:
        least = PADS * PAD_MM + 2 * EDGE_MM
        raise Unfit("plate_mm", f"Nine pads need a plate of {least:g} × {least:g} mm at least.")
    edge = 1.0 if plate_mm is None else EDGE_MM
    pitch_x, pitch_y = ((along - 2 * edge - PAD_MM) / (PADS - 1) for along in span)
    width, height = raster.on(span[0]), raster.on(span[1])
    shapes: list[Shape] = []
    features: list[Feature] = []
    for row in range(PADS):
        for column in range(PADS):
            x, y = raster.on(edge + column * pitch_x), raster.on(edge + row * pitch_y)
            _pad(raster, x, y, f"{row + 1}{column + 1}", floor_mm, thickness, shapes, features)
    if plate_mm is None:
        shapes += _strips(raster, floor_mm)
    x, y = raster.on(edge + pitch_x), raster.on(edge + pitch_y)
    parts = (
        Part(
            "Pad", "The same wall, slot and bar at nine places: what differs is light or level.", (x, y, PAD_MM, PAD_MM)
        ),
        Part("Walls", "Missing at one place only: too little light there.", (x + 0.4, y + 0.8, 4.8, 3.8)),
        Part(
            "Code, exposure, arrow", "On every pad: they come off the plate one by one.", (x + 6.0, y + 0.8, 3.8, 4.4)
        ),
        Part("Bar", "Growth here against growth in the middle is the light map.", (x + 0.8, y + 5.8, 7.4, 2.8)),
    )
    coupon = _coupon(
        "grid",
        "Plate grid",
        "Uniformity and the usable part of the plate.",
        "Anything else.",
        raster,
        width,
        height,
        thickness,
        floor_mm,
        shapes,
        features,
        parts,
    )
    return coupon if plate_mm is None else replace(coupon, parameters={**coupon.parameters, "plate_mm": list(span)})


def _pad(
    raster: Raster,
    x: float,
    y: float,
    name: str,
    floor_mm: float,
    thickness: float,
    shapes: list[Shape],
    features: list[Feature],
) -> None:
    shapes.append(prism("floor", raster.box(x, y, PAD_MM, PAD_MM), 0, floor_mm))
    for i, size in enumerate(raster.sizes((0.16, 0.25, 0.36))):
        key = f"wall-{name}-{i + 1}"
        place = raster.box(x + 1.2 + 1.8 * i, y + 1.0, size, 3.4)
        shapes.append(prism("solid", place, floor_mm, thickness, key))
        features.append(Feature(key, "wall", size, (x + 0.4 + 1.8 * i, y + 1.0, 1.6, 3.4)))
    key = f"outer-{name}"
    bar = raster.box(x + 1.0, y + 6.0, 7.0, 2.4)
    shapes.append(prism("solid", bar, floor_mm, thickness, key))
    features.append(Feature(key, "outer", round(bar[1][0] - bar[0][0], 6), (x + 1.0, y + 6.0, 7.0, 2.4), axis="x"))
    for text, down in (("code", 1.0), ("exposure", 2.3)):
        corners = ((x + 6.2, y + down), (x + 9.6, y + down), (x + 9.6, y + down + 0.9), (x + 6.2, y + down + 0.9))
        shapes.append(Shape("text", corners, text=text, low_mm=floor_mm, high_mm=thickness))
    shapes.append(_arrow(x + 6.2, y + 3.6, 1.4, floor_mm))


def _arrow(x: float, y: float, side: float, floor_mm: float) -> Shape:
    """Points along the plate's X."""
    return prism("mark", ((x, y), (x + 0.9 * side, y + side / 2), (x, y + side)), floor_mm, floor_mm + 0.6)


def _strips(raster: Raster, floor_mm: float) -> list[Shape]:
    """Short strips hold the pads in one piece at a known distance."""
    shapes = []
    for row in range(PADS):
        for column in range(PADS - 1):
            left = raster.on(1.0 + column * 24.0) + raster.on(PAD_MM)
            reach = raster.on(1.0 + (column + 1) * 24.0) - left
            shapes.append(prism("floor", raster.box(left, 5.5 + row * 14.0, reach, 1.0), 0, floor_mm))
    for row in range(PADS - 1):
        low = raster.on(1.0 + row * 14.0) + raster.on(PAD_MM)
        reach = raster.on(1.0 + (row + 1) * 14.0) - low
        shapes.append(prism("floor", raster.box(29.5, low, 1.0, reach), 0, floor_mm))
    return shapes


def _code(shapes: list[Shape], raster: Raster, x: float, y: float, floor_mm: float) -> None:
    for name, left, width, height in (("code", x, 16.0, 2.6), ("exposure", x + 20.0, 16.0, 2.6)):
        corners = ((left, y), (left + width, y), (left + width, y + height), (left, y + height))
        shapes.append(Shape("text", corners, text=name, low_mm=floor_mm, high_mm=floor_mm + 0.6))


def _coupon(
    kind: str,
    title: str,
    tells: str,
    does_not: str,
    raster: Raster,
    width: float,
    height: float,
    thickness: float,
    floor_mm: float,
    shapes: list[Shape],
    features: list[Feature],
    parts: tuple[Part, ...],
) -> Coupon:
    return Coupon(
        kind=kind,
        title=title,
        tells=tells,
        does_not_tell=does_not,
        width_mm=width,
        height_mm=height,
        thickness_mm=thickness,
        volume_ml=volume_ml(shapes),
        shapes=tuple(shapes),
        features=tuple(features),
        parameters={"pixel_mm": raster.pixel_mm, "floor_mm": floor_mm, "thickness_mm": thickness},
        parts=parts,
    )
