"""Specimens for the strength, wear, hardness and fit methods.

Cross-sections are measured before a test, never taken from here. They carry labels, not letters: an embossed code would
change the section that is clamped, struck or measured.
"""

from __future__ import annotations

from dataclasses import replace

from .description import Coupon, Outline, Part, Raster, Shape, box, circle, prism, volume_ml

PARTS = {
    "bend-bar": (Part("Middle", "Measure width and thickness here before the test.", (30, 0, 10, 10)),),
    "tensile-bar": (
        Part("Gauge section", "It should break here; a break elsewhere is flagged.", (26, 4, 28, 6)),
        Part("Grips", "Clamped; they carry no result.", (0, 0, 18, 14)),
    ),
    "closed-loop": (Part("Legs", "Two legs carry the force: measure both.", (20, 0, 22, 18)),),
    "notched-bar": (
        Part("Notch", "Measure what is left under it; the pendulum strikes the notched side.", (30, 0, 4, 3)),
    ),
    "drop-disc": (Part("Middle", "The weight falls here; a new disc for every drop.", (15, 15, 10, 10)),),
    "wear-pair": (
        Part("Plate", "The bore wears: rate its face.", (0, 0, 20, 20)),
        Part("Pin", "Turns in the bore: rate its face too.", (26, 6, 8, 8)),
    ),
    "hardness-block": (
        Part("Stair", "Read the skin on each step, then cut through and read the core.", (0, 0, 48, 14)),
    ),
    "fit-pairs": (
        Part("Holes", "Clearance rises from left to right.", (0, 0, 62, 11)),
        Part("Pegs", "Press, slide or loose: note it for every hole.", (0, 15, 62, 9)),
    ),
}
CLEARANCES_MM = (0.05, 0.10, 0.15, 0.20, 0.30, 0.40)


def bend_bar(pixel_mm: float, floor_mm: float, thickness_mm: float | None = None) -> Coupon:
    """A plain bar for cantilever and three-point bending."""
    height = thickness_mm or 4.0
    return _specimen(
        "bend-bar",
        "Bend bar",
        "Bending strength and stiffness.",
        pixel_mm,
        70,
        10,
        height,
        [prism("solid", box(0, 0, 70, 10), 0, height)],
    )


def tensile_bar(pixel_mm: float, floor_mm: float, thickness_mm: float | None = None) -> Coupon:
    """A bar with wide ends: it should break in the narrow part; a break elsewhere is flagged."""
    high = thickness_mm or 3.0
    grips: list[tuple[Outline, str | None]] = [
        (box(0, 0, 18, 14), None),
        (((18, 0), (26, 4), (26, 10), (18, 14)), None),
        (box(26, 4, 28, 6), "gauge"),
        (((54, 4), (62, 0), (62, 14), (54, 10)), None),
        (box(62, 0, 18, 14), None),
    ]
    shapes = [prism("solid", outline, 0, high, key) for outline, key in grips]
    return _specimen("tensile-bar", "Tensile bar", "Pull strength.", pixel_mm, 80, 14, high, shapes)


def closed_loop(pixel_mm: float, floor_mm: float, thickness_mm: float | None = None) -> Coupon:
    """A loop pulled over two pins: two legs carry the force, no grips are needed."""
    high = thickness_mm or 3.0
    outer, inner = _stadium(31, 9, 21.9, 8.9), _stadium(31, 9, 21.9, 5.0)
    shapes = [prism("solid", outer, 0, high), prism("gap", inner, 0, high)]
    return _specimen("closed-loop", "Closed loop", "Pull strength without grips.", pixel_mm, 62, 18, high, shapes)


def notched_bar(pixel_mm: float, floor_mm: float, thickness_mm: float | None = None) -> Coupon:
    """A bar with a printed notch for the pendulum; the pendulum strikes the notched side."""
    high = thickness_mm or 4.0
    shapes = [prism("solid", box(0, 0, 64, 12), 0, high), prism("gap", ((31, -0.2), (33, -0.2), (32, 2.0)), 0, high)]
    cut = 0.5 * 1.818182 * 2.0 * high / 1000
    whole = _specimen("notched-bar", "Notched bar", "Notched impact.", pixel_mm, 64, 12, high, shapes)
    return replace(whole, volume_ml=64 * 12 * high / 1000 - cut)


def drop_disc(pixel_mm: float, floor_mm: float, thickness_mm: float | None = None) -> Coupon:
    """A disc for the falling weight."""
    high = thickness_mm or 2.0
    return _specimen(
        "drop-disc",
        "Drop disc",
        "The height it survives.",
        pixel_mm,
        40,
        40,
        high,
        [prism("solid", circle(20, 20, 39, 96), 0, high)],
    )


def wear_pair(pixel_mm: float, floor_mm: float, thickness_mm: float | None = None) -> Coupon:
    """A plate with a hole and the pin that turns in it."""
    high = thickness_mm or 5.0
    shapes = [
        prism("solid", box(0, 0, 20, 20), 0, high),
        prism("gap", circle(10, 10, 8.3, 64), 0, high),
        prism("solid", circle(30, 10, 8, 64), 0, 3 * high),
    ]
    return _specimen("wear-pair", "Wear pair", "Joint wear over cycles.", pixel_mm, 36, 20, 3 * high, shapes)


def hardness_block(pixel_mm: float, floor_mm: float, thickness_mm: float | None = None) -> Coupon:
    """A stair of thicknesses, to be read on the skin and, cut through, on the core."""
    high = thickness_mm or 12.0
    steps = 4
    shapes = [prism("solid", box(12.0 * i, 0, 12, 14), 0, high * (i + 1) / steps) for i in range(steps)]
    return _specimen(
        "hardness-block",
        "Hardness block",
        "Whether cure reached the inside, by thickness.",
        pixel_mm,
        12 * steps,
        14,
        high,
        shapes,
    )


def fit_pairs(pixel_mm: float, floor_mm: float, thickness_mm: float | None = None) -> Coupon:
    """Pegs and the holes they should fit, by clearance: press, slide, loose."""
    raster, high = Raster(pixel_mm), thickness_mm or 6.0
    peg = raster.on(5.0)
    pitch = 10.0
    width = 2 + pitch * len(CLEARANCES_MM)
    shapes = [prism("solid", box(0, 0, width, 11), 0, high)]
    for i, clearance in enumerate(raster.sizes(CLEARANCES_MM)):
        hole = round(peg + 2 * clearance, 6)
        x = raster.on(1 + pitch * i + (pitch - hole) / 2)
        shapes.append(prism("gap", raster.box(x, 3.0, hole, hole), 0, high, f"hole-{i + 1}"))
    shapes.append(prism("solid", raster.box(0, 15, width, 3), 0, 2))
    for i in range(len(CLEARANCES_MM)):
        x = raster.on(1 + pitch * i + (pitch - peg) / 2)
        shapes.append(
            prism("solid", raster.box(x, raster.on(15.0) + raster.on(3.0), peg, peg), 0, high, f"peg-{i + 1}")
        )
    return _specimen("fit-pairs", "Fit pairs", "Assembly fit by clearance.", pixel_mm, width, 24, high, shapes)


def _stadium(x: float, y: float, length: float, radius: float) -> Outline:
    """A circle drawn out along X."""
    ends = circle(0, 0, 2 * radius, 48)
    return tuple((round(px + x + (length if px >= 0 else -length), 6), round(py + y, 6)) for px, py in ends)


def _specimen(
    kind: str,
    title: str,
    tells: str,
    pixel_mm: float,
    width: float,
    height: float,
    thickness: float,
    shapes: list[Shape],
) -> Coupon:
    raster = Raster(pixel_mm)
    return Coupon(
        parts=PARTS[kind],
        kind=kind,
        title=title,
        tells=tells,
        does_not_tell="Exposure: print it at an issued set.",
        width_mm=raster.on(width),
        height_mm=raster.on(height),
        thickness_mm=thickness,
        volume_ml=volume_ml(shapes),
        shapes=tuple(shapes),
        features=(),
        parameters={"pixel_mm": pixel_mm, "floor_mm": 0.0, "thickness_mm": thickness},
    )
