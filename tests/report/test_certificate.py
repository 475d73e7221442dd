"""The certificate as a person sees it: the words of the verdict and the colours they stand in, read off the PDF."""

import ctypes
from dataclasses import replace

import pypdfium2 as pdfium
import pypdfium2.raw as raw
import pytest

from setback.core.qualify.status import Status, Verdict
from setback.report.certificate import BAD, CAUTION, GOOD, Certificate, Line, certificate_pdf

REQUIREMENT = Line(
    name="Bending strength",
    asked="≥ 50 MPa at the mean",
    kind="must",
    status=Status.MET,
    words="Mean 61 MPa.",
    sure="95 % interval",
    unit="MPa",
    limit=50,
    at="least",
    values=[60, 61, 62],
    unbroken=[],
    ci=(59, 63),
    centre=61,
    bound=None,
)
CERTIFICATE = Certificate(
    code="N-001",
    title="Slate 2 for Sensor clip",
    subject="Printed on Cormorant by set S-001",
    verdict=Verdict.QUALIFIED,
    state=Verdict.QUALIFIED,
    reasons=[],
    scope="",
    use="",
    facts=[("Lot", "SL-1")],
    settings=[("Exposure", "2.6 s")],
    window_s=(2.1, 3.2),
    exposure_s=2.6,
    lines=[REQUIREMENT],
    evidence=["T-001"],
    left_out=[],
    methods=[("Verdict", "docs")],
    signed="Signed by IM",
    seal="0" * 64,
    link="http://127.0.0.1/qualify/records/N-001",
)


def words(certificate: Certificate) -> dict[str, tuple[float, ...]]:
    """Every piece of text on the pages, with its colour."""
    found = {}
    for page in pdfium.PdfDocument(certificate_pdf(certificate)):
        text_page = page.get_textpage()
        for piece in page.get_objects(filter=[raw.FPDF_PAGEOBJ_TEXT]):
            size = raw.FPDFTextObj_GetText(piece, text_page, None, 0)
            buffer = (ctypes.c_ushort * (size // 2 + 1))()
            raw.FPDFTextObj_GetText(piece, text_page, buffer, size)
            text = bytes(buffer).decode("utf-16-le").split("\0")[0]
            rgba = [ctypes.c_uint() for _ in range(4)]
            raw.FPDFPageObj_GetFillColor(piece, *(ctypes.byref(c) for c in rgba))
            found.setdefault(text.strip(), tuple(c.value / 255 for c in rgba[:3]))
    return found


def assert_in_colour(found: dict[str, tuple[float, ...]], text: str, colour: tuple[float, ...]) -> None:
    assert found[text] == pytest.approx(colour, abs=0.01), text


@pytest.mark.parametrize(
    ("verdict", "headline", "colour"),
    [
        (Verdict.QUALIFIED, "Qualified", GOOD),
        (Verdict.CONDITIONAL, "Qualified under conditions", CAUTION),
        (Verdict.NOT_QUALIFIED, "Not qualified", BAD),
        (Verdict.LAPSED, "Lapsed", BAD),
    ],
)
def test_the_headline_stands_in_the_colour_of_its_verdict(verdict, headline, colour):
    assert_in_colour(words(replace(CERTIFICATE, verdict=verdict, state=verdict)), headline, colour)


@pytest.mark.parametrize(
    ("status", "text", "colour"),
    [(Status.MET, "met", GOOD), (Status.NOT_MET, "not met", BAD), (Status.NOT_SHOWN, "shown", CAUTION)],
)
def test_each_requirement_stands_in_the_colour_of_its_status(status, text, colour):
    assert_in_colour(words(replace(CERTIFICATE, lines=[replace(REQUIREMENT, status=status)])), text, colour)


def test_a_verdict_that_lapsed_since_says_so_beneath_what_was_signed():
    found = words(replace(CERTIFICATE, state=Verdict.LAPSED))
    assert_in_colour(found, "Qualified", GOOD)
    assert_in_colour(found, "Now: lapsed.", CAUTION)
