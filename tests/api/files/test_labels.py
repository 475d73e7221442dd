"""Sheets of labels: what they carry, where it lies, and what is refused."""

import io

import pypdfium2
import pytest

from setback.report.labels import SHEETS, Label, labels
from setback.report.paper import A4_MM


def text_of(content, page=0):
    return pypdfium2.PdfDocument(io.BytesIO(content))[page].get_textpage().get_text_range()


def test_a_coupons_label_carries_code_exposure_material_and_printer(lab):
    codes = lab.plan(lab.calibration(), [2.4, 3.1])
    answer = lab.client.get(f"/api/labels/coupons?coupons={','.join(codes)}")
    assert answer.mimetype == "application/pdf"
    said = text_of(answer.data)
    for wanted in (*codes, "2.4 s", "3.1 s", "Slate 2", "Cormorant, 50 µm"):
        assert wanted in said
    again = lab.client.get(f"/api/labels/coupons?coupons={','.join(codes)}")
    assert again.data == answer.data, "the same labels are the same file"


@pytest.mark.long
def test_specimens_are_numbered_on_as_many_sheets_as_they_need(lab):
    shelf = lab.shelf()
    url = f"/api/labels/specimens?kind=bend-bar&material_id={shelf['material_id']}&printer_id={shelf['printer_id']}"
    answer = lab.client.get(f"{url}&prefix=B&first=60&count=70&sheet=65&exposure_s=3.1")
    document = pypdfium2.PdfDocument(io.BytesIO(answer.data))
    assert len(document) == 2
    assert "B60" in text_of(answer.data) and "B129" in text_of(answer.data, 1)
    assert "Cormorant, 3.1 s" in text_of(answer.data)


@pytest.mark.parametrize("name", sorted(SHEETS))
def test_every_label_lies_on_the_paper_in_its_own_cell(name):
    sheet = SHEETS[name]
    many = [
        Label(f"K{i}", "2.4 s flat", ("A resin with a name that is far too long to fit", "Gannet, 50 µm"), "x")
        for i in range(sheet.count)
    ]
    page = pypdfium2.PdfDocument(io.BytesIO(labels(many, sheet)))[0]
    assert page.get_size() == pytest.approx((A4_MM[0] * 72 / 25.4, A4_MM[1] * 72 / 25.4))
    text = page.get_textpage()
    point = 72 / 25.4
    for i in range(sheet.count):
        row, column = divmod(i, sheet.columns)
        left = sheet.side_mm + column * sheet.width_mm
        top = A4_MM[1] - sheet.top_mm - row * sheet.height_mm
        cell = [v * point for v in (left, top - sheet.height_mm, left + sheet.width_mm, top)]
        assert text.get_text_bounded(*cell).split()[0] == f"K{i}"


def test_labels_taken_off_are_skipped():
    sheet = SHEETS["24"]
    plain, skipped = (text_of(labels([Label("K1", "", (), "x")], sheet, skip)) for skip in (0, 23))
    assert "K1" in plain and "K1" in skipped
    document = pypdfium2.PdfDocument(
        io.BytesIO(labels([Label("K1", "", (), "x"), Label("K2", "", (), "x")], sheet, 23))
    )
    assert len(document) == 2


@pytest.mark.parametrize(
    ("path", "field"),
    [
        ("coupons?coupons=", "coupons"),
        ("coupons?coupons=999X", "coupons"),
        ("coupons?coupons=1&sheet=7", "sheet"),
        ("specimens?kind=teapot&material_id=1", "kind"),
        ("specimens?kind=bend-bar&material_id=1&count=0", "count"),
        ("specimens?kind=bend-bar&material_id=1&prefix=a b", "prefix"),
    ],
)
def test_what_cannot_be_labelled_is_said(lab, path, field):
    assert field in lab.get(f"/api/labels/{path}", 422)["error"]["fields"]


def test_an_unknown_material_is_not_found(lab):
    lab.get("/api/labels/specimens?kind=bend-bar&material_id=nothing", 404)
    assert len(lab.get("/api/label-sheets")["items"]) == len(SHEETS)
