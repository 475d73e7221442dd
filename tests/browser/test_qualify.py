"""From a brief to a signed certificate and a lapse; candidates; a lab that leaves and comes back."""

import re
import zipfile

import pypdfium2 as pdfium
import pytest
from playwright.sync_api import Page, expect

from setback.demo import DEMO_NOW
from setback.store.maintenance import copy_to
from tests.conftest import MovedClock
from tests.server import Server

pytestmark = pytest.mark.long


@pytest.fixture
def shed(built_demo, tmp_path):
    """Skerry Point, for tests that sign and change."""
    copy_to(built_demo, tmp_path / "demo.db")
    clock = MovedClock()
    clock.now = DEMO_NOW
    server = Server(tmp_path / "demo.db", clock)
    yield server.live()
    server.stop()


def test_a_brief_to_a_signed_certificate_and_a_lapse(shed, as_im: Page):
    page = as_im
    page.goto(f"{shed.url}/qualify")
    page.get_by_role("link", name="Write a brief").click()
    page.get_by_role("button", name="Part with fine openings").click()
    form = page.get_by_role("form", name="Write a brief")
    form.get_by_label("Application").fill("Larva sieve")
    last = form.get_by_role("group", name="Requirement 4")
    last.get_by_label("Property").select_option(label="Thinnest support tip held")
    last.get_by_label("Limit").fill("0.5")
    last.get_by_label("Limit").press("Tab")
    form.get_by_role("button", name="Save the brief").click()
    panel = page.get_by_role("region", name="Larva sieve")
    panel.get_by_role("link", name="Candidates").click()
    # Side by side: what each meets, and what each fails on.
    table = page.get_by_role("table", name="Candidates for Larva sieve")
    expect(table.get_by_role("columnheader").nth(1)).to_contain_text("Slate 2")
    expect(table.get_by_role("img", name=re.compile("Finest slot that stays open: met"))).to_have_count(3)
    table.get_by_role("columnheader").filter(has_text="S-002").get_by_role("link").click()
    needs = page.get_by_role("listitem", name="Residue after wash, looks and workability")
    expect(needs).to_contain_text("not shown")
    expect(needs.get_by_role("link", name="Plan it")).to_have_attribute(
        "href", re.compile(r"method=looks.*set=S-002.*each=5")
    )
    verdict = page.get_by_role("region", name="Verdict")
    expect(verdict).to_contain_text("conditional")
    sign = page.get_by_role("form", name="Sign")
    sign.get_by_label("Signed for").fill("Sieves of up to 90 mm.")
    sign.get_by_label("Your initials").fill("RB")
    sign.get_by_role("button", name="Sign as conditional").click()
    expect(sign.get_by_text("Type your own initials, IM")).to_be_visible()
    sign.get_by_label("Your initials").fill("im")
    sign.get_by_role("button", name="Sign as conditional").click()
    expect(page.get_by_text("N-004 is signed.")).to_be_visible()
    expect(page.get_by_role("region", name="Signature")).to_contain_text("Sieves of up to 90 mm.")
    with page.expect_download() as waiting:
        page.get_by_role("link", name="Certificate").click()
    held = pdfium.PdfDocument(waiting.value.path())
    text = held[0].get_textpage().get_text_range()
    assert "Slate 2 for Larva sieve" in text and "Qualified under conditions" in text
    # The screen is replaced: what was signed stays, and does not hold any more.
    printer = next(p["id"] for p in shed.lab.get("/api/printers")["items"] if p["name"] == "Gannet")
    shed.lab.post("/api/events", {"kind": "screen-replaced", "printer_id": printer}, 201)
    page.reload()
    expect(page.get_by_role("region", name="Verdict")).to_contain_text("lapsed")
    expect(page.get_by_role("region", name="Signature")).to_contain_text("Signed as conditional")
    page.get_by_role("navigation", name="Qualify").get_by_role("link", name="Signed").click()
    row = page.get_by_role("row").filter(has_text="N-004")
    expect(row).to_contain_text("lapsed")


def test_what_changed_while_one_looked_is_named(shed, as_im: Page):
    page = as_im
    page.goto(f"{shed.url}/qualify/A-001/S-002")
    sign = page.get_by_role("form", name="Sign")
    sign.get_by_label("Your initials").fill("IM")
    brief = shed.lab.get("/api/briefs/A-001")
    lines = [
        {k: v for k, v in line.items() if k not in ("group", "name", "unit", "asked")}
        | ({"limit": 300} if line["property"] == "set.latitude" else {})
        for line in brief["requirements"]
    ]
    shed.lab.put(f"/api/briefs/{brief['id']}", {"name": brief["name"], "requirements": lines, "version": 1})
    sign.get_by_role("button", name="Sign as qualified").click()
    expect(sign.get_by_role("alert")).to_contain_text("Exposure latitude was met, now not met")
    expect(page.get_by_role("region", name="Verdict")).to_contain_text("not qualified")


@pytest.fixture
def small(small_path):
    server = Server(small_path, MovedClock())
    yield server.live()
    server.stop()


def test_the_whole_lab_leaves_and_comes_back(small, empty, as_im: Page, tmp_path):
    page = as_im
    page.goto(f"{small.url}/qualify/open-formats")
    page.get_by_role("button", name="Export the lab").click()
    with page.expect_download(timeout=60_000) as waiting:
        page.get_by_role("link", name="Save setback-lab.zip").click(timeout=60_000)
    target = tmp_path / "lab.zip"
    waiting.value.save_as(target)
    assert "data/parameter_set.jsonl" in zipfile.ZipFile(target).namelist()
    # Here it conflicts with nothing; in another lab the initials are taken already.
    page.goto(f"{empty.url}/qualify/open-formats")
    page.get_by_label("A lab as ZIP").set_input_files(target)
    preview = page.get_by_role("table", name="What it would do")
    expect(preview.get_by_role("row").filter(has_text="technician")).to_contain_text("IM", timeout=60_000)
    expect(page.get_by_role("button", name=re.compile("^Take in"))).to_be_disabled()
    bad = tmp_path / "cut.zip"
    bad.write_bytes(target.read_bytes()[:-3000])
    page.get_by_label("A lab as ZIP").set_input_files(bad)
    expect(page.get_by_role("alert")).to_contain_text("cut short")


def test_a_sheet_of_readings_is_checked_and_keeps_its_columns_on_screen(shed, as_im: Page, tmp_path):
    page = as_im
    file = tmp_path / "sheet.csv"
    file.write_text("Piece,turns,left face,right face\nT-005-201,abc,1,1\n")
    page.goto(f"{shed.url}/test/T-005")
    page.get_by_role("button", name="From CSV…").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("A CSV file").set_input_files(file)
    dialog.get_by_label("Note").select_option("turns")
    dialog.get_by_role("button", name="Check the rows").click()
    expect(dialog.get_by_text("Say which column holds specimen.")).to_be_visible()
    dialog.get_by_label("Specimen *").select_option("Piece")
    expect(dialog.get_by_role("button", name=re.compile("^Take in"))).to_be_disabled()
