"""Edges of bars and notches to a fraction of a pixel, and from them sizes, scale and the picture's blur."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np

from .contract import Drawing, Grey, Mark, Matrix
from .straight import Straight

SEARCH_MM = 0.30
INNER_SHARE = 0.30
"""Lines are taken from the middle of an edge: its ends are round."""
LEAST_STEP = 0.035
"""Change of brightness at an edge, as a share of the brighter side, below which none is seen."""
CLEAR_BLURS, LEAST_SAMPLES = 2.6, 5
"""Of an edge's blur away, its sides are what they are without it."""
LEAST_MIDDLES = 3
MIDDLE_SD_MM = 0.02
"""How well one middle tells its place."""
TERM_SDS_MM = (0.4, 0.4, 0.2, 0.2, 0.1, 0.1, 0.1, 0.1)
"""How far a drawing that was fitted piece by piece may still be off: shift, scale, shear, perspective, across ``SPAN_MM``."""
WIDE_MM = 0.3
AXES: tuple[Literal["x"], Literal["y"]] = ("x", "y")
SPAN_MM = 50.0


@dataclass(frozen=True)
class Edge:
    """Where one edge lies."""

    at_mm: float
    """Distance outwards from where it is drawn."""
    step: float
    """Change of brightness, as a share of the brighter side."""
    sd_mm: float
    """Scatter of its place from line to line, divided by the root of how many there are."""
    blur_mm: float
    """Standard deviation of its slope."""


@dataclass(frozen=True)
class Measured:
    """A bar or a notch with both its edges."""

    mark: Mark
    low: Edge
    high: Edge

    @property
    def size_mm(self) -> float:
        """Distance between the edges."""
        return self.mark.size_mm + self.low.at_mm + self.high.at_mm

    @property
    def off_middle_mm(self) -> float:
        """How far its middle lies from where it is drawn, along its axis."""
        return (self.high.at_mm - self.low.at_mm) / 2

    @property
    def sd_mm(self) -> float:
        """Standard uncertainty of the size from the scatter of its edges alone."""
        return math.hypot(self.low.sd_mm, self.high.sd_mm)


def edge(
    view: Straight,
    at: tuple[float, float],
    along: tuple[float, float],
    axis: str,
    outwards: int,
    bright: int,
    *,
    by_levels: bool = False,
) -> Edge | None:
    """The edge near a place: the steepest change from bright to dark in the wanted direction.

    Parameters
    ----------
    at : (float, float)
        Where it is drawn, mm.
    along : (float, float)
        Part of the edge to look at, mm on the other axis.
    axis : str
        Direction across it.
    outwards : int
        +1 when outwards is along the axis.
    bright : int
        +1 when the inside is the raised, brighter side, -1 when the outside is.
    by_levels : bool
        Of a scan, whose sizes are told: where brightness is half-way between its two sides, which a slope of light on one side
        does not move as it moves the steepest place.
    """
    distances, lines = view.across(at, SEARCH_MM + 0.15, along, axis)
    if lines.shape[0] < 3:
        return None
    profile = lines.mean(axis=0)
    falls = -np.gradient(profile) * outwards * bright
    room = np.abs(distances) <= SEARCH_MM
    falls = np.where(room, falls, 0)
    peak = int(np.argmax(falls))
    peak_found = _peak_at(distances, falls, peak)
    if peak_found is None:
        return None
    place, blur = peak_found
    brighter = float(profile.max())
    step = float(falls[max(peak - 6, 0) : peak + 7].clip(0).sum()) / max(brighter, 1.0)
    if step < LEAST_STEP:
        return None
    places = []
    for group in np.array_split(lines, min(6, lines.shape[0])):
        falls_of_group = np.where(room, -np.gradient(group.mean(axis=0)) * outwards * bright, 0)
        near = np.where(np.abs(distances - place) < 0.12, falls_of_group, 0)
        place_of_group = _peak_at(distances, near, int(np.argmax(near)))
        if place_of_group is not None:
            places.append(place_of_group[0])
    sd = float(np.std(places, ddof=1)) / math.sqrt(len(places)) if len(places) > 2 else 0.02
    if by_levels:
        place = _half_way(distances, profile, place, blur)
    return Edge(outwards * place, step, sd, blur)


def _peak_at(distances: Grey, falls: Grey, peak: int) -> tuple[float, float] | None:
    """Centre and width of the steepest place, by the moments of what is above a third of it."""
    top = float(falls[peak])
    if top <= 0:
        return None
    low, high = peak, peak
    while low > 0 and falls[low - 1] > top / 3:
        low -= 1
    while high < len(falls) - 1 and falls[high + 1] > top / 3:
        high += 1
    weights = falls[low : high + 1] - top / 3
    at = distances[low : high + 1]
    centre = float((weights * at).sum() / weights.sum())
    spread = math.sqrt(max(float((weights * (at - centre) ** 2).sum() / weights.sum()), 1e-8))
    # Cut at a third of its height, a normal slope keeps 0.66 of its deviation.
    return centre, spread / 0.66


def _half_way(distances: Grey, profile: Grey, place: float, blur: float) -> float:
    """Where brightness crosses the middle between straight lines through both sides; the place itself where a side is too short."""
    sides = [distances < place - CLEAR_BLURS * blur, distances > place + CLEAR_BLURS * blur]
    if min(int(side.sum()) for side in sides) < LEAST_SAMPLES:
        return place
    lines = [np.polyfit(distances[side], profile[side], 1) for side in sides]
    over = profile - (np.polyval(lines[0], distances) + np.polyval(lines[1], distances)) / 2
    crossings = np.flatnonzero(np.sign(over[:-1]) != np.sign(over[1:]))
    if not len(crossings):
        return place
    at = distances[crossings] + (distances[crossings + 1] - distances[crossings]) * over[crossings] / (
        over[crossings] - over[crossings + 1]
    )
    nearest = float(at[np.argmin(np.abs(at - place))])
    return nearest if abs(nearest - place) < blur else place


def measured(view: Straight, mark: Mark, *, by_levels: bool = False) -> Measured | None:
    """A bar (outer) or a notch (inner) by both its edges; None where one cannot be seen."""
    place, axis = mark.place, mark.axis or "x"
    bright = 1 if mark.kind == "outer" else -1
    low_along, high_along = (place.top, place.bottom) if axis == "x" else (place.left, place.right)
    inner = (high_along - low_along) * INNER_SHARE
    along = (low_along + inner, high_along - inner)
    middle = place.middle
    if axis == "x":
        ends = ((place.left, middle[1]), (place.right, middle[1]))
    else:
        ends = ((middle[0], place.top), (middle[0], place.bottom))
    low = edge(view, ends[0], along, axis, -1, bright, by_levels=by_levels)
    high = edge(view, ends[1], along, axis, 1, bright, by_levels=by_levels)
    return None if low is None or high is None else Measured(mark, low, high)


@dataclass(frozen=True)
class Middle:
    """How far the middle of something lies from where it is drawn, along one axis, mm; and how blurred its edges are."""

    axis: str
    at: tuple[float, float]
    off_mm: float
    blur_mm: float


def middles(view: Straight, drawing: Drawing) -> list[Middle]:
    """Middles of landmarks along both axes, and across walls and slots that are there and wide enough."""
    targets = [
        Mark(
            "",
            "outer" if raised else "inner",
            frame.right - frame.left if axis == "x" else frame.bottom - frame.top,
            frame,
            axis,
        )
        for frame, raised in drawing.landmarks
        for axis in AXES
    ]
    targets += [
        Mark("", "outer" if mark.kind == "wall" else "inner", mark.size_mm, mark.place, "x")
        for mark in drawing.of("wall", "slot")
        if mark.size_mm >= WIDE_MM
    ]
    measurements = [measurement for mark in targets if (measurement := measured(view, mark)) is not None]
    return [
        Middle(
            measurement.mark.axis or "x",
            measurement.mark.place.middle,
            measurement.off_middle_mm,
            (measurement.low.blur_mm + measurement.high.blur_mm) / 2,
        )
        for measurement in measurements
    ]


def by_middles(middles_found: list[Middle], homography: Matrix, *, flat: bool) -> Matrix:
    """The homography refined so that middles come to lie where they are drawn, by least squares.

    Of a scan shift, scale and turn are fitted; of a photo shear and perspective too. Again without the poorest fifth.
    """
    if min(sum(middle.axis == axis for middle in middles_found) for axis in AXES) < LEAST_MIDDLES:
        return homography
    rows = []
    for middle in middles_found:
        u, v = middle.at[0] / SPAN_MM, middle.at[1] / SPAN_MM
        if flat:
            rows.append([1, 0, u, -v] if middle.axis == "x" else [0, 1, v, u])
        else:
            rows.append([1, 0, u, 0, v, 0, u * u, u * v] if middle.axis == "x" else [0, 1, 0, v, 0, u, u * v, v * v])
    matrix, off = np.array(rows, dtype=np.float64), np.array([middle.off_mm for middle in middles_found])
    # Few landmarks must not bend a drawing that lies well already: each term is drawn to nothing by what it may be.
    pull = np.diag([MIDDLE_SD_MM / sd for sd in TERM_SDS_MM[: matrix.shape[1]]])
    inliers = np.ones(len(off), dtype=bool)
    answer = np.zeros(matrix.shape[1])
    for _ in range(3):
        targets = np.concatenate([off[inliers], np.zeros(len(pull))])
        answer = np.linalg.lstsq(np.vstack([matrix[inliers], pull]), targets, rcond=None)[0]
        residuals = np.abs(off - matrix @ answer)
        inliers = residuals <= max(float(np.quantile(residuals, 0.8)), 0.008)
    if flat:
        a, d, b, e = answer
        c, f, g, h = -e, b, 0.0, 0.0
    else:
        a, d, b, f, c, e, g, h = answer
    s = SPAN_MM
    # To first order: x' = x + a + bu + cv + x (gu + hv).
    return np.asarray(
        homography @ np.array([[1 + b / s, c / s, a], [e / s, 1 + f / s, d], [-g / s**2, -h / s**2, 1.0]])
    )


def upright(drawing: Drawing, homography: Matrix) -> Matrix:
    """The nearest to a homography that only shifts, scales and turns, as a scanner does."""
    width, height = drawing.width_mm, drawing.height_mm
    corners = np.array([[(0.0, 0.0), (width, 0.0), (width, height), (0.0, height)]])
    seen = cv2.perspectiveTransform(corners, homography)[0]
    rows = [row for x, y in corners[0] for row in ([1, 0, x, -y], [0, 1, y, x])]
    a, d, s, r = np.linalg.lstsq(np.array(rows), seen.ravel(), rcond=None)[0]
    return np.array([[s, -r, a], [r, s, d], [0, 0, 1]])


def scale_of(drawing: Drawing, homography: Matrix) -> tuple[float, float]:
    """Pixels per millimetre along the drawing's X and Y, at its middle."""
    x, y = drawing.width_mm / 2, drawing.height_mm / 2
    points = np.array([[(x - 5, y), (x + 5, y), (x, y - 5), (x, y + 5)]], dtype=np.float64)
    a, b, c, d = cv2.perspectiveTransform(points, homography)[0]
    return float(np.linalg.norm(b - a)) / 10, float(np.linalg.norm(d - c)) / 10


def tilt_of(drawing: Drawing, homography: Matrix) -> float:
    """How far the camera looked aslant, degrees, from how much the drawing is foreshortened and converges.

    Parallel sides that converge say it best: a camera about 260 mm away makes a side of 30 mm a tenth shorter at 45°.
    """
    width, height = drawing.width_mm, drawing.height_mm
    corners = np.array([[(0.0, 0.0), (width, 0.0), (width, height), (0.0, height)]])
    a, b, c, d = cv2.perspectiveTransform(corners, homography)[0]
    x, y = scale_of(drawing, homography)
    squeezed = math.degrees(math.acos(min(x, y) / max(x, y)))
    top, bottom, residuals, right = (float(np.linalg.norm(p)) for p in (b - a, c - d, d - a, c - b))
    converging = max(abs(math.log(top / bottom)) / height, abs(math.log(residuals / right)) / width)
    return max(squeezed, math.degrees(math.asin(min(converging * 200, 1.0))))
