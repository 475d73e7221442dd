"""The flat coupon: fans of walls and slots with their mirror images, caliper steps, vernier and taper plug.

Design 1 has a loose gauge piece; design 2 a taper plug instead, and its code as a row of holes too. A coupon that is printed keeps its design.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from . import hole_code
from .description import (
    HOLES,
    SIDES,
    Coupon,
    Feature,
    Outline,
    Part,
    Raster,
    Role,
    Shape,
    Side,
    Unfit,
    prism,
    volume_ml,
)

WALLS_MM = (0.10, 0.13, 0.16, 0.20, 0.25, 0.30, 0.36, 0.43, 0.52, 0.62)
SLOTS_MM = (0.10, 0.14, 0.18, 0.23, 0.28, 0.34, 0.40, 0.48, 0.57, 0.68)
CALIPER_MM = (7.0, 11.0)
WIDTH, HEIGHT = 52.0, 33.0
BAND_MM = 3.0
"""What design 2 is higher by, for its row of holes."""
DESIGNS = (1, 2)
NEWEST = 2
FEATURE_MM = 1.0
MARGIN = 2.0
PAIRS = 7
ROOM = WIDTH / 2 - MARGIN - 0.8
GAP = 0.45

PARTS = (
    Part(
        "Walls",
        "The thinnest that stands shows how little light is still enough; the mirror image shows one-sided loss.",
        (1.6, 1.2, 48.8, 8.0),
    ),
    Part("Slots", "The narrowest that stays open shows how much light is already too much.", (1.4, 10.0, 49.2, 7.8)),
    Part(
        "Bars and notches along X",
        "Calipers across them give edge growth apart from shrinkage.",
        (1.8, 18.4, 27.0, 7.4),
    ),
    Part("Bars and notches along Y", "The same turned, so that X and Y can be told apart.", (29.6, 18.2, 14.4, 13.2)),
    Part(
        "Line-end vernier",
        "Each pair's gap is a pixel less than its neighbour's: the pair that just touches reads growth.",
        (1.8, 26.2, 11.4, 5.4),
    ),
    Part(
        "Code and exposure",
        "So that nobody writes on samples with a pen; the smallest characters still read are a test of their own.",
        (14.0, 26.4, 15.0, 6.2),
    ),
    Part("Arrow", "Points along the plate's X.", (48.2, 29.8, 2.8, 2.8)),
)
BY_DESIGN = {
    1: (Part("Gauge piece", "Snap it off: it slides into its notch when size is true.", (45.8, 18.6, 5.6, 9.8)),),
    2: (
        Part(
            "Taper plug",
            "Snap it off and push it into the channel by its head: the step at which it stops reads edge growth.",
            (45.4, 18.2, 6.0, 11.2),
        ),
        Part("Code in holes", "Read off a picture, whatever the colour of the resin.", (1.4, 33.0, 49.2, 2.8)),
    ),
}
STEP_MM, STEPS = 0.35, 13
"""Length of a step of the taper plug along it, and how many there are."""
STEP_WIDTH_MM = 0.035
"""How much wider each step is than the one before, on whole pixels."""
WIDEST_PLAY = 8
"""Play of the plug's nose in its channel, in steps of width."""
CHANNEL_MM = 2.1
PLUG_HEAD = "plug-head"
"""Names the shape of the plug's head; nothing is read off it by eye."""


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


def flat(
    pixel_mm: float,
    floor_mm: float,
    thickness_mm: float | None = None,
    *,
    walls_mm: tuple[float, ...] = WALLS_MM,
    slots_mm: tuple[float, ...] = SLOTS_MM,
    design: int = 1,
) -> Coupon:
    """Draw the flat coupon for a pixel size.

    Parameters
    ----------
    pixel_mm : float
        Every edge lands on a whole pixel.
    floor_mm : float
        Thickness of the floor; it must hold all base and transition layers.
    thickness_mm : float, optional
        Whole thickness; floor and 1 mm of features when not given.
    walls_mm, slots_mm : tuple of float
        The two series, small to large.
    design : int
        1, or 2: with a taper plug and a code of holes.

    Raises
    ------
    Unfit
        When a series does not fit, or the widest slot leaves no room for wider holes.
    """
    if design not in DESIGNS:
        raise Unfit("design", f"There are designs {' and '.join(map(str, DESIGNS))} of the flat coupon.")
    thickness = thickness_mm if thickness_mm is not None else floor_mm + FEATURE_MM
    drawing = _Drawing(Raster(pixel_mm), floor_mm, thickness)
    height = drawing.raster.on(HEIGHT if design == 1 else HEIGHT + BAND_MM)
    drawing.shapes.append(prism("floor", drawing.raster.box(0, 0, WIDTH, height), 0, floor_mm))
    walls = drawing.raster.series("walls_mm", tuple(walls_mm), ROOM, GAP)
    slots = drawing.raster.series("slots_mm", tuple(slots_mm), ROOM, GAP)
    _walls(drawing, walls)
    _slots(drawing, slots)
    _calipers(drawing)
    _vernier(drawing)
    if design == 1:
        _gauge_piece(drawing)
    _code(drawing)
    if design >= 2:
        _taper_plug(drawing)
        _code_holes(drawing, max(slots))
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
        parameters=_parameters(pixel_mm, floor_mm, thickness, tuple(walls_mm), tuple(slots_mm), design),
        parts=PARTS + BY_DESIGN[design],
    )


def _parameters(
    pixel_mm: float,
    floor_mm: float,
    thickness_mm: float,
    walls_mm: tuple[float, ...],
    slots_mm: tuple[float, ...],
    design: int,
) -> dict[str, Any]:
    """A series of the coupon's own is not written down: that keeps the drawings of all such coupons one."""
    series = {"walls_mm": (walls_mm, WALLS_MM), "slots_mm": (slots_mm, SLOTS_MM)}
    chosen: dict[str, Any] = {name: list(sizes) for name, (sizes, usual) in series.items() if sizes != usual}
    if design != 1:
        chosen["design"] = design
    return {"pixel_mm": pixel_mm, "floor_mm": floor_mm, "thickness_mm": thickness_mm, **chosen}


def _series(drawing: _Drawing, sizes: list[float], side: Side) -> list[tuple[float, float]]:
    """(left edge, size) of each feature: thin ones outside, thick ones at the middle, mirrored on the right."""
    gap = (ROOM - sum(sizes)) / len(sizes)
    places, x = [], MARGIN + gap / 2
    for size in sizes:
        left = drawing.raster.on(x)
        places.append((left if side == "left" else round(drawing.width - left - size, 6), size))
        x += size + gap
    return places


def _walls(drawing: _Drawing, sizes: list[float]) -> None:
    foot = drawing.raster.on(9.0)
    for side in SIDES:
        for i, (x, size) in enumerate(_series(drawing, sizes, side)):
            length = drawing.raster.on(4.0 + 3.0 * i / (len(sizes) - 1))
            key = f"wall-{side}-{i + 1}"
            drawing.box("solid", x, foot - length, size, length, key)
            drawing.features.append(Feature(key, "wall", size, (x + size / 2 - 1, 1.2, 2, foot - 1.2), side=side))


def _slots(drawing: _Drawing, sizes: list[float]) -> None:
    top, depth = 10.2, 7.4
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
        drawing.box("mark", x + drawing.raster.on(0.3), top + length + gap, 0.7, length - gap, f"vernier-{i + 1}")
        hit = (x - 0.1, top, 1.5, 2 * length)
        drawing.features.append(Feature(f"vernier-{i + 1}", "vernier", round(gap, 6), hit))


def _gauge_piece(drawing: _Drawing) -> None:
    """A piece that snaps off and fits the notch beside it, a pixel wider at each side, when size is true."""
    raster = drawing.raster
    x, y, size, wall = raster.on(47.0), raster.on(19.0), raster.on(3.4), raster.on(0.9)
    drawing.box("mark", x, y, size, size, "fit-1")
    drawing.box("mark", x + size / 2 - 0.2, y + size, 0.4, 0.8)
    notch = raster.on(y + 5.4)
    room = raster.pixel_mm
    for left in (x - room - wall, x + size + room):
        drawing.box("mark", left, notch, wall, size)
    drawing.box("mark", x - room - wall, notch + size, size + 2 * (wall + room), wall)
    drawing.features.append(Feature("fit-1", "fit", size, (x, y, size, size)))


def _taper_plug(drawing: _Drawing) -> None:
    """A plug that widens by whole pixels from step to step, free of the floor but for a neck, and the channel it is pushed into.

    Plug and channel grow by an edge at each of four faces: a step drawn with a play p goes in while p > 4 growths, so the step that
    stops at the mouth reads a growth of p/4. What of the plug lies within the floor is narrower: the foot of the first layers would jam.
    """
    raster = drawing.raster
    wider = raster.pixel_mm * max(round(STEP_WIDTH_MM / raster.pixel_mm), 1)
    channel, rail, step = raster.on(CHANNEL_MM), raster.on(0.9), raster.on(STEP_MM)
    middle, mouth = raster.on(48.4), raster.on(23.2)
    left = middle - raster.on(channel / 2)
    for x in (left - rail, left + channel):
        drawing.box("mark", x, mouth - (STEPS + 1) * step, rail, (STEPS + 1) * step)
    nose = mouth + raster.on(0.5)
    end = nose + STEPS * step
    _free_of_floor(drawing, middle, nose, end + raster.on(1.0))
    for i in range(STEPS):
        play = (WIDEST_PLAY - i) * wider
        key = f"taper-{i + 1}"
        # The left edge of every other step takes the odd pixel, so that all edges lie on whole ones.
        drawing.box("mark", left + raster.on(play / 2), nose + i * step, channel - play, step, key)
        hit = (left - rail, nose + i * step, channel + 2 * rail, step)
        drawing.features.append(Feature(key, "taper", round(play, 6), hit))
    drawing.box("mark", middle - 1.35, end, 2.7, 1.0, PLUG_HEAD)


def _free_of_floor(drawing: _Drawing, middle: float, nose: float, end: float) -> None:
    """Cut the plug's place out of the floor, round a core that carries it and a neck that holds it."""
    raster = drawing.raster
    core, half, rim, neck = raster.on(0.6), raster.on(1.75), raster.on(0.35), raster.on(0.25)
    top, bottom = nose - rim, end + rim
    for x, y, width, height in (
        (middle - half, top, half - core, bottom - top),
        (middle + core, top, half - core, bottom - top),
        (middle - core, top, 2 * core, rim),
        (middle - core, end, core - neck, rim),
        (middle + neck, end, core - neck, rim),
    ):
        drawing.shapes.append(prism("hole", raster.box(x, y, width, height), 0, drawing.floor_mm))


def _code_holes(drawing: _Drawing, widest_slot_mm: float) -> None:
    """The row of holes along the lower edge: the frame is there already, the code's own come with the code."""
    raster = drawing.raster
    side = hole_code.hole_mm(raster, widest_slot_mm)
    if side > BAND_MM - 0.8:
        raise Unfit(
            "slots_mm", f"Slots of up to {BAND_MM - 0.8 - hole_code.WIDER_MM:g} mm leave room for the code's holes."
        )
    x, middle, length = MARGIN - 0.4, HEIGHT + BAND_MM / 2, WIDTH - 2 * MARGIN + 0.8
    outlines = hole_code.row(raster, x, middle, length, side)
    for outline, fixed in zip(outlines, hole_code.FRAME, strict=True):
        if fixed:
            drawing.shapes.append(prism("hole", outline, 0, drawing.floor_mm))
    top, bottom = middle - side / 2, middle + side / 2
    corners = ((x, top), (x + length, top), (x + length, bottom), (x, bottom))
    drawing.shapes.append(Shape("text", corners, None, HOLES, 0, drawing.floor_mm))


def _code(drawing: _Drawing) -> None:
    smaller = (("code", (30.6, 31.4, 5.4, 1.2)), ("code", (36.4, 31.6, 4.2, 0.9)), ("code", (41.0, 31.8, 3.2, 0.65)))
    for name, place in (("code", (14.4, 26.8, 14.0, 3.0)), ("exposure", (14.4, 30.3, 14.0, 2.0)), *smaller):
        x, y, width, height = place
        corners = ((x, y), (x + width, y), (x + width, y + height), (x, y + height))
        count = sum(f.kind == "legible" for f in drawing.features) + 1
        key = f"legible-{count}" if name == "code" else None
        drawing.shapes.append(Shape("text", corners, key, name, drawing.floor_mm, drawing.top_mm))
        if key:
            drawing.features.append(Feature(key, "legible", height, place))
    drawing.add("mark", ((48.6, 30.0), (50.6, 31.2), (48.6, 32.4)))
