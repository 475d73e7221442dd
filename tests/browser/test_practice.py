"""Practice and gauge studies in the browser: a round read to its end, a study planned, read in turns, its bias corrected."""

from __future__ import annotations

import random
import re

import pytest
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.long


def test_a_round_is_marked_called_and_held_against_the_truth(empty, as_im: Page):
    page = as_im
    empty.lab.initials = "IM"
    page.goto(f"{empty.url}/practice")
    page.get_by_role("button", name=re.compile("^Plain")).click()
    expect(page.get_by_role("heading", name="Practice, plain")).to_be_visible(timeout=20_000)
    for place in range(1, 5):
        entry = page.get_by_role("complementary", name="Reading")
        for label in ("Walls standing, left", "Walls standing, right", "Slots open, left", "Slots open, right"):
            entry.get_by_label(label).fill("7")
        check = page.get_by_role("button", name="Check against the truth")
        if place == 1:
            check.click()
            expect(entry.get_by_text("Say under, right or over.")).to_be_visible()
        entry.get_by_role("button", name="under", exact=True).click()
        entry.get_by_label("Next exposure").fill("2.2")
        check.click()
        truth = page.get_by_role("complementary", name="How it was read")
        expect(truth.get_by_text("Right for this resin is", exact=False)).to_be_visible(timeout=20_000)
        expect(page.get_by_role("img", name=f"The truth of coupon {place}")).to_be_visible()
        truth.get_by_role("button", name=re.compile("Coupon [2-4], at|How the round went")).click()
    expect(page.get_by_text(re.compile("[0-4] of 4 called as they are"))).to_be_visible()
    page.get_by_role("link", name="All practice").click()
    mine = page.get_by_role("region", name="Practice of IM")
    expect(mine.get_by_text("4 coupons", exact=False)).to_be_visible()
    expect(mine.get_by_text(re.compile("Thinnest wall: "))).to_be_visible()


def test_a_study_is_planned_read_in_hidden_order_and_its_bias_corrected(empty, as_im: Page):
    page, lab = as_im, empty.lab
    calibration = lab.calibration()
    codes = lab.series(calibration, [1.7, 2.1, 2.6])
    lab.post("/api/technicians", {"initials": "RB"}, 201)
    page.goto(f"{empty.url}/practice/studies")
    page.get_by_role("link", name="Plan a gauge study").first.click()
    page.get_by_role("button", name="Plan the study").click()
    expect(page.get_by_text("two coupons or more", exact=False)).to_be_visible()
    for code in codes:
        page.get_by_label(re.compile(f"^{code}")).check()
    expect(page.get_by_text("12 readings, 6 readings each")).to_be_visible()
    page.get_by_role("button", name="Plan the study").click()
    expect(page.get_by_role("heading", name="Gauge study GS-001")).to_be_visible()
    page.get_by_role("link", name="Read the next coupon as IM").click()
    chance = random.Random(5)
    for turn in range(1, 7):
        expect(page.get_by_text(f"IM, reading {turn} of 6.", exact=False)).to_be_visible()
        code = page.get_by_role("heading", name=re.compile("Take coupon")).inner_text().split()[-1]
        growth = 0.02 * codes.index(code) + chance.gauss(0, 0.0005)
        page.get_by_label(re.compile("^Over the")).fill(f"{7.0 + 2 * growth:.4f}")
        page.get_by_label(re.compile("^Across the")).fill(f"{7.0 - 2 * growth:.4f}")
        page.get_by_role("button", name="Save and take the next").click()
    expect(page.get_by_text("Everything is read here")).to_be_visible()
    lab.initials = "RB"
    while (turn := lab.get("/api/gauge-studies/GS-001/next")["turn"]) is not None:
        growth = 0.02 * codes.index(turn["coupon"]) + 0.012 + chance.gauss(0, 0.0005)
        body = {"outer_mm": round(7 + 2 * growth, 4), "inner_mm": round(7 - 2 * growth, 4)}
        lab.post(f"/api/gauge-turns/{turn['turn_id']}/reading", body, 201)
    lab.initials = "IM"
    page.get_by_role("link", name="To the study").click()
    expect(page.get_by_text("Windows are decided with it", exact=False)).to_be_visible()
    expect(page.get_by_role("img", name="Edge growth by coupon and reader, 12 readings")).to_be_visible()
    biases = page.get_by_role("region", name="Biases")
    biases.get_by_role("button", name=re.compile("Correct their edges by −6")).click()
    expect(biases.get_by_text("corrected for +6", exact=False)).to_be_visible()
    biases.get_by_role("button", name="Correct no more").click()
    expect(biases.get_by_text("corrected for", exact=False)).to_have_count(0)
