"""Before a print, after it, and what holds up the next one; the log; and confirming on a real part."""

import re

import pytest
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.long


def test_checks_come_before_the_print_and_a_skip_names_who(empty, as_im: Page):
    page, lab = as_im, empty.lab
    calibration = lab.calibration()
    page.goto(f"{empty.url}/calibrate/{calibration['id']}")
    start = page.get_by_role("region", name="Before you start")
    expect(start.get_by_text("Uncured resin sensitises skin")).to_be_visible()
    expect(start.get_by_role("button", name="All checked")).to_be_disabled()
    for box in start.get_by_role("checkbox").all():
        box.check()
    # Nothing is lost on a reload.
    page.reload()
    expect(start.get_by_role("checkbox").last).to_be_checked()
    start.get_by_role("button", name="All checked").click()
    expect(start).to_have_count(0)
    lab.plan(calibration, [2.4])
    page.reload()
    before = page.get_by_role("region", name="Before this print")
    before.get_by_role("button", name="Skip; it is recorded").click()
    expect(page.get_by_text(re.compile("Print not checked, skipped by IM"))).to_be_visible()


def test_missing_parts_hold_up_the_next_print_until_the_vat_is_searched(empty, as_im: Page):
    page, lab = as_im, empty.lab
    calibration = lab.calibration()
    first, other = lab.plan(calibration, [2.4, 3.0])
    page.goto(f"{empty.url}/calibrate/{calibration['id']}")
    page.get_by_role("button", name=f"Mark {first} as printed").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name="missing parts").click()
    expect(dialog.get_by_text("waits until the vat is searched")).to_be_visible()
    dialog.get_by_label("What was seen").fill("two walls in the vat")
    dialog.get_by_role("button", name="Mark as printed").click()
    expect(dialog).to_have_count(0)
    page.get_by_role("button", name=f"Mark {other} as printed").click()
    dialog.get_by_role("button", name="Mark as printed").click()
    expect(dialog.get_by_text("search the vat and check the film before anything else starts")).to_be_visible()
    dialog.get_by_role("button", name="Close").click()
    expect(dialog).to_have_count(0)
    page.get_by_role("button", name="Vat searched, film checked").click()
    expect(page.get_by_role("button", name="Vat searched, film checked")).to_have_count(0)
    page.get_by_role("button", name=f"Mark {other} as printed").click()
    dialog.get_by_role("button", name="Mark as printed").click()
    expect(dialog).to_have_count(0)
    page.goto(f"{empty.url}/log")
    expect(page.get_by_role("row", name=re.compile("missing parts"))).to_contain_text("two walls in the vat")


def test_a_print_of_parts_is_logged_in_a_few_taps_and_remembered(empty, as_im: Page):
    page, lab = as_im, empty.lab
    lab.shelf()
    page.goto(f"{empty.url}/log")
    expect(page.get_by_text("the record a failure is explained from")).to_be_visible()
    page.get_by_role("link", name="Log one that came out").first.click()
    page.get_by_role("button", name="Log it").click()
    expect(page.get_by_text("Say what was printed.")).to_be_visible()
    page.get_by_label("Part 1", exact=True).fill("funnel")
    page.get_by_label("How many of part 1").fill("16")
    page.get_by_label("Whole of part 1").fill("14")
    page.get_by_role("button", name="Supports torn").click()
    page.get_by_label("Trial settings").fill("Slate 2, 2.6 s")
    page.get_by_label("Temperature at start").fill("48 F")
    page.get_by_label("Resin used").fill("42")
    page.get_by_label("What else was seen").fill("first layers pale")
    page.get_by_role("button", name="Log it").click()
    row = page.get_by_role("row", name=re.compile("funnel"))
    expect(row).to_contain_text("14 of 16 funnel whole")
    assert abs(lab.get("/api/prints")["items"][0]["temp_c"] - 8.9) < 0.05
    page.get_by_role("button", name="Vat searched, film checked").click()
    expect(page.get_by_role("button", name="Vat searched, film checked")).to_have_count(0)
    page.keyboard.press("n")
    expect(page.get_by_label("Part 1", exact=True)).to_have_value("funnel")


def test_a_chosen_exposure_is_confirmed_at_both_places(empty, as_im: Page):
    page, lab = as_im, empty.lab
    calibration = lab.decided()
    page.goto(f"{empty.url}/calibrate/{calibration['id']}?step=confirm")
    expect(page.get_by_role("heading", name="Does it hold on a real part?")).to_be_visible()
    form = page.get_by_role("form", name="Confirm an exposure")
    form.get_by_label("What was printed").fill("bracket")
    expect(form.get_by_role("button", name="Record", exact=True)).to_be_disabled()
    form.get_by_label("nothing: it passed").check()
    form.get_by_role("button", name="Record that it passed").click()
    expect(page.get_by_text("bracket, centre")).to_be_visible()
    expect(form.get_by_label("Where on the plate")).to_have_value("worst place")
    form.get_by_label("loss on one side only").check()
    expect(form.get_by_text(re.compile("^Suspect plate out of level or zero"))).to_be_visible()
    form.get_by_role("button", name="Record the finding").click()
    expect(page.get_by_text(re.compile("Loss on one side only: suspect plate out of level or zero, "))).to_be_visible()
    form.get_by_label("nothing: it passed").check()
    form.get_by_role("button", name="Record that it passed").click()
    expect(page.get_by_text("at the centre and at the worst place.").first).to_be_visible()
    page.get_by_role("button", name=re.compile("^Withdraw")).last.click()
    expect(page.get_by_role("article", name=re.compile("^Confirmation"))).to_have_count(2)
    page.get_by_role("button", name="Undo").last.click()
    expect(page.get_by_role("article", name=re.compile("^Confirmation"))).to_have_count(3)


def test_a_night_print_is_entered_next_morning_on_a_phone_in_a_dozen_keys_and_taps(issued_lab, as_im: Page):
    page, lab = as_im, issued_lab.lab
    page.set_viewport_size({"width": 390, "height": 844})
    page.clock.set_fixed_time(lab.clock.now)
    # The shop has logged before: printer, set and part are remembered.
    page.goto(f"{issued_lab.url}/log/new?done")
    page.get_by_label("Part 1", exact=True).fill("funnel")
    page.get_by_label("How many of part 1").fill("16")
    page.get_by_role("button", name="Log it").click()
    expect(page.get_by_role("row", name=re.compile("funnel"))).to_be_visible()
    page.goto(f"{issued_lab.url}/board")
    used = 0

    def tap(what) -> None:
        nonlocal used
        used += 1
        what.click()

    def keys(text: str) -> None:
        nonlocal used
        used += len(text)
        page.keyboard.type(text)

    tap(page.locator(".sections-toggle"))
    tap(page.get_by_role("link", name="Log", exact=True))
    tap(page.get_by_role("link", name="Log one that came out"))
    tap(page.get_by_label("Whole of part 1"))
    keys("14")
    tap(page.get_by_role("button", name="Supports torn"))
    tap(page.get_by_role("button", name=re.compile("^Overnight")))
    tap(page.get_by_role("button", name="Log it"))
    expect(page.get_by_role("row", name=re.compile("14 of 16 funnel whole"))).to_be_visible()
    print(f"a night print: {used} keys and taps")
    assert used <= 12
    night = next(one for one in lab.get("/api/prints?failed=1")["items"])
    assert night["started_at"] < night["printed_at"] and night["set_code"] == "S-001"


def test_a_failed_print_is_corrected_and_withdrawn_and_everything_it_fed_follows(issued_lab, as_im: Page):
    page, lab = as_im, issued_lab.lab
    row = lab.get("/api/printers")["items"][0]
    lab.post(
        "/api/prints", {"printer_id": row["id"], "set_code": "S-001", "parts": [{"name": "clip", "printed": 9}]}, 201
    )
    code = lab.get("/api/prints?limit=1")["items"][0]["code"]
    page.goto(f"{issued_lab.url}/log/{code}")
    page.get_by_role("link", name="Correct…").click()
    page.get_by_label("Whole of part 1").fill("7")
    page.get_by_role("button", name="Parts in the vat, supports on the plate").click()
    page.get_by_label("Why it is corrected").fill("Two lay in the vat.")
    page.get_by_role("button", name="Correct it").click()
    reports = page.get_by_role("region", name="Reports")
    expect(reports).to_contain_text("Corrected: Two lay in the vat.")
    expect(reports.get_by_role("listitem")).to_have_count(2)
    assert [gate["kind"] for gate in lab.get("/api/gates")["items"]] == ["vat"]
    page.get_by_role("button", name="Withdraw…").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Why").fill("It was another printer.")
    dialog.get_by_role("button", name="Withdraw").click()
    expect(page.get_by_text("It counts nowhere.")).to_be_visible()
    assert lab.get("/api/gates")["items"] == [] and lab.get("/api/prints?parts=1")["total"] == 0
    page.get_by_role("button", name="Let it count again").click()
    expect(page.get_by_role("link", name="Correct…")).to_be_visible()
