"""Embossed code and exposure, in block letters of three by five squares, so that nobody writes on samples with a pen."""

from __future__ import annotations

from dataclasses import replace

from ..core.reading.picture.hole_code import encoded, number_of
from . import hole_code
from .description import HOLES, Coupon, Raster, Shape, prism, volume_ml

# Five rows of three bits each, top to bottom.
_LETTERS: dict[str, tuple[int, int, int, int, int]] = {
    "0": (7, 5, 5, 5, 7),
    "1": (2, 6, 2, 2, 7),
    "2": (7, 1, 7, 4, 7),
    "3": (7, 1, 7, 1, 7),
    "4": (5, 5, 7, 1, 1),
    "5": (7, 4, 7, 1, 7),
    "6": (7, 4, 7, 5, 7),
    "7": (7, 1, 2, 2, 2),
    "8": (7, 5, 7, 5, 7),
    "9": (7, 5, 7, 1, 7),
    "A": (2, 5, 7, 5, 5),
    "B": (6, 5, 6, 5, 6),
    "C": (7, 4, 4, 4, 7),
    "D": (6, 5, 5, 5, 6),
    "E": (7, 4, 6, 4, 7),
    "F": (7, 4, 6, 4, 4),
    "G": (7, 4, 5, 5, 7),
    "H": (5, 5, 7, 5, 5),
    "I": (7, 2, 2, 2, 7),
    "J": (1, 1, 1, 5, 7),
    "K": (5, 5, 6, 5, 5),
    "L": (4, 4, 4, 4, 7),
    "M": (5, 7, 7, 5, 5),
    "N": (6, 5, 5, 5, 5),
    "O": (7, 5, 5, 5, 7),
    "P": (7, 5, 7, 4, 4),
    "Q": (7, 5, 5, 7, 1),
    "R": (6, 5, 6, 5, 5),
    "S": (3, 4, 2, 1, 6),
    "T": (7, 2, 2, 2, 2),
    "U": (5, 5, 5, 5, 7),
    "V": (5, 5, 5, 5, 2),
    "W": (5, 5, 7, 7, 5),
    "X": (5, 5, 2, 5, 5),
    "Y": (5, 5, 2, 2, 2),
    "Z": (7, 1, 2, 4, 7),
    ".": (0, 0, 0, 0, 2),
    "-": (0, 0, 7, 0, 0),
    " ": (0, 0, 0, 0, 0),
}


def embossed(coupon: Coupon, code: str, exposure: str) -> Coupon:
    """The coupon with its text places filled; characters that do not fit their place are left away."""
    raster = Raster(coupon.parameters["pixel_mm"])
    shapes: list[Shape] = []
    for shape in coupon.shapes:
        if shape.role == "text" and shape.text == HOLES:
            shapes += _holes(shape, code, raster)
        elif shape.role == "text":
            shapes += _written(shape, code if shape.text == "code" else exposure, raster)
        else:
            shapes.append(shape)
    return replace(coupon, shapes=tuple(shapes), volume_ml=volume_ml(shapes))


def _written(place: Shape, text: str, raster: Raster) -> list[Shape]:
    (x, y), (right, bottom) = place.points[0], place.points[2]
    square = max(raster.on((bottom - y) / 5), raster.pixel_mm)
    left, top = raster.on(x), raster.on(y)
    shapes: list[Shape] = []
    for number, letter in enumerate(text.upper()):
        at = left + number * 4 * square
        if at + 3 * square > right + 1e-9:
            break
        for row, bits in enumerate(_LETTERS.get(letter, _LETTERS[" "])):
            for start, length in _runs(bits):
                # A pixel wider on both sides: squares that meet at a corner only would share an edge of four faces.
                wide = raster.pixel_mm if square > 3 * raster.pixel_mm else 0.0
                outline = raster.box(at + start * square - wide, top + row * square, length * square + 2 * wide, square)
                shapes.append(prism("mark", outline, place.low_mm, place.high_mm))
    return shapes


def _holes(place: Shape, code: str, raster: Raster) -> list[Shape]:
    """The code's number as holes through the floor; none where there is no code yet."""
    if not code:
        return []
    (x, y), (right, bottom) = place.points[0], place.points[2]
    outlines = hole_code.row(raster, x, (y + bottom) / 2, right - x, raster.on(bottom - y))
    bits = iter(encoded(number_of(code)))
    return [
        prism("hole", outline, place.low_mm, place.high_mm)
        for outline, fixed in zip(outlines, hole_code.FRAME, strict=True)
        if fixed is None and next(bits)
    ]


def _runs(bits: int) -> list[tuple[int, int]]:
    """(start, length) of the lit squares of a row of three."""
    lit = [bool(bits & mask) for mask in (4, 2, 1)]
    runs: list[tuple[int, int]] = []
    for i, on in enumerate(lit):
        if on and runs and runs[-1][0] + runs[-1][1] == i:
            runs[-1] = (runs[-1][0], runs[-1][1] + 1)
        elif on:
            runs.append((i, 1))
    return runs
