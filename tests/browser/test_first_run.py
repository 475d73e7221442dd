"""From an empty lab: a bench in ten fields, and readings pasted from a spreadsheet."""

import re

from playwright.sync_api import Page, expect


def test_a_bench_in_ten_fields_and_the_first_readings_from_a_spreadsheet(empty, as_im: Page):
    page = as_im
    page.goto(empty.url)
    page.get_by_role("link", name="Set up my bench").click()
    for label, text in (
        ("What you call it", "Cormorant"),
        ("Pixel", "35"),
        ("Plate along X", "153"),
        ("Plate along Y", "8,7 cm"),
        ("Name and colour on the bottle", "Slate 2 grey"),
        ("Your initials", "im"),
    ):
        page.get_by_label(label, exact=True).fill(text)
    page.get_by_text("Opaque").click()
    page.get_by_role("button", name="Save and plan the first coupons").click()
    expect(page.get_by_role("heading", name="Start a calibration")).to_be_visible()
    expect(page.get_by_label("Bottle")).to_contain_text("B-001")
    page.get_by_label("From", exact=True).fill("1,5")
    page.get_by_label("To", exact=True).fill("4")
    page.get_by_role("button", name="Start", exact=True).click()
    expect(page.get_by_role("heading", name=re.compile("Slate 2 grey"))).to_be_visible()
    calibration = empty.lab.get("/api/calibrations")["items"][0]
    codes = empty.lab.plan(empty.lab.get(f"/api/calibrations/{calibration['id']}"), [2.0, 2.8])
    for code in codes:
        empty.lab.print(code)
    table = pasted(empty.lab, codes)
    page.goto(f"{empty.url}/start/records")
    page.get_by_role("button", name="Choose or paste a table").click()
    page.get_by_label(re.compile("Or paste it")).fill(table)
    page.get_by_role("button", name="Check the rows").click()
    expect(page.get_by_text("2 readings can be taken in")).to_be_visible()
    page.get_by_role("button", name="Take in 2").click()
    expect(page.get_by_text("2 readings taken in.")).to_be_visible()
    assert empty.lab.get("/api/board")["waiting"] == 0


def pasted(lab, codes) -> str:
    """What a spreadsheet puts on the clipboard: a row for each coupon, a column for each feature."""
    seen = {code: {one["key"]: one for one in lab.seen(code)} for code in codes}
    keys = list(seen[codes[0]])
    rows = [[code, *(said(seen[code].get(k)) for k in keys)] for code in codes]
    return "\n".join("\t".join(row) for row in [["Coupon", *keys], *rows])


def said(one) -> str:
    """A cell: a caliper value, a state, or nothing where it was not read."""
    return "" if one is None else str(one["measured_mm"] or one["state"] or "")
