"""A4 pages, fonts and QR codes for everything that is printed."""

from __future__ import annotations

import io
from functools import cache
from importlib.resources import files
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from reportlab.pdfgen.canvas import Canvas

A4_MM = (210.0, 297.0)
MM = 72 / 25.4
INK = (0.11, 0.137, 0.2)
QUIET = (0.334, 0.376, 0.455)
FONTS = {"text": "text-regular", "bold": "text-bold", "mono": "mono-regular", "mono-bold": "mono-bold"}
QUIET_ZONE = 2


@cache
def fonts() -> None:
    """Register the shipped fonts, once."""
    from reportlab.pdfbase.pdfmetrics import registerFont
    from reportlab.pdfbase.ttfonts import TTFont

    for name, file in FONTS.items():
        with (files("setback.report") / "fonts" / f"{file}.ttf").open("rb") as font_file:
            registerFont(TTFont(name, io.BytesIO(font_file.read())))


def page(target: io.BytesIO, title: str) -> Canvas:
    """An A4 canvas with our fonts; the same content gives the same bytes."""
    from reportlab.pdfgen.canvas import Canvas

    fonts()
    canvas = Canvas(target, pagesize=(A4_MM[0] * MM, A4_MM[1] * MM), invariant=1)
    canvas.setTitle(title)
    canvas.setCreator("Setback")
    return canvas


def words(
    canvas: Canvas,
    x_mm: float,
    y_mm: float,
    text: str,
    size_pt: float,
    font: str = "text",
    width_mm: float | None = None,
) -> None:
    """One line of text, its foot at a place from the page's lower left; made smaller rather than cut."""
    from reportlab.pdfbase.pdfmetrics import stringWidth

    if width_mm is not None:
        long = stringWidth(text, font, size_pt)
        size_pt = min(size_pt, max(size_pt * width_mm * MM / long, 4.0)) if long else size_pt
        while long and stringWidth(text, font, size_pt) > width_mm * MM and len(text) > 4:
            text = text[:-2].rstrip() + "…"
    canvas.setFont(font, size_pt)
    canvas.drawString(x_mm * MM, y_mm * MM, text)


def qr(canvas: Canvas, x_mm: float, y_mm: float, side_mm: float, content: str) -> None:
    """A QR code with its lower left corner at a place; the quiet zone lies inside ``side_mm``."""
    import segno

    rows = [list(row) for row in segno.make(content, error="m", micro=False).matrix_iter(border=QUIET_ZONE)]
    square = side_mm * MM / len(rows)
    canvas.setFillColorRGB(0, 0, 0)
    path = canvas.beginPath()
    for down, row in enumerate(rows):
        for across, dark in enumerate(row):
            if dark:
                path.rect(x_mm * MM + across * square, y_mm * MM + side_mm * MM - (down + 1) * square, square, square)
    canvas.drawPath(path, stroke=0, fill=1)
    canvas.setFillColorRGB(*INK)


def code_drawing(content: str) -> bytes:
    """A QR code as SVG, to be scanned off a screen: black on white in every light."""
    import segno

    drawing = io.BytesIO()
    segno.make(content, error="m", micro=False).save(
        drawing, kind="svg", scale=6, border=4, dark="#000", light="#fff", xmldecl=False
    )
    return drawing.getvalue()
