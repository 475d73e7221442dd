"""A coupon's drawing as the reading of pictures takes it: what is raised, where every mark lies, where the code's holes are."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..core.reading.picture.contract import Drawing, Frame, Mark
from . import hole_code
from .description import HOLES, Coupon, Raster, Shape
from .lettering import embossed
from .masks import layer_mask

STEP_MM = 0.05
JUST_BELOW_MM = 0.02
LOW_MM, LOW_SHARE = 0.3, 0.6
"""Letters and arrows of a tall coupon are low; their edges count for less."""
LANDMARK_MM = 1.8


def for_picture(coupon: Coupon, code: str = "") -> Drawing:
    """The drawing of a coupon for the reading of its picture; with its code where that is known, which helps to find its place."""
    lettered = embossed(coupon, code, "") if code else coupon
    heights = ((coupon.thickness_mm - JUST_BELOW_MM, 1.0), (float(coupon.parameters["floor_mm"]) + LOW_MM, LOW_SHARE))
    raised = np.max([share * (layer_mask(lettered, z, STEP_MM) > 0) for z, share in heights], axis=0)
    shapes = {s.feature: s for s in coupon.shapes if s.feature and (s.top is None or s.base is None)}
    marks = tuple(
        Mark(f.key, f.kind, f.size_mm, _frame(shapes[f.key]) if f.key in shapes else Frame(0, 0, 0, 0), f.axis)
        for f in coupon.features
        if f.key in shapes
    )
    return Drawing(
        kind=coupon.kind,
        design=int(coupon.parameters.get("design", 1)),
        width_mm=coupon.width_mm,
        height_mm=coupon.height_mm,
        step_mm=STEP_MM,
        raised=raised.astype(np.float32),
        marks=marks,
        holes=_holes(coupon),
        landmarks=tuple(_landmarks(coupon)),
        tip_loads=tuple((f.key, _frame(shapes[f.key])) for f in coupon.features if f.kind == "tip"),
    )


def _landmarks(coupon: Coupon) -> Iterator[tuple[Frame, bool]]:
    """Upright rectangles large enough that both their middles can be found, and whether each is raised or cut."""
    for shape in coupon.shapes:
        frame = _frame(shape)
        upright = len(shape.points) == 4 and len(set(shape.points)) == 4 and shape.base is None
        if (
            shape.role not in ("solid", "mark", "gap")
            or not upright
            or shape.high_mm < coupon.thickness_mm - JUST_BELOW_MM
        ):
            continue
        if min(frame.right - frame.left, frame.bottom - frame.top) >= LANDMARK_MM:
            yield frame, shape.role != "gap"


def _frame(shape: Shape) -> Frame:
    xs, ys = zip(*shape.points, strict=True)
    return Frame(min(xs), min(ys), max(xs), max(ys))


def _holes(coupon: Coupon) -> tuple[Frame, ...]:
    """All places of the row, whether a hole is there or not."""
    place = next((_frame(s) for s in coupon.shapes if s.role == "text" and s.text == HOLES), None)
    if place is None:
        return ()
    raster = Raster(coupon.parameters["pixel_mm"])
    side = raster.on(place.bottom - place.top)
    row = hole_code.row(raster, place.left, (place.top + place.bottom) / 2, place.right - place.left, side)
    return tuple(Frame(points[0][0], points[0][1], points[2][0], points[2][1]) for points in row)
