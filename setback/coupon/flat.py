"""The flat coupon: fans of walls and slots with their mirror images, caliper steps, vernier and gauge piece."""

from __future__ import annotations

from .description import SIDES, Coupon, Feature, Shape, Side, area, box, on_pixels

WALLS_MM = (0.10, 0.13, 0.16, 0.20, 0.25, 0.30, 0.36, 0.43, 0.52, 0.62)
SLOTS_MM = (0.10, 0.14, 0.18, 0.23, 0.28, 0.34, 0.40, 0.48, 0.57, 0.68)
CALIPER_MM = (7.0, 11.0)
WIDTH, HEIGHT = 52.0, 33.0
FEATURE_MM = 1.0
MARGIN = 2.0
PAIRS = 7


def flat(pixel_mm: float, floor_mm: float, thickness_mm: float | None = None) -> Coupon:
    """Draw the flat coupon for a pixel size.

    Parameters
    ----------
    pixel_mm : float
        Every feature is a whole number of pixels.
    floor_mm : float
        Thickness of the floor; it must hold all base and transition layers.
    thickness_mm : float, optional
        Whole thickness; floor and 1 mm of features when not given.
    """
    thickness = thickness_mm if thickness_mm is not None else floor_mm + FEATURE_MM
    shapes: list[Shape] = [Shape("floor", box(0, 0, WIDTH, HEIGHT))]
    features: list[Feature] = []
    _walls(shapes, features, on_pixels(WALLS_MM, pixel_mm))
    _slots(shapes, features, on_pixels(SLOTS_MM, pixel_mm))
    _calipers(shapes, features, on_pixels(CALIPER_MM, pixel_mm))
    _vernier(shapes, pixel_mm)
    _gauge_piece(shapes)
    _code(shapes)
    solid = sum(area(s.points) for s in shapes if s.role == "solid")
    gaps = sum(area(s.points) for s in shapes if s.role == "gap")
    volume = WIDTH * HEIGHT * min(floor_mm, thickness) + (solid - gaps) * max(thickness - floor_mm, 0)
    return Coupon(
        kind="flat",
        title="Flat coupon",
        tells="Edge growth, thin walls and slots; finds the range fast.",
        does_not_tell="Whether layers survive the peel, or which supports hold.",
        width_mm=WIDTH,
        height_mm=HEIGHT,
        thickness_mm=thickness,
        volume_ml=volume / 1000,
        shapes=tuple(shapes),
        features=tuple(features),
        parameters={"pixel_mm": pixel_mm, "floor_mm": floor_mm, "thickness_mm": thickness},
    )


def _series(sizes: list[float], side: Side) -> list[tuple[float, float]]:
    """(left edge, size) of each feature: thin ones outside, thick ones at the middle, mirrored on the right."""
    room = WIDTH / 2 - MARGIN - 0.8
    gap = (room - sum(sizes)) / len(sizes)
    places, x = [], MARGIN + gap / 2
    for size in sizes:
        places.append((x if side == "left" else WIDTH - x - size, size))
        x += size + gap
    return places


def _walls(shapes: list[Shape], features: list[Feature], sizes: list[float]) -> None:
    foot = 9.0
    for side in SIDES:
        for i, (x, size) in enumerate(_series(sizes, side)):
            length = 4.0 + 3.0 * i / (len(sizes) - 1)
            key = f"wall-{side}-{i + 1}"
            shapes.append(Shape("solid", box(x, foot - length, size, length), key))
            features.append(Feature(key, "wall", size, (x + size / 2 - 1, 1.2, 2, foot - 1.2), side=side))


def _slots(shapes: list[Shape], features: list[Feature], sizes: list[float]) -> None:
    top, depth = 10.2, 7.4
    for side in SIDES:
        x0 = MARGIN - 0.6 if side == "left" else WIDTH / 2 + 0.2
        shapes.append(Shape("solid", box(x0, top, WIDTH / 2 - MARGIN + 0.4, depth)))
        for i, (x, size) in enumerate(_series(sizes, side)):
            length = 3.4 + 3.0 * i / (len(sizes) - 1)
            key = f"slot-{side}-{i + 1}"
            shapes.append(Shape("gap", box(x, top + (depth - length) / 2, size, length), key))
            features.append(Feature(key, "slot", size, (x + size / 2 - 1, top, 2, depth), side=side))


def _calipers(shapes: list[Shape], features: list[Feature], sizes: list[float]) -> None:
    large = sizes[-1]
    top = 19.0
    for i, size in enumerate(sizes):
        left = MARGIN + (large - size) / 2
        y = top + 3.0 * i
        shapes.append(Shape("solid", box(left, y, size, 2.6), f"outer-x-{i + 1}"))
        features.append(Feature(f"outer-x-{i + 1}", "outer", size, (left, y, size, 2.6), axis="x"))
    x0 = MARGIN + large + 1.4
    shapes.append(Shape("solid", box(x0, top - 0.4, large + 3, 7.2)))
    for i, size in enumerate(sizes):
        left = x0 + 1.5 + (large - size) / 2
        y = top + 3.4 * i
        shapes.append(Shape("gap", box(left, y, size, 2.6), f"inner-x-{i + 1}"))
        features.append(Feature(f"inner-x-{i + 1}", "inner", size, (left, y, size, 2.6), axis="x"))
    x1 = x0 + large + 4.6
    for i, size in enumerate(sizes):
        x = x1 + 3.0 * i
        y = top + (large - size) / 2
        shapes.append(Shape("solid", box(x, y, 2.6, size), f"outer-y-{i + 1}"))
        features.append(Feature(f"outer-y-{i + 1}", "outer", size, (x, y, 2.6, size), axis="y"))
    x2 = x1 + 6.6
    shapes.append(Shape("solid", box(x2, top - 0.6, 7.2, large + 1.9)))
    for i, size in enumerate(sizes):
        x = x2 + 0.5 + 3.4 * i
        y = top + (large - size) / 2
        shapes.append(Shape("gap", box(x, y, 2.6, size), f"inner-y-{i + 1}"))
        features.append(Feature(f"inner-y-{i + 1}", "inner", size, (x, y, 2.6, size), axis="y"))


def _vernier(shapes: list[Shape], pixel_mm: float) -> None:
    """Pairs of bars whose end-to-end gap steps by one pixel from open to overlapping."""
    top, x0 = 26.6, MARGIN
    for i in range(PAIRS):
        gap = (PAIRS // 2 - i) * pixel_mm
        x = x0 + 1.6 * i
        middle = top + 2.4
        shapes.append(Shape("mark", box(x, top, 0.8, 2.4 - gap / 2)))
        shapes.append(Shape("mark", box(x + 0.3, middle + gap / 2, 0.8, 2.4 - gap / 2)))


def _gauge_piece(shapes: list[Shape]) -> None:
    """A piece that snaps off and fits the notch beside it when size is true."""
    x, y, size = 47.0, 19.0, 3.4
    shapes.append(Shape("mark", box(x, y, size, size)))
    shapes.append(Shape("mark", box(x + size / 2 - 0.2, y + size, 0.4, 0.8)))
    for dx in (-0.9, size):
        shapes.append(Shape("mark", box(x + dx, y + 5.4, 0.9, size)))
    shapes.append(Shape("mark", box(x - 0.9, y + 5.4 + size, size + 1.8, 0.9)))


def _code(shapes: list[Shape]) -> None:
    shapes.append(Shape("text", box(14.4, 26.8, 14, 3.0), text="code"))
    shapes.append(Shape("text", box(14.4, 30.3, 14, 2.0), text="exposure"))
    shapes.append(Shape("mark", ((48.6, 30.0), (50.6, 31.2), (48.6, 32.4))))
