"""The code's row of holes in a picture."""

from __future__ import annotations

import numpy as np

from .contract import Drawing, Frame
from .straight import Straight

LEAST_APART = 0.05
"""How much an open and a closed place must differ, as a share of the brightness about them."""
QUIET = 0.15
"""Of the places at least this share is closed: they say how much closed ones differ by chance."""
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
    # The frame: open, closed, the code, open. What is under a hole may be brighter or darker than the floor; a closed place is as
    # the closed one of the frame, so that how far a place is from that tells, whichever way.
    away = [float(np.linalg.norm(look - looks[1])) for look in looks]
    least = min(away[0], away[-1])
    noise = float(np.quantile(away[2:-1], QUIET))
    if least < max(LEAST_APART, 5 * noise):
        return (None,) * (len(looks) - 3)
    closed, opened = max(4 * noise, 0.15 * least), max(6 * noise, 0.35 * least)
    return tuple(True if far >= opened else False if far <= closed else None for far in away[2:-1])


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
