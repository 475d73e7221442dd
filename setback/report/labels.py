"""A4 sheets of labels for coupons, specimens and their bags."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from .paper import A4_MM, INK, QUIET, page, qr, words

if TYPE_CHECKING:
    from reportlab.pdfgen.canvas import Canvas

PAD_MM = 2.0


@dataclass(frozen=True)
class Label:
    """``code`` large, ``strong`` beside it (an exposure), then lines; ``link`` goes into the QR code."""

    code: str
    strong: str
    lines: tuple[str, ...]
    link: str


@dataclass(frozen=True)
class Sheet:
    """Labels on an A4 sheet, evenly spread over what its margins leave."""

    name: str
    columns: int
    rows: int
    top_mm: float
    side_mm: float

    @property
    def count(self) -> int:
        return self.columns * self.rows

    @property
    def width_mm(self) -> float:
        return (A4_MM[0] - 2 * self.side_mm) / self.columns

    @property
    def height_mm(self) -> float:
        return (A4_MM[1] - 2 * self.top_mm) / self.rows


SHEETS = {
    "24": Sheet("24 labels, 70 × 37 mm: bags", 3, 8, 0.5, 0.0),
    "40": Sheet("40 labels, 52 × 30 mm", 4, 10, 0.0, 0.0),
    "65": Sheet("65 labels, 38 × 21 mm: specimens", 5, 13, 10.7, 9.75),
}


def labels(texts: Sequence[Label], sheet: Sheet, skip: int = 0, outlines: bool = False) -> bytes:
    """A PDF of labels, filled row by row.

    Parameters
    ----------
    skip : int
        Labels already taken off the first sheet.
    outlines : bool
        Draw a hairline around each label, for plain paper and scissors.
    """
    out = io.BytesIO()
    canvas = page(out, "Labels")
    for number, label in enumerate(texts, skip):
        if number > skip and number % sheet.count == 0:
            canvas.showPage()
        row, column = divmod(number % sheet.count, sheet.columns)
        x = sheet.side_mm + column * sheet.width_mm
        y = A4_MM[1] - sheet.top_mm - (row + 1) * sheet.height_mm
        _draw(canvas, label, x, y, sheet, outlines)
    canvas.save()
    return out.getvalue()


def _draw(canvas: Canvas, label: Label, x: float, y: float, sheet: Sheet, outlines: bool) -> None:
    width, height = sheet.width_mm, sheet.height_mm
    if outlines:
        from .paper import MM

        canvas.setStrokeColorRGB(0.75, 0.75, 0.75)
        canvas.setLineWidth(0.3)
        canvas.rect(x * MM, y * MM, width * MM, height * MM, stroke=1, fill=0)
    side = min(height - 2 * PAD_MM, 0.36 * width)
    qr(canvas, x + width - PAD_MM - side, y + (height - side) / 2, side, label.link)
    left, room = x + PAD_MM + 0.5, width - side - 3 * PAD_MM
    big = 0.24 * height
    canvas.setFillColorRGB(*INK)
    top = y + height - PAD_MM - big
    words(canvas, left, top, label.code, big * 2.8, "mono-bold", room)
    step = (top - y - PAD_MM) / (len(label.lines) + 1.3)
    words(canvas, left, top - step, label.strong, min(step * 2.3, 13), "bold", room)
    canvas.setFillColorRGB(*QUIET)
    for i, line in enumerate(label.lines, 2):
        words(canvas, left, top - i * step + 0.1 * step, line, min(step * 2.0, 9), "text", room)
