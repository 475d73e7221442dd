"""From a recipe over batch, vat and series to the chosen fraction, its tests and its certificate, as a person does it."""

import re

import pypdfium2 as pdfium
import pytest
from playwright.sync_api import Page, expect

from setback.core.testing.methods import METHODS
from tests.api.test_blends import KELP, SLATE, tried
from tests.specimens import make_all, read_all, setup_of

pytestmark = pytest.mark.long


@pytest.fixture
def shop(empty):
    """Two resins with a bottle each, an issued set of one, and its printer."""
    lab = empty.lab
    calibration = lab.decided()
    lab.issue(calibration)
    slate = lab.get("/api/resins")["items"][0]
    lab.put(f"/api/resins/{slate['id']}", SLATE | {"version": slate["version"]})
    kelp = lab.post("/api/resins", KELP, 201)["id"]
    lab.post("/api/bottles", {"material_id": kelp, "lot": "KE-7", "volume_ml": 500}, 201)
    brief = {
        "name": "Clip",
        "requirements": [
            {"property": "flexing.cycles", "at": "least", "limit": 300},
            {"property": "cantilever-bend.strength", "at": "least", "limit": 40},
        ],
    }
    lab.post("/api/briefs", brief, 201)
    return empty


def test_recipe_batch_vat_first_exposure_series_and_the_chosen_fraction(shop, as_im: Page):
    page, lab = as_im, shop.lab
    page.goto(f"{shop.url}/blend/new")
    page.get_by_role("group", name="Part 1").get_by_label("Part 1").select_option(label="Slate 2")
    page.get_by_role("group", name="Part 2").get_by_label("Part 2").select_option(label="Kelpflex")
    page.get_by_role("group", name="Part 2").get_by_label("Share").fill("18")
    expect(page.get_by_text("the rest: 82")).to_be_visible()
    gives = page.get_by_role("complementary", name="Result so far")
    expect(gives.get_by_role("row", name=re.compile("Slate 2"))).to_contain_text("360.8")
    expect(gives).to_contain_text(
        re.compile(r"Cormorant, 50.µm: ~[\d.]+.s Mixed from its parts: S-001 and an estimate")
    )
    page.get_by_role("button", name="Save the recipe").click()
    expect(page.get_by_role("heading", name="Slate 2 + 18 % Kelpflex")).to_be_visible()

    form = page.get_by_role("form", name="Plan a batch")
    form.get_by_label("A new batch of").fill("4 l")
    form.get_by_role("button", name="Plan the batch").click()
    expect(form.get_by_text("the fullest has 1000 ml")).to_be_visible()
    form.get_by_label("A new batch of").fill("200")
    form.get_by_role("button", name="Plan the batch").click()
    expect(page.get_by_role("heading", name="Batch M-001")).to_be_visible()
    expect(page.get_by_text("The cup trial comes first.")).to_be_visible()
    page.get_by_role("button", name="Trial started").click()
    expect(page.get_by_role("button", name=re.compile("^Timers: Look at the cup of M-001"))).to_be_visible()
    page.get_by_role("button", name="fine").click()
    page.get_by_label("Really poured, Kelpflex").fill("42")
    page.get_by_role("button", name="Poured", exact=True).click()
    expect(page.get_by_role("table", name="Pours")).to_contain_text("off by more than 1 %")
    page.get_by_role("button", name="Stirred").click()
    page.get_by_role("link", name="fill a vat").click()

    page.get_by_role("region", name="Vat of Cormorant").get_by_role("link", name="Open").click()
    page.get_by_role("button", name="Pour or drain…").click()
    dialog = page.get_by_role("dialog")
    bottle = dialog.get_by_label("From").locator("option", has_text="lot M-001")
    dialog.get_by_label("From").select_option(bottle.get_attribute("value"))
    dialog.get_by_label("Volume").fill("400")
    expect(dialog.get_by_text("holds 204 ml")).to_be_visible()
    dialog.get_by_label("Volume").fill("150")
    dialog.get_by_role("button", name="Record it").click()
    expect(dialog).to_have_count(0)
    expect(page.get_by_role("img", name=re.compile("^Vat of Cormorant: .*Slate 2"))).to_be_visible()

    slate = page.get_by_role("button", name="Pour or drain…")
    slate.click()
    bottle = dialog.get_by_label("From").locator("option", has_text="Slate 2, lot SL-1")
    dialog.get_by_label("From").select_option(bottle.get_attribute("value"))
    dialog.get_by_label("Volume").fill("50")
    note = dialog.get_by_role("button", name="Record it")
    expect(dialog.get_by_label("Name it as a new material")).to_be_visible()
    expect(note).to_be_disabled()
    dialog.get_by_label("or state it as a contamination").fill("The wrong bottle.")
    note.click()
    expect(page.get_by_text("contaminated: The wrong bottle.")).to_be_visible()
    page.get_by_role("button", name="Undo").last.click()
    expect(page.get_by_text("contaminated: The wrong bottle.")).to_have_count(0)
    top_up = page.get_by_role("region", name="Top up")
    top_up.get_by_label("To", exact=True).select_option(label="Slate 2 + 18 % Kelpflex")
    expect(top_up.get_by_role("listitem").first).to_contain_text(re.compile(r"Pour [\d.]+.ml Slate 2 from B-"))

    page.goto(f"{shop.url}/blend/recipes")
    page.get_by_role("link", name="Slate 2 + 18 % Kelpflex").first.click()
    page.get_by_role("main").get_by_role("link", name="Calibrate", exact=True).click()
    expect(page.get_by_label("Material", exact=True)).to_contain_text("Slate 2 + 18 % Kelpflex")
    expect(page.get_by_label("Material", exact=True).locator("option:checked")).to_have_text("Slate 2 + 18 % Kelpflex")

    page.goto(f"{shop.url}/blend/series")
    page.get_by_role("button", name="Start a series").first.click()
    form = page.get_by_role("form", name="Start a series")
    form.get_by_label("Name").fill("Tough clip")
    form.get_by_label("Base").select_option(label="Slate 2")
    form.get_by_label("Additive").select_option(label="Kelpflex")
    form.get_by_label("Brief").select_option(label="Clip")
    form.get_by_role("button", name="Start it").click()
    expect(page.get_by_role("status").filter(has_text="Not yet tested")).to_be_visible()
    for share in ("7.5", "15", "22.5", "30"):
        page.get_by_role("button", name=f"Add {share} %").click()
        expect(page.get_by_role("row", name=re.compile(rf"^{share} %"))).to_be_visible()
    series = lab.get("/api/blend-series/" + page.url.rsplit("/", 1)[1])
    for key, value in (("flexing", lambda f: 120 + 1500 * f), ("cantilever-bend", lambda f: 70 - 80 * f)):
        tried(lab, METHODS[key], series, value)
    page.reload()
    expect(page.get_by_text(re.compile(r"meets it with 90 % assurance; [\d.]+ % has the most in hand"))).to_be_visible()
    expect(page.get_by_role("img", name=re.compile("^Flexes to break against share"))).to_be_visible()

    # The blend itself: calibrated, dropped and worn, held against what the clip must stand, and signed.
    blend = next(m["id"] for m in lab.get("/api/test-materials")["items"] if m["name"] == "Slate 2 + 18 % Kelpflex")
    code = issued(lab, blend)
    for key in ("drop", "joint-wear"):
        method = METHODS[key]
        plan = {
            "method": key,
            "setup": setup_of(method),
            "each": 6,
            "prints": 6,
            "groups": [{"material_id": blend, "set_code": code}],
        }
        read_all(lab, method, make_all(lab, lab.post("/api/tests", plan, 201)))
    lines = [
        {"property": "drop.height", "at": "least", "limit": 0.4},
        {"property": "joint-wear.rating", "at": "most", "limit": 3.5},
        {"property": "set.cost", "at": "most", "limit": 2, "amount": 12, "kind": "should"},
    ]
    brief = lab.post("/api/briefs", {"name": "Tough clip", "requirements": lines}, 201)["code"]
    page.goto(f"{shop.url}/qualify/{brief}/{code}")
    expect(page.get_by_role("listitem", name=re.compile("^Median drop height"))).to_contain_text("met Median")
    expect(page.get_by_role("region", name="Verdict")).to_contain_text("qualified")
    page.get_by_label("Your initials").fill("IM")
    page.get_by_role("button", name="Sign as qualified").click()
    with page.expect_download() as waiting:
        page.get_by_role("link", name="Certificate").click()
    text = pdfium.PdfDocument(waiting.value.path())[0].get_textpage().get_text_range()
    assert "Slate 2 + 18 % Kelpflex for Tough clip" in text and "Qualified" in text


def issued(lab, material_id: str) -> str:
    """A set of a material on the shop's printer, found like any other."""
    shelf = {
        "material_id": material_id,
        "printer_id": lab.get("/api/printers")["items"][0]["id"],
        "bottle_id": None,
        "finish_route_id": lab.get("/api/finish-routes")["items"][0]["id"],
    }
    calibration = lab.calibration(shelf)
    lab.series(calibration, [1.5, 2.0, 2.6, 3.4, 4.8])
    return lab.issue(lab.led(calibration, latitude=True), temp_low_c=21, temp_high_c=27)["code"]


def test_what_must_not_be_mixed_is_said_before_it_is_poured(shop, as_im: Page):
    page, lab = as_im, shop.lab
    lab.post("/api/resins", KELP | {"name": "Rinsewell", "wash_class": "water"}, 201)
    page.goto(f"{shop.url}/blend/new")
    page.get_by_role("group", name="Part 1").get_by_label("Part 1").select_option(label="Slate 2")
    page.get_by_role("group", name="Part 2").get_by_label("Part 2").select_option(label="Rinsewell")
    page.get_by_role("group", name="Part 2").get_by_label("Share").fill("50")
    expect(page.get_by_text("loses its water wash")).to_be_visible()
    keep = page.get_by_role("button", name="Save the recipe")
    expect(keep).to_be_disabled()
    page.get_by_label("Why it is mixed all the same").fill("For waste only.")
    keep.click()
    expect(page.get_by_text("Mixed against a rule: For waste only.")).to_be_visible()


def test_an_unmeasured_mix_says_whether_the_uncertainty_matters(shop, as_im: Page):
    page = as_im
    page.goto(f"{shop.url}/blend/after")
    page.get_by_label("Added", exact=True).fill("40")
    page.get_by_label("±").first.fill("10")
    page.get_by_label("to", exact=True).fill("200")
    page.get_by_label("±").last.fill("20")
    result = page.get_by_role("complementary", name="What it is")
    expect(result).to_contain_text("16.7 %")
    page.get_by_label("or exposure ratio").fill("2")
    expect(result).to_contain_text("That uncertainty moves the exposure by up to")
    page.get_by_label("Set in the vat").select_option("S-001")
    expect(result).to_contain_text("little against the window")
    page.get_by_label("or exposure ratio").fill("500")
    expect(result).to_contain_text("more than a fifth of the window")
    expect(result).to_contain_text("Window of S-001.")
