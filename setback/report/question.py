"""A question to another workshop on paper: the coupons as a ladder of exposures with their photos, settings, window and question."""

from __future__ import annotations

import base64
import io
from textwrap import wrap
from typing import TYPE_CHECKING

from .paper import A4_MM, INK, MM, QUIET, page, words

if TYPE_CHECKING:
    from reportlab.pdfgen.canvas import Canvas

    from ..core.earlier.opinion import Asked, AskedCoupon

LEFT, RIGHT = 18.0, A4_MM[0] - 18.0
COLUMNS, CELL_MM, PHOTO_MM, GAP_MM = 3, 56.0, 42.0, 3.0
FOOT_MM, LINE_MM = 22.0, 5.6


def question_pages(question: Asked, day: str) -> bytes:
    """A PDF of a question; the coupons go on to as many pages as they take."""
    out = io.BytesIO()
    canvas = page(out, f"{question.code}: a second opinion")
    top = _head(canvas, question, day)
    column = 0
    for coupon in question.coupons:
        if top - CELL_MM < FOOT_MM:
            _foot(canvas, question)
            canvas.showPage()
            top, column = A4_MM[1] - 22, 0
        _coupon(canvas, coupon, LEFT + column * (CELL_MM + GAP_MM), top)
        column += 1
        if column == COLUMNS:
            top, column = top - CELL_MM - GAP_MM, 0
    _foot(canvas, question)
    canvas.save()
    return out.getvalue()


def _head(canvas: Canvas, question: Asked, day: str) -> float:
    canvas.setFillColorRGB(*INK)
    top = A4_MM[1] - 24
    words(canvas, LEFT, top, "A second opinion", 20, "bold", 120)
    words(canvas, RIGHT - 40, top, f"{question.code}, {day}", 10, "mono", 40)
    top -= 10
    for line in wrap(question.text, 80)[:12]:
        words(canvas, LEFT, top, line, 12, "bold", RIGHT - LEFT)
        top -= 6.4
    canvas.setFillColorRGB(*QUIET)
    for line in (question.about, question.names or "", question.window):
        if line:
            top -= LINE_MM
            words(canvas, LEFT, top, line, 9.5, "text", RIGHT - LEFT)
    canvas.setFillColorRGB(*INK)
    top -= LINE_MM
    for at in range(0, len(question.settings), 3):
        top -= LINE_MM - 0.6
        for column, setting in enumerate(question.settings[at : at + 3]):
            text = f"{setting.name}: {setting.value} {setting.unit}".strip()
            words(canvas, LEFT + column * 59, top, text, 9, "text", 57)
    return top - 6


def _coupon(canvas: Canvas, coupon: AskedCoupon, left_mm: float, top: float) -> None:
    """One coupon: exposure, code, photo, what was read; room to mark by hand."""
    canvas.setFillColorRGB(*INK)
    words(canvas, left_mm, top - 5, f"{coupon.exposure_s:g} s", 12, "mono-bold", 26)
    words(canvas, left_mm + 28, top - 5, coupon.code, 9, "mono", 26)
    if coupon.photo is not None:
        _photo(canvas, coupon.photo, left_mm, top - 6 - PHOTO_MM)
    canvas.setStrokeColorRGB(*QUIET)
    canvas.rect(left_mm * MM, (top - 6 - PHOTO_MM) * MM, CELL_MM * MM, PHOTO_MM * MM, stroke=1, fill=0)
    canvas.setFillColorRGB(*QUIET)
    words(canvas, left_mm, top - 10 - PHOTO_MM, coupon.read, 8, "text", CELL_MM)
    words(canvas, left_mm, top - 14 - PHOTO_MM, "under (  )   right (  )   over (  )", 8, "text", CELL_MM)


def _photo(canvas: Canvas, photo: str, left_mm: float, bottom: float) -> None:
    from reportlab.lib.utils import ImageReader

    image = ImageReader(io.BytesIO(base64.b64decode(photo)))
    canvas.drawImage(
        image, left_mm * MM, bottom * MM, CELL_MM * MM, PHOTO_MM * MM, preserveAspectRatio=True, anchor="c"
    )


def _foot(canvas: Canvas, question: Asked) -> None:
    canvas.setFillColorRGB(*QUIET)
    text = f"{question.code}: the file beside this page is answered in Setback; what comes back are readings and notes, never settings."
    words(canvas, LEFT, 12, text, 8, "text", RIGHT - LEFT)
