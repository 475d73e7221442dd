"""The code's row of holes in a picture."""

from __future__ import annotations

import numpy as np

from .contract import Drawing, Frame
from .straight import Straight

LEAST_APART = 0.03
"""How much an open and a closed place must differ, as a share of the brightness about them."""
STEP_MM = 0.12
MOVES = [(STEP_MM * i, STEP_MM * j) for i in range(-4, 5) for j in range(-4, 5)]


def places(view: Straight, drawing: Drawing) -> tuple[bool | None, ...]:
    """Every place of the row that carries the code: open, closed, or not to be told.

    Each place is compared with its own surroundings, and that with the places of the frame, which are known. Holes lie in the floor, a
    little lower than what the drawing is laid by: seen aslant the whole row is moved, so the move that shows the frame best is taken.
    """
    if not drawing.holes:
        return ()
    dx, dy = max(MOVES, key=lambda move: _frame_shows(view, drawing, *move))
    looks = [_look(view, _moved(hole, dx, dy)) for hole in drawing.holes]
    # The frame: open, closed, the code, open.
    opened, closed = np.mean([looks[0], looks[-1]], axis=0), looks[1]
    apart = float(np.linalg.norm(opened - closed))
    if apart < LEAST_APART:
        return (None,) * (len(looks) - 3)
    # Where on the way from closed to open each place lies.
    shares = [float((look - closed) @ (opened - closed)) / apart**2 for look in looks[2:-1]]
    return tuple(True if share > 0.62 else False if share < 0.38 else None for share in shares)


def _moved(hole: Frame, dx: float, dy: float) -> Frame:
    return Frame(hole.left + dx, hole.top + dy, hole.right + dx, hole.bottom + dy)


def _frame_shows(view: Straight, drawing: Drawing, dx: float, dy: float) -> float:
    """How much the two open places of the frame differ from the closed one, when the row is moved."""
    first, closed, last = (_look(view, _moved(drawing.holes[i], dx, dy)) for i in (0, 1, -1))
    return min(float(np.linalg.norm(first - closed)), float(np.linalg.norm(last - closed)))


def _look(view: Straight, place: Frame) -> np.ndarray[tuple[int], np.dtype[np.float64]]:
    """How a place differs from what is round it: brightness of its middle, and of its four inner sides where light and shadow fall."""
    ring = np.concatenate(
        [
            view.box(Frame(place.left - 0.5, place.top, place.left - 0.25, place.bottom)).ravel(),
            view.box(Frame(place.right + 0.25, place.top, place.right + 0.5, place.bottom)).ravel(),
        ]
    )
    around = float(np.median(ring)) + 8
    third = (place.right - place.left) / 3
    inner = [
        Frame(place.left + third, place.top + third, place.right - third, place.bottom - third),
        Frame(place.left, place.top + third, place.left + third, place.bottom - third),
        Frame(place.right - third, place.top + third, place.right, place.bottom - third),
        Frame(place.left + third, place.top, place.right - third, place.top + third),
        Frame(place.left + third, place.bottom - third, place.right - third, place.bottom),
    ]
    return np.array([(float(view.box(part).mean()) - around) / around for part in inner])
