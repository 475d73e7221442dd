"""What a coupon is made of: shapes that are printed, and features that are read."""

from __future__ import annotations

from dataclasses import asdict, dataclass, field
from typing import Any, Literal

Role = Literal["floor", "solid", "gap", "mark", "text"]
Side = Literal["left", "right"]
SIDES: tuple[Side, Side] = ("left", "right")


@dataclass(frozen=True)
class Shape:
    """A filled polygon of the plan. ``gap`` is cut out of the solid it lies on."""

    role: Role
    points: tuple[tuple[float, float], ...]
    feature: str | None = None
    text: str | None = None


@dataclass(frozen=True)
class Feature:
    """Something a person reads: ``hit`` is where it is tapped, (x, y, width, height)."""

    key: str
    kind: Literal["wall", "slot", "tip", "outer", "inner", "z-gap"]
    size_mm: float
    hit: tuple[float, float, float, float]
    side: Side | None = None
    axis: Literal["x", "y"] | None = None


@dataclass(frozen=True)
class Coupon:
    """One coupon: outline, shapes, features, and what makes its time and volume."""

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
    parameters: dict[str, float] = field(default_factory=dict)

    def as_json(self) -> dict[str, Any]:
        """Plain objects for storage and drawing."""
        return asdict(self)


def box(x: float, y: float, width: float, height: float) -> tuple[tuple[float, float], ...]:
    """Corners of an upright rectangle."""
    return ((x, y), (x + width, y), (x + width, y + height), (x, y + height))


def area(points: tuple[tuple[float, float], ...]) -> float:
    """Area of a simple polygon, mm² (shoelace formula)."""
    total = 0.0
    for (x1, y1), (x2, y2) in zip(points, points[1:] + points[:1], strict=True):
        total += x1 * y2 - x2 * y1
    return abs(total) / 2


def on_pixels(sizes_mm: tuple[float, ...], pixel_mm: float) -> list[float]:
    """Sizes moved to whole pixels, at least one pixel and each larger than the one before."""
    pixels: list[int] = []
    for size in sizes_mm:
        count = max(round(size / pixel_mm), 1)
        pixels.append(max(count, pixels[-1] + 1) if pixels else count)
    return [round(count * pixel_mm, 6) for count in pixels]
