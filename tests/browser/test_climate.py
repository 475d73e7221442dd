"""A cold morning, from the warning to a print that comes out whole; a log that comes in; what cold does, drawn."""

import re
from datetime import timedelta

import pytest
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.long


def log_a_print(page: Page) -> None:
    page.get_by_label("Issued set").select_option("S-001")
    page.get_by_label("Part 1", exact=True).fill("sensor clip")


def test_a_cold_morning_from_warning_to_warm_start_to_print(morning, as_im: Page):
    live, clock = morning
    page = as_im
    page.goto(f"{live.url}/log/new")
    # The probe in the resin has been asked already; the gate says what to expect and does not let it pass unsaid.
    expect(page.get_by_label("Temperature at start")).to_have_value(re.compile(r"^[5-9]\.?\d?$"))
    log_a_print(page)
    gate = page.get_by_role("alert").filter(has_text="Outside its band")
    expect(gate).to_contain_text("below the 21 to 27 °C")
    page.get_by_role("button", name="Start it").click()
    expect(gate.get_by_text("Say why it goes on")).to_be_visible()
    # It goes on all the same, and fails; the log keeps both.
    gate.get_by_label("Print anyway because").fill("The tide waits for nobody.")
    page.get_by_role("button", name="Start it").click()
    running = page.get_by_role("region", name="Running")
    running.get_by_role("link", name="How did it come out?").click()
    page.get_by_role("button", name="None of part 1 is whole").click()
    page.get_by_role("button", name="Nothing on the plate").click()
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("region", name="How it came out")).to_contain_text("Nothing on the plate")
    page.goto(f"{live.url}/log")
    failed = page.get_by_role("row").filter(has_text="sensor clip").first
    expect(failed).to_contain_text("failed")
    expect(failed).to_contain_text("below 21–27: The tide waits for nobody.")
    page.get_by_role("button", name=re.compile("searched")).first.click()
    # The Board warned of it, too.
    page.goto(f"{live.url}/board")
    page.get_by_role("link", name="Plan a warm start").click()
    page.get_by_label("Printed with").select_option(label="S-001: Slate 2 on Cormorant")
    plan = page.get_by_role("region", name="The plan")
    steps = plan.get_by_role("list", name="Steps").get_by_role("listitem")
    expect(steps).to_have_count(6)
    expect(plan).to_contain_text("Clear space round the heater")
    expect(plan.get_by_role("img", name=re.compile("Temperatures of the warm start"))).to_be_visible()
    # Hot water is refused at its field.
    bath = page.get_by_label("Water is at")
    bath.fill("60")
    expect(page.get_by_text("Warm water of 45 °C at most")).to_be_visible()
    bath.fill("40")
    page.get_by_role("button", name=re.compile("^Begin now")).click()
    expect(page.get_by_role("heading", name="Warm start W-001")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile(r"^Timers: Bottle into the bath.*\d run$"))).to_be_visible()
    # An hour goes by; the stand-in for the probe feels the heater.
    code = live.lab.get("/api/warm-starts")["items"][0]
    start = next(s["at_s"] for s in code["plan"]["steps"] if s["kind"] == "start")
    clock.now += timedelta(seconds=start)
    for probe in live.lab.get("/api/probes")["items"]:
        live.lab.post(f"/api/probes/{probe['id']}/read")
    page.get_by_role("button", name="Start the print").click()
    expect(page.get_by_label("Temperature at start")).to_have_value(re.compile(r"^2[45](\.\d)?$"))
    log_a_print(page)
    expect(page.get_by_label("Measured in")).to_have_value("resin")
    page.get_by_role("button", name="Start it").click()
    running.get_by_role("link", name="How did it come out?").click()
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("row").filter(has_text="sensor clip").first).to_contain_text("whole")
    page.goto(f"{live.url}/climate?span=hours")
    page.get_by_role("button", name=re.compile("Cormorant chamber")).click()
    expect(page.get_by_role("img", name=re.compile("Temperature of Cormorant chamber"))).to_be_visible()


def test_a_heating_is_marked_on_the_log_and_fitted(morning, as_im: Page):
    live, _ = morning
    page = as_im
    chamber = next(p for p in live.lab.get("/api/probes")["items"] if p["place"] == "chamber air")
    # The heating ran from 13:00 to 14:20; the six hours end at 16:00.
    page.goto(f"{live.url}/climate?probe={chamber['id']}&span=hours&to=2026-01-19T16:00:00Z")
    area = page.locator(".trace-plot .pick")
    # The drawing takes its width from the page: only then are places on it what they will be.
    expect(page.locator(".trace-plot svg")).not_to_have_attribute("width", "720")
    area.scroll_into_view_if_needed()
    box = area.bounding_box()
    at = lambda share: (box["x"] + share * box["width"], box["y"] + 30)  # noqa: E731
    page.mouse.move(*at(0.505))
    page.mouse.down()
    page.mouse.move(*at(0.715), steps=4)
    page.mouse.up()
    panel = page.get_by_role("region", name="Heating curve")
    expect(panel).to_contain_text("Marked: 19 Jan")
    panel.get_by_label("Room temperature meanwhile").fill("6.5")
    panel.get_by_role("button", name="Find the curve").click()
    expect(page.get_by_text(re.compile(r"Cormorant: time constant 3[5-9].min"))).to_be_visible()
    panel.get_by_role("button", name="Withdraw it").click()
    expect(page.get_by_text("The curve is withdrawn")).to_be_visible()


def test_a_log_comes_in_and_bad_rows_are_said_first(morning, as_im: Page, tmp_path):
    live, _ = morning
    page = as_im
    text = "Date;Time;T1 °C;T2 °C\n" + "".join(f"05/06/2025;{h:02d}:00:00;{20 + h / 10};19,5\n" for h in range(20))
    file = tmp_path / "logger.csv"
    file.write_text(text + "05/06/2025;20:00:00;n/a;19,5\n")
    page.goto(f"{live.url}/climate")
    page.get_by_role("link", name="Import a log…").click()
    page.get_by_label("File of the logger").set_input_files(file)
    columns = page.get_by_role("region", name="Columns")
    expect(columns).to_contain_text("There are 2 columns that may be the temperature")
    columns.get_by_label("Into the log of").select_option(label="Shed wall, room")
    columns.get_by_label("Temperature", exact=True).select_option("T1 °C")
    begin = columns.get_by_role("button", name="Import logger.csv")
    begin.click()
    # Neither order is proven by the file, and nobody guesses.
    expect(columns.get_by_text("can be read in two ways")).to_be_visible()
    columns.get_by_label("Order of the date").select_option("day first")
    begin.click()
    expect(columns.get_by_role("alert")).to_contain_text("line 22")
    columns.get_by_label("Leave out rows that cannot be read").check()
    begin.click()
    done = page.get_by_role("region", name="Imported")
    expect(done).to_contain_text("20 samples of logger.csv are in the log")
    done.get_by_role("link", name="Look at the log").click()
    expect(page.get_by_role("region", name="Log of Shed wall")).to_be_visible()


def test_too_large_a_file_is_refused_before_it_is_sent(morning, as_im: Page):
    live, _ = morning
    page = as_im
    page.goto(f"{live.url}/climate/import")
    # A file is taken once it is known how large it may be.
    expect(page.get_by_label("File of the logger")).to_be_enabled()
    page.get_by_label("File of the logger").evaluate(
        """field => {
          const file = new File(["x"], "huge.csv");
          Object.defineProperty(file, "size", { value: 500e6 });
          Object.defineProperty(field, "files", { value: [file] });
          field.dispatchEvent(new Event("change", { bubbles: true }));
        }"""
    )
    expect(page.get_by_role("alert")).to_contain_text("huge.csv has 500 MB")


def test_flow_exposure_and_success_are_drawn_with_their_uncertainty(morning, as_im: Page):
    live, _ = morning
    page = as_im
    page.goto(f"{live.url}/climate/flow")
    page.get_by_label("Wanted viscosity").fill("350")
    expect(page.get_by_role("region", name="Curve")).to_contain_text(re.compile(r"Warm it to\s*2[234]"))
    page.get_by_role("button", name="Withdraw the reading at 8 °C").click()
    page.get_by_role("dialog").get_by_role("textbox").fill("The cup was not clean.")
    page.get_by_role("dialog").get_by_role("button", name="Withdraw it").click()
    expect(page.get_by_role("table", name="Viscosity readings").get_by_role("row")).to_have_count(5)
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("table", name="Viscosity readings").get_by_role("row")).to_have_count(6)
    tabs = page.get_by_role("navigation", name="Climate")
    tabs.get_by_role("link", name="Exposure").click()
    shown = page.get_by_role("region", name="Exposure against temperature")
    expect(shown).to_contain_text("No effect shown")
    expect(shown).to_contain_text("cannot be told from none at all")
    tabs.get_by_role("link", name="Success").click()
    shown = page.get_by_role("region", name="Success against temperature")
    expect(shown).to_contain_text(re.compile(r"Resin at\s*2[0-3]"))
    page.get_by_label("Material").select_option(index=1)
    expect(shown.get_by_text(re.compile("succeeded|failed|too few|one temperature"))).to_be_visible()


def test_a_shop_without_a_probe_is_told_what_one_is_for(empty, as_im: Page):
    page = as_im
    page.goto(f"{empty.url}/climate")
    expect(page.get_by_text("Cold resin looks exactly like a wrong exposure")).to_be_visible()
    page.keyboard.press("n")
    form = page.get_by_role("dialog", name="Add a probe")
    form.get_by_label("Name *").fill("Shed wall")
    form.get_by_role("button", name="Save").click()
    page.get_by_role("button", name="Note a temperature…").click()
    page.get_by_label("Temperature", exact=True).fill("45 F")
    page.get_by_role("button", name="Record it").click()
    expect(page.get_by_role("link", name=re.compile("Room 7.2 °C"))).to_be_visible()
    for place in ("warm-start", "flow", "exposure", "success"):
        page.goto(f"{empty.url}/climate/{place}")
        expect(page.get_by_role("navigation", name="Climate")).to_be_visible()
