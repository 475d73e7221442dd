"""What stands of a virtual coupon, as slices from the bench up: the scene that cameras and scanners look at."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from itertools import pairwise
from typing import Any, NamedTuple

import numpy as np

from ..coupon.description import Coupon, Shape
from ..coupon.flat import PLUG_HEAD
from ..coupon.masks import layer_mask
from . import physics
from .printed import Printed, spread

Field = np.ndarray[Any, np.dtype[Any]]

MOST_LEVELS = 22
FINE = ("flat", "grid")
"""Kinds whose edges are looked at; others show only what stands."""
ROOM_MM = 0.35
"""Beside a wall or a slot, where its own growth ends."""
RIM_MM = 0.4
"""What a notch loses on each side when its rim washes away."""
PLUG_GAP_MM = 0.05
"""Head and mouth stay this far apart where the plug went in wholly."""


@dataclass(frozen=True)
class Slice:
    """One height of the scene: which share of each cell is solid, and up to where it reaches above the bench, mm."""

    top_mm: float
    solid: Field


@dataclass(frozen=True)
class Scene:
    """A coupon as it lies there, in cells of its own plan."""

    printed: Printed
    width_mm: float
    height_mm: float
    cell_mm: float
    slices: tuple[Slice, ...]

    def heights(self) -> Field:
        """Height above the bench at each cell, mm."""
        field = np.zeros_like(self.slices[0].solid)
        for one in self.slices:
            field += (np.float32(one.top_mm) - field) * one.solid
        return field


def scene(printed: Printed, lettered: Coupon, cell_mm: float, finest_mm: float | None = None) -> Scene:
    """What became of a coupon, at cells of ``cell_mm``: edges lie where the blurred light just cures, to a fraction of a cell.

    Parameters
    ----------
    printed : Printed
        What became of its features.
    lettered : Coupon
        The same coupon with code and exposure on it.
    cell_mm : float
        Side of a cell.
    finest_mm : float, optional
        Cells in which edges are found first, where sizes matter; those of the scene when not given.
    """
    left_standing = _without_lost(printed, lettered)
    plug = [s for s in left_standing.shapes if s.feature and (s.feature.startswith("taper-") or s.feature == PLUG_HEAD)]
    bare = replace(left_standing, shapes=tuple(s for s in left_standing.shapes if s not in plug))
    fine = {(s.low_mm, s.high_mm) for s in bare.shapes if s.feature and s.base is None}
    thickness = bare.thickness_mm if printed.thickness_mm is None else printed.thickness_mm
    slices = []
    for z, top in _levels(bare):
        if any(low < z < high for low, high in fine) and printed.coupon.kind in FINE:
            solid = _cured(printed, bare, z, cell_mm, finest_mm or cell_mm)
            _mend_lengths(printed, bare, solid, cell_mm)
            _wash_rims(printed, bare, solid, cell_mm)
            _mend_verniers(printed, bare, solid, cell_mm)
            _add_plug(printed, lettered, plug, solid, cell_mm)
        else:
            solid = (layer_mask(bare, z, cell_mm) > 0).astype(np.float32)
        slices.append(Slice(min(top, thickness), solid))
    return Scene(printed, lettered.width_mm, lettered.height_mm, cell_mm, tuple(slices))


def _cured(printed: Printed, coupon: Coupon, z_mm: float, cell_mm: float, finest_mm: float) -> Field:
    """Where a layer is solid: the blurred light suffices. Found at the printer's own pixels, drawn at the cells."""
    import cv2

    machine, material, conditions = printed.machine, printed.material, printed.conditions
    mask = layer_mask(coupon, z_mm, machine.pixel_mm).astype(np.float32) / 255
    blur = physics.blur_mm(machine, material, conditions)
    light = spread(mask, machine.pixel_mm, blur, material.scatter_mm, material.spread)
    later = max((printed.coupon.thickness_mm - z_mm) / conditions.layer_mm, 0.0)
    size = (round(coupon.width_mm / cell_mm), round(coupon.height_mm / cell_mm))
    # A cell on the edge is solid by its share, which light that falls off steeply within it would tell wrongly.
    finer = max(round(cell_mm / finest_mm), 1)
    size = (size[0] * finer, size[1] * finer)
    light = cv2.resize(light, size, interpolation=cv2.INTER_LINEAR)
    across = (np.arange(size[0], dtype=np.float32) + 0.5) / size[0] - 0.5
    need = physics.needed_share(machine, material, conditions, later) / (printed.flicker * (1 + machine.tilt * across))
    # The floor and marks got base exposure; a soft layer leaves at least their trace.
    over = light - np.clip(need, 0.02, 0.85)[None, :].astype(np.float32)
    steep = cv2.magnitude(cv2.Sobel(light, -1, 1, 0, scale=0.125), cv2.Sobel(light, -1, 0, 1, scale=0.125))
    solid = np.clip(over / np.maximum(steep, np.float32(1e-4)) + np.float32(0.5), 0, 1)
    whole = (size[0] // finer, size[1] // finer)
    return cv2.resize(solid, whole, interpolation=cv2.INTER_AREA) if finer > 1 else solid


class Box(NamedTuple):
    """An upright rectangle, mm."""

    left: float
    top: float
    right: float
    bottom: float


def _bounds(shape: Shape) -> Box:
    xs, ys = zip(*shape.points, strict=True)
    return Box(min(xs), min(ys), max(xs), max(ys))


def _fill(solid: Field, box: tuple[float, float, float, float], cell_mm: float, value: float) -> None:
    """Set a rectangle, cells on its edge by their share of it."""
    edges = Box(*(edge / cell_mm for edge in box))

    def shares(low: float, high: float, count: int) -> tuple[slice, Field]:
        first, last = max(math.floor(low), 0), min(math.ceil(high), count)
        cells = np.arange(first, last)
        return slice(first, last), np.clip(np.minimum(cells + 1, high) - np.maximum(cells, low), 0, 1).astype(
            np.float32
        )

    rows, down = shares(edges.top, edges.bottom, solid.shape[0])
    columns, across = shares(edges.left, edges.right, solid.shape[1])
    inside = down[:, None] * across[None, :]
    solid[rows, columns] += (np.float32(value) - solid[rows, columns]) * inside


def _mend_lengths(printed: Printed, coupon: Coupon, solid: Field, cell_mm: float) -> None:
    """Walls are gone where they do not stand, slots are filled where they closed: along each as the print says."""
    shapes = {s.feature: s for s in coupon.shapes if s.feature and s.role in ("solid", "gap")}
    for outcome in printed.outcomes:
        shape = shapes.get(outcome.key)
        if shape is None or not outcome.along:
            continue
        box = _bounds(shape)
        room = ROOM_MM if outcome.kind == "wall" else min(ROOM_MM, 0.1)
        pieces = len(outcome.along)
        for i, whole in enumerate(outcome.along):
            low = box.top - room if i == 0 else box.top + (box.bottom - box.top) * i / pieces
            high = box.bottom + room if i == pieces - 1 else box.top + (box.bottom - box.top) * (i + 1) / pieces
            if not whole:
                _fill(
                    solid,
                    (box.left - room, low, box.right + room, high),
                    cell_mm,
                    0.0 if outcome.kind == "wall" else 1.0,
                )


def _wash_rims(printed: Printed, coupon: Coupon, solid: Field, cell_mm: float) -> None:
    """A notch that cannot be measured has lost its rim."""
    washed = {o.key for o in printed.outcomes if o.kind == "inner" and o.size_mm is None}
    for shape in coupon.shapes:
        if shape.feature in washed:
            box = _bounds(shape)
            _fill(solid, (box.left - RIM_MM, box.top - RIM_MM, box.right + RIM_MM, box.bottom + RIM_MM), cell_mm, 0.0)


def _mend_verniers(printed: Printed, coupon: Coupon, solid: Field, cell_mm: float) -> None:
    """Between the ends of a vernier's bars lies the gap that the print left."""
    gaps = {o.key: o.size_mm for o in printed.outcomes if o.kind == "vernier" and o.size_mm is not None}
    shapes = list(coupon.shapes)
    for upper, lower in pairwise(shapes):
        gap = gaps.get(lower.feature or "")
        if gap is None or lower.feature == upper.feature:
            continue
        above, below = _bounds(upper), _bounds(lower)
        # Where both bars lie over each other.
        start, end = max(above.left, below.left), min(above.right, below.right)
        middle = (above.bottom + below.top) / 2
        _fill(solid, (start, middle - 0.3, end, middle + 0.3), cell_mm, 1.0)
        if gap > 0:
            _fill(solid, (start - 0.4, middle - gap / 2, end + 0.4, middle + gap / 2), cell_mm, 0.0)


def stopped_mm(printed: Printed, coupon: Coupon) -> float | None:
    """How far the taper plug was pushed from where it was drawn, mm; None where there is none, or it washed away."""
    steps = [o for o in printed.outcomes if o.kind == "taper" and o.size_mm is not None]
    if not steps:
        return None
    places = {s.feature: _bounds(s) for s in coupon.shapes if s.feature}
    stop = next((o.key for o in steps if (o.size_mm or 0.0) <= 0), None)
    front = places[stop][1] if stop else places[PLUG_HEAD][1] - PLUG_GAP_MM
    return front - _mouth_mm(coupon, places[steps[0].key])


def _mouth_mm(coupon: Coupon, nose: Box) -> float:
    """Where the channel begins: the lower end of the rail beside the plug."""
    rails = [_bounds(s) for s in coupon.shapes if s.role == "mark" and s.feature is None]
    return max(rail.bottom for rail in rails if rail.bottom < nose.top and rail.left < nose.left < rail.right + 0.5)


def _add_plug(printed: Printed, lettered: Coupon, plug: list[Shape], solid: Field, cell_mm: float) -> None:
    """The taper plug in its channel, pushed in until it stops."""
    pushed = stopped_mm(printed, lettered)
    if pushed is None:
        return
    first = next(o for o in printed.outcomes if o.kind == "taper")
    drawn = next(f.size_mm for f in lettered.features if f.key == first.key)
    growth = (drawn - (first.size_mm or 0.0)) / 4
    for shape in plug:
        box = _bounds(shape)
        grown = (box.left - growth, box.top - pushed - growth, box.right + growth, box.bottom - pushed + growth)
        _fill(solid, grown, cell_mm, 1.0)


def _levels(coupon: Coupon) -> list[tuple[float, float]]:
    """Heights to look at, (middle, top), from the bench up; no more than a few."""
    edges = sorted({s.low_mm for s in coupon.shapes} | {s.high_mm for s in coupon.shapes if s.role != "text"})
    parts = [(a, b) for a, b in pairwise(edges) if b - a > 1e-6]
    while len(parts) < MOST_LEVELS and any(b - a > 0.3 for a, b in parts) and any(s.base for s in coupon.shapes):
        i = max(range(len(parts)), key=lambda n: parts[n][1] - parts[n][0])
        a, b = parts[i]
        parts[i : i + 1] = [(a, (a + b) / 2), ((a + b) / 2, b)]
    if len(parts) > MOST_LEVELS:
        step = len(parts) / MOST_LEVELS
        parts = [parts[min(int((i + 1) * step) - 1, len(parts) - 1)] for i in range(MOST_LEVELS)]
    return [((a + b) / 2, b) for a, b in parts]


def _without_lost(printed: Printed, lettered: Coupon) -> Coupon:
    """What is left of the coupon: lost bars and tips are gone, lost walls too, closed slots are no gaps any more."""
    # A bar that could not be measured was washed away.
    shares = {
        o.key: 0.0 if o.kind == "outer" and o.size_mm is None else o.share
        for o in printed.outcomes
        if o.kind not in ("vernier", "fit", "taper", "legible")
    }
    left_standing = []
    for shape in lettered.shapes:
        share = shares.get(shape.feature) if shape.feature else None
        if share is not None and share == 0.0:
            if shape.role == "gap" or shape.top is None:
                continue
            # A tip that let go leaves the lower part of its strut.
            cut = shape.low_mm + 0.55 * (shape.high_mm - shape.low_mm)
            end = shape.section(cut)
            if end is not None:
                left_standing.append(replace(shape, high_mm=cut, top=end))
            continue
        left_standing.append(shape)
    return replace(lettered, shapes=tuple(left_standing))
