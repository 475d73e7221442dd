"""What a coupon is made of: shapes that are printed, and features that are read.

Every shape has an outline at its lower and at its upper end and is straight between them; all outlines are convex.
Drawing, solid, masks and volume come from these same shapes.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from typing import Any, Literal

FeatureKind = Literal["wall", "slot", "tip", "outer", "inner", "z-gap", "vernier", "fit", "taper", "legible"]
Role = Literal["floor", "solid", "gap", "hole", "mark", "text", "label"]
"""``text`` becomes the code or the exposure; ``label`` is only on the drawing, word for word; a ``hole`` goes through the floor."""
CUT: tuple[Role, Role] = ("gap", "hole")
HOLES = "holes"
"""Text of the place that becomes the code's row of holes."""
WRITTEN = ("text", "label")
Side = Literal["left", "right"]
SIDES: tuple[Side, Side] = ("left", "right")
Outline = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Shape:
    """A convex prism or loft. ``gap`` is cut out of what it lies in; ``points`` is its outline from above."""

    role: Role
    points: Outline
    feature: str | None = None
    text: str | None = None
    low_mm: float = 0.0
    high_mm: float = 0.0
    base: Outline | None = None
    top: Outline | None = None

    def section(self, z_mm: float) -> Outline | None:
        """Outline at a height, None above and below the shape."""
        if self.role in WRITTEN or not self.low_mm <= z_mm <= self.high_mm:
            return None
        if self.base is None or self.top is None:
            return self.points
        part = (z_mm - self.low_mm) / (self.high_mm - self.low_mm)
        return tuple(
            (x1 + part * (x2 - x1), y1 + part * (y2 - y1))
            for (x1, y1), (x2, y2) in zip(self.base, self.top, strict=True)
        )

    @property
    def volume_mm3(self) -> float:
        """Exact for straight lofts: the area is quadratic in height, so Simpson's rule is no approximation."""
        ends = [self.section(z) for z in (self.low_mm, (self.low_mm + self.high_mm) / 2, self.high_mm)]
        areas = [area(outline) if outline else 0.0 for outline in ends]
        return (self.high_mm - self.low_mm) * (areas[0] + 4 * areas[1] + areas[2]) / 6


class Unfit(ValueError):
    """A coupon that cannot be drawn as asked; ``parameter`` names what to change."""

    def __init__(self, parameter: str, message: str) -> None:
        super().__init__(message)
        self.parameter, self.message = parameter, message


@dataclass(frozen=True)
class Part:
    """A part of the coupon with what it tells; ``place`` is (x, y, width, height) on the drawing."""

    name: str
    tells: str
    place: tuple[float, float, float, float]


@dataclass(frozen=True)
class Feature:
    """Something a person reads: ``hit`` is where it is tapped, (x, y, width, height)."""

    key: str
    kind: FeatureKind
    size_mm: float
    """Of a vernier pair the drawn gap, of a step of the taper plug its drawn play, both below zero where they overlap."""
    hit: tuple[float, float, float, float]
    side: Side | None = None
    axis: Literal["x", "y"] | None = None


@dataclass(frozen=True)
class Coupon:
    """One coupon or specimen: outline, shapes, features, and what makes its time and volume."""

    kind: str
    title: str
    tells: str
    does_not_tell: str
    width_mm: float
    height_mm: float
    thickness_mm: float
    volume_ml: float
    shapes: tuple[Shape, ...]
    features: tuple[Feature, ...]
    parameters: dict[str, Any] = field(default_factory=dict)
    """What the coupon was drawn with; the same parameters draw it again."""
    parts: tuple[Part, ...] = ()


@dataclass(frozen=True)
class Raster:
    """Whole pixels: every edge of an upright shape lands on one."""

    pixel_mm: float

    def on(self, value_mm: float) -> float:
        return round(round(value_mm / self.pixel_mm) * self.pixel_mm, 6)

    def box(self, x: float, y: float, width: float, height: float) -> Outline:
        """Corners of an upright rectangle on whole pixels, one pixel across at least."""
        left, top = self.on(x), self.on(y)
        return box(left, top, max(self.on(width), self.pixel_mm), max(self.on(height), self.pixel_mm))

    def sizes(self, sizes_mm: tuple[float, ...]) -> list[float]:
        return on_pixels(sizes_mm, self.pixel_mm)

    def series(self, name: str, sizes_mm: tuple[float, ...], room_mm: float, gap_mm: float) -> list[float]:
        """A wanted series on whole pixels.

        Raises
        ------
        Unfit
            When a size is under a pixel, the series does not rise, or it needs more room than there is.
        """
        word = name.removesuffix("_mm")
        if not 2 <= len(sizes_mm) <= 14:
            raise Unfit(name, f"Give 2 to 14 sizes for the {word}.")
        if min(sizes_mm) < self.pixel_mm:
            least = (
                f"{min(sizes_mm):g} mm is under one pixel of {1000 * self.pixel_mm:g} µm: nothing thinner can be lit."
            )
            raise Unfit(name, least)
        if list(sizes_mm) != sorted(sizes_mm):
            raise Unfit(name, f"Give the {word} from small to large.")
        on_raster = self.sizes(sizes_mm)
        if sum(on_raster) + gap_mm * len(on_raster) > room_mm:
            fit = max((n for n in range(len(on_raster)) if sum(on_raster[:n]) + gap_mm * n <= room_mm), default=0)
            raise Unfit(name, f"These {word} do not fit on the coupon: {fit} of {len(on_raster)} do.")
        return on_raster


def prism(role: Role, points: Outline, low_mm: float, high_mm: float, feature: str | None = None) -> Shape:
    """A shape with the same outline at every height."""
    return Shape(role, points, feature, low_mm=round(low_mm, 6), high_mm=round(high_mm, 6))


def strut(
    foot: tuple[float, float],
    foot_mm: float,
    tip: tuple[float, float],
    tip_mm: float,
    low_mm: float,
    high_mm: float,
    feature: str,
) -> Shape:
    """A leaning cone between two circles, given by their diameters."""
    base, top = circle(*foot, foot_mm), circle(*tip, tip_mm)
    return Shape("solid", hull(base + top), feature, low_mm=low_mm, high_mm=high_mm, base=base, top=top)


def circle(x: float, y: float, diameter: float, corners: int = 24) -> Outline:
    """A polygon of the circle's area, so that volumes are those of the round thing."""
    turn = 2 * math.pi / corners
    radius = diameter / 2 * math.sqrt(turn / math.sin(turn))
    return tuple(
        (round(x + radius * math.cos(i * turn), 6), round(y + radius * math.sin(i * turn), 6)) for i in range(corners)
    )


def hull(points: Outline) -> Outline:
    """Convex hull, counter-clockwise (monotone chain)."""
    ordered = sorted(set(points))

    def half(run: list[tuple[float, float]]) -> list[tuple[float, float]]:
        corners: list[tuple[float, float]] = []
        for p in run:
            while len(corners) > 1 and _turn(corners[-2], corners[-1], p) <= 0:
                corners.pop()
            corners.append(p)
        return corners[:-1]

    return tuple(half(ordered) + half(ordered[::-1]))


def _turn(a: tuple[float, float], b: tuple[float, float], c: tuple[float, float]) -> float:
    return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])


def box(x: float, y: float, width: float, height: float) -> Outline:
    """Corners of an upright rectangle."""
    right, bottom = round(x + width, 6), round(y + height, 6)
    return ((x, y), (right, y), (right, bottom), (x, bottom))


def area(points: Outline) -> float:
    """Area of a simple polygon, mm² (shoelace formula)."""
    total = 0.0
    for (x1, y1), (x2, y2) in zip(points, points[1:] + points[:1], strict=True):
        total += x1 * y2 - x2 * y1
    return abs(total) / 2


def volume_ml(shapes: list[Shape]) -> float:
    """Resin of all shapes; gaps lie wholly inside a solid and are taken away."""
    return sum(-s.volume_mm3 if s.role in CUT else s.volume_mm3 for s in shapes if s.role not in WRITTEN) / 1000


def on_pixels(sizes_mm: tuple[float, ...], pixel_mm: float) -> list[float]:
    """Sizes moved to whole pixels, at least one pixel and each larger than the one before."""
    pixels: list[int] = []
    for size in sizes_mm:
        count = max(round(size / pixel_mm), 1)
        pixels.append(max(count, pixels[-1] + 1) if pixels else count)
    return [round(count * pixel_mm, 6) for count in pixels]
