"""Taps on the drawing of the coupon, and the rows they store."""

import sqlite3

import pytest
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.long


@pytest.fixture
def coupon(empty):
    (code,) = empty.lab.plan(empty.lab.calibration(), [2.4])
    empty.lab.print(code)
    return code


def tap(page: Page, key: str) -> None:
    page.locator(f"[data-feature={key}]").click()


def save(page: Page) -> None:
    page.get_by_role("button", name="Save the reading").click()
    expect(page.get_by_role("status").filter(has_text="The reading of")).to_be_visible()


def rows(live) -> dict[str, tuple]:
    db = sqlite3.connect(live.path)
    held = {
        r[0]: tuple(r[1:])
        for r in db.execute("SELECT feature_key, kind, side, state, measured_mm FROM reading_feature")
    }
    db.close()
    return held


def test_taps_store_every_feature_of_a_flat_coupon(empty, as_im: Page, coupon):
    page = as_im
    page.goto(f"{empty.url}/coupons/{coupon}")
    tap(page, "wall-left-4")
    tap(page, "wall-right-5")
    tap(page, "slot-left-6")
    tap(page, "slot-right-6")
    page.get_by_role("button", name="Strike out").click()
    tap(page, "wall-left-9")
    page.get_by_role("button", name="One by one").click()
    tap(page, "slot-right-10")  # open, now closed
    tap(page, "slot-right-9")
    tap(page, "slot-right-9")  # open, closed, in part
    expect(page.get_by_label("Walls standing, left")).to_have_value("6")
    expect(page.get_by_label("Walls standing, right")).to_have_value("6")
    bar = page.get_by_label("Bar 7 along X", exact=True)
    tap(page, "outer-x-1")
    expect(bar).to_be_focused()
    page.keyboard.type("7,02")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Bar 10.99 along X", exact=True)).to_be_focused()
    page.keyboard.type("11020 um")
    expect(page.get_by_text("= 11.02")).to_be_visible()
    save(page)

    stored = rows(empty)
    expected = {}
    for i in range(1, 11):
        expected[f"wall-left-{i}"] = ("wall", "left", "lost" if i == 9 else "formed" if i >= 4 else "absent", None)
        expected[f"wall-right-{i}"] = ("wall", "right", "formed" if i >= 5 else "absent", None)
        expected[f"slot-left-{i}"] = ("slot", "left", "formed" if i >= 6 else "absent", None)
        right = {9: "partial", 10: "absent"}.get(i, "formed" if i >= 6 else "absent")
        expected[f"slot-right-{i}"] = ("slot", "right", right, None)
    expected["outer-x-1"] = ("outer", None, None, 7.02)
    expected["outer-x-2"] = ("outer", None, None, 11.02)
    assert stored == expected


def test_each_tip_is_tapped_by_itself(empty, as_im: Page):
    page = as_im
    (code,) = empty.lab.plan(empty.lab.calibration(), [2.4], "support")
    empty.lab.print(code)
    page.goto(f"{empty.url}/coupons/{code}")
    tap(page, "tip-left-8")
    tap(page, "tip-left-7")
    tap(page, "tip-right-8")
    tap(page, "tip-right-8")
    save(page)
    states = {key: row[2] for key, row in rows(empty).items()}
    assert states == {"tip-left-8": "formed", "tip-left-7": "formed", "tip-right-8": "absent"}


def test_the_strip_and_the_verdict_follow_while_marking(empty, as_im: Page):
    page, lab = as_im, empty.lab
    calibration = lab.calibration()
    lab.series(calibration, [1.6, 3.8])
    (code,) = lab.plan(calibration, [2.4])
    lab.print(code)
    page.goto(f"{empty.url}/coupons/{code}")
    now = page.get_by_role("region", name="As it stands")
    expect(now).to_contain_text("The verdict appears with the first thing you mark")
    tap(page, "wall-left-6")
    expect(now).to_contain_text("too little light by thin walls")
    tap(page, "wall-left-2")
    expect(now).to_contain_text("every limit is met")
    before = now.locator("[data-lane=walls] [data-part=end]").get_attribute("x1")
    tap(page, "wall-left-9")
    expect(now.locator("[data-lane=walls] [data-part=end]")).not_to_have_attribute("x1", before)


def test_on_a_phone_the_halves_stand_in_two_rows_and_the_nearest_is_taken(empty, as_im: Page, coupon):
    page = as_im
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{empty.url}/coupons/{coupon}")
    left = page.get_by_role("group", name="Flat coupon, left half")
    expect(page.get_by_role("group", name="Flat coupon, right half")).to_be_visible()
    spot = left.locator("[data-feature=wall-left-1]").bounding_box()
    page.mouse.click(spot["x"] - 4, spot["y"] + spot["height"] / 2)
    expect(page.get_by_label("Walls standing, left")).to_have_value("10")


def test_photos_are_seen_side_by_side_in_the_order_of_exposure(empty, as_im: Page, tmp_path):
    from PIL import Image

    page, lab = as_im, empty.lab
    calibration = lab.calibration()
    for exposure, shade in ((3.0, 90), (2.0, 150)):
        (code,) = lab.plan(calibration, [exposure])
        lab.print(code)
        picture = tmp_path / f"{code}.png"
        Image.new("RGB", (90, 60), (shade,) * 3).save(picture)
        page.goto(f"{empty.url}/coupons/{code}")
        page.get_by_label("Photo file").set_input_files(picture)
        expect(page.get_by_text("The photo is saved.")).to_be_visible()
        expect(page.locator(".photos img")).to_have_count(1)
    page.goto(f"{empty.url}/calibrate/{calibration['id']}")
    page.get_by_role("button", name="View 2 photos").click()
    shown = page.get_by_role("region", name="Photos").get_by_role("figure")
    assert [text.split("·")[1].split()[0] for text in shown.all_inner_texts()] == ["2.0", "3.0"]
