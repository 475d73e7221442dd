"""Bad input and bad luck: a clear message at its place, nothing lost, nothing half-saved."""

import re

import pytest
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.long


@pytest.fixture
def coupon(empty):
    (code,) = empty.lab.plan(empty.lab.calibration(), [2.4])
    empty.lab.print(code)
    return code


def test_a_caliper_value_that_cannot_be(empty, as_im: Page, coupon):
    page = as_im
    page.goto(f"{empty.url}/coupons/{coupon}")
    page.get_by_label("Walls standing, left").fill("6")
    page.get_by_label("Bar 7 along X", exact=True).fill("70.1")
    page.get_by_role("button", name="Save the reading").click()
    expect(page.get_by_text("was 7.01 mm meant?").first).to_be_visible()
    assert empty.lab.get(f"/api/coupons/{coupon}")["history"] == []
    expect(page.get_by_label("Walls standing, left")).to_have_value("6")


def test_a_reading_for_a_coupon_that_is_gone(empty, as_im: Page, coupon):
    as_im.goto(f"{empty.url}/coupons/{coupon}")
    as_im.get_by_label("Walls standing, left").fill("6")
    empty.lab.post(f"/api/coupons/{coupon}/gone", {"reason": "fell behind the bench"})
    as_im.get_by_role("button", name="Save the reading").click()
    # Beside what was entered, or in its place once the page has heard of it.
    expect(as_im.get_by_text("fell behind the bench").first).to_be_visible()
    assert empty.lab.get(f"/api/coupons/{coupon}")["history"] == []


def test_two_tabs_saving_the_same_coupon(empty, as_im: Page, coupon):
    page, other = as_im, as_im.context.new_page()
    other.add_init_script("localStorage.setItem('setback.technician', 'IM')")
    for tab in (page, other):
        tab.goto(f"{empty.url}/coupons/{coupon}")
        expect(tab.get_by_label("Walls standing, left")).to_be_visible()
    page.get_by_label("Walls standing, left").fill("6")
    other.get_by_label("Walls standing, left").fill("4")
    page.get_by_role("button", name="Save the reading").click()
    expect(page.get_by_role("status").filter(has_text="The reading of")).to_be_visible()
    other.get_by_role("button", name="Save the reading").click()
    both = other.get_by_role("region", name="Two readings")
    expect(both.get_by_role("row", name=re.compile("^Walls standing, left"))).to_contain_text(
        re.compile(r"6 of 10.*4 of 10")
    )
    expect(other.get_by_label("Walls standing, left")).to_have_value("4")
    assert len(empty.lab.get(f"/api/coupons/{coupon}")["history"]) == 1
    # Their reading is looked at, then corrected with a reason.
    other.reload()
    expect(other.get_by_label("Walls standing, left")).to_have_value("4")
    other.get_by_label("Why the earlier reading is corrected").fill("counted twice, four stand")
    other.get_by_role("button", name="Save the reading").click()
    expect(other.get_by_role("status").filter(has_text="The reading of")).to_be_visible()
    assert len(empty.lab.get(f"/api/coupons/{coupon}")["history"]) == 2


def test_two_tabs_editing_the_same_printer(empty, as_im: Page):
    empty.lab.shelf()
    page, other = as_im, as_im.context.new_page()
    for tab in (page, other):
        tab.goto(f"{empty.url}/shelf/printers")
        tab.get_by_role("button", name="Edit Cormorant").click()
        expect(tab.get_by_label("Screen hours *")).to_have_value("0")
    page.get_by_label("Screen hours *").fill("10")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_text("Cormorant is saved.")).to_be_visible()
    other.get_by_label("Screen hours *").fill("20")
    other.get_by_role("button", name="Save").click()
    both = other.get_by_role("dialog").filter(has_text="Changed meanwhile")
    expect(both.get_by_role("row", name="Screen hours 20 10")).to_be_visible()
    assert empty.lab.get("/api/printers")["items"][0]["screen_hours"] == 10
    both.get_by_role("button", name="Close").click()
    expect(other.get_by_role("alert").filter(has_text="changed meanwhile")).to_be_visible()
    expect(other.get_by_label("Screen hours *")).to_have_value("20")
    assert empty.lab.get("/api/printers")["items"][0]["screen_hours"] == 10
    other.get_by_role("button", name="Save").click()
    both.get_by_role("button", name="Save mine over it").click()
    expect(other.get_by_text("Cormorant is saved.")).to_be_visible()
    assert empty.lab.get("/api/printers")["items"][0]["screen_hours"] == 20


def test_a_double_tap_creates_one(empty, as_im: Page):
    page = as_im
    page.goto(f"{empty.url}/calibrate/{empty.lab.calibration()['id']}")
    button = page.get_by_role("button", name=re.compile("Plan 5 coupons"))
    expect(button).to_be_enabled()
    button.dblclick()
    expect(page.get_by_role("article", name=re.compile("Coupon"))).to_have_count(5)
    assert len(empty.lab.get("/api/calibrations")["items"]) == 1
    assert empty.lab.get("/api/calibrations")["items"][0]["coupons"] == 5


def test_the_server_is_restarted_in_mid_entry(empty, as_im: Page, coupon):
    page = as_im
    page.goto(f"{empty.url}/coupons/{coupon}")
    page.get_by_label("Walls standing, left").fill("6")
    page.get_by_label("Bar 7 along X", exact=True).fill("7.03")
    empty.stop()
    page.get_by_role("button", name="Save the reading").click()
    expect(page.get_by_role("alert").filter(has_text="The server does not answer. Nothing is lost")).to_be_visible()
    empty.start()
    page.reload()
    expect(page.get_by_label("Walls standing, left")).to_have_value("6")
    expect(page.get_by_label("Bar 7 along X", exact=True)).to_have_value("7.03")
    page.get_by_role("button", name="Save the reading").click()
    expect(page.get_by_role("status").filter(has_text="The reading of")).to_be_visible()
    assert len(empty.lab.get(f"/api/coupons/{coupon}")["history"]) == 1


def test_a_photo_that_is_no_picture_or_far_too_large(empty, as_im: Page, coupon, tmp_path):
    page = as_im
    page.goto(f"{empty.url}/coupons/{coupon}")
    page.get_by_label("Walls standing, left").fill("6")
    text = tmp_path / "photo.jpg"
    text.write_text("this is no picture")
    page.get_by_label("Photo file").set_input_files(text)
    photos = page.get_by_role("region", name="Photos")
    expect(photos.get_by_role("alert")).to_contain_text("no picture that can be read")
    huge = tmp_path / "huge.jpg"
    with huge.open("wb") as file:
        file.truncate(200_000_000)
    page.get_by_label("Photo file").set_input_files(huge)
    expect(photos.get_by_role("alert")).to_contain_text("200 MB; 25 MB at most")
    assert empty.lab.get(f"/api/coupons/{coupon}")["photos"] == []
    expect(page.get_by_label("Walls standing, left")).to_have_value("6")
