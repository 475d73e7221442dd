"""A coupon on the simulated printer, from the plan to the saved reading; plates and labels."""

import io
import json
import re
import zipfile

import pypdfium2
import pytest
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.long


def simulated(live, exposures):
    lab = live.lab
    shelf = lab.shelf(simulated=True)
    calibration = lab.calibration(shelf)
    return calibration, lab.plan(calibration, exposures)


def test_print_photograph_read_and_save(empty, as_im: Page):
    page = as_im
    calibration, codes = simulated(empty, [2.0, 3.0])
    page.goto(f"{empty.url}/calibrate/{calibration['id']}")
    page.get_by_role("button", name="Print all 2").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Resin temperature at start").fill("19")
    dialog.get_by_role("button", name="Print", exact=True).click()
    expect(dialog).to_have_count(0)
    first = page.get_by_role("article", name=f"Coupon {codes[0]}")
    expect(first.get_by_role("progressbar")).to_be_visible()
    expect(first.get_by_role("link", name="Read", exact=True)).to_be_visible(timeout=30_000)
    first.get_by_role("link", name="Read", exact=True).click()
    expect(page.get_by_text("at 19 °C (resin)")).to_be_visible()
    expect(page.get_by_role("region", name="Photos").or_(page.get_by_text("Photos", exact=True)).first).to_be_visible()
    page.get_by_role("button", name="Let the simulated reader fill it in").click()
    expect(page.get_by_label("Walls standing, left")).not_to_have_value("")
    page.get_by_role("button", name="Save the reading").click()
    expect(page.get_by_text(f"The reading of {codes[0]} is saved.")).to_be_visible()


def test_a_print_can_be_stopped_and_leaves_nothing(empty, as_im: Page):
    page = as_im
    calibration, (code,) = simulated(empty, [2.0])
    page.goto(f"{empty.url}/calibrate/{calibration['id']}")
    page.get_by_role("button", name=f"Print {code} on the simulated printer").click()
    page.get_by_role("dialog").get_by_role("button", name="Print", exact=True).click()
    page.get_by_role("button", name=f"Stop printing {code}").click()
    expect(page.get_by_text("Stopped; nothing was kept.")).to_be_visible()
    expect(page.get_by_role("button", name=f"Print {code} on the simulated printer")).to_be_visible()
    assert empty.lab.get(f"/api/coupons/{code}")["photos"] == []


def test_the_shelf_marks_a_simulated_printer(demo, as_im: Page):
    page = as_im
    page.goto(f"{demo.url}/shelf/printers")
    expect(page.get_by_role("row", name=re.compile("Guillemot")).get_by_text("simulated", exact=True)).to_be_visible()
    page.get_by_role("button", name="Edit Guillemot").click()
    expect(page.get_by_role("dialog").get_by_label("Name")).to_be_visible()
    expect(page.get_by_role("dialog").get_by_label(re.compile("simulated printer"))).to_have_count(0)


def test_a_coupon_of_ones_own_sizes_and_a_plate_of_four(demo, as_im: Page):
    page = as_im
    page.goto(f"{demo.url}/shelf/coupons")
    page.get_by_role("article", name="Flat coupon").get_by_role("link", name="Flat coupon", exact=True).click()
    legend = page.get_by_role("list", name="What each part tells")
    expect(legend).to_contain_text("the pair that just touches reads growth")
    page.get_by_label("Walls", exact=True).fill("0.01 0.2")
    expect(page.get_by_text("under one pixel")).to_be_visible()
    page.get_by_label("Walls", exact=True).fill("0,14 0.28 0.42")
    expect(page.get_by_role("link", name="STL of Flat coupon")).to_have_attribute(
        "href", re.compile("walls_mm=0.14%2C0.28")
    )
    expect(page.get_by_text("under one pixel")).to_have_count(0)
    exposures = page.get_by_label("Exposures", exact=True)
    exposures.fill("1.5 2 2.6 3.4 4.4")
    expect(page.get_by_text("5 coupons do not fit on this plate: 4 fit.")).to_be_visible()
    exposures.fill("1.5 2 2.6 3.4")
    expect(page.get_by_role("img", name="Plate with 4 coupons")).to_be_visible()
    with page.expect_download() as saved:
        page.get_by_role("link", name="Masks with manifest").click()
    held = zipfile.ZipFile(io.BytesIO(saved.value.path().read_bytes()))
    regions = json.loads(held.read("manifest.json"))["regions"]
    assert sorted(r["exposure_s"] for r in regions) == [1.5, 2.0, 2.6, 3.4]
    # The page can be shared as it is.
    page.reload()
    expect(page.get_by_role("img", name="Plate with 4 coupons")).to_be_visible()


def test_labels_of_a_tray_and_of_specimens(demo, as_im: Page):
    page = as_im
    listed = demo.lab.get("/api/calibrations")["items"]
    page.goto(f"{demo.url}/calibrate/{next(c['id'] for c in listed if c['code'] == 'C-008')}")
    page.get_by_role("button", name="Labels…").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Labels already taken off").fill("30")
    expect(dialog.get_by_text("Give 0 to 23.")).to_be_visible()
    dialog.get_by_label("Labels already taken off").fill("2")
    with page.expect_download() as saved:
        dialog.get_by_role("link", name="Make the PDF").click()
    text = pypdfium2.PdfDocument(saved.value.path().read_bytes())[0].get_textpage().get_text_range()
    assert "Rinsewell" in text and "Sanderling, 50 µm" in text
    page.goto(f"{demo.url}/shelf/coupons/bend-bar")
    page.get_by_role("button", name="Labels…").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Material").select_option(label="Kelpflex")
    dialog.get_by_label("Mark").fill("K")
    with page.expect_download() as saved:
        dialog.get_by_role("link", name="Make the PDF").click()
    assert "K12" in pypdfium2.PdfDocument(saved.value.path().read_bytes())[0].get_textpage().get_text_range()


def test_a_scanned_label_opens_the_finder(demo, as_im: Page):
    page = as_im
    page.goto(f"{demo.url}/board?find=148T")
    expect(page.get_by_label("Find by code or name")).to_have_value("148T")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name=re.compile("Coupon 148T"))).to_be_visible()
