"""Where coupons lie in a picture: places dense with edges, as four corners each. Which coupon it is comes later."""

from __future__ import annotations

import math
from typing import Any

import numpy as np

from .contract import Grey, Matrix
from .opened import SEARCH_PX, Opened

Area = np.ndarray[Any, np.dtype[Any]]
CLOSE_PX = (7, 15, 29, 57)
"""Edges nearer than this belong together; a tray shows coupons small, a single picture large."""
LEAST_SHARE = 0.008
"""Of the picture that a coupon takes."""
EVEN = 1.6
"""Of an even ground, how far from its plane it may be, in units of lightness and colour."""
RIM_SHARE = 0.025
"""Of the picture's length: where the ground is seen."""


def candidates(picture: Opened) -> list[Matrix]:
    """Quadrilaterals that may be coupons, (4, 2) pixels clockwise, largest first.

    Two ways find areas: edges stronger than the picture's own grain, joined; and what differs in colour from the ground along the
    picture's rim. The smallest rectangle round each area and the quadrilateral that its hull comes nearest to are both candidates.
    """
    import cv2

    colours = picture.small
    shrink = colours.shape[1] / picture.size[0]
    quads: list[Matrix] = []
    for area in [*_by_edges(colours.mean(axis=2)), *_by_colour(colours)]:
        contours, _ = cv2.findContours(area, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_SIMPLE)
        hulls = [
            hull for contour in contours if cv2.contourArea(hull := cv2.convexHull(contour)) >= LEAST_SHARE * area.size
        ]
        if len(hulls) > 1:  # One coupon alone may fall into parts.
            hulls.append(cv2.convexHull(np.concatenate(hulls)))
        quads += [quad / shrink for hull in hulls for quad in _quads(hull)]
    quads.sort(key=lambda quad: -_area(quad))
    distinct: list[Matrix] = []
    for quad in quads:
        if not any(_alike(quad, other) for other in distinct):
            distinct.append(quad)
    return distinct


def _by_edges(small: Grey) -> list[Area]:
    """Areas dense with edges."""
    import cv2

    smooth = cv2.GaussianBlur(small, (0, 0), 1.2)
    level = cv2.GaussianBlur(small, (0, 0), SEARCH_PX / 25) + 12
    steep = cv2.magnitude(cv2.Sobel(smooth, -1, 1, 0), cv2.Sobel(smooth, -1, 0, 1)) / level
    areas = []
    for share in (0.88, 0.94):
        edges = (steep > max(float(np.quantile(steep, share)), 0.06)).astype(np.uint8)
        for close in CLOSE_PX:
            kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (close, close))
            areas.append(_opened(cv2.morphologyEx(edges, cv2.MORPH_CLOSE, kernel)))
    return areas


def _by_colour(small: Grey) -> list[Area]:
    """Areas whose colour is not that of the ground; the ground's, which light makes uneven, is a plane through the picture's rim."""
    import cv2

    lab = cv2.cvtColor(cv2.GaussianBlur(small, (0, 0), 2.0) / 255, cv2.COLOR_RGB2LAB)
    rows, columns = lab.shape[:2]
    ys, xs = np.mgrid[0:rows, 0:columns].astype(np.float32)
    rim = np.minimum(np.minimum(xs, columns - 1 - xs), np.minimum(ys, rows - 1 - ys)) < RIM_SHARE * max(rows, columns)
    basis = np.stack([np.ones_like(xs), xs / columns - 0.5, ys / rows - 0.5], axis=-1)
    apart = np.zeros((rows, columns, 3), dtype=np.float32)
    for channel in range(3):
        at, values = basis[rim][::7], lab[..., channel][rim][::7]
        on_ground = np.ones(len(values), dtype=bool)
        for _ in range(3):  # What lies on the rim besides the ground is left out.
            plane = np.linalg.lstsq(at[on_ground], values[on_ground], rcond=None)[0]
            off = np.abs(values - at @ plane)
            on_ground = off <= max(float(np.quantile(off, 0.8)), 0.5)
        apart[..., channel] = lab[..., channel] - basis @ plane.astype(np.float32)
    areas = []
    for weights in ((1.0, 1.0, 1.0), (0.15, 1.0, 1.0)):
        distance = np.sqrt((apart * np.array(weights, dtype=np.float32)) ** 2).sum(axis=2)
        scaled = np.clip(distance / max(float(np.quantile(distance, 0.99)), 1.0) * 255, 0, 255).astype(np.uint8)
        middle, _ = cv2.threshold(scaled, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
        for share in (0.6, 1.0):
            areas.append(_opened((scaled > middle * share).astype(np.uint8)))
        # On a scanner's lid the faintest floor is not ground; a mottled bench would hide it.
        ground = float(np.quantile(distance[rim], 0.9))
        if weights[0] == 1.0 and ground < EVEN:
            areas.append(_opened((distance > 2.2 * max(ground, EVEN / 3)).astype(np.uint8)))
    return areas


def _opened(area: Area) -> Area:
    """Without threads and specks, which hang on to what lies beside."""
    import cv2

    closed = cv2.morphologyEx(area, cv2.MORPH_CLOSE, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (5, 5)))
    return cv2.morphologyEx(closed, cv2.MORPH_OPEN, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (9, 9))).astype(
        np.uint8
    )


def _quads(hull: Any) -> list[Matrix]:
    """The rectangle round a hull, and the quadrilateral it comes down to when small corners are cut off."""
    import cv2

    quads = [_clockwise(cv2.boxPoints(cv2.minAreaRect(hull)).astype(np.float64))]
    for tolerance in (0.01, 0.02, 0.03, 0.05):
        rough = cv2.approxPolyDP(hull, tolerance * cv2.arcLength(hull, True), True)
        if len(rough) == 4:
            quads.append(_clockwise(rough.reshape(4, 2).astype(np.float64)))
            break
    return quads


def _clockwise(corners: Matrix) -> Matrix:
    """Corners in order, clockwise as seen, beginning with the one nearest to the upper left."""
    middle = corners.mean(axis=0)
    turn = np.arctan2(corners[:, 1] - middle[1], corners[:, 0] - middle[0])
    ordered = corners[np.argsort(turn)]
    first = int(np.argmin(ordered.sum(axis=1)))
    return np.roll(ordered, -first, axis=0)


def _area(quad: Matrix) -> float:
    x, y = quad[:, 0], quad[:, 1]
    return abs(float(x @ np.roll(y, -1) - y @ np.roll(x, -1))) / 2


def _alike(quad: Matrix, other: Matrix) -> bool:
    """Whether two quadrilaterals are nearly the same."""
    side = math.sqrt(_area(other))
    return float(np.abs(quad - other).max()) < 0.03 * side


def shares_place(quad: Matrix, other: Matrix) -> bool:
    """Whether the middle of one quadrilateral lies within the other."""
    import cv2

    middle = quad.mean(axis=0)
    return cv2.pointPolygonTest(other.astype(np.float32), (float(middle[0]), float(middle[1])), False) >= 0
