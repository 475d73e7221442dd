"""A coupon's code as a row of through-holes, which a picture shows whatever colour the resin and however hard it was exposed.

Sixteen places for the code, and three more at the row's ends, of which two are always open and one is closed: they show a picture what
open and closed look like in its light.
"""

from __future__ import annotations

from ..core.reading.picture.hole_code import PLACES
from .description import Outline, Raster

LEAST_MM = 0.8
"""Narrower holes close with too much light."""
WIDER_MM = 0.15
"""How much wider than the widest slot a hole is."""
FRAME = (True, False, *(None for _ in range(PLACES)), True)
"""The whole row: an open hole, a closed place, the sixteen of the code, an open hole."""


def hole_mm(raster: Raster, widest_slot_mm: float) -> float:
    """Side of a hole: never under ``LEAST_MM`` and always wider than the widest slot."""
    return raster.on(max(LEAST_MM, widest_slot_mm + WIDER_MM))


def row(raster: Raster, x_mm: float, y_mm: float, length_mm: float, side_mm: float) -> list[Outline]:
    """Outlines of all places of the row, from its left end; ``y_mm`` is its middle line."""
    pitch = (length_mm - side_mm) / (len(FRAME) - 1)
    return [raster.box(x_mm + i * pitch, y_mm - side_mm / 2, side_mm, side_mm) for i in range(len(FRAME))]
