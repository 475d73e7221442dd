"""One area of a dose strip: walls and slots of one flash, cured against the plate with the lift suppressed."""

from __future__ import annotations

from .description import Coupon, Feature, Part, Raster, Shape, prism, volume_ml

WALLS_MM = (0.13, 0.20, 0.30, 0.43, 0.62)
SLOTS_MM = (0.14, 0.23, 0.34, 0.48, 0.68)
WIDTH, HEIGHT = 9.0, 10.0
SPINE_TOP, SPINE = 4.4, 4.6
THICKNESS_MM = 0.3
REACH_MM = 3.6

PARTS = (
    Part(
        "Fingers", "The thinnest that stands off the spine: less than that is too little light.", (0.2, 0.6, 8.6, 3.8)
    ),
    Part("Slots", "The narrowest still open: more light than that runs together.", (0.2, 4.4, 8.6, 4.6)),
)


def strip(pixel_mm: float, floor_mm: float, thickness_mm: float | None = None) -> Coupon:
    """One area; a strip is a row of them in rising exposure.

    It carries no letters: one flash cannot raise them on its own thickness. The row itself says which is which.
    """
    raster = Raster(pixel_mm)
    thickness = thickness_mm if thickness_mm is not None else THICKNESS_MM
    width, height = raster.on(WIDTH), raster.on(HEIGHT)
    top, spine = raster.on(SPINE_TOP), raster.on(SPINE)
    shapes: list[Shape] = [prism("solid", raster.box(0.2, top, WIDTH - 0.4, spine), 0, thickness)]
    features: list[Feature] = []
    pitch = (WIDTH - 0.8) / len(WALLS_MM)
    for i, size in enumerate(raster.sizes(WALLS_MM)):
        key, left = f"wall-{i + 1}", raster.on(0.8 + pitch * i)
        reach = raster.on(REACH_MM)
        shapes.append(prism("solid", raster.box(left, top - reach, size, reach), 0, thickness, key))
        features.append(Feature(key, "wall", size, (left - 0.4, top - REACH_MM, pitch - 0.2, REACH_MM)))
    for i, size in enumerate(raster.sizes(SLOTS_MM)):
        key, left = f"slot-{i + 1}", raster.on(0.8 + pitch * i)
        shapes.append(prism("gap", raster.box(left, top + 0.8, size, SPINE - 1.6), 0, thickness, key))
        features.append(Feature(key, "slot", size, (left - 0.4, top + 0.4, pitch - 0.2, SPINE - 0.8)))
    return Coupon(
        kind="strip",
        title="Dose strip area",
        tells="Where to start: too little or too much light at a glance.",
        does_not_tell="Anything about peel, or growth of stacked layers: it only seeds.",
        width_mm=width,
        height_mm=height,
        thickness_mm=thickness,
        volume_ml=volume_ml(shapes),
        shapes=tuple(shapes),
        features=tuple(features),
        parameters={"pixel_mm": pixel_mm, "floor_mm": floor_mm, "thickness_mm": thickness},
        parts=PARTS,
    )
