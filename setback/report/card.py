"""The card of a parameter set on paper: A4, to hang beside the printer."""

from __future__ import annotations

import io
import math
from collections.abc import Sequence
from textwrap import wrap
from typing import TYPE_CHECKING

from .paper import A4_MM, INK, MM, QUIET, page, qr, words

if TYPE_CHECKING:
    from reportlab.pdfgen.canvas import Canvas

LEFT, RIGHT = 18.0, A4_MM[0] - 18.0
LINE_MM, GROUP_MM, REASON_LINE_MM, REASON_MM = 6.2, 3.0, 5.0, 7.0
FOOT_MM = 25.0
"""Caution, hash and journal stand below it."""
VIOLET = (0.29, 0.184, 0.714)
CAUTION = (
    "Gloves, eye protection and ventilation with uncured resin; solvent away from heat and sparks. "
    "The safety sheet and local rules come first."
)


def card_page(
    title: str,
    issued: str,
    exposure: str,
    lines: Sequence[tuple[str, str, str, str]],
    window_s: tuple[float, float] | None,
    exposure_s: float,
    reason: str,
    outside_reason: str | None,
    seal: str,
    link: str,
    journal: str = "",
    warning: str | None = None,
) -> bytes:
    """A PDF of one card.

    Parameters
    ----------
    lines : sequence of (group, name, value, unit)
    window_s : (lower, upper), s
    outside_reason : str or None
        Why it was issued although the evidence did not offer it.
    link : str
        Goes into the QR code: it opens the card.
    journal : str
        The state of the lab's journal it is printed at.
    warning : str or None
        What is wrong with the lab's records.
    """
    out = io.BytesIO()
    canvas = page(out, title)
    top = A4_MM[1] - 24
    canvas.setFillColorRGB(*INK)
    words(canvas, LEFT, top, title, 20, "bold", 128)
    canvas.setFillColorRGB(*QUIET)
    words(canvas, LEFT, top - 7, issued, 10, "text", 128)
    qr(canvas, RIGHT - 26, top - 16, 26, link)
    canvas.setFillColorRGB(*VIOLET)
    words(canvas, LEFT, top - 24, f"{exposure} s", 34, "mono-bold", 90)
    y = top - 36
    if window_s is not None:
        strip(canvas, LEFT, RIGHT - LEFT, y, window_s, exposure_s)
        y -= 14
    reasons = [("Why", reason)]
    if outside_reason is not None:
        reasons.append(("Issued outside an offer; it never qualifies", outside_reason))
    wrapped = [(head, wrap(text, 105)[:3]) for head, text in reasons]
    groups = dict.fromkeys(line[0] for line in lines)
    below_mm = sum(REASON_MM + REASON_LINE_MM * len(texts) for _, texts in wrapped)
    # A long finish makes the lines closer, never the foot unreadable.
    line_mm = min(LINE_MM, (y - FOOT_MM - below_mm - GROUP_MM * len(groups)) / (len(lines) + len(groups)))
    for group in groups:
        y -= GROUP_MM
        canvas.setFillColorRGB(*INK)
        words(canvas, LEFT, y, group, 12, "bold")
        for _, name, value, unit in (line for line in lines if line[0] == group):
            y -= line_mm
            _line(canvas, y, name, value, unit)
        y -= line_mm
    canvas.setFillColorRGB(*INK)
    for head, texts in wrapped:
        words(canvas, LEFT, y - 1, head, 12, "bold")
        for text in texts:
            y -= REASON_LINE_MM
            words(canvas, LEFT, y - 1, text, 10)
        y -= REASON_MM
    canvas.setFillColorRGB(*QUIET)
    words(canvas, LEFT, 20, CAUTION, 8.5, "text", RIGHT - LEFT)
    words(canvas, LEFT, 14, f"SHA-256 {seal}", 7, "mono", RIGHT - LEFT)
    words(canvas, LEFT, 10.5, journal, 7, "mono", RIGHT - LEFT)
    if warning:
        canvas.setFillColorRGB(*INK)
        words(canvas, LEFT, 26, warning, 10, "bold", RIGHT - LEFT)
    canvas.save()
    return out.getvalue()


def _line(canvas: Canvas, y: float, name: str, value: str, unit: str) -> None:
    canvas.setStrokeColorRGB(0.86, 0.85, 0.81)
    canvas.setLineWidth(0.3)
    canvas.line(LEFT * MM, (y - 1.7) * MM, RIGHT * MM, (y - 1.7) * MM)
    canvas.setFillColorRGB(*INK)
    # A step of the finish route is a sentence: it takes the whole line.
    if name.isdigit():
        words(canvas, LEFT, y, f"{name}. {value}", 10, "text", RIGHT - LEFT)
        return
    words(canvas, LEFT, y, name, 10)
    words(canvas, LEFT + 78, y, f"{value} {unit}".strip(), 10.5, "mono-bold", RIGHT - LEFT - 78)


def strip(
    canvas: Canvas, left_mm: float, wide_mm: float, y: float, window_s: tuple[float, float], exposure_s: float
) -> None:
    """The window on a logarithmic axis, the exposure as a line in it."""
    low, high = window_s[0] / 1.25, window_s[1] * 1.25

    def at(seconds: float) -> float:
        return left_mm + wide_mm * math.log(seconds / low) / math.log(high / low)

    canvas.setFillColorRGB(0.93, 0.92, 0.89)
    canvas.rect(left_mm * MM, y * MM, wide_mm * MM, 5 * MM, stroke=0, fill=1)
    canvas.setFillColorRGB(0.78, 0.74, 0.92)
    canvas.rect(at(window_s[0]) * MM, y * MM, (at(window_s[1]) - at(window_s[0])) * MM, 5 * MM, stroke=0, fill=1)
    canvas.setStrokeColorRGB(*VIOLET)
    canvas.setLineWidth(1.6)
    canvas.line(at(exposure_s) * MM, (y - 1) * MM, at(exposure_s) * MM, (y + 6) * MM)
    canvas.setFillColorRGB(*QUIET)
    for seconds in window_s:
        words(canvas, at(seconds) - 4, y - 4, f"{seconds:.3g} s", 9, "mono")
