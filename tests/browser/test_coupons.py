"""The coupon library and the files of a planned coupon."""

import io
import re

import pytest
import trimesh
from playwright.sync_api import Page, expect

from tests.browser.conftest import calibration_id

pytestmark = pytest.mark.long


def test_the_library_follows_the_printer_and_hands_out_files(demo, as_im: Page):
    page = as_im
    page.goto(f"{demo.url}/shelf/resins")
    page.get_by_role("link", name="Coupons", exact=True).click()
    cards = page.get_by_role("list", name="Coupons and specimens").get_by_role("article")
    expect(cards).to_have_count(14)
    bar = page.get_by_role("article", name="Bend bar")
    expect(bar).to_contain_text("Bending strength and stiffness.")
    with page.expect_download() as saved:
        bar.get_by_role("link", name="STL of Bend bar").click()
    opened = trimesh.load(io.BytesIO(saved.value.path().read_bytes()), file_type="stl")
    assert opened.is_volume and abs(opened.volume - 2800) < 1
    page.get_by_label("For the printer").select_option(label="Sanderling, 19 µm")
    expect(
        page.get_by_role("article", name="Flat coupon").get_by_role("link", name="STL of Flat coupon")
    ).to_have_attribute("href", re.compile("pixel_um=19"))
    page.get_by_label("Layer height").fill("0.5 mm")
    expect(page.get_by_text("Was 0.05 mm (50 µm) meant?").first).to_be_visible()


def test_a_planned_coupon_offers_its_own_files(demo, as_im: Page):
    page = as_im
    arm = demo.lab.get(f"/api/calibrations/{calibration_id(demo, 'C-006')}")["arms"][0]
    (code,) = arm["to_print"]
    page.goto(f"{demo.url}/coupons/{code}")
    expect(page.get_by_role("heading", name="Files to print it")).to_be_visible()
    with page.expect_download() as saved:
        page.get_by_role("link", name=f"SVG of coupon {code}").click()
    assert saved.value.suggested_filename == f"{code}-flat-4.2s.svg"
    assert code in saved.value.path().read_text()
