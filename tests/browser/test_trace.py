"""From the log to why a print failed: on a phone, from a failed print to its passed repeat; and from nothing."""

import re

import pytest
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.long

PHONE = {"width": 390, "height": 844}


def test_on_a_phone_from_a_failed_print_to_its_passed_repeat(morning, as_im: Page):
    page, (live, _) = as_im, morning
    lab = live.lab
    started = lab.get("/api/start-from/S-001")
    row = lab.post(
        "/api/prints",
        {
            "printer_id": started["printer_id"],
            "set_code": "S-001",
            "temp_c": 9,
            "temp_place": "resin",
            "outside_band": "Before the tide.",
            "parts": [{"name": "sensor clip", "printed": 6, "whole": 0}],
            "symptoms": ["nothing-on-plate"],
        },
        201,
    )
    page.set_viewport_size(PHONE)
    page.goto(f"{live.url}/log?failed=")
    page.get_by_role("button", name=f"Why did {row['code']} fail?").click()
    causes = page.get_by_role("region", name="Causes")
    expect(causes.get_by_role("listitem", name=re.compile("^Cold resin, ")).first).to_be_visible()
    expect(
        causes.get_by_role("link", name=re.compile("9 °C resin at the start, S-001 was made at")).first
    ).to_be_visible()

    # The check that settles it, then the cause is kept and weighs in.
    check = page.get_by_role("article", name="Read the temperature in the resin")
    check.get_by_role("button", name="under 18 °C").click()
    expect(page.get_by_text("Read the temperature in the resin: under 18 °C", exact=True)).to_be_visible()
    lead = causes.get_by_role("listitem", name=re.compile("^Cold resin, (9|>9)"))
    lead.get_by_role("button", name="It was this").click()
    expect(page.get_by_role("heading", name="It was: Cold resin")).to_be_visible()

    # The remedy begins where it is done, with what is known of the print.
    remedy = page.get_by_role("region", name="Remedy").get_by_role("link", name="Plan a warm start")
    expect(remedy).to_have_attribute("href", re.compile(r"/climate/warm-start\?printer=.*&set=S-001"))
    remedy.click()
    expect(page.get_by_role("heading", name="Warm start", level=1)).to_be_visible()
    page.go_back()
    page.get_by_role("link", name="Put right: print it again").click()
    expect(page.get_by_label("Part 1", exact=True)).to_have_value("sensor clip")
    page.get_by_role("button", name="It came out already").click()
    page.get_by_label("How many of part 1").fill("6")
    page.get_by_label("Temperature at start").fill("24")
    page.get_by_role("button", name="Log it").click()
    expect(page.get_by_text("search the vat").first).to_be_visible()
    lab.post(f"/api/prints/{row['id']}/vat-searched")
    page.get_by_role("button", name="Log it").click()
    expect(page.get_by_text("is logged.").first).to_be_visible()
    newest = lab.get("/api/prints")["items"][0]
    assert (newest["outcome"], newest["started_from"]) == ("whole", row["code"])


def test_from_nothing_a_wrong_lead_falls_and_every_step_is_taken_back(morning, as_im: Page):
    page, (live, _) = as_im, morning
    page.goto(f"{live.url}/log/why")
    expect(page.get_by_role("row", name=re.compile("Rinsewell.*Cold resin")).first).to_be_visible()
    page.get_by_role("button", name="Ask why something failed").click()
    expect(page.get_by_text("No sign is chosen")).to_be_visible()
    page.get_by_role("button", name="The same mark every time").click()
    causes = page.get_by_role("region", name="Causes")
    first = causes.get_by_role("listitem", name=re.compile(r"\d.%$")).first
    expect(first).to_have_attribute("aria-label", re.compile("^A dead or scratched spot"))
    page.get_by_role("article", name="Show a white screen").get_by_role("button", name="even", exact=True).click()
    expect(first).to_have_attribute("aria-label", re.compile("^Film worn"))
    page.get_by_role("button", name="Withdraw").click()
    expect(first).to_have_attribute("aria-label", re.compile("^A dead or scratched spot"))
    page.get_by_role("button", name="All 29 causes").click()
    other = causes.get_by_role("listitem", name=re.compile("^Something else"))
    other.get_by_role("button", name="It was this").click()
    dialog = page.get_by_role("dialog", name="What was it?")
    dialog.get_by_role("button", name="Save").click()
    expect(dialog.get_by_text("Say what it was.")).to_be_visible()
    dialog.get_by_label("What it was").fill("A crab on the plate.")
    dialog.get_by_role("button", name="Save").click()
    expect(page.get_by_role("heading", name="It was: A crab on the plate.")).to_be_visible()
    page.get_by_role("button", name="Withdraw it").click()
    expect(page.get_by_role("heading", name=re.compile("^It was:"))).to_have_count(0)


def test_a_new_film_is_noted_from_its_trace(morning, as_im: Page):
    page, (live, _) = as_im, morning
    trace = live.lab.get("/api/traces/Y-005")
    live.lab.put(f"/api/traces/{trace['id']}/symptoms", {"version": trace["version"], "symptoms": ["same-mark"]})
    for check, answer in (("read-resin", "right"), ("film-light", "worn"), ("white-screen", "even")):
        live.lab.post(f"/api/traces/{trace['id']}/answers", {"check": check, "answer": answer})
    page.goto(f"{live.url}/log/why/Y-005")
    remedy = page.get_by_role("region", name="Remedy").get_by_role("link", name="Note the new film")
    expect(remedy).to_be_visible()
    remedy.click()
    dialog = page.get_by_role("dialog", name="What happened to Gannet?")
    expect(dialog.get_by_label("What", exact=True)).to_have_value("film-replaced")
    dialog.get_by_role("button", name="Record it").click()
    expect(dialog).to_have_count(0)
    expect(page.get_by_role("list", name="Events").get_by_text("Film replaced").first).to_be_visible()
