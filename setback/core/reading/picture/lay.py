"""Laying a drawing over a picture: which way round the coupon lies, and a homography that brings every top edge to its place.

What stands at the coupon's full height is matched, not its floor: seen aslant, floor and tops lie apart. Scale comes from distances
between middles, which exposure does not move; how wide a thing is does not enter.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from .contract import Drawing, Grey, Matrix

COARSE_PX = 6.0
"""Pixels per millimetre at which the way round is tried."""
LEAST_MATCH, HALF_MATCH, PLAIN_MATCH = 0.15, 0.25, 0.40
"""Of the drawing's edges with the picture's. Below the first something else is in the picture; below the second, as where much was
washed away, pieces of the drawing must agree on their place; above the third nothing better is looked for."""
SLACK = 0.01
LEAST_STRENGTH = 0.35
"""Of a piece's edges in the picture, relative to the drawing's."""
LEAST_PIECES, PERSPECTIVE_PIECES = 8, 26
ROUND_MM = 1.6
"""Ground about a coupon that is looked at with it."""
RIM_MM = 2.4
"""How far from where a side is guessed the floor's rim is looked for."""
BLOCK_MM = 5.0
"""Side of the pieces that are matched one by one."""
TURNS = (0, 1, 2, 3)
FITS = ((COARSE_PX, 1.6, 1.8), (COARSE_PX, 1.6, 1.2), (COARSE_PX, 1.6, 0.8), (12.0, 1.6, 0.5), (16.0, 1.6, 0.25))
"""Pixels per millimetre, blur in pixels and how far pieces are looked for, mm, one after the other."""


@dataclass(frozen=True)
class Lay:
    """How a drawing lies in a picture."""

    to_picture: Matrix
    """From millimetres of the drawing, at the height of the tops, to pixels."""
    match: float
    mirrored: bool
    agreeing: int = 0
    """Pieces of the drawing that agree on their place."""


@dataclass(frozen=True)
class Piece:
    """A part of a drawing's edges that has its place in both directions."""

    left: int
    top: int
    edges: Grey
    strength: float
    """Standard deviation of its edges."""


class Pattern:
    """A drawing with the edges it would show, drawn once for each scale."""

    def __init__(self, drawing: Drawing) -> None:
        self.drawing = drawing
        self._edges: dict[tuple[float, float], Grey] = {}
        self._pieces: dict[tuple[float, float], list[Piece]] = {}

    def edges(self, px_per_mm: float, blur_px: float) -> Grey:
        """The edges a picture of a well made coupon would show at that scale."""
        key = (px_per_mm, blur_px)
        if key not in self._edges:
            import cv2

            size = (math.ceil(self.drawing.width_mm * px_per_mm), math.ceil(self.drawing.height_mm * px_per_mm))
            raised = cv2.resize(self.drawing.raised, size, interpolation=cv2.INTER_AREA)
            self._edges[key] = edges(40 + 160 * raised, blur_px)
        return self._edges[key]

    def outlined(self, px_per_mm: float, blur_px: float) -> Grey:
        """The same with the rim of the floor, which is there however much was washed away, and ``ROUND_MM`` of ground about it."""
        key = (-px_per_mm, blur_px)
        if key not in self._edges:
            import cv2

            size = (math.ceil(self.drawing.width_mm * px_per_mm), math.ceil(self.drawing.height_mm * px_per_mm))
            raised = cv2.resize(self.drawing.raised, size, interpolation=cv2.INTER_AREA)
            self._edges[key] = edges(
                np.pad(90 + 110 * raised, round(ROUND_MM * px_per_mm), constant_values=150), blur_px
            )
        return self._edges[key]

    def pieces(self, px_per_mm: float, blur_px: float) -> list[Piece]:
        """What is matched one by one, at that scale."""
        key = (px_per_mm, blur_px)
        if key not in self._pieces:
            model, block = self.edges(px_per_mm, blur_px), round(BLOCK_MM * px_per_mm)
            self._pieces[key] = [
                Piece(left, top, piece, float(piece.std()))
                for top in range(0, max(model.shape[0] - block // 2, 1), block // 2)
                for left in range(0, max(model.shape[1] - block // 2, 1), block // 2)
                if _has_place(piece := np.ascontiguousarray(model[top : top + block, left : left + block]))
            ]
        return self._pieces[key]


def _has_place(piece: Grey) -> bool:
    """Whether it has edges in both directions: without, it could lie anywhere along the one it has."""
    steep = min(float(np.abs(np.diff(piece, axis=0)).mean()), float(np.abs(np.diff(piece, axis=1)).mean()))
    return float(piece.std()) >= 0.08 and steep >= 0.01


def edges(grey: Grey, blur_px: float) -> Grey:
    """How steep brightness is at each pixel, in shares of the brightness about it; large steps count no more than middling ones."""
    import cv2

    smooth = cv2.GaussianBlur(grey, (0, 0), blur_px)
    level = cv2.blur(grey, (2 * round(14 * blur_px) + 1,) * 2) + 8
    steep: Grey = (
        cv2.magnitude(cv2.Sobel(smooth, -1, 1, 0, scale=0.125), cv2.Sobel(smooth, -1, 0, 1, scale=0.125)) / level
    )
    # Every third row says as well what is steep in this picture.
    return np.minimum(steep / (float(np.quantile(steep[::3], 0.97)) + 1e-6), 1.0).astype(np.float32)


def straightened(grey: Grey, to_picture: Matrix, drawing: Drawing, px_per_mm: float, margin_mm: float = 0.0) -> Grey:
    """The coupon as its drawing lies, at ``px_per_mm``."""
    import cv2

    size = (
        math.ceil((drawing.width_mm + 2 * margin_mm) * px_per_mm),
        math.ceil((drawing.height_mm + 2 * margin_mm) * px_per_mm),
    )
    to_mm = np.array(
        [[1 / px_per_mm, 0, 0.5 / px_per_mm - margin_mm], [0, 1 / px_per_mm, 0.5 / px_per_mm - margin_mm], [0, 0, 1]]
    )
    homography = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    return cv2.warpPerspective(grey, to_picture @ to_mm, size, flags=homography, borderMode=cv2.BORDER_REPLICATE)


@dataclass(frozen=True)
class Guess:
    """A drawing laid over a quadrilateral, one way round, before it is fitted."""

    pattern: Pattern
    to_picture: Matrix
    mirrored: bool
    score: float


def best_guesses(grey: Grey, corners: Matrix, pattern: Pattern) -> list[Guess]:
    """The way round in which a drawing fits a quadrilateral best, and the best of its mirror images."""
    drawing = pattern.drawing
    model = pattern.outlined(COARSE_PX, 1.6)
    sides = [float(np.linalg.norm(corners[i] - corners[(i + 1) % 4])) for i in range(4)]
    best = []
    for mirrored in (False, True):
        guesses = []
        for turn in TURNS:
            placed = np.roll(corners[::-1] if mirrored else corners, turn, axis=0)
            # The long side of the drawing lies along a long side of the quadrilateral.
            first = sides[0] + sides[2] if turn % 2 == 0 else sides[1] + sides[3]
            longer = 2 * first - sum(sides)
            is_square = abs(longer) < 1e-6 * sum(sides)
            if not is_square and (drawing.width_mm > drawing.height_mm) != (longer > 0):
                continue
            homography = _from_corners(drawing, placed)
            picture_edges = edges(straightened(grey, homography, drawing, COARSE_PX, ROUND_MM), 1.6)
            guesses.append(Guess(pattern, homography, mirrored, _nearby_match(picture_edges, model)))
        best.append(max(guesses, key=lambda guess: guess.score))
    return best


def snapped(grey: Grey, guess: Guess) -> Guess:
    """A guess with the sides of its quadrilateral moved to the floor's rim, where that fits better.

    The rim is there however much was washed away: along each side the steepest places nearby are joined by a straight line.
    """
    drawing, homography = guess.pattern.drawing, guess.to_picture
    picture_edges = edges(straightened(grey, homography, drawing, COARSE_PX, RIM_MM), 1.6)
    band = round(2 * RIM_MM * COARSE_PX)
    lines = []
    for side in (
        picture_edges,
        picture_edges[:, ::-1].T,
        picture_edges[::-1],
        picture_edges.T,
    ):  # Upper, right, lower, left: each as if it were the upper one.
        ends = round(0.12 * side.shape[1])
        across = np.arange(ends, side.shape[1] - ends)
        lines.append(_straight_line(across, side[:band, ends:-ends].argmax(axis=0)))
    high, wide = picture_edges.shape[0] - 1, picture_edges.shape[1] - 1
    (a, b), (c, d), (e, f), (g, h) = lines
    # y = a + bx above, x = wide - c - dy on the right, y = high - e - fx below, x = g + hy on the left.
    sides = ((b, a), (-f, high - e)), ((h, g), (-d, wide - c))
    corners = [_crossing(sides[0][row], sides[1][column]) for row, column in ((0, 0), (0, 1), (1, 1), (1, 0))]
    moved = homography @ np.array(
        [[1 / COARSE_PX, 0, 0.5 / COARSE_PX - RIM_MM], [0, 1 / COARSE_PX, 0.5 / COARSE_PX - RIM_MM], [0, 0, 1]]
    )
    import cv2

    on_picture = cv2.perspectiveTransform(np.array([corners], dtype=np.float64), moved)[0]
    better = _from_corners(drawing, on_picture)
    again = edges(straightened(grey, better, drawing, COARSE_PX, ROUND_MM), 1.6)
    score = _nearby_match(again, guess.pattern.outlined(COARSE_PX, 1.6))
    return Guess(guess.pattern, better, guess.mirrored, score) if score > guess.score else guess


def _straight_line(across: Grey, at: Grey) -> tuple[float, float]:
    """Offset and slope of the line most of the points lie on, in pixels."""
    inliers = np.ones(len(at), dtype=bool)
    slope, offset = 0.0, float(np.median(at))
    for _ in range(4):
        off = np.abs(at - offset - slope * across)
        inliers = off <= max(float(np.quantile(off, 0.6)), 1.0)
        slope, offset = (float(value) for value in np.polyfit(across[inliers], at[inliers], 1))
    return offset, slope


def _crossing(flat: tuple[float, float], steep: tuple[float, float]) -> tuple[float, float]:
    """Where y = bx + a meets x = dy + c; each is given as (slope, offset)."""
    (b, a), (d, c) = flat, steep
    y = (a + b * c) / (1 - b * d)
    return d * y + c, y


def fitted(grey: Grey, guess: Guess) -> Lay | None:
    """Bring a drawing exactly to its place; None when it does not fit after all.

    Never giving up a better match for a poorer one; where that fits only half, the other way too.
    """
    lay = _stepwise(grey, guess, guarded=True)
    if lay.match < PLAIN_MATCH:
        lay = max(lay, _stepwise(grey, guess, guarded=False), key=lambda candidate: candidate.match)
    return None if lay.match < LEAST_MATCH or (lay.match < HALF_MATCH and lay.agreeing < LEAST_PIECES) else lay


def _stepwise(grey: Grey, guess: Guess, *, guarded: bool) -> Lay:
    """From coarse to fine, each time by where the pieces of the drawing are found."""
    homography, agreeing, match = guess.to_picture, 0, _match_of(grey, guess.to_picture, guess.pattern)
    for px_per_mm, blur_px, reach_mm in FITS:
        moved, count = _moved(grey, homography, guess.pattern, px_per_mm, blur_px, reach_mm)
        now = _match_of(grey, moved, guess.pattern)
        # Where much was washed away the pieces that are left may bend the drawing to one side.
        if not guarded or now >= match - SLACK:
            homography, agreeing, match = moved, count, now
    return Lay(homography, match, guess.mirrored, agreeing)


def _match_of(grey: Grey, homography: Matrix, pattern: Pattern) -> float:
    """How well a drawing with its rim fits where it is laid."""
    picture_edges = edges(straightened(grey, homography, pattern.drawing, COARSE_PX, ROUND_MM), 1.6)
    model = pattern.outlined(COARSE_PX, 1.6)
    rows, columns = (min(pair) for pair in zip(picture_edges.shape, model.shape, strict=True))
    return _match(picture_edges[:rows, :columns], model[:rows, :columns])


def _from_corners(drawing: Drawing, corners: Matrix) -> Matrix:
    import cv2

    width, height = drawing.width_mm, drawing.height_mm
    return cv2.getPerspectiveTransform(
        np.array([(0, 0), (width, 0), (width, height), (0, height)], dtype=np.float32), corners.astype(np.float32)
    ).astype(np.float64)


def _match(picture_edges: Grey, model: Grey) -> float:
    """Correlation of two pictures of edges."""
    a, b = picture_edges - picture_edges.mean(), model - model.mean()
    return float((a * b).sum() / math.sqrt(float((a * a).sum()) * float((b * b).sum()) + 1e-9))


def _nearby_match(picture_edges: Grey, model: Grey) -> float:
    """The best correlation while the model is moved a little: corners are not exact yet."""
    import cv2

    room = round((ROUND_MM - 0.6) * COARSE_PX)
    inner = np.ascontiguousarray(model[room:-room, room:-room])
    return float(cv2.matchTemplate(picture_edges, inner, cv2.TM_CCOEFF_NORMED).max())


def _moved(
    grey: Grey, homography: Matrix, pattern: Pattern, px_per_mm: float, blur_px: float, reach_mm: float
) -> tuple[Matrix, int]:
    """The homography, and how many pieces agree on it, after each piece of the drawing was moved to where the picture's edges fit it best."""
    import cv2

    drawing = pattern.drawing
    picture_edges = edges(straightened(grey, homography, drawing, px_per_mm, reach_mm), blur_px)
    reach = round(reach_mm * px_per_mm)
    drawn, matched = [], []
    for piece in pattern.pieces(px_per_mm, blur_px):
        rows, columns = piece.edges.shape
        area = picture_edges[piece.top : piece.top + rows + 2 * reach, piece.left : piece.left + columns + 2 * reach]
        scores = cv2.matchTemplate(area, piece.edges, cv2.TM_CCOEFF_NORMED)
        _, peak, _, (x, y) = cv2.minMaxLoc(scores)
        window = area[y : y + rows, x : x + columns]
        # Correlation knows no strength: what was washed away would be found in the grain of bare ground.
        if peak < 0.35 or float(window.std()) < LEAST_STRENGTH * piece.strength:
            continue
        dx, dy = _between(scores, x, y)
        middle = np.array([piece.left + columns / 2, piece.top + rows / 2])
        drawn.append(middle / px_per_mm)
        matched.append((middle + np.array([x + dx - reach, y + dy - reach])) / px_per_mm)
    if len(drawn) < 6:
        return homography, 0
    near = max(0.25 * reach_mm, 0.06)
    moved, agreeing = cv2.findHomography(np.array(drawn), np.array(matched), cv2.RANSAC, near)
    if moved is None or int(agreeing.sum()) < PERSPECTIVE_PIECES:
        # Few pieces bend a perspective to anything; that of the corners is nearer.
        plane, agreeing = cv2.estimateAffine2D(
            np.array(drawn), np.array(matched), method=cv2.RANSAC, ransacReprojThreshold=1.5 * near
        )
        moved = None if plane is None else np.vstack([plane, [0, 0, 1]])
    if moved is None or not _moderate(moved, drawing, 1.5 * reach_mm):
        return homography, 0
    return homography @ moved, int(agreeing.sum())


def _between(scores: Grey, x: int, y: int) -> tuple[float, float]:
    """Where between pixels the peak lies, by a parabola through its neighbours."""

    def offset(low: float, middle: float, high: float) -> float:
        bend = low - 2 * middle + high
        return 0.0 if bend >= -1e-9 else max(-0.5, min(0.5, 0.5 * (low - high) / bend))

    dx = offset(*scores[y, x - 1 : x + 2]) if 0 < x < scores.shape[1] - 1 else 0.0
    dy = offset(*scores[y - 1 : y + 2, x]) if 0 < y < scores.shape[0] - 1 else 0.0
    return dx, dy


def _moderate(moved: Matrix, drawing: Drawing, most_mm: float) -> bool:
    """Whether no corner is moved by more than a few millimetres: else the pieces did not agree."""
    import cv2

    width, height = drawing.width_mm, drawing.height_mm
    corners = np.array([[(0.0, 0.0), (width, 0.0), (width, height), (0.0, height)]])
    apart = cv2.perspectiveTransform(corners, moved) - corners
    return bool(np.abs(apart).max() < most_mm + 1.0)
