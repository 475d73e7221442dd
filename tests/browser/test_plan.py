"""A week walked through its plan: a morning, a late print, printers that break, what is ticked off, and the days without anybody."""

import re
import time
from datetime import timedelta

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.lab import Lab
from tests.plans import solved_here

pytestmark = pytest.mark.long

PHONE = {"width": 390, "height": 844}


@pytest.fixture
def week(morning, monkeypatch):
    solved_here(monkeypatch)
    return morning


def plan_the_day(page: Page, url: str) -> None:
    page.goto(f"{url}/plan")
    page.get_by_role("button", name="Plan the day").click()
    expect(now(page).get_by_role("heading", name="Now")).to_be_visible()


def now(page: Page) -> Locator:
    return page.get_by_role("complementary", name="Now")


def standing(lab: Lab) -> dict:
    """The plan, once the page has made it anew."""
    deadline = time.monotonic() + 30
    while (plan := lab.get("/api/plan"))["old"]:
        assert time.monotonic() < deadline, plan["old"]
        time.sleep(0.1)
    return plan


def lane(page: Page, name: str) -> Locator:
    return page.get_by_role("group", name=name, exact=True)


def bars(page: Page, name: str) -> Locator:
    return lane(page, name).get_by_role("button")


def test_a_week_with_a_late_print_and_a_broken_printer(week, as_im: Page):
    page, (live, clock) = as_im, week
    plan_the_day(page, live.url)
    expect(page.get_by_role("heading", level=1, name="Wednesday")).to_be_visible()
    expect(page.get_by_text("Will it be enough?")).to_be_visible()
    expect(bars(page, "Sanderling")).to_have_count(2)
    expect(page.get_by_role("region", name=re.compile("^Worth doing")).get_by_role("link").first).to_be_visible()

    # What comes first is begun: its timer runs, and the rest stays in order.
    bars(page, "Sanderling").first.click()
    now(page).get_by_role("button", name="Begun").click()
    expect(lane(page, "Sanderling").get_by_role("button", name=re.compile("running"))).to_have_count(1)
    expect(page.get_by_role("button", name=re.compile("^Timers: print 14"))).to_be_visible()

    # The next one is late: the plan says so and pushes it on by itself.
    first = live.lab.get("/api/plan")["compared"]["finish_at"]
    clock.now += timedelta(hours=1, minutes=30)
    page.reload()
    assert standing(live.lab)["compared"]["finish_at"] > first
    expect(page.get_by_text(re.compile("not begun"))).to_have_count(0)

    # A printer breaks: its prints wait, and it is said which.
    page.get_by_role("button", name="More").click()
    page.get_by_role("button", name="A printer is down or back…").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Printer").select_option(label="Cormorant")
    dialog.get_by_label("Why").fill("The screen is dark")
    dialog.get_by_role("button", name="It is down").click()
    left_out = page.get_by_role("region", name="What does not fit")
    expect(left_out.get_by_text(re.compile("C-006"))).not_to_have_count(0)
    page.get_by_role("button", name="More").click()
    page.get_by_role("button", name="A printer is down or back…").click()
    dialog.get_by_role("button", name="It is back").click()
    expect(dialog.get_by_role("button", name="It is back")).to_have_count(0)
    dialog.get_by_role("button", name="Close").click()
    expect(bars(page, "Cormorant")).to_have_count(1)
    expect(left_out).to_have_count(0)

    # A task of one's own, needed by tomorrow; and the week shows the days.
    page.get_by_role("button", name="Add a task").click()
    dialog.get_by_label("What is to be done").fill("Order gloves")
    dialog.get_by_label("Needed by").fill("2026-01-22T12:00")
    dialog.get_by_role("button", name="Add it").click()
    expect(lane(page, "Bench").get_by_role("button", name=re.compile("Order gloves"))).to_be_visible()
    page.get_by_role("button", name="Week", exact=True).click()
    expect(page.get_by_role("region", name="The week")).to_be_visible()
    page.get_by_role("button", name="Day", exact=True).click()

    # The day after, what was left is planned for it; what came off the plate is washed, and the errand is done.
    opened_next_day(page, clock, "Thursday")
    expect(bars(page, "Cormorant")).to_have_count(1)
    standing(live.lab)
    printed = bars(page, "Cormorant").get_attribute("aria-label")
    live.lab.print(re.search(r"\w{4}(?=,)", printed).group())
    page.reload()
    standing(live.lab)
    done(page, lane(page, "Wash").get_by_role("button").first, "Begun")
    clock.now += timedelta(minutes=9)
    done(page, lane(page, "Wash").get_by_role("button", name=re.compile("running")), "Done")
    done(page, lane(page, "Bench").get_by_role("button", name=re.compile("Order gloves")), "Done")
    expect(page.get_by_role("button", name=re.compile("Order gloves"))).to_have_count(0)
    page.get_by_role("button", name="More").click()
    page.get_by_role("button", name="Planned and real times…").click()
    expect(dialog.get_by_role("row", name=re.compile("^Wash 1 "))).to_be_visible()
    dialog.get_by_role("button", name="Close").click()

    # On Friday the screen of Sanderling breaks until Monday noon: its prints stand there.
    opened_next_day(page, clock, "Friday")
    page.get_by_role("button", name="More").click()
    page.get_by_role("button", name="A printer is down or back…").click()
    dialog.get_by_label("Printer").select_option(label="Sanderling")
    dialog.get_by_label("Why").fill("A new screen is on its way")
    dialog.get_by_label("Back by").fill("2026-01-26T12:00")
    dialog.get_by_role("button", name="It is down").click()
    expect(dialog).to_have_count(0)
    standing(live.lab)
    expect(bars(page, "Sanderling")).to_have_count(0)

    # Nobody is there on Saturday; the week says when it goes on.
    opened_next_day(page, clock, "Saturday")
    standing(live.lab)
    expect(now(page).get_by_text(re.compile("Mon"))).to_be_visible()
    page.get_by_role("button", name="Week", exact=True).click()
    expect(bars(page, "Sanderling").first).to_be_visible()
    page.get_by_role("button", name="Day", exact=True).click()

    # On Monday it goes on, and on Tuesday nothing of the week is lost.
    clock.now += timedelta(days=1)
    opened_next_day(page, clock, "Monday")
    standing(live.lab)
    expect(bars(page, "Sanderling").first).to_be_visible()
    opened_next_day(page, clock, "Tuesday")
    plan = standing(live.lab)
    expect(left_out).to_have_count(0)
    assert {step["job"] for step in plan["steps"]} >= {"C-006"}


def opened_next_day(page: Page, clock, weekday: str) -> None:
    clock.now += timedelta(days=1)
    page.reload()
    expect(page.get_by_role("heading", level=1, name=weekday)).to_be_visible()


def done(page: Page, bar: Locator, button: str) -> None:
    bar.click()
    now(page).get_by_role("button", name=button).click()


def test_a_step_is_moved_by_key_pinned_and_let_go(week, as_im: Page):
    page, (live, _) = as_im, week
    plan_the_day(page, live.url)
    bar = bars(page, "Cormorant")
    begins = bar.get_attribute("aria-label")
    bar.click()
    bar.focus()
    page.keyboard.press("ArrowRight")
    expect(lane(page, "Cormorant").get_by_role("button", name=re.compile("pinned"))).to_be_visible()
    expect(bar).not_to_have_attribute("aria-label", begins)
    now(page).get_by_role("button", name="Let go of its time").click()
    expect(lane(page, "Cormorant").get_by_role("button", name=re.compile("pinned"))).to_have_count(0)


def test_a_step_is_dragged(week, as_im: Page):
    page, (live, _) = as_im, week
    plan_the_day(page, live.url)
    box = bars(page, "Cormorant").bounding_box()
    page.mouse.move(box["x"] + 4, box["y"] + 12)
    page.mouse.down()
    page.mouse.move(box["x"] + 60, box["y"] + 12, steps=4)
    page.mouse.up()
    expect(lane(page, "Cormorant").get_by_role("button", name=re.compile("pinned"))).to_be_visible()


def test_on_a_phone_what_comes_now_stands_on_top(week, as_im: Page):
    page, (live, _) = as_im, week
    page.set_viewport_size(PHONE)
    plan_the_day(page, live.url)
    top = now(page).bounding_box()["y"]
    assert top < page.get_by_role("region", name="The day").bounding_box()["y"] and top < 400
    assert page.evaluate("document.documentElement.scrollWidth") <= PHONE["width"]
    page.get_by_role("button", name="List").click()
    expect(page.get_by_role("region", name="Steps by time").get_by_role("listitem").first).to_be_visible()
