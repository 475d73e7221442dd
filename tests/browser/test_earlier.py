"""Start from what there is: forty old settings from a spreadsheet, settings by hand, and what becomes of them."""

import io
import re

import pytest
from openpyxl import Workbook
from playwright.sync_api import Page, expect

from setback.api.app import create_app
from setback.services.unit_of_work import seeded_ids
from setback.store.maintenance import copy_to
from tests.browser.test_walks import Hands
from tests.lab import entered

pytestmark = pytest.mark.long

SECONDS_A_CLICK, SECONDS_A_FIELD = 4, 8
"""Of an unhurried hand."""
MINUTES = 5


@pytest.fixture
def shelf(empty):
    """Five resins and four printers."""
    lab = empty.lab
    first = lab.shelf()
    resin = next(row for row in lab.get("/api/resins")["items"] if row["id"] == first["material_id"])
    printer = next(row for row in lab.get("/api/printers")["items"] if row["id"] == first["printer_id"])
    for name in ("Tideglass", "Hullform", "Kelpflex", "Rinsewell"):
        lab.post("/api/resins", entered(resin, "ResinInput") | {"name": name, "line": None, "colour": name}, 201)
    for name in ("Sanderling", "Gannet", "Guillemot"):
        lab.post("/api/printers", entered(printer, "PrinterInput") | {"name": name}, 201)
    empty.names = [resin["name"], "Tideglass", "Hullform", "Kelpflex", "Rinsewell"]
    empty.printers = [printer["name"], "Sanderling", "Gannet", "Guillemot"]
    return empty


def old_settings(shelf) -> bytes:
    """Five resins on four printers at two layer heights, as somebody kept them."""
    workbook = Workbook()
    sheet = workbook.active
    sheet.append(["What we print with"])
    sheet.append(["Resin", "Machine", "Layer (mm)", "Burn-in time", "Burn-in layers", "Exposure", "Since", "Source"])
    for at, name in enumerate(shelf.names):
        for printer in shelf.printers:
            for layer in (0.05, 0.03):
                called = "Old Kelp" if name == "Kelpflex" else name
                sheet.append(
                    [called, printer, layer, 25 + at, 4, round(2 + 0.4 * at + 20 * layer, 2), "2024-11-02", "maker"]
                )
    content = io.BytesIO()
    workbook.save(content)
    return content.getvalue()


def test_forty_old_settings_are_on_the_board_within_five_minutes_of_a_hand(shelf, as_im: Page):
    page = as_im
    page.goto(f"{shelf.url}/board")
    hands = Hands(page)
    hands.section("Shelf")
    hands.link("Settings in use")
    hands.link("From a table")
    file = {"name": "settings.xlsx", "mimeType": "application/octet-stream", "buffer": old_settings(shelf)}
    hands.clicks += 3
    page.get_by_label("A spreadsheet or text file").set_input_files(file)
    expect(page.get_by_role("heading", name="settings.xlsx, 40 rows")).to_be_visible()
    hands.button("Check every row")
    expect(page.get_by_role("heading", name="32 good, 8 bad")).to_be_visible()
    hands.choose("Material “Old Kelp”, 8 rows", "Kelpflex")
    hands.button("Check again")
    expect(page.get_by_role("heading", name="40 good, 0 bad")).to_be_visible()
    hands.button("Take in 40 rows")
    hands.link("Show the settings in use")
    expect(page.get_by_text("40 that nothing here shows yet")).to_be_visible()
    hands.section("Board")
    cells = page.get_by_role("link", name=re.compile("in use, not shown"))
    expect(cells).to_have_count(20)
    expect(cells.first).to_have_attribute("aria-label", re.compile(r"3.8 s, from the maker · 15 months"))
    seconds = SECONDS_A_CLICK * hands.clicks + SECONDS_A_FIELD * hands.fields

    assert seconds < 60 * MINUTES


def test_settings_are_entered_by_hand_changed_withdrawn_and_begin_a_calibration(shelf, as_im: Page):
    page, hands = as_im, Hands(as_im)
    page.goto(f"{shelf.url}/shelf/in-use")
    page.get_by_role("link", name="Enter settings").first.click()
    hands.choose("Material", "Hullform")
    hands.choose("Printer", "Gannet")
    hands.fill("Exposure", "9.5")
    hands.choose("From", "another workshop")
    hands.fill("Which one", "the harbour school")
    hands.fill("In use since", "2027-03-01")
    hands.button("Save")
    expect(page.get_by_text("That day has not come yet.")).to_be_visible()
    hands.fill("In use since", "2024-03-01")
    hands.click(page.get_by_text("The other settings, as far as you know them"))
    hands.fill("Base exposure", "40")
    hands.button("Save")
    expect(page.get_by_role("heading", level=1, name="Hullform on Gannet, 50 µm")).to_be_visible()
    expect(page.get_by_role("region", name="What would show most").get_by_text("Flat coupon at")).to_be_visible()
    expect(page.get_by_role("row", name=re.compile("Base exposure 40.s$"))).to_be_visible()
    expect(page.get_by_role("row", name=re.compile("Base layers 4 as usual"))).to_be_visible()

    hands.button("More")
    page.get_by_role("link", name="Change…").click()
    hands.fill("Exposure", "9.8")
    hands.button("Save a new version")
    expect(page.get_by_text(re.compile("Version 2; before: 9.5"))).to_be_visible()

    hands.button("More")
    hands.button("Withdraw…")
    page.get_by_label("Why it no longer stands").fill("a slip")
    page.get_by_role("dialog").get_by_role("button", name="Withdraw").click()
    expect(page.get_by_text("Withdrawn: a slip.")).to_be_visible()
    hands.button("Undo")
    expect(page.get_by_text("Withdrawn: a slip.")).to_have_count(0)

    page.get_by_role("link", name="Calibrate from here").click()
    expect(page.get_by_text(re.compile("As in U-001, in use and not shown"))).to_be_visible()
    expect(page.get_by_label("Base exposure")).to_have_value("40")
    expect(page.get_by_label("Where it comes from")).to_have_value("borrowed")


def test_another_workshops_set_is_borrowed_and_is_a_source(shelf, small_lab, tmp_path, as_im: Page):
    page, hands = as_im, Hands(as_im)
    app = create_app(copied(small_lab, tmp_path), new_id=seeded_ids(5), worker=False)
    file = tmp_path / "set.json"
    file.write_bytes(app.test_client().get("/api/sets/S-001/part").data)
    app.extensions["connections"].close()
    page.goto(f"{shelf.url}/shelf/in-use")
    hands.link("From another workshop")
    page.get_by_label("Their file").set_input_files(file)
    hands.button("Borrow S-001")
    hands.fill("Name of the workshop", "the harbour school")
    dialog = page.get_by_role("dialog")
    dialog.get_by_label(re.compile("is here$")).first.select_option(label="Kelpflex")
    dialog.get_by_label(re.compile("is here$")).last.select_option(label="Gannet")
    hands.button("Borrow it")
    page.get_by_role("link", name="borrowed as BS-001").click()
    panel = page.get_by_role("region", name="Borrowed from other workshops")
    expect(panel.get_by_text("nothing in common")).to_be_visible()
    page.goto(f"{shelf.url}/calibrate/new")
    hands.choose("Material", "Kelpflex")
    hands.choose("Printer", "Gannet")
    expect(page.get_by_text(re.compile("workshop’s number was heard"))).to_be_visible()
    page.goto(f"{shelf.url}/shelf/in-use")
    hands.button("Withdraw BS-001")
    page.get_by_label("Why it no longer stands").fill("another resin after all")
    page.get_by_role("dialog").get_by_role("button", name="Withdraw").click()
    expect(panel).to_have_count(0)


def test_what_a_sheet_claims_stands_beside_what_was_measured(shelf, as_im: Page):
    page, hands = as_im, Hands(as_im)
    material = shelf.lab.get("/api/resins")["items"][0]["id"]
    page.goto(f"{shelf.url}/materials/{material}")
    panel = page.get_by_role("region", name="What sheets claim")
    for low, high, source in (("1.5", "3.5", "the maker’s sheet"), ("8", "12", "the label")):
        hands.button("Add a claim")
        hands.fill("From", low, page.get_by_role("dialog"))
        hands.fill("To", high, page.get_by_role("dialog"))
        hands.fill("Who claims it", source)
        hands.button("Add it")
        expect(panel.get_by_text(re.compile(f"by {source}"))).to_be_visible()
    expect(panel.get_by_text(re.compile("Contradicts the label"))).to_be_visible()
    hands.button("Withdraw Exposure by the label")
    expect(panel.get_by_text(re.compile("Contradicts"))).to_have_count(0)


def copied(lab_file, folder):
    path = folder / "theirs.db"
    copy_to(lab_file, path)
    return path


def test_five_single_looks_seed_a_range_within_two_minutes_of_a_hand(shelf, as_im: Page):
    page, hands = as_im, Hands(as_im)
    lab = shelf.lab
    calibration = lab.calibration(
        {
            "material_id": lab.get("/api/resins")["items"][0]["id"],
            "printer_id": lab.get("/api/printers")["items"][0]["id"],
            "bottle_id": None,
            "finish_route_id": None,
        }
    )
    lab.plan(calibration, [1.2, 1.8, 2.4, 3.4, 4.8])
    codes = lab.again(calibration)["arms"][0]["to_print"]
    for code in codes:
        lab.print(code)
    page.goto(f"{shelf.url}/calibrate/{calibration['id']}?step=range")
    for code, verdict in zip(codes, ("under", "under", "right", "over", "over"), strict=True):
        hands.click(page.get_by_role("group", name=f"One look at {code}").get_by_role("button", name=verdict))
        expect(page.get_by_role("article", name=f"Coupon {code}").get_by_text("one look by IM")).to_be_visible()
    note = page.get_by_role("note", name="By single looks")
    expect(note.get_by_text("5 single looks leave")).to_be_visible()
    hands.click(note.get_by_role("button", name="Start from this range"))
    expect(note).to_have_count(0)
    low, high = (lab.again(calibration)[end] for end in ("low_s", "high_s"))
    assert low <= 1.8 and 3.4 <= high < 4.8
    assert SECONDS_A_CLICK * hands.clicks + SECONDS_A_FIELD * hands.fields < 120


def test_an_own_coupon_is_described_planned_and_read(shelf, as_im: Page):
    page, hands, lab = as_im, Hands(as_im), shelf.lab
    page.goto(f"{shelf.url}/shelf/coupons")
    hands.link("Your own coupons")
    hands.link("Describe a coupon")
    for label, value in (
        ("What you call it", "Harbour fan"),
        ("Height above the plate", "4"),
        ("Resin for one", "1.4"),
    ):
        hands.fill(label, value)
    first = page.get_by_role("group", name="Series 1")
    hands.fill("Name", "pins", first)
    hands.fill("Sizes, small to large", "0.4 0.2", first)
    hands.button("Save")
    expect(first.get_by_text("Give the sizes from small to large")).to_be_visible()
    hands.fill("Sizes, small to large", "0.2 0.3 0.4", first)
    hands.button("Add a length")
    length = page.get_by_role("group", name="Length 1")
    hands.fill("Name", "long bar", length)
    hands.fill("Drawn size", "10", length)
    hands.button("Save")
    expect(page.get_by_role("article", name="Harbour fan").get_by_text("4 features")).to_be_visible()

    calibration = lab.calibration(
        {
            "material_id": lab.get("/api/resins")["items"][0]["id"],
            "printer_id": lab.get("/api/printers")["items"][0]["id"],
            "bottle_id": None,
            "finish_route_id": None,
        }
    )
    page.goto(f"{shelf.url}/calibrate/{calibration['id']}?step=range")
    hands.button("Plan other coupons…")
    form = page.get_by_role("form", name="Plan other coupons")
    hands.fill("Exposures, s", "2.4", form)
    hands.choose("Coupon", "one of our own", form)
    hands.choose("Which", "Harbour fan", form)
    hands.click(form.get_by_role("button", name=re.compile("^Plan")))
    expect(page.get_by_role("article", name=re.compile("^Coupon"))).to_have_count(1)
    (code,) = lab.again(calibration)["arms"][0]["to_print"]
    lab.print(code)
    page.goto(f"{shelf.url}/coupons/{code}")
    expect(page.get_by_text("pins").first).to_be_visible()


def test_the_columns_of_a_printers_own_strip_seed_a_range(shelf, as_im: Page):
    page, hands, lab = as_im, Hands(as_im), shelf.lab
    calibration = lab.calibration(
        {
            "material_id": lab.get("/api/resins")["items"][0]["id"],
            "printer_id": lab.get("/api/printers")["items"][0]["id"],
            "bottle_id": None,
            "finish_route_id": None,
        }
    )
    page.goto(f"{shelf.url}/calibrate/{calibration['id']}?step=range")
    hands.click(page.get_by_role("main").get_by_role("button", name="More"))
    hands.button("The printer’s own strip…")
    hands.fill("First column", "1.2")
    hands.fill("Columns", "1")
    hands.button("Save its columns")
    expect(page.get_by_text("One column tells nothing beside it")).to_be_visible()
    hands.fill("Columns", "4")
    hands.button("Save its columns")
    expect(page.get_by_role("article", name=re.compile("^Coupon"))).to_have_count(4)


def test_a_question_goes_out_and_its_answer_comes_back(shelf, tmp_path, as_im: Page):
    page, hands, lab = as_im, Hands(as_im), shelf.lab
    calibration = lab.calibration(
        {
            "material_id": lab.get("/api/resins")["items"][0]["id"],
            "printer_id": lab.get("/api/printers")["items"][0]["id"],
            "bottle_id": None,
            "finish_route_id": None,
        }
    )
    codes = lab.series(calibration, [2.0, 2.6])
    page.goto(f"{shelf.url}/calibrate/{calibration['id']}?step=range")
    hands.click(page.get_by_role("main").get_by_role("button", name="More"))
    hands.button("A second opinion…")
    hands.fill("What do you want to know?", "Is 2.6 s over?")
    hands.button("Make the question")
    dialog = page.get_by_role("dialog")
    with page.expect_download() as question:
        dialog.get_by_role("link", name="File of SO-001").click()
    question.value.save_as(tmp_path / "SO-001.json")

    # The other workshop looks at it and sends what it sees.
    page.goto(f"{shelf.url}/calibrate/opinion")
    page.get_by_label("Their question").set_input_files(tmp_path / "SO-001.json")
    expect(page.get_by_role("heading", name="Is 2.6 s over?")).to_be_visible()
    hands.click(page.get_by_role("group", name=f"What you see on {codes[1]}").get_by_role("button", name="over"))
    hands.fill(f"Note on {codes[1]}", "slots are gone")
    hands.fill("Your workshop", "the harbour school")
    with page.expect_download() as answer:
        hands.button("Save the answer")
    answer.value.save_as(tmp_path / "opinion.json")

    page.goto(f"{shelf.url}/calibrate/{calibration['id']}?step=range")
    hands.click(page.get_by_role("main").get_by_role("button", name="More"))
    hands.button("A second opinion…")
    dialog.get_by_label("Their answer").set_input_files(tmp_path / "SO-001.json")
    expect(dialog.get_by_text("This is no opinion of Setback.")).to_be_visible()
    dialog.get_by_label("Their answer").set_input_files(tmp_path / "opinion.json")
    expect(dialog.get_by_text(re.compile("over, slots are gone"))).to_be_visible()
    dialog.get_by_role("button", name="Close").last.click()
    card = page.get_by_role("article", name=f"Coupon {codes[1]}")
    expect(card.get_by_text("the harbour school: over, slots are gone")).to_be_visible()
