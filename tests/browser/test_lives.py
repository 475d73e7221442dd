"""Parameter sets live and die, as a person sees it: guesses, events, check coupons, the printer's page."""

import re

import pytest
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.long


@pytest.fixture
def issued(empty):
    """An issued set, and a material never calibrated."""
    lab = empty.lab
    calibration = lab.decided()
    card = lab.issue(calibration, temp_low_c=20, temp_high_c=26)
    lab.post(
        "/api/resins",
        {
            "name": "Hullform",
            "maker": "Foreshore Polymers",
            "colour": "grey",
            "family": "ABS-like",
            "opacity": "opaque",
            "wash_class": "solvent",
            "chemistry": "acrylate",
            "maker_low_s": 2,
            "maker_high_s": 5,
        },
        201,
    )
    return calibration, card


def cell(page: Page, name: str):
    return page.get_by_role("table", name="Materials by printers").get_by_role("link", name=re.compile(f"^{name}"))


def test_an_event_lapses_a_set_undo_brings_it_back_and_a_check_coupon_renews_it(empty, as_im: Page, issued):
    page, lab = as_im, empty.lab
    page.goto(f"{empty.url}/board")
    expect(cell(page, "Slate 2 on Cormorant: issued")).to_be_visible()
    page.get_by_role("link", name="Cormorant", exact=True).click()
    expect(page.get_by_role("table", name="Parameter sets")).to_contain_text("issued")
    page.keyboard.press("n")
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("What", exact=True).select_option("Screen replaced")
    expect(dialog.get_by_role("region", name="What it touches")).to_contain_text("It touches 1 set")
    dialog.get_by_label("When").fill("2031-01-01T10:00")
    expect(dialog.get_by_text("This lies in the future.")).to_be_visible()
    dialog.get_by_label("When").fill("")
    dialog.get_by_role("button", name="Record it").click()
    expect(page.get_by_role("table", name="Parameter sets")).to_contain_text("lapsed")
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("table", name="Parameter sets")).to_contain_text("issued")
    # Again, and this time it stays.
    page.get_by_role("button", name="Record an event").click()
    dialog.get_by_label("What", exact=True).select_option("Screen replaced")
    dialog.get_by_role("button", name="Record it").click()
    expect(page.get_by_role("table", name="Parameter sets")).to_contain_text("lapsed")
    page.get_by_role("link", name="Board", exact=True).click()
    expect(cell(page, "Slate 2 on Cormorant: lapsed")).to_be_visible()
    today = page.get_by_role("region", name="Today")
    expect(today).to_contain_text("Slate 2 on Cormorant has lapsed")
    today.get_by_role("link", name="Check or recalibrate").click()
    life = page.get_by_role("region", name="Does it still hold?")
    expect(life).to_contain_text("Screen replaced")
    life.get_by_role("button", name=re.compile("^Print a check coupon")).click()
    life.get_by_role("button", name=re.compile("as printed")).click()
    read = life.get_by_role("link", name=re.compile("^Read "))
    expect(read).to_be_visible()
    code = read.inner_text().split()[1]
    lab.read(code)
    page.reload()
    expect(life).to_contain_text("it holds")
    expect(life).to_contain_text("within limits")
    page.get_by_role("link", name="Board", exact=True).click()
    expect(cell(page, "Slate 2 on Cormorant: issued")).to_be_visible()


def test_a_failed_check_offers_a_short_re_range(empty, as_im: Page, issued):
    page, lab = as_im, empty.lab
    _, card = issued
    code = lab.post(f"/api/sets/{card['code']}/check", None, 201)["coupon"]
    lab.print(code)
    lab.read(code, lab.seen(code, 2.2 * card["exposure_s"]))
    page.goto(f"{empty.url}/sets/{card['code']}")
    life = page.get_by_role("region", name="Does it still hold?")
    expect(life).to_contain_text("Check coupon outside the limits")
    life.get_by_role("link", name=re.compile("^Recalibrate")).click()
    expect(page.get_by_label("From", exact=True)).to_have_value(f"{round(0.78 * card['exposure_s'], 1):g}")
    expect(page.get_by_label("Where it comes from")).to_have_value("own guess")


def test_an_estimate_stands_on_the_board_and_a_campaign_starts_from_it(empty, as_im: Page, issued):
    page = as_im
    page.goto(f"{empty.url}/board")
    guess = cell(page, "Hullform on Cormorant: estimate")
    expect(guess).to_contain_text("~")
    guess.focus()
    page.keyboard.press("ArrowDown")
    expect(cell(page, "Slate 2 on Cormorant")).to_be_focused()
    page.keyboard.press("ArrowUp")
    page.keyboard.press("Enter")
    expect(page.get_by_text(re.compile("First estimate: ~"))).to_contain_text("too few to judge the estimates by")
    page.get_by_label("Where it comes from").select_option("Setback’s own prediction")
    low = float(page.get_by_label("From", exact=True).input_value())
    held = empty.lab.get("/api/board")["cells"]
    cell_held = next(c for c in held if c["state"] == "predicted")
    assert low == pytest.approx(cell_held["lower_s"], rel=0.1)


def test_the_material_page_holds_everything_in_one_place(demo, as_im: Page):
    page = as_im
    page.goto(f"{demo.url}/board")
    page.get_by_role("link", name="Tideglass", exact=True).click()
    expect(page.get_by_role("region", name="Depth and temperature")).to_contain_text("Penetration depth")
    page.get_by_role("link", name="Board", exact=True).click()
    page.get_by_role("link", name="Gannet", exact=True).click()
    expect(page.get_by_role("img", name=re.compile("Control chart of Gannet: 10 check coupons"))).to_be_visible()
    expect(page.get_by_role("region", name="Control chart")).to_contain_text("Drifts by")
    expect(page.get_by_role("list", name="Events")).to_contain_text("Vat topped up with another material")
