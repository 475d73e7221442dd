"""Pictures of virtual coupons: as a phone over a bench sees them, and as a flatbed scanner does.

A scene is drawn as slices, each where perspective puts its height, under one lamp or the scanner's own light. Then comes what benches and
cameras add: uneven and coloured light, shadow, glare, blur of focus and of a hand, dust, fingerprints, noise, compression.
"""

from __future__ import annotations

import io
import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from PIL import Image

from ..coupon.description import Coupon
from .printed import Printed
from .scene import Field, Scene, scene

Matrix = np.ndarray[Any, np.dtype[Any]]

MARGIN_MM = 4.0
BENCH = (168.0, 164.0, 156.0)
LID = (222.0, 222.0, 220.0)
SIDE_MM = 0.25
"""Sides of what stands are drawn in slices no thicker than this."""
DISTANCE_MM = 260.0
"""From the lens to the bench."""
FINEST_MM = 0.01
"""Cells in which a scanner's edges are found."""
CONTACT_MM = 1.1
"""Away from the glass at which a scanner's light has fallen to 1/e."""
MM_PER_INCH = 25.4


@dataclass(frozen=True)
class Shot:
    """How a picture is taken: the camera, its light, and everything that is wrong with it."""

    px_per_mm: float = 22.0
    tilt_deg: float = 2.0
    """Away from looking straight down."""
    tilt_to_deg: float = 30.0
    """Direction in which it leans."""
    turn_deg: float = 0.0
    lamp_deg: float = 230.0
    """Where the light comes from; 270 is from above on the drawing."""
    lamp_height_deg: float = 50.0
    uneven: float = 0.12
    """How much darker the far corner is."""
    warmth: float = 0.0
    """Colour of the light: above 0 yellow, below blue."""
    shadow: float = 0.0
    """Share of the light that a hand or the phone takes from a part of the picture."""
    glare: float = 0.0
    """How strongly a lamp mirrors in the resin, from 0 to 1."""
    defocus_mm: float = 0.015
    motion_mm: float = 0.0
    dust: int = 0
    fingerprints: int = 0
    distortion: float = 0.0
    """Barrel (below 0) or cushion of the lens, at the corner, as a share."""
    noise: float = 1.4
    quality: int = 88
    scanner_dpi: int | None = None
    """A flatbed scanner at this resolution instead of a camera."""
    mirrored: bool = False
    """As a front camera saves it."""

    @property
    def scale(self) -> float:
        """Pixels per millimetre on the bench or the glass."""
        return self.px_per_mm if self.scanner_dpi is None else self.scanner_dpi / MM_PER_INCH


@dataclass(frozen=True)
class Placed:
    """A coupon in the picture, with its middle on the bench and its turn."""

    printed: Printed
    lettered: Coupon
    x_mm: float = 0.0
    y_mm: float = 0.0
    turn_deg: float = 0.0


def everyday_shot(seed: int) -> Shot:
    """An ordinary picture at the bench: nearly straight, nearly sharp, light from somewhere on the left."""
    chance = np.random.default_rng([seed, 7])
    return Shot(
        tilt_deg=float(chance.uniform(0, 4)),
        tilt_to_deg=float(chance.uniform(0, 360)),
        turn_deg=float(chance.uniform(-2, 2)),
        lamp_deg=float(chance.uniform(200, 260)),
        quality=86,
    )


def photograph(printed: Printed, lettered: Coupon, seed: int, shot: Shot | None = None) -> bytes:
    """A picture of one coupon: what did not form is missing, what closed is filled.

    Parameters
    ----------
    printed : Printed
        What became of its features.
    lettered : Coupon
        The same coupon with code and exposure embossed.
    seed : int
        The same seed gives the same picture.
    shot : Shot, optional
        How it is taken; an everyday one when not given.
    """
    return photograph_tray([Placed(printed, lettered)], seed, shot)


def photograph_tray(coupons: Sequence[Placed], seed: int, shot: Shot | None = None) -> bytes:
    """JPEG of several coupons on one bench or glass; of a scanner with its resolution written in it."""
    import cv2

    taken = shot or everyday_shot(seed)
    chance = np.random.default_rng(seed)
    pixels = _drawn(coupons, taken, chance)
    pixels = _disturbed(pixels, taken, chance)
    if taken.mirrored:
        pixels = pixels[:, ::-1]
    out = io.BytesIO()
    dpi = {"dpi": (taken.scanner_dpi, taken.scanner_dpi)} if taken.scanner_dpi else {}
    Image.fromarray(cv2.convertScaleAbs(np.maximum(pixels, 0))).save(out, "JPEG", quality=taken.quality, **dpi)
    return out.getvalue()


def homography(shot: Shot, z_mm: float, size: tuple[int, int]) -> Matrix:
    """From millimetres on the plane at a height over the bench, about its middle, to pixels.

    A pinhole over the bench, leaning by ``tilt_deg``; a scanner looks straight up everywhere.
    """
    to_middle = np.array([[1.0, 0, size[0] / 2], [0, 1.0, size[1] / 2], [0, 0, 1]])
    turn = math.radians(shot.turn_deg)
    spin = np.array([[math.cos(turn), -math.sin(turn), 0], [math.sin(turn), math.cos(turn), 0], [0, 0, 1.0]])
    if shot.scanner_dpi is not None:
        return np.asarray(to_middle @ np.diag([shot.scale, shot.scale, 1.0]) @ spin)
    lean, to = math.radians(shot.tilt_deg), math.radians(shot.tilt_to_deg)
    axis = np.array([-math.sin(to), math.cos(to), 0.0])
    cross = np.array([[0, -axis[2], axis[1]], [axis[2], 0, -axis[0]], [-axis[1], axis[0], 0]])
    rotation = np.eye(3) + math.sin(lean) * cross + (1 - math.cos(lean)) * cross @ cross
    focal = shot.scale * DISTANCE_MM
    lens = np.diag([focal, focal, 1.0])
    # Heights rise towards the lens.
    plane = np.column_stack([rotation[:, 0], rotation[:, 1], -z_mm * rotation[:, 2] + np.array([0, 0, DISTANCE_MM])])
    return np.asarray(to_middle @ lens @ plane @ spin)


def corners_px(placed: Placed, shot: Shot, content: bytes) -> list[tuple[float, float]]:
    """Where the corners of a coupon's upper side lie in its picture, from the drawing's upper left clockwise; without a lens's distortion."""
    import cv2

    with Image.open(io.BytesIO(content)) as file:
        size = file.size
    turn, shrunk = math.radians(placed.turn_deg), 1 - placed.printed.material.shrinkage
    lay = np.array(
        [[math.cos(turn), -math.sin(turn), placed.x_mm], [math.sin(turn), math.cos(turn), placed.y_mm], [0, 0, 1]]
    )
    half = shrunk * placed.lettered.width_mm / 2, shrunk * placed.lettered.height_mm / 2
    ends = np.array([[(-half[0], -half[1]), (half[0], -half[1]), half, (-half[0], half[1])]], dtype=np.float64)
    places = cv2.perspectiveTransform(ends, homography(shot, placed.lettered.thickness_mm, size) @ lay)[0]
    return [(float(x), float(y)) for x, y in places]


def _drawn(coupons: Sequence[Placed], shot: Shot, chance: np.random.Generator) -> Field:
    """All coupons in one picture, before anything disturbs it; drawn colour by colour, which is several times as fast as all at once."""
    import cv2

    reach_x = max(abs(c.x_mm) + _half(c, 0, shot) for c in coupons) + MARGIN_MM
    reach_y = max(abs(c.y_mm) + _half(c, 1, shot) for c in coupons) + MARGIN_MM
    size = (round(2 * reach_x * shot.scale), round(2 * reach_y * shot.scale))
    planes = _background(size, shot, chance)
    for placed in coupons:
        cell = 1 / shot.scale
        finest = FINEST_MM if shot.scanner_dpi else None
        _draw(planes, scene(placed.printed, placed.lettered, cell, finest), placed, shot)
    return cv2.merge(planes)


def _half(placed: Placed, axis: int, shot: Shot) -> float:
    """Half of the room a coupon takes along an axis, mm, turned as it is and seen from aslant."""
    turn = math.radians(placed.turn_deg + shot.turn_deg)
    sides = (placed.lettered.width_mm / 2, placed.lettered.height_mm / 2)
    across = abs(math.cos(turn)), abs(math.sin(turn))
    lean = 0.0 if shot.scanner_dpi else shot.tilt_deg
    return (sides[axis] * across[0] + sides[1 - axis] * across[1]) * (1 + 0.4 * math.sin(math.radians(lean)))


def _background(size: tuple[int, int], shot: Shot, chance: np.random.Generator) -> list[Field]:
    """The bench, softly mottled, or a scanner's lid: red, green and blue."""
    import cv2

    if shot.scanner_dpi is not None:
        return [np.full((size[1], size[0]), value * 0.45, dtype=np.float32) for value in LID]
    coarse = chance.standard_normal((size[1] // 3 + 2, size[0] // 3 + 2), dtype=np.float32)
    grain = cv2.resize(cv2.GaussianBlur(coarse, (0, 0), 1.6), size, interpolation=cv2.INTER_LINEAR)
    mottled = 1 + np.float32(0.12) * grain
    return [np.float32(value) * mottled for value in BENCH]


def _draw(planes: list[Field], stage: Scene, placed: Placed, shot: Shot) -> None:
    """One coupon over what is there already: its shadow first, then its slices from the bench up."""
    margin = round(MARGIN_MM / stage.cell_mm)
    turn = math.radians(placed.turn_deg)
    # Resin shrinks a little while it cures.
    shrunk = 1 - placed.printed.material.shrinkage
    rows, columns = stage.slices[0].solid.shape
    wide, high = shrunk * stage.width_mm / columns, shrunk * stage.height_mm / rows
    rows, columns = rows + 2 * margin, columns + 2 * margin
    lay = np.array(
        [[math.cos(turn), -math.sin(turn), placed.x_mm], [math.sin(turn), math.cos(turn), placed.y_mm], [0, 0, 1]]
    ) @ np.array([[wide, 0, -wide * (columns - 1) / 2], [0, high, -high * (rows - 1) / 2], [0, 0, 1]])
    size = (planes[0].shape[1], planes[0].shape[0])
    heights = np.pad(stage.heights(), margin)
    light = _Light.on(heights, stage, shot, turn)
    _lay_over(planes, [], light.ground_loss, homography(shot, 0.0, size) @ lay)
    low = 0.0
    for slice_ in stage.slices:
        steps = max(math.ceil((slice_.top_mm - low) / SIDE_MM), 1)
        colours, opaque = light.from_above(slice_.top_mm, np.pad(slice_.solid, margin))
        if steps > 1 and shot.scanner_dpi is None:
            sides = light.from_aside(colours)
            for step in range(1, steps):
                z = low + (slice_.top_mm - low) * step / steps
                _lay_over(planes, sides, opaque, homography(shot, z, size) @ lay)
        _lay_over(planes, colours, opaque, homography(shot, slice_.top_mm, size) @ lay)
        low = slice_.top_mm


def _lay_over(planes: list[Field], colours: list[Field], opaque: Field, matrix: Matrix) -> None:
    """Lay a texture over the picture: ``opaque`` of what was there is covered and the colours, weighted by it already, are added.

    Only where it covers anything; no colours at all darken.
    """
    import cv2

    covered = cv2.boundingRect((opaque > 0).astype(np.uint8))
    left, top = max(covered[0] - 1, 0), max(covered[1] - 1, 0)
    cells = (slice(top, top + covered[3] + 2), slice(left, left + covered[2] + 2))
    rows, columns = opaque[cells].shape
    matrix = matrix @ np.array([[1.0, 0, left], [0, 1.0, top], [0, 0, 1]])
    corners = cv2.perspectiveTransform(
        np.array([[(0, 0), (columns, 0), (columns, rows), (0, rows)]], dtype=np.float64), matrix
    )[0]
    height, width = planes[0].shape
    first_x, first_y = np.maximum(np.floor(corners.min(axis=0)).astype(int), 0)
    last_x, last_y = np.minimum(np.ceil(corners.max(axis=0)).astype(int), (width, height))
    if not covered[2] or last_x <= first_x or last_y <= first_y:
        return
    moved = np.array([[1.0, 0, -first_x], [0, 1.0, -first_y], [0, 0, 1]]) @ matrix
    texture = cv2.merge([*(colour[cells] for colour in colours), opaque[cells]])
    visible = cv2.warpPerspective(texture, moved, (int(last_x - first_x), int(last_y - first_y)))
    *added, covering = cv2.split(visible)
    open_share = 1 - covering
    for number, plane in enumerate(planes):
        part = plane[first_y:last_y, first_x:last_x]
        part *= open_share
        if added:
            part += added[number]


@dataclass(frozen=True)
class _Light:
    """Light on one coupon: on what looks up, and on the ground about it."""

    stage: Scene
    heights: Field
    tops: Field
    """Light on whatever looks up at each cell, 1 in the open."""
    sides: Field
    """Light on upright faces, by where they face."""
    ground_loss: Field
    """Share of its light that the coupon takes from the ground about it."""
    around: tuple[Field, Field] | None
    """Of a scanner, whose edges are measured: heights about each cell, wide and narrow, so that each slice is lit at its own height."""

    @staticmethod
    def on(heights: Field, stage: Scene, shot: Shot, turn: float) -> _Light:
        import cv2

        cell = stage.cell_mm
        wide, narrow = (cv2.GaussianBlur(heights, (0, 0), s / cell) for s in (0.45, 0.18))
        open_sky = _open_sky(wide - heights, narrow - heights)
        lamp = math.radians(shot.lamp_deg) - turn - math.radians(shot.turn_deg)
        to_lamp = (math.cos(lamp), math.sin(lamp))
        if shot.scanner_dpi is not None:
            light = open_sky * (1 - 0.10 * _shaded(heights, (0.0, -1.0), 1.0, cell))
        else:
            reach = 1 / math.tan(math.radians(shot.lamp_height_deg))
            light = open_sky * (1 - 0.42 * _shaded(heights, to_lamp, reach, cell))
        soft = cv2.GaussianBlur(heights, (0, 0), max(0.06 / cell, 0.8))
        right, down = cv2.Sobel(soft, -1, 1, 0), cv2.Sobel(soft, -1, 0, 1)
        steep = np.maximum(cv2.magnitude(right, down), 1e-4)
        sides = 0.62 - 0.40 * (right * to_lamp[0] + down * to_lamp[1]) / steep
        ground_loss = np.where(heights < 0.02, 1 - light, 0).astype(np.float32)
        edge = round(MARGIN_MM / cell * 0.4)
        fade = np.ones_like(ground_loss)
        for i in range(edge):  # What the coupon does to the bench ends before its margin does.
            share = np.float32(i / edge)
            fade[i], fade[-1 - i] = np.minimum(fade[i], share), np.minimum(fade[-1 - i], share)
            fade[:, i], fade[:, -1 - i] = np.minimum(fade[:, i], share), np.minimum(fade[:, -1 - i], share)
        if shot.scanner_dpi is not None:
            gap = np.maximum(heights.max() - heights, 0)
            light = light * (0.34 + 0.66 * np.exp(-gap / CONTACT_MM))
        around = (wide, narrow) if shot.scanner_dpi is not None else None
        return _Light(stage, heights, light.astype(np.float32), sides.astype(np.float32), ground_loss * fade, around)

    def at_height(self, top_mm: float) -> Field:
        """Light on what looks up at a height. Where a cell is solid in part, its top and its ground are each lit as they lie."""
        if self.around is None:
            return self.tops
        wide, narrow = self.around
        light = _open_sky(wide - np.float32(top_mm), narrow - np.float32(top_mm))
        away = max(float(self.heights.max()) - top_mm, 0.0)
        return light * np.float32(0.34 + 0.66 * math.exp(-away / CONTACT_MM))

    def from_above(self, top_mm: float, solid: Field) -> tuple[list[Field], Field]:
        """Colours of a slice seen from above, times how solid each cell is, and that share."""
        material = self.stage.printed.material
        through = 0.55 * material.clarity
        opaque = solid * np.float32(1 - through)
        lit = self.at_height(top_mm) * np.float32(0.98 + 0.05 * math.tanh(top_mm - 0.6)) * opaque
        # A clear resin darkens the ground a little wherever light has to bend round what stands on it.
        return [np.float32(tint) * lit for tint in material.tint], opaque

    def from_aside(self, colours: list[Field]) -> list[Field]:
        """The same colours where the side of the slice is seen."""
        shaded = self.sides / np.maximum(self.tops, np.float32(0.2))
        return [colour * shaded for colour in colours]


def _open_sky(wide_mm: Field, narrow_mm: Field) -> Field:
    """Share of the sky's light at each cell, from how much higher it is about it, widely and closely: little falls into what is deep and narrow."""
    sky = np.ones_like(wide_mm)
    for depth, most in ((wide_mm, 0.42), (narrow_mm, 0.30)):
        # Most cells lie open, and powers take long.
        is_deep = depth > 0
        sky[is_deep] -= np.float32(most) * np.minimum(depth[is_deep], 1) ** np.float32(0.8)
    return sky


def _shaded(heights: Field, to_lamp: tuple[float, float], reach: float, cell_mm: float) -> Field:
    """Share of the lamp's light that something nearer to it takes away, soft at its rim; ``reach`` is shadow per height."""
    import cv2

    nearest = np.full_like(heights, -np.inf)
    highest = float(heights.max())
    for distance in np.linspace(0.08, max(highest * reach, 0.1), 10):
        dx, dy = to_lamp[0] * distance / cell_mm, to_lamp[1] * distance / cell_mm
        moved: Field = cv2.warpAffine(heights, np.array([[1, 0, -dx], [0, 1, -dy]]), heights.shape[::-1])
        moved -= np.float32(distance / reach)
        np.maximum(nearest, moved, out=nearest)
    shadow = np.clip((nearest - heights) * 6, 0, 1)
    return np.asarray(cv2.GaussianBlur(shadow, (0, 0), max(0.06 / cell_mm, 0.6)))


def _disturbed(pixels: Field, shot: Shot, chance: np.random.Generator) -> Field:
    """What benches, hands and cameras add, in the order light meets them."""
    import cv2

    rows, columns = pixels.shape[:2]
    ys, xs = np.linspace(0, 1, rows, dtype=np.float32)[:, None], np.linspace(0, 1, columns, dtype=np.float32)[None, :]
    if shot.scanner_dpi is None:
        angle = math.radians(shot.lamp_deg)
        slope = (xs - 0.5) * math.cos(angle) + (ys - 0.5) * math.sin(angle)
        pixels = cv2.multiply(pixels, cv2.merge([1 + shot.uneven * slope] * 3))
    if shot.warmth:
        pixels = pixels * np.array([1 + 0.12 * shot.warmth, 1.0, 1 - 0.16 * shot.warmth], dtype=np.float32)
    pixels = _fingered(pixels, shot, chance)
    if shot.shadow:
        pixels *= _hand(xs, ys, shot, chance)[..., None]
    if shot.glare:
        pixels = pixels + _mirrored_lamp(xs, ys, columns / rows, shot, chance)[..., None]
    pixels = _dusty(pixels, shot, chance)
    pixels = _seen_through_lens(pixels, shot)
    noise: Field = np.asarray(chance.standard_normal(pixels.shape, dtype=np.float32))
    noise += cv2.merge([np.float32(0.8) * noise[..., 0]] * 3)
    noise *= np.float32(shot.noise)
    return np.asarray(pixels + noise)


def _hand(xs: Field, ys: Field, shot: Shot, chance: np.random.Generator) -> Field:
    """Shadow of a hand or the phone: a soft edge somewhere across the picture."""
    angle = chance.uniform(0, 2 * math.pi)
    away: Field = (xs - chance.uniform(0.3, 0.7)) * math.cos(angle) + (ys - chance.uniform(0.3, 0.7)) * math.sin(angle)
    return 1 - np.float32(shot.shadow) / (1 + np.exp(-away / 0.025))


def _mirrored_lamp(xs: Field, ys: Field, aspect: float, shot: Shot, chance: np.random.Generator) -> Field:
    """A lamp that mirrors: a bright patch that drowns what lies under it."""
    x, y = (float(share) for share in chance.uniform(0.2, 0.8, 2))
    wide = 0.05 + 0.09 * shot.glare
    away: Field = ((xs - x) / wide) ** 2 + ((ys - y) / (wide * 0.7 * aspect)) ** 2
    return np.asarray(230 * shot.glare * np.exp(-away), dtype=np.float32)


def _fingered(pixels: Field, shot: Shot, chance: np.random.Generator) -> Field:
    """Fingerprints: ridges of grease that lift what is dark and take contrast."""
    rows, columns = pixels.shape[:2]
    for _ in range(shot.fingerprints):
        x, y = chance.uniform(0.15, 0.85, 2) * (columns, rows)
        reach = 7.0 * shot.scale
        ys, xs = np.ogrid[0:rows, 0:columns]
        away = np.hypot(xs - x, (ys - y) * 0.75)
        ridges = 0.5 + 0.5 * np.sin(2 * math.pi * away / (0.5 * shot.scale))
        veil = (np.clip(1 - away / reach, 0, 1) * 0.16 * ridges).astype(np.float32)[..., None]
        pixels = pixels * (1 - veil) + 205 * veil
    return pixels


def _dusty(pixels: Field, shot: Shot, chance: np.random.Generator) -> Field:
    """Specks and short fibres, light or dark, on the resin or on the glass."""
    import cv2

    for _ in range(shot.dust):
        x, y = (chance.uniform(0, 1, 2) * (pixels.shape[1], pixels.shape[0])).astype(int)
        value = float(chance.choice([40.0, 235.0]))
        if chance.uniform() < 0.3:
            turn, length = chance.uniform(0, math.pi), chance.uniform(0.4, 1.6) * shot.scale
            end = (int(x + length * math.cos(turn)), int(y + length * math.sin(turn)))
            cv2.line(pixels, (int(x), int(y)), end, (value, value, value), max(round(0.03 * shot.scale), 1))
        else:
            cv2.circle(
                pixels, (int(x), int(y)), max(round(chance.uniform(0.03, 0.12) * shot.scale), 1), (value,) * 3, -1
            )
    return pixels


def _seen_through_lens(pixels: Field, shot: Shot) -> Field:
    """Distortion, focus and the motion of a hand."""
    import cv2

    rows, columns = pixels.shape[:2]
    if shot.distortion:
        xs, ys = np.meshgrid(np.arange(columns, dtype=np.float32), np.arange(rows, dtype=np.float32))
        dx, dy = xs - columns / 2, ys - rows / 2
        bend = 1 + shot.distortion * (dx * dx + dy * dy) / (columns**2 + rows**2) * 4
        pixels = cv2.remap(
            pixels, dx * bend + columns / 2, dy * bend + rows / 2, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE
        )
    # Even a sharp picture spreads a point over most of a pixel.
    sigma = math.hypot(0.55, shot.defocus_mm * shot.scale)
    pixels = cv2.GaussianBlur(pixels, (0, 0), sigma)
    length = round(shot.motion_mm * shot.scale)
    if length > 1:
        kernel = np.zeros((length, length), dtype=np.float32)
        cv2.line(kernel, (0, length - 1), (length - 1, 0), 1.0, 1)
        pixels = cv2.filter2D(pixels, -1, kernel / kernel.sum())
    return pixels
