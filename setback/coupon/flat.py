"""The flat coupon: fans of walls and slots with their mirror images, caliper steps, vernier and gauge piece."""

from __future__ import annotations

from dataclasses import dataclass, field

from .description import SIDES, Coupon, Feature, Outline, Raster, Role, Shape, Side, prism, volume_ml

WALLS_MM = (0.10, 0.13, 0.16, 0.20, 0.25, 0.30, 0.36, 0.43, 0.52, 0.62)
SLOTS_MM = (0.10, 0.14, 0.18, 0.23, 0.28, 0.34, 0.40, 0.48, 0.57, 0.68)
CALIPER_MM = (7.0, 11.0)
WIDTH, HEIGHT = 52.0, 33.0
FEATURE_MM = 1.0
MARGIN = 2.0
PAIRS = 7


@dataclass
class _Drawing:
    """The coupon while it is drawn: all features stand on the floor and reach the same height."""

    raster: Raster
    floor_mm: float
    top_mm: float
    shapes: list[Shape] = field(default_factory=list)
    features: list[Feature] = field(default_factory=list)

    @property
    def width(self) -> float:
        return self.raster.on(WIDTH)

    def add(self, role: Role, points: Outline, key: str | None = None) -> None:
        self.shapes.append(prism(role, points, self.floor_mm, self.top_mm, key))

    def box(self, role: Role, x: float, y: float, width: float, height: float, key: str | None = None) -> Outline:
        points = self.raster.box(x, y, width, height)
        self.add(role, points, key)
        return points


def flat(pixel_mm: float, floor_mm: float, thickness_mm: float | None = None) -> Coupon:
    """Draw the flat coupon for a pixel size.

    Parameters
    ----------
    pixel_mm : float
        Every edge lands on a whole pixel.
    floor_mm : float
        Thickness of the floor; it must hold all base and transition layers.
    thickness_mm : float, optional
        Whole thickness; floor and 1 mm of features when not given.
    """
    thickness = thickness_mm if thickness_mm is not None else floor_mm + FEATURE_MM
    drawing = _Drawing(Raster(pixel_mm), floor_mm, thickness)
    height = drawing.raster.on(HEIGHT)
    drawing.shapes.append(prism("floor", drawing.raster.box(0, 0, WIDTH, HEIGHT), 0, floor_mm))
    _walls(drawing)
    _slots(drawing)
    _calipers(drawing)
    _vernier(drawing)
    _gauge_piece(drawing)
    _code(drawing)
    return Coupon(
        kind="flat",
        title="Flat coupon",
        tells="Edge growth, thin walls and slots; finds the range fast.",
        does_not_tell="Whether layers survive the peel, or which supports hold.",
        width_mm=drawing.width,
        height_mm=height,
        thickness_mm=thickness,
        volume_ml=volume_ml(drawing.shapes),
        shapes=tuple(drawing.shapes),
        features=tuple(drawing.features),
        parameters={"pixel_mm": pixel_mm, "floor_mm": floor_mm, "thickness_mm": thickness},
    )


def _series(drawing: _Drawing, sizes: list[float], side: Side) -> list[tuple[float, float]]:
    """(left edge, size) of each feature: thin ones outside, thick ones at the middle, mirrored on the right."""
    room = WIDTH / 2 - MARGIN - 0.8
    gap = (room - sum(sizes)) / len(sizes)
    places, x = [], MARGIN + gap / 2
    for size in sizes:
        left = drawing.raster.on(x)
        places.append((left if side == "left" else round(drawing.width - left - size, 6), size))
        x += size + gap
    return places


def _walls(drawing: _Drawing) -> None:
    foot, sizes = drawing.raster.on(9.0), drawing.raster.sizes(WALLS_MM)
    for side in SIDES:
        for i, (x, size) in enumerate(_series(drawing, sizes, side)):
            length = drawing.raster.on(4.0 + 3.0 * i / (len(sizes) - 1))
            key = f"wall-{side}-{i + 1}"
            drawing.box("solid", x, foot - length, size, length, key)
            drawing.features.append(Feature(key, "wall", size, (x + size / 2 - 1, 1.2, 2, foot - 1.2), side=side))


def _slots(drawing: _Drawing) -> None:
    top, depth, sizes = 10.2, 7.4, drawing.raster.sizes(SLOTS_MM)
    for side in SIDES:
        x0 = MARGIN - 0.6 if side == "left" else WIDTH / 2 + 0.2
        drawing.box("solid", x0, top, WIDTH / 2 - MARGIN + 0.4, depth)
        for i, (x, size) in enumerate(_series(drawing, sizes, side)):
            length = 3.4 + 3.0 * i / (len(sizes) - 1)
            key = f"slot-{side}-{i + 1}"
            drawing.box("gap", x, top + (depth - length) / 2, size, length, key)
            drawing.features.append(Feature(key, "slot", size, (x + size / 2 - 1, top, 2, depth), side=side))


def _calipers(drawing: _Drawing) -> None:
    sizes = drawing.raster.sizes(CALIPER_MM)
    large, top = sizes[-1], 19.0
    for i, size in enumerate(sizes):
        x, y = MARGIN + (large - size) / 2, top + 3.0 * i
        _measured(drawing, "outer", "x", i, size, (x, y, size, 2.6))
    x0 = MARGIN + large + 1.4
    drawing.box("solid", x0, top - 0.4, large + 3, 7.2)
    for i, size in enumerate(sizes):
        x, y = x0 + 1.5 + (large - size) / 2, top + 3.4 * i
        _measured(drawing, "inner", "x", i, size, (x, y, size, 2.6))
    x1 = x0 + large + 4.6
    for i, size in enumerate(sizes):
        x, y = x1 + 3.0 * i, top + (large - size) / 2
        _measured(drawing, "outer", "y", i, size, (x, y, 2.6, size))
    x2 = x1 + 6.6
    drawing.box("solid", x2, top - 0.6, 7.2, large + 1.9)
    for i, size in enumerate(sizes):
        x, y = x2 + 0.5 + 3.4 * i, top + (large - size) / 2
        _measured(drawing, "inner", "y", i, size, (x, y, 2.6, size))


def _measured(
    drawing: _Drawing, kind: str, axis: str, i: int, size: float, place: tuple[float, float, float, float]
) -> None:
    """A bar (outer) or a notch (inner) for the calipers."""
    key = f"{kind}-{axis}-{i + 1}"
    points = drawing.box("solid" if kind == "outer" else "gap", *place, key)
    (left, low), (right, high) = points[0], points[2]
    hit = (left, low, right - left, high - low)
    drawing.features.append(Feature(key, kind, size, hit, axis=axis))  # type: ignore[arg-type]


def _vernier(drawing: _Drawing) -> None:
    """Pairs of bars whose end-to-end gap steps by one pixel from open to overlapping."""
    top, pixel = drawing.raster.on(26.6), drawing.raster.pixel_mm
    length = drawing.raster.on(2.4)
    for i in range(PAIRS):
        gap = (PAIRS // 2 - i) * pixel
        x = drawing.raster.on(MARGIN + 1.6 * i)
        drawing.box("mark", x, top, 0.7, length)
        drawing.box("mark", x + drawing.raster.on(0.3), top + length + gap, 0.7, length - gap)


def _gauge_piece(drawing: _Drawing) -> None:
    """A piece that snaps off and fits the notch beside it when size is true."""
    raster = drawing.raster
    x, y, size, wall = raster.on(47.0), raster.on(19.0), raster.on(3.4), raster.on(0.9)
    drawing.box("mark", x, y, size, size)
    drawing.box("mark", x + size / 2 - 0.2, y + size, 0.4, 0.8)
    notch = raster.on(y + 5.4)
    for left in (x - wall, x + size):
        drawing.box("mark", left, notch, wall, size)
    drawing.box("mark", x - wall, notch + size, size + 2 * wall, wall)


def _code(drawing: _Drawing) -> None:
    for name, place in (("code", (14.4, 26.8, 14.0, 3.0)), ("exposure", (14.4, 30.3, 14.0, 2.0))):
        x, y, width, height = place
        corners = ((x, y), (x + width, y), (x + width, y + height), (x, y + height))
        drawing.shapes.append(Shape("text", corners, text=name, low_mm=drawing.floor_mm, high_mm=drawing.top_mm))
    drawing.add("mark", ((48.6, 30.0), (50.6, 31.2), (48.6, 32.4)))
