"""A coupon read by its picture in the browser: filled in, asked, corrected, saved; and a picture that shows something else."""

from __future__ import annotations

import re
from dataclasses import replace

import pytest
from playwright.sync_api import Page, expect

from setback.coupon.lettering import embossed
from setback.simulate.camera import Placed, photograph_tray
from tests.pictures import PLAIN, picture, printed

pytestmark = pytest.mark.long


def to_read(live, exposure_s=2.6):
    calibration = live.lab.calibration()
    (code,) = live.lab.plan(calibration, [exposure_s])
    live.lab.print(code)
    return code


def file(tmp_path, content, name="coupon.jpg"):
    path = tmp_path / name
    path.write_bytes(content)
    return path


def test_what_is_sure_is_filled_in_what_is_not_is_asked_with_one_tap_each(empty, as_im: Page, tmp_path):
    page, code = as_im, to_read(empty)
    page.goto(f"{empty.url}/coupons/{code}")
    # Glare hides a part of it: that is asked.
    shot = replace(PLAIN, glare=0.9)
    page.get_by_label("Picture file").set_input_files(file(tmp_path, picture(printed(2.6), code, shot)))
    reading = page.get_by_role("region", name="Read from a picture")
    expect(reading.get_by_text(re.compile(r"marks filled in from the picture"))).to_be_visible()
    expect(reading.get_by_text("Light mirrors in the coupon", exact=False)).to_be_visible()
    asked = reading.get_by_role("group", name="Asked")
    while asked.count():
        answer = asked.get_by_role("button").first
        before = asked.get_by_text("to look at").inner_text()
        answer.click()
        expect(asked.get_by_text(before, exact=True)).to_have_count(0)
    expect(reading.get_by_text("Nothing more is asked")).to_be_visible()
    page.get_by_role("button", name="Show the drawing").click()
    expect(page.get_by_role("button", name="Show the picture")).to_be_visible()
    page.get_by_role("button", name="Save the reading").click()
    expect(page.get_by_text(f"The reading of {code} is saved")).to_be_visible()
    kept = empty.lab.get(f"/api/coupons/{code}")
    assert kept["confirmed"]["marks"] > 30 and kept["picture"] is None


def test_a_picture_taken_elsewhere_waits_and_can_be_left_unused(empty, as_im: Page, tmp_path):
    page, code = as_im, to_read(empty)
    page.goto(f"{empty.url}/coupons/{code}")
    page.get_by_label("Picture file").set_input_files(file(tmp_path, picture(printed(2.6), code)))
    expect(page.get_by_text(re.compile("marks filled in"))).to_be_visible()
    page.evaluate("localStorage.clear()")
    page.evaluate("localStorage.setItem('setback.technician', 'IM')")
    page.reload()
    expect(page.get_by_text("A picture waits to be confirmed", exact=False)).to_be_visible()
    page.get_by_role("button", name=re.compile("Fill in [0-9]+ sure marks")).click()
    expect(page.get_by_text(re.compile("marks filled in"))).to_be_visible()
    page.get_by_role("button", name="Do not use this picture").click()
    expect(page.get_by_text("it stays among the photos", exact=False)).to_be_visible()
    expect(page.get_by_role("button", name="Read from a picture")).to_be_visible()


def test_another_coupons_picture_is_refused_at_its_place_and_a_scan_warns_of_the_glass(empty, as_im: Page, tmp_path):
    page, code = as_im, to_read(empty)
    page.goto(f"{empty.url}/coupons/{code}")
    page.get_by_label("What took it").select_option("600")
    expect(page.get_by_text("washed, dried and cured coupon touches", exact=False)).to_be_visible()
    page.get_by_label("Picture file").set_input_files(file(tmp_path, picture(printed(2.6), "150A")))
    reading = page.get_by_role("region", name="Read from a picture")
    expect(reading.get_by_text("This picture shows coupon 150", exact=False)).to_be_visible()
    assert empty.lab.get(f"/api/coupons/{code}")["photos"] == []


def test_a_tray_is_read_in_one_go_and_its_ladder_enlarges_one_feature_across_all(empty, as_im: Page, tmp_path):
    page, lab = as_im, empty.lab
    calibration = lab.calibration()
    exposures = [2.2, 3.0]
    codes = lab.plan(calibration, exposures)
    lab.print(codes[0])
    lab.print(codes[1])
    placed = []
    for place, (code, exposure_s) in enumerate(zip(codes, exposures, strict=True)):
        made = printed(exposure_s, seed=place + 1)
        placed.append(Placed(made, embossed(made.coupon, code, f"{exposure_s:g}s"), y_mm=42.0 * place - 21))
    content = photograph_tray(placed, 2, replace(PLAIN, px_per_mm=20))
    page.goto(f"{empty.url}/calibrate/{calibration['id']}")
    page.get_by_role("button", name="More", exact=True).click()
    page.get_by_role("link", name="Coupons as pictures").click()
    expect(page.get_by_text("no picture yet")).to_have_count(2)
    page.get_by_label("One picture of several coupons").set_input_files(file(tmp_path, b"none", "none.jpg"))
    expect(page.get_by_text("no picture that can be read", exact=False)).to_be_visible()
    page.get_by_label("One picture of several coupons").set_input_files(file(tmp_path, content))
    expect(page.get_by_text("2 coupons read", exact=False)).to_be_visible(timeout=60_000)
    expect(page.get_by_text("waits to be confirmed")).to_have_count(2)
    first = page.get_by_role("group", name=f"Coupon {codes[0]}")
    first.locator("[data-feature='slot-left-4']").click()
    expect(page.get_by_role("img", name=re.compile("slot left of"))).to_have_count(2)
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("img", name=re.compile("slot left of"))).to_have_count(2)
    page.keyboard.press("Escape")
    expect(first).to_be_visible()
    page.get_by_role("status").get_by_role("link", name=codes[1]).click()
    expect(page.get_by_text("A picture waits to be confirmed", exact=False)).to_be_visible()


def test_example_pictures_show_each_part_under_right_and_over(empty, as_im: Page):
    page = as_im
    page.goto(f"{empty.url}/shelf/coupons/support")
    examples = page.get_by_role("region", name="What it looks like")
    rows = examples.get_by_role("row")
    expect(rows.nth(1).get_by_role("img")).to_have_count(3)
    loaded = examples.locator("image").first.evaluate(
        "image => fetch(image.href.baseVal).then((answer) => answer.status)"
    )
    assert loaded == 200
