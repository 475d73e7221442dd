"""Before a print, after it, and what holds up the next one; the log; and confirming on a real part."""

import re

from playwright.sync_api import Page, expect


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
    page.get_by_role("link", name="Log a print").first.click()
    page.get_by_role("button", name="Log it").click()
    expect(page.get_by_text("Say what was printed.")).to_be_visible()
    page.get_by_label("Part 1", exact=True).fill("funnel")
    page.get_by_role("group", name="Outcome of part 1").get_by_role("button", name="in part").click()
    page.get_by_label("Trial settings").fill("Slate 2, 2.6 s")
    page.get_by_label("Temperature at start").fill("48 F")
    page.get_by_label("Resin used").fill("42")
    page.get_by_label("What was seen").fill("first layers pale")
    page.get_by_role("button", name="Log it").click()
    row = page.get_by_role("row", name=re.compile("funnel"))
    expect(row).to_contain_text("funnel in part")
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
    expect(form.get_by_text("Suspect level or light.")).to_be_visible()
    form.get_by_role("button", name="Record the finding").click()
    expect(page.get_by_text("Loss on one side only: suspect level or light.")).to_be_visible()
    form.get_by_label("nothing: it passed").check()
    form.get_by_role("button", name="Record that it passed").click()
    expect(page.get_by_text("at the centre and at the worst place.").first).to_be_visible()
    page.get_by_role("button", name=re.compile("^Withdraw")).last.click()
    expect(page.get_by_role("article", name=re.compile("^Confirmation"))).to_have_count(2)
    page.get_by_role("button", name="Undo").last.click()
    expect(page.get_by_role("article", name=re.compile("^Confirmation"))).to_have_count(3)
