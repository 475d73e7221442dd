"""The support coupon: one graded series of leaning tips, too thin to safe, each under the same small load."""

from __future__ import annotations

from .description import SIDES, Coupon, Feature, Part, Raster, Shape, Unfit, prism, strut, volume_ml

TIPS_MM = (0.15, 0.20, 0.25, 0.30, 0.36, 0.43, 0.52, 0.62)
WIDTH, HEIGHT = 46.0, 24.0
RISE_MM = 6.0
LOAD_MM = (3.4, 1.6, 1.2)
FOOT_MM = 1.4

PARTS = (
    Part(
        "Leaning tips",
        "From too thin to safe, each under the same small load: the thinnest that holds is the least to use.",
        (2.0, 3.0, 42.0, 18.0),
    ),
    Part(
        "Mirror image",
        "The same sizes leaning the other way: loss on one side only is a level or light finding.",
        (2.0, 13.0, 42.0, 8.4),
    ),
    Part("Code and exposure", "So that nobody writes on samples with a pen.", (2.0, 21.5, 21.0, 2.2)),
    Part("Arrow", "Points along the plate's X.", (42.6, 21.4, 2.4, 2.4)),
)


def support(
    pixel_mm: float, floor_mm: float, thickness_mm: float | None = None, *, tips_mm: tuple[float, ...] = TIPS_MM
) -> Coupon:
    """Draw the support coupon. Two tips of each size lean opposite ways, so that one-sided loss shows."""
    raster = Raster(pixel_mm)
    thickness = thickness_mm if thickness_mm is not None else floor_mm + RISE_MM + LOAD_MM[2]
    load_low = max(thickness - LOAD_MM[2], floor_mm)
    tips = tuple(tips_mm)
    sizes = raster.series("tips_mm", tips, WIDTH - 4, LOAD_MM[0] - 0.4)
    shapes: list[Shape] = [prism("floor", raster.box(0, 0, WIDTH, HEIGHT), 0, floor_mm)]
    features: list[Feature] = []
    pitch = (WIDTH - 4) / len(sizes)
    if max(sizes) > FOOT_MM:
        raise Unfit("tips_mm", f"A tip is no thicker than its foot of {FOOT_MM:g} mm.")
    for side, foot_y, tip_y in zip(SIDES, (11.0, 13.0), (4.2, 19.8), strict=True):
        for i, size in enumerate(sizes):
            x = 2 + pitch * (i + 0.5)
            key = f"tip-{side}-{i + 1}"
            inward = LOAD_MM[1] / 2
            tip = (x, tip_y - inward if side == "left" else tip_y + inward)
            if load_low > floor_mm:
                shapes.append(strut((x, foot_y), FOOT_MM, tip, size, floor_mm, load_low, key))
            load = raster.box(x - LOAD_MM[0] / 2, tip[1] - LOAD_MM[1] / 2, LOAD_MM[0], LOAD_MM[1])
            shapes.append(prism("solid", load, load_low, thickness, key))
            low, high = min(load[0][1], foot_y), max(load[2][1], foot_y)
            features.append(Feature(key, "tip", size, (x - pitch / 2, low, pitch, high - low), side=side))
    for name, (x, y, width, height) in (("code", (2.4, 21.7, 10.0, 1.9)), ("exposure", (14.4, 21.8, 8.0, 1.6))):
        corners = ((x, y), (x + width, y), (x + width, y + height), (x, y + height))
        shapes.append(Shape("text", corners, text=name, low_mm=floor_mm, high_mm=floor_mm + 0.6))
    shapes.append(prism("mark", ((43.0, 21.7), (44.6, 22.6), (43.0, 23.5)), floor_mm, floor_mm + 0.6))
    return Coupon(
        kind="support",
        title="Support coupon",
        tells="Which support tips hold at this exposure.",
        does_not_tell="Fine sizes across the plate.",
        width_mm=raster.on(WIDTH),
        height_mm=raster.on(HEIGHT),
        thickness_mm=thickness,
        volume_ml=volume_ml(shapes),
        shapes=tuple(shapes),
        features=tuple(features),
        parameters={
            "pixel_mm": pixel_mm,
            "floor_mm": floor_mm,
            "thickness_mm": thickness,
            **({"tips_mm": list(tips)} if tips != TIPS_MM else {}),
        },
        parts=PARTS,
    )
