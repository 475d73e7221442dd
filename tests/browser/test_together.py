"""Two people at once: what one does reaches the other's page within seconds, and never moves under a hand that types."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import WORKING_AS_IM

pytestmark = pytest.mark.long

SOON_MS = 5_000


def test_a_page_shows_within_five_seconds_what_another_changed(empty, as_im: Page):
    page, lab = as_im, empty.lab
    page.goto(f"{empty.url}/shelf/printers")
    expect(page.get_by_role("button", name="Add a printer").first).to_be_visible()
    printer = {"name": "Petrel", "light_engine": "mono screen", "pixel_um": 35, "plate_x_mm": 153, "plate_y_mm": 87}
    lab.post("/api/printers", {**printer, "vat_capacity_ml": 260, "exposure_step_s": 0.1}, 201)
    expect(page.get_by_text("Petrel")).to_be_visible(timeout=SOON_MS)


def test_nothing_moves_under_a_hand_that_types(empty, as_im: Page):
    page, lab = as_im, empty.lab
    code = lab.series(lab.calibration(), [2.0])[0]
    page.goto(f"{empty.url}/coupons/{code}")
    note = page.get_by_label("Note", exact=True).first
    note.fill("left corner")
    before = note.bounding_box()
    lab.post("/api/technicians", {"initials": "RB"}, 201)
    lab.initials = "RB"
    reading = lab.get(f"/api/coupons/{code}")["reading"]
    lab.read(code, supersedes_id=reading["id"], reason="A second look.")
    expect(page.get_by_text("RB changed what this page shows.")).to_be_visible(timeout=SOON_MS)
    assert note.bounding_box() == before
    expect(note).to_have_value("left corner")
    # The hand leaves the field: RB's reading is there, and the note still is.
    note.blur()
    expect(page.get_by_text(re.compile("RB read this coupon"))).to_be_visible()
    expect(note).to_have_value("left corner")


def test_who_else_has_a_coupon_open_is_said(empty, as_im: Page, browser: Browser):
    page, lab = as_im, empty.lab
    lab.post("/api/technicians", {"initials": "RB"}, 201)
    code = lab.plan(lab.calibration(), [2.0])[0]
    page.goto(f"{empty.url}/coupons/{code}")
    expect(page.get_by_role("heading", name=re.compile(code))).to_be_visible()
    other = browser.new_context().new_page()
    other.add_init_script(WORKING_AS_IM.replace("'IM'", "'RB'"))
    other.goto(f"{empty.url}/coupons/{code}")
    expect(page.get_by_text("RB also has this page open")).to_be_attached(timeout=SOON_MS)
    expect(other.get_by_text("IM also has this page open")).to_be_attached(timeout=SOON_MS)
    other.goto(f"{empty.url}/board")
    expect(page.get_by_text("RB also has this page open")).to_have_count(0)
    other.context.close()
