"""How a lens bends straight lines, found by the coupon's own rim, which is straight whichever way it is seen.

A plane seen in perspective keeps its straight lines straight; only the lens bends them. So how far the floor's four sides are from straight
tells the lens apart from the tilt (plumb lines; Brown, Photogrammetric Engineering 37, 1971). One radial term about the middle of the
picture is fitted: what is meant to lie at *r* from the middle lies where *r*(1 + *kρ*²) comes from, *ρ* being *r* in half diagonals.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import cv2
import numpy as np

from .contract import Drawing, Grey, Matrix
from .opened import Opened

LEAST_FILLED = 0.5
"""Length of a coupon, as a share of the picture's, below which its sides are too short to tell a lens by."""
POINTS, ENDS = 90, 0.05
REACH_MM = 0.7
"""How far on either side of where it should lie the rim is looked for."""
LEAST_INLIERS = 40
SURE_BY = 4.0
"""Standard errors the bend must be from none."""
LEAST_SHIFT_PX = 0.35
"""What it must move some corner of the coupon by, to be worth a picture laid anew."""
MOST = 0.12
"""No phone's lens bends more; such a fit is of something else."""
STEPS = 6


@dataclass(frozen=True)
class Lens:
    """The bend at the picture's corner, as a share, and where the middle is."""

    bend: float
    middle: tuple[float, float]
    half_diagonal: float

    def straightened(self, points: Matrix) -> Matrix:
        """Where points of the picture would lie without the lens, px."""
        off = points - np.array(self.middle)
        return np.asarray(np.array(self.middle) + off * self._factor(off))

    def bent(self, points: Matrix) -> Matrix:
        """Where points of the picture without the lens lie in the picture, px."""
        away = points - np.array(self.middle)
        off = away
        for _ in range(STEPS):
            off = away / self._factor(off)
        return np.asarray(np.array(self.middle) + off)

    def unbent(self, picture: Opened) -> Opened:
        """The picture as it would be without the lens."""
        rows, columns = picture.grey.shape
        xs, ys = np.meshgrid(
            np.arange(columns, dtype=np.float32) - np.float32(self.middle[0]),
            np.arange(rows, dtype=np.float32) - np.float32(self.middle[1]),
        )
        square = (xs * xs + ys * ys) / np.float32(self.half_diagonal**2)
        factor = np.ones_like(square)
        for _ in range(STEPS):
            factor = 1 + np.float32(self.bend) * square / (factor * factor)
        places = (xs / factor + np.float32(self.middle[0]), ys / factor + np.float32(self.middle[1]))
        grey = cv2.remap(picture.grey, *places, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REPLICATE)
        drowned = cv2.remap(picture.drowned, *places, cv2.INTER_NEAREST)
        return replace(picture, grey=grey, drowned=np.asarray(drowned, dtype=np.uint8))

    def _factor(self, off: Matrix) -> Matrix:
        square = (off * off).sum(axis=-1, keepdims=True) / self.half_diagonal**2
        return np.asarray(1 + self.bend * square)


def lens_of(picture: Opened, drawing: Drawing, to_picture: Matrix) -> Lens | None:
    """The lens a picture was taken through, where its coupon fills the picture and the bend is plain.

    Parameters
    ----------
    picture : Opened
    drawing : Drawing
    to_picture : (3, 3) array
        From millimetres of the drawing to pixels, as it was laid.

    Returns
    -------
    Lens or None
        None where the coupon is small in the picture, the sides cannot be followed, or the bend is within four standard errors of none.
    """
    width, height = picture.size
    half_diagonal = float(np.hypot(width, height)) / 2
    corners = _placed(
        to_picture, [(0, 0), (drawing.width_mm, 0), (drawing.width_mm, drawing.height_mm), (0, drawing.height_mm)]
    )
    longest = max(float(np.linalg.norm(corners[i] - corners[(i + 1) % 4])) for i in range(4))
    if longest < LEAST_FILLED * max(width, height):
        return None
    middle = np.array([width / 2, height / 2])
    smooth = cv2.GaussianBlur(picture.grey, (0, 0), 1.2)
    effects, deviations, used = [], [], 0
    for ends in _sides(drawing):
        points = _rim(smooth, to_picture, ends)
        if points is None:
            continue
        effect, deviation = _from_straight(points, middle, half_diagonal)
        effects.append(effect)
        deviations.append(deviation)
        used += len(effect)
    if len(effects) < 3 or used < 3 * LEAST_INLIERS:
        return None
    effect, deviation = np.concatenate(effects), np.concatenate(deviations)
    weight = float(effect @ effect)
    bend = -float(effect @ deviation) / weight
    noise = deviation + bend * effect
    # Neighbours along a side share their error: a fifth of the points count.
    error = float(np.sqrt(noise @ noise / max(used / 5 - 9, 1) / (weight / 5)))
    lens = Lens(bend, (float(middle[0]), float(middle[1])), half_diagonal)
    shift = float(np.abs(lens.straightened(corners) - corners).max())
    return lens if SURE_BY * error < abs(bend) < MOST and shift > LEAST_SHIFT_PX else None


Ends = tuple[tuple[float, float], tuple[float, float], tuple[float, float]]


def _sides(drawing: Drawing) -> list[Ends]:
    """The four sides of the floor: from, to, and outwards."""
    w, h = drawing.width_mm, drawing.height_mm
    return [
        ((0, 0), (w, 0), (0, -1)),
        ((w, 0), (w, h), (1, 0)),
        ((w, h), (0, h), (0, 1)),
        ((0, h), (0, 0), (-1, 0)),
    ]


def _placed(to_picture: Matrix, points: object) -> Matrix:
    return np.asarray(cv2.perspectiveTransform(np.array([points], dtype=np.float64), to_picture)[0])


def _rim(smooth: Grey, to_picture: Matrix, side: Ends) -> Matrix | None:
    """Points of the picture at which a side of the floor ends, px; None where too few agree."""
    begin, end, outwards = (np.array(part, dtype=np.float64) for part in side)
    shares = np.linspace(ENDS, 1 - ENDS, POINTS)[:, None]
    drawn = begin + shares * (end - begin)
    on_picture, outside = _placed(to_picture, drawn), _placed(to_picture, drawn + outwards * REACH_MM)
    normal = outside - on_picture
    reach = np.linalg.norm(normal, axis=1, keepdims=True)
    normal = normal / np.maximum(reach, 1e-9)
    length = float(reach.mean())
    steps = np.arange(-length, length + 0.25, 0.5)
    places = on_picture[:, None, :] + steps[None, :, None] * normal[:, None, :]
    high, wide = smooth.shape
    inside = ((places >= 1) & (places <= np.array([wide - 2, high - 2]))).all(axis=(1, 2))
    values = cv2.remap(smooth, places[..., 0].astype(np.float32), places[..., 1].astype(np.float32), cv2.INTER_LINEAR)
    steep = np.abs(np.gradient(values, axis=1))
    peak = steep.argmax(axis=1)
    is_peak = inside & (peak > 0) & (peak < steep.shape[1] - 1)
    at = np.full(len(peak), np.nan)
    for row in np.flatnonzero(is_peak):
        low, top, after = steep[row, peak[row] - 1 : peak[row] + 2]
        curve = low - 2 * top + after
        at[row] = steps[peak[row]] + (0.25 * (low - after) / curve if curve < 0 else 0.0)
    kept = _on_a_curve(shares[:, 0], at)
    return None if int(kept.sum()) < LEAST_INLIERS else on_picture[kept] + at[kept, None] * normal[kept]


def _on_a_curve(along: Grey, at: Grey) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    """Which places lie on one gentle curve: a bent side is a parabola, dust and marks are beside it."""
    inliers = np.isfinite(at)
    for _ in range(6):
        if int(inliers.sum()) < LEAST_INLIERS:
            break
        curve = np.polynomial.Polynomial.fit(along[inliers], at[inliers], 2)
        off = np.abs(at - curve(along))
        spread = float(np.nanmedian(off[inliers]))
        inliers = np.isfinite(at) & (off <= max(3 * spread, 0.35))
    return inliers


def _from_straight(points: Matrix, middle: Matrix, half_diagonal: float) -> tuple[Matrix, Matrix]:
    """Of points along one side: what a bend of 1 would move each by, across the side, and how far each is from straight."""
    centre = points.mean(axis=0)
    _, _, axes = np.linalg.svd(points - centre, full_matrices=False)
    along, across = axes
    off = points - middle
    moved = (off * (off * off).sum(axis=1, keepdims=True) / half_diagonal**2) @ across
    place = (points - centre) @ along
    line = np.column_stack([np.ones_like(place), place])
    pair = np.column_stack([moved, (points - centre) @ across])
    rest = pair - line @ np.linalg.lstsq(line, pair, rcond=None)[0]
    return rest[:, 0], rest[:, 1]
