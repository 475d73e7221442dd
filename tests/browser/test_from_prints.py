"""A campaign by prints of parts alone, from an empty log to a set that says so on its card and on the Board."""

import io
import re

import pytest
from PIL import Image
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.long

_BUFFER = io.BytesIO()
Image.new("RGB", (64, 48), (120, 124, 132)).save(_BUFFER, "PNG")
A_PICTURE = _BUFFER.getvalue()
LATER = ((2.9, 16, 14), (2.7, 16, 11), (3.4, 24, 24), (3.1, 16, 16), (3.4, 24, 24), (3.4, 24, 24))


def fill_report(page: Page, printed: int, whole: int) -> None:
    page.get_by_label("Part 1", exact=True).fill("funnel")
    page.get_by_label("How many of part 1").fill(str(printed))
    page.get_by_label("Whole of part 1").fill(str(whole))
    page.get_by_role("button", name="Supports torn").click()
    page.get_by_label("Every piece is there").check()
    page.get_by_label("Temperature at start").fill("23")


def others_logged(page: Page, live, prints) -> None:
    """Prints of the calibration that is open (exposure, how many, how many whole), logged by a colleague; then to Refine."""
    lab = live.lab
    code = page.get_by_text(re.compile(r"^C-\d+ · ")).inner_text().split(" ")[0]
    campaign = lab.get(f"/api/calibrations/{code}")
    for exposure_s, printed, whole in prints:
        trial = lab.get(f"/api/start-from/{code}?exposure_s={exposure_s}")["trial"]
        body = {"printer_id": campaign["printer_id"], "trial": trial, "temp_c": 23.5, "temp_place": "resin"}
        parts = [{"name": "funnel", "printed": printed, "whole": whole}]
        seen = {"symptoms": ["supports-torn"] if whole < printed else [], "pieces_lost": False}
        lab.post("/api/prints", {**body, **seen, "parts": parts}, 201)
    page.goto(f"{live.url}/calibrate/{campaign['id']}?step=refine")


def test_from_the_first_print_of_parts_to_a_set_marked_from_prints(empty, as_im: Page):
    page, lab = as_im, empty.lab
    shelf = lab.shelf()
    page.goto(f"{empty.url}/calibrate/new?material={shelf['material_id']}&printer={shelf['printer_id']}")
    expect(page.get_by_label("From", exact=True)).to_have_value("1.5")
    page.get_by_role("button", name="Prints of parts alone").click()
    expect(page.get_by_label("Thinnest wall")).to_have_count(0)
    expect(page.get_by_label("Parts that should come out whole")).to_have_value("90")
    page.get_by_role("button", name="Start", exact=True).click()
    expect(page.get_by_text("No print of parts with these settings is logged yet.")).to_be_visible()

    # The first print is entered as it came out; what it is printed with is filled in.
    page.get_by_role("link", name="It came out already").click()
    expect(page.get_by_role("heading", name="Log a print")).to_be_visible()
    expect(page.get_by_label("Exposure", exact=True)).to_have_value("2.4")
    fill_report(page, 16, 5)
    page.get_by_role("button", name="Log it").click()
    expect(page.get_by_role("row", name=re.compile(r"5 of 16, 31"))).to_be_visible()
    expect(page.get_by_role("link", name="Start this print")).to_have_attribute("href", re.compile("exposure=3.6"))

    # The others by a colleague at another screen, until the page says that there are enough.
    others_logged(page, empty, LATER)
    page.get_by_role("complementary", name="Refine").get_by_role("button", name="Decide").click()
    expect(page.get_by_role("radio", name=re.compile("Centre"))).to_be_checked()
    expect(page.get_by_role("radio", name=re.compile("Nominal size"))).to_be_disabled()
    page.get_by_role("button", name=re.compile("and confirm$")).click()
    page.get_by_role("button", name="Skip confirmation").click()
    page.get_by_label("Why this exposure").fill("Funnels came out whole from here on.")
    page.get_by_role("button", name=re.compile(r"Issue \d")).click()
    card = page.get_by_role("article", name="Card of S-001")
    expect(card.get_by_text("From prints.")).to_be_visible()
    expect(card).to_contain_text(re.compile(r"118 of 136.parts came out whole, in 7.prints"))
    page.get_by_role("link", name="Board", exact=True).click()
    expect(page.get_by_role("link", name=re.compile("Slate 2 on Cormorant: issued, .* s, from prints"))).to_be_visible()


def test_failures_are_sorted_photographed_and_drawn_over_time(morning, as_im: Page):
    page, (live, _) = as_im, morning
    lab = live.lab
    trial = lab.get("/api/start-from/S-001")
    row = lab.post(
        "/api/prints/start",
        {
            "printer_id": trial["printer_id"],
            "set_code": "S-001",
            "parts": [{"name": "clip", "printed": 9}],
            "outside_band": "The clips were promised for the tide.",
        },
        201,
    )
    page.goto(f"{live.url}/log/{row['code']}/finish")
    page.get_by_label("Whole of part 1").fill("4")
    page.get_by_label("Add a photo").set_input_files(
        {"name": "plate.png", "mimeType": "image/png", "buffer": A_PICTURE}
    )
    expect(page.get_by_role("img", name=re.compile(f"^{row['code']}, "))).to_be_visible()
    for sign in ("Supports torn", "Details grown shut"):
        page.get_by_role("button", name=sign).click()
    page.get_by_label("clip: too little light").fill("3")
    page.get_by_label("clip: too much light").fill("3")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_text("Only 5 of 9 failed.").first).to_be_visible()
    page.get_by_label("clip: too much light").fill("2")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page).to_have_url(re.compile(f"/log/{row['code']}$"))
    (part,) = lab.get(f"/api/prints/{row['code']}")["parts"]
    assert (part["under"], part["over"]) == (3, 2)
    page.goto(f"{live.url}/printers/{trial['printer_id']}")
    plot = page.get_by_role("img", name=re.compile("^Whole prints by month"))
    expect(plot).to_be_visible()
