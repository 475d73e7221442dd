"""The certificate of a qualification: A4, with a plot beside every requirement; text flows over as many pages as it takes."""

from __future__ import annotations

import io
from collections.abc import Sequence
from dataclasses import dataclass
from html import escape
from typing import Any

from reportlab.lib.colors import Color
from reportlab.lib.styles import ParagraphStyle
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import (
    BaseDocTemplate,
    Flowable,
    Frame,
    KeepTogether,
    PageTemplate,
    Paragraph,
    Spacer,
    Table,
)

from ..core.qualify.status import Status, Verdict
from .card import strip
from .paper import A4_MM, INK, MM, QUIET, fonts, qr, words

SIDE_MM, TOP_MM, FOOT_MM = 18.0, 18.0, 20.0
WIDE_MM = A4_MM[0] - 2 * SIDE_MM
VIOLET, GOOD, BAD, CAUTION, PALE = (
    (0.29, 0.184, 0.714),
    (0.043, 0.478, 0.459),
    (0.706, 0.137, 0.094),
    (0.49, 0.353, 0),
    (0.93, 0.92, 0.89),
)
STATUS_COLOURS = {Status.MET: GOOD, Status.NOT_MET: BAD, Status.NOT_SHOWN: CAUTION}
VERDICTS = {
    Verdict.QUALIFIED: ("Qualified", GOOD),
    Verdict.CONDITIONAL: ("Qualified under conditions", CAUTION),
    Verdict.NOT_QUALIFIED: ("Not qualified", BAD),
    Verdict.LAPSED: ("Lapsed", BAD),
}
LIMITS = (
    "This certificate does not judge biocompatibility, food contact, pressure vessels or load-bearing safety parts: those "
    "belong to licensed testing. Safety sheets and local rules come first."
)


@dataclass(frozen=True)
class Line:
    """One requirement with what is drawn beside it."""

    name: str
    asked: str
    kind: str
    status: Status
    words: str
    sure: str
    unit: str
    limit: float
    at: str
    values: Sequence[float]
    unbroken: Sequence[float]
    ci: tuple[float, float] | None
    centre: float | None
    bound: float | None


@dataclass(frozen=True)
class Certificate:
    """Everything that stands on the paper, in words."""

    code: str
    title: str
    subject: str
    verdict: Verdict
    state: Verdict
    reasons: Sequence[str]
    scope: str
    use: str
    facts: Sequence[tuple[str, str]]
    settings: Sequence[tuple[str, str]]
    window_s: tuple[float, float] | None
    exposure_s: float
    lines: Sequence[Line]
    evidence: Sequence[str]
    left_out: Sequence[str]
    methods: Sequence[tuple[str, str]]
    signed: str
    seal: str
    link: str
    journal: str = ""
    """The state of the lab's journal the paper was printed at."""
    warning: str | None = None
    """What is wrong with the lab's records."""


def certificate_pdf(certificate: Certificate) -> bytes:
    """The certificate as a PDF; the same content gives the same bytes."""
    fonts()
    out = io.BytesIO()
    document = BaseDocTemplate(
        out,
        pagesize=(A4_MM[0] * MM, A4_MM[1] * MM),
        title=f"{certificate.code}: {certificate.title}",
        author="Setback",
        invariant=1,
    )
    frame = Frame(SIDE_MM * MM, FOOT_MM * MM, WIDE_MM * MM, (A4_MM[1] - TOP_MM - FOOT_MM) * MM, 0, 0, 0, 0, id="all")
    document.addPageTemplates(PageTemplate(id="all", frames=[frame], onPage=lambda c, d: _foot(c, d, certificate)))
    document.build(_story(certificate))
    return out.getvalue()


def _foot(canvas: Canvas, document: Any, certificate: Certificate) -> None:
    canvas.saveState()
    canvas.setFillColorRGB(*QUIET)
    words(
        canvas, SIDE_MM, 13, f"{certificate.code} · {certificate.signed} · page {document.page}", 8.5, "text", WIDE_MM
    )
    words(canvas, SIDE_MM, 9, f"SHA-256 {certificate.seal}", 7, "mono", WIDE_MM)
    words(canvas, SIDE_MM, 5.5, certificate.journal, 7, "mono", WIDE_MM)
    canvas.restoreState()


def _story(certificate: Certificate) -> list[Any]:
    style = _styles()
    story: list[Any] = [
        Table(
            [[[_p(certificate.title, style["title"]), _p(certificate.subject, style["sub"])], _Qr(certificate.link)]],
            colWidths=[(WIDE_MM - 28) * MM, 28 * MM],
            style=[("VALIGN", (0, 0), (-1, -1), "TOP"), ("LEFTPADDING", (0, 0), (-1, -1), 0)],
        ),
        _headline(certificate.verdict),
    ]
    if certificate.warning:
        story.append(_p(certificate.warning, style["caution"]))
    if certificate.state != certificate.verdict:
        story.append(_p(f"Now: {VERDICTS[certificate.state][0].lower()}.", style["caution"]))
    story += [_p(reason, style["caution"]) for reason in certificate.reasons]
    if certificate.use:
        story.append(_p(certificate.use, style["text"]))
    if certificate.scope:
        story.append(_p(f"Signed for: {certificate.scope}", style["text"]))
    story += [Spacer(1, 4 * MM), _p("Scope and limits", style["head"]), _pairs(certificate.facts, style)]
    if certificate.window_s is not None:
        story += [Spacer(1, 3 * MM), _Strip(certificate.window_s, certificate.exposure_s), Spacer(1, 2 * MM)]
    story += [_p("Requirements", style["head"]), *(_requirement(line, style) for line in certificate.lines)]
    story.append(KeepTogether([_p("Settings", style["head"]), _pairs(certificate.settings, style)]))
    story += [_p("Evidence", style["head"]), *(_p(item, style["small"]) for item in certificate.evidence)]
    if certificate.left_out:
        story += [
            _p("There, but not counted", style["head"]),
            *(_p(item, style["small"]) for item in certificate.left_out),
        ]
    story += [
        _p("Methods", style["head"]),
        *(_p(f"{name}: {source}", style["small"]) for name, source in certificate.methods),
    ]
    story.append(
        KeepTogether([_p("Signed", style["head"]), _p(certificate.signed, style["text"]), _p(LIMITS, style["small"])])
    )
    return story


def _headline(verdict: Verdict) -> Any:
    """The verdict in its colour."""
    text, colour = VERDICTS[verdict]
    return _p(text, _style(17, "bold", colour, 4))


def _style(size: float, font: str = "text", colour: tuple[float, float, float] = INK, before: float = 0.0) -> Any:
    return ParagraphStyle(
        f"{font}{size}{colour}{before}",
        fontName=font,
        fontSize=size,
        leading=1.3 * size,
        textColor=Color(*colour),
        spaceBefore=before,
        spaceAfter=2,
        splitLongWords=1,
        keepWithNext=0,
    )


def _styles() -> dict[str, Any]:
    head = _style(12, "bold", before=9)
    head.keepWithNext = 1
    return {
        "title": _style(19, "bold"),
        "sub": _style(10.5, colour=QUIET),
        "head": head,
        "text": _style(10),
        "small": _style(8.8),
        "caution": _style(10, colour=CAUTION),
        "cell": _style(9.2),
        "name": _style(9.6, "bold"),
    }


def _p(text: str, style: Any) -> Any:
    return Paragraph(escape(text), style)


def _pairs(rows: Sequence[tuple[str, str]], style: dict[str, Any]) -> Any:
    cells = [[_p(name, style["cell"]), _p(value, style["cell"])] for name, value in rows]
    rule = Color(0.86, 0.85, 0.81)
    return Table(
        cells,
        colWidths=[62 * MM, (WIDE_MM - 62) * MM],
        style=[
            ("LINEBELOW", (0, 0), (-1, -1), 0.3, rule),
            ("LEFTPADDING", (0, 0), (-1, -1), 0),
            ("VALIGN", (0, 0), (-1, -1), "TOP"),
            ("TOPPADDING", (0, 0), (-1, -1), 1.5),
            ("BOTTOMPADDING", (0, 0), (-1, -1), 2),
        ],
    )


def _requirement(line: Line, style: dict[str, Any]) -> Any:
    """One row that is never broken over a page."""
    colour = STATUS_COLOURS[line.status]
    status = ParagraphStyle("status", parent=style["name"], textColor=Color(*colour))
    text = [
        _p(line.name, style["name"]),
        _p(f"{line.kind}: {line.asked}", style["cell"]),
        _p(line.words + (f" ({line.sure})" if line.sure else ""), style["cell"]),
    ]
    row = [[_Mark(line.status, colour), _p(line.status, status), text, _Plot(line)]]
    return Table(
        row,
        colWidths=[6 * MM, 20 * MM, (WIDE_MM - 26 - 64) * MM, 64 * MM],
        splitByRow=0,
        style=[
            ("LINEABOVE", (0, 0), (-1, -1), 0.3, Color(0.86, 0.85, 0.81)),
            ("VALIGN", (0, 0), (-1, -1), "TOP"),
            ("LEFTPADDING", (0, 0), (0, -1), 0),
            ("TOPPADDING", (0, 0), (-1, -1), 3),
            ("BOTTOMPADDING", (0, 0), (-1, -1), 3),
        ],
    )


class _Drawn(Flowable):  # type: ignore[misc]
    """A drawing of fixed size; its place on the page is the page's business."""

    width_mm, height_mm = 64.0, 18.0

    def wrap(self, *_: float) -> tuple[float, float]:
        return self.width_mm * MM, self.height_mm * MM


class _Mark(_Drawn):
    """A square for met, a triangle for not met, a ring for not shown: shape and word say the same."""

    width_mm, height_mm = 4.0, 4.5

    def __init__(self, status: Status, colour: tuple[float, float, float]) -> None:
        super().__init__()
        self.status, self.colour = status, colour

    def draw(self) -> None:
        canvas = self.canv
        canvas.setFillColorRGB(*self.colour)
        canvas.setStrokeColorRGB(*self.colour)
        if self.status == Status.MET:
            canvas.rect(0.4 * MM, 0.8 * MM, 2.6 * MM, 2.6 * MM, stroke=0, fill=1)
        elif self.status == Status.NOT_MET:
            path = canvas.beginPath()
            path.moveTo(0.2 * MM, 0.8 * MM)
            path.lineTo(3.4 * MM, 0.8 * MM)
            path.lineTo(1.8 * MM, 3.6 * MM)
            path.close()
            canvas.drawPath(path, stroke=0, fill=1)
        else:
            canvas.setLineWidth(1.2)
            canvas.circle(1.8 * MM, 2.1 * MM, 1.3 * MM, stroke=1, fill=0)


class _Qr(_Drawn):
    width_mm = height_mm = 26.0

    def __init__(self, link: str) -> None:
        super().__init__()
        self.link = link

    def draw(self) -> None:
        canvas = self.canv
        qr(canvas, 0, 0, 26, self.link)


class _Strip(_Drawn):
    """The window on a logarithmic axis, the exposure as a line in it."""

    width_mm, height_mm = WIDE_MM, 14.0

    def __init__(self, window_s: tuple[float, float], exposure_s: float) -> None:
        super().__init__()
        self.window_s, self.exposure_s = window_s, exposure_s

    def draw(self) -> None:
        canvas = self.canv
        strip(canvas, 0, WIDE_MM, 6, self.window_s, self.exposure_s)


class _Plot(_Drawn):
    """Specimens as dots, the mean with its interval, the bound, and the line that is asked."""

    def __init__(self, line: Line) -> None:
        super().__init__()
        self.line = line

    def draw(self) -> None:
        canvas = self.canv
        line = self.line
        every = [
            *line.values,
            *line.unbroken,
            line.limit,
            *(line.ci or ()),
            *((line.centre,) if line.centre is not None else ()),
            *((line.bound,) if line.bound is not None else ()),
        ]
        low, high = min(every), max(every)
        pad = 0.08 * (high - low) or abs(high) * 0.1 or 1.0
        low, high = low - pad, high + pad

        def at(value: float) -> float:
            return float((2 + (self.width_mm - 4) * (value - low) / (high - low)) * MM)

        canvas.setStrokeColorRGB(*PALE)
        canvas.setLineWidth(0.8)
        canvas.line(at(low), 9 * MM, at(high), 9 * MM)
        good = (at(line.limit), at(high)) if line.at == "least" else (at(low), at(line.limit))
        canvas.setFillColorRGB(0.9, 0.95, 0.94)
        canvas.rect(good[0], 5.5 * MM, max(good[1] - good[0], 0), 7 * MM, stroke=0, fill=1)
        if line.ci is not None:
            canvas.setStrokeColorRGB(0.48, 0.38, 0.85)
            canvas.setLineWidth(3)
            canvas.line(at(line.ci[0]), 9 * MM, at(line.ci[1]), 9 * MM)
        canvas.setLineWidth(1)
        for value in line.values:
            canvas.setFillColorRGB(*VIOLET)
            canvas.circle(at(value), 9 * MM, 1.6, stroke=0, fill=1)
        canvas.setStrokeColorRGB(*VIOLET)
        for value in line.unbroken:
            canvas.circle(at(value), 9 * MM, 1.8, stroke=1, fill=0)
        if line.centre is not None:
            canvas.setFillColorRGB(1, 1, 1)
            path = canvas.beginPath()
            x, y = at(line.centre), 9 * MM
            path.moveTo(x, y + 4)
            path.lineTo(x + 3, y)
            path.lineTo(x, y - 4)
            path.lineTo(x - 3, y)
            path.close()
            canvas.drawPath(path, stroke=1, fill=1)
        canvas.setStrokeColorRGB(*INK)
        if line.bound is not None:
            canvas.line(at(line.bound), 6.5 * MM, at(line.bound), 11.5 * MM)
        canvas.setDash(2, 1.5)
        canvas.line(at(line.limit), 4.5 * MM, at(line.limit), 13.5 * MM)
        canvas.setDash()
        canvas.setFillColorRGB(*QUIET)
        text = f"{line.at} {line.limit:g} {line.unit}".strip()
        wide = stringWidth(text, "text", 8) / MM
        words(
            canvas,
            min(max(at(line.limit) / MM - wide / 2, 0), self.width_mm - wide),
            1.2,
            text,
            8,
            "text",
            self.width_mm,
        )
