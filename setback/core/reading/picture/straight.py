"""A coupon laid straight at the picture's own scale, and lines across it."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from .contract import Drawing, Frame, Grey, Matrix
from .lay import straightened
from .opened import Opened

MARGIN_MM = 1.5
FINEST_PX = 48.0


@dataclass(frozen=True)
class Straight:
    """Grey values of one coupon, upright, ``px_per_mm`` pixels to a millimetre, with a margin round it."""

    grey: Grey
    drowned: Grey
    """255 where the picture is drowned in light."""
    px_per_mm: float

    def box(self, frame: Frame) -> Grey:
        """The pixels within a rectangle of the drawing."""
        return self.grey[self._rows(frame), self._columns(frame)]

    def drowned_share(self, frame: Frame) -> float:
        """How much of a rectangle is drowned in light."""
        part = self.drowned[self._rows(frame), self._columns(frame)]
        return float(part.mean()) / 255 if part.size else 1.0

    def _rows(self, frame: Frame) -> slice:
        return self._pixels(frame.top, frame.bottom, self.grey.shape[0])

    def _columns(self, frame: Frame) -> slice:
        return self._pixels(frame.left, frame.right, self.grey.shape[1])

    def _pixels(self, low: float, high: float, count: int) -> slice:
        first = round((low + MARGIN_MM) * self.px_per_mm)
        last = max(round((high + MARGIN_MM) * self.px_per_mm), first + 1)
        return slice(max(first, 0), min(last, count))

    def across(self, at: tuple[float, float], reach: float, along: tuple[float, float], axis: str) -> tuple[Grey, Grey]:
        """Brightness along lines across something: distances from ``at``, mm, and one row for each line.

        Parameters
        ----------
        at : (float, float)
            Middle of the lines, mm on the drawing.
        reach : float
            Half their length, mm.
        along : (float, float)
            Where the lines lie along the other axis, from and to, mm.
        axis : str
            ``x`` for lines along X.
        """
        step = 0.5 / self.px_per_mm
        distances = np.arange(-reach, reach + step / 2, step, dtype=np.float32)
        lines = np.arange(along[0], along[1] + 1e-9, 1 / self.px_per_mm, dtype=np.float32)
        ds, ls = np.meshgrid(distances, lines)
        xs, ys = (at[0] + ds, ls) if axis == "x" else (ls, at[1] + ds)
        columns, rows = (((mm + MARGIN_MM) * self.px_per_mm - 0.5).astype(np.float32) for mm in (xs, ys))
        brightness = cv2.remap(self.grey, columns, rows, cv2.INTER_LINEAR)
        return distances, brightness


def straight(picture: Opened, to_picture: Matrix, drawing: Drawing, px_per_mm: float) -> Straight:
    """Lay a coupon straight."""
    scale = min(px_per_mm, FINEST_PX)
    grey = straightened(picture.grey, to_picture, drawing, scale, MARGIN_MM)
    drowned = straightened(picture.drowned, to_picture, drawing, scale, MARGIN_MM)
    return Straight(grey, drowned, scale)
