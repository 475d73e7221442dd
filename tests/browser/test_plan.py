"""A week walked through its plan: a morning planned, a late print, a printer that breaks, a pin, and the day after."""

import re
import time
from datetime import timedelta

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.lab import Lab
from tests.plans import solved_here

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


def test_a_morning_a_late_print_a_broken_printer_and_the_day_after(week, as_im: Page):
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
    dialog.get_by_label("What is to be done").fill("Order Slate 2")
    dialog.get_by_label("Needed by").fill("2026-01-22T12:00")
    dialog.get_by_role("button", name="Add it").click()
    expect(lane(page, "Bench").get_by_role("button", name=re.compile("Order Slate 2"))).to_be_visible()
    page.get_by_role("button", name="Week", exact=True).click()
    expect(page.get_by_role("region", name="The week")).to_be_visible()
    page.get_by_role("button", name="Day", exact=True).click()

    # The day after, what was left is planned for it.
    clock.now += timedelta(days=1)
    page.reload()
    expect(page.get_by_role("heading", level=1, name="Thursday")).to_be_visible()
    expect(bars(page, "Cormorant")).to_have_count(1)


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
