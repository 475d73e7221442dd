"""A caliper's and a scale's button: the value lands in the field that has the focus, where it is of that unit, and nowhere else."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page, expect

from setback.simulate.instruments import OverHttp, OverSerial, StandIn

pytestmark = pytest.mark.long


@pytest.fixture
def coupon(empty):
    calibration = empty.lab.calibration()
    (code,) = empty.lab.plan(calibration, [2.6])
    empty.lab.print(code)
    return code


def add(page: Page, name: str, kind: str, way: str, address: str) -> None:
    page.get_by_role("button", name="Add an instrument").first.click()
    form = page.get_by_role("dialog")
    form.get_by_label("Name").fill(name)
    form.get_by_label("What it measures with").select_option(kind)
    form.get_by_label("How it is reached").select_option(way)
    form.get_by_label("Address or line").fill(address)
    form.get_by_role("button", name="Save").click()
    expect(page.get_by_text(f"{name} is added.")).to_be_visible()


def test_a_button_fills_the_field_one_stands_in_and_no_other(empty, coupon, as_im: Page):
    page = as_im
    with OverHttp(StandIn("caliper")) as caliper, OverSerial(StandIn("scale")) as scale:
        page.goto(f"{empty.url}/lab/instruments")
        expect(page.get_by_text("With its button, a caliper or a scale", exact=False)).to_be_visible()
        add(page, "Caliper at the window", "caliper", "http", caliper.address)
        add(page, "Scale", "scale", "serial", scale.address)
        for name in ("Caliper at the window", "Scale"):
            panel = page.get_by_role("region", name=name)
            expect(panel.get_by_text("Off: the server does not read it.")).to_be_visible()
            panel.get_by_role("button", name="Switch on").click()
            panel.get_by_label("Its button fills the field I stand in", exact=False).check()
        panel = page.get_by_role("region", name="Caliper at the window")
        expect(panel.get_by_text("10.02", exact=False)).to_be_visible()

        page.goto(f"{empty.url}/coupons/{coupon}")
        bar, other = page.get_by_label("Bar 7 along X", exact=True), page.get_by_label("Notch 7 along X", exact=True)
        with page.expect_response("**/api/instruments"):
            bar.focus()
        caliper.press(7.04)
        expect(bar).to_have_value("7.04")
        expect(other).to_have_value("")
        # Grams are no millimetres.
        scale.press(250)
        expect(page.get_by_text("Scale: 250.00 g. No field of g has the focus.", exact=False)).to_be_visible()
        expect(bar).to_have_value("7.04")
        # Nobody stands in a number field: the reading is shown, and written nowhere.
        page.get_by_label("Note").focus()
        caliper.press(3.33)
        expect(page.get_by_text("Caliper at the window: 3.33 mm. No field of mm", exact=False)).to_be_visible()
        expect(other).to_have_value("")
        assert page.get_by_label("Note").input_value() == ""
        other.focus()
        caliper.press(6.96)
        expect(other).to_have_value("6.96")
        expect(bar).to_have_value("7.04")

        page.goto(f"{empty.url}/lab/instruments")
        scale.unplug()
        expect(page.get_by_role("region", name="Scale").get_by_text("unplugged", exact=False)).to_be_visible()
        panel.get_by_role("button", name="Switch off").click()
        expect(panel.get_by_text("Off: the server does not read it.")).to_be_visible()
