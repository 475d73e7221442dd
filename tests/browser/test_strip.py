"""What is drawn on the strip against what the calculator said: ends, whiskers, brackets, marks."""

import json
import math

import pytest
from playwright.sync_api import Page, Request, expect

from tests.browser.conftest import calibration_id

pytestmark = pytest.mark.long


def scale(page: Page):
    strip = page.get_by_role("group", name="Exposure strip")
    expect(strip).to_be_visible()
    low, high = json.loads(strip.get_attribute("data-domain"))
    left, right = json.loads(strip.get_attribute("data-range"))

    def x(seconds: float) -> float:
        at = left + (right - left) * math.log(seconds / low) / math.log(high / low)
        return min(max(at, left), right)

    return strip, x


def number(locator, name: str) -> float:
    return float(locator.get_attribute(name))


# All that is drawn, at once: one question to the browser instead of hundreds.
DRAWN = """(strip) => {
  const number = (one, name) => one && Number(one.getAttribute(name));
  const lanes = {};
  for (const lane of strip.querySelectorAll('[data-lane]')) {
    const ends = {};
    for (const end of lane.querySelectorAll('[data-end]')) {
      const whisker = end.querySelector('[data-part=whisker]');
      ends[end.dataset.end] = {
        x: number(end.querySelector('[data-part=end]'), 'x1'), clipped: end.dataset.clipped, found: end.dataset.found,
        whisker: whisker && [number(whisker, 'x'), number(whisker, 'x') + number(whisker, 'width')],
      };
    }
    lanes[lane.dataset.lane] = {
      ends, bracket: lane.querySelector('[data-part=bracket]')?.getAttribute('d') ?? null,
      beyond: lane.querySelector('[data-part=beyond]')?.textContent ?? null,
    };
  }
  return {
    lanes, mark: number(strip.querySelector('[data-part=size-true]'), 'data-at'),
    best: number(strip.querySelector('[data-part=ridge]'), 'data-best'), balance: number(strip.querySelector('[data-balance]'), 'x1'),
  };
}"""


def compare(page: Page, window: dict) -> set[str]:
    """Hold every lane of the strip against the numbers; says which kinds of end were met."""
    strip, x = scale(page)
    drawn, met = strip.evaluate(DRAWN), set()
    if window["method"] == "prints":
        # Prints of parts have a hollow lane of their own.
        assert not drawn["lanes"] and strip.locator(".prints-row .hollow").count() == 1
        return met
    assert set(drawn["lanes"]) == set(window["lanes"])
    for name, lane in window["lanes"].items():
        shown = drawn["lanes"][name]
        for side in ("lower", "upper"):
            value, used, interval = lane[f"{side}_s"], lane[f"{side}_used_s"], lane[f"{side}_ci_s"]
            if used is None:
                assert side not in shown["ends"]
                met.add("null")
                continue
            end, found = shown["ends"][side], lane["found"][side]
            assert end["x"] == pytest.approx(x(value if value is not None else used), abs=0.6)
            clipped = value is None or abs(value - used) > 1e-9 * used or not found
            assert (end["clipped"], end["found"]) == (str(clipped).lower(), str(found).lower())
            met |= {"clipped"} if clipped else set()
            met |= {"found"} if found else {"not found"}
            if interval is None:
                assert end["whisker"] is None
            else:
                assert end["whisker"] == pytest.approx([x(interval[0]), x(interval[1])], abs=0.6)
                met.add("whisker")
        bracket = lane["bracket_s"]
        open_ends = [s for s in ("lower", "upper") if lane[f"{s}_used_s"] is not None and not lane["found"][s]]
        if open_ends and bracket and None not in bracket:
            start, stop = shown["bracket"][1:].split()[0], shown["bracket"].split("H")[1].split("v")[0]
            assert [float(start), float(stop)] == pytest.approx([x(bracket[0]), x(bracket[1])], abs=0.6)
            met.add("bracket")
        if lane["beyond"]:
            assert ("longer" in shown["beyond"]) is (lane["beyond"] == "longer")
            met.add("beyond")
    if window["size_true_s"] is not None and "size" in window["lanes"]:
        assert drawn["mark"] == pytest.approx(window["size_true_s"])
    if window["p_holds"]:
        assert drawn["best"] == max(one["p"] for one in window["p_holds"])
        met.add("ridge")
    if window["balance_s"] is not None:
        assert drawn["balance"] == pytest.approx(x(window["balance_s"]), abs=0.6)
    return met


def test_every_calibration_of_the_demo_is_drawn_as_computed(demo, as_im: Page):
    page, met = as_im, set()
    for listed in demo.lab.get("/api/calibrations")["items"]:
        window = demo.lab.get(f"/api/calibrations/{listed['id']}")["arms"][0]["window"]
        if window is None or not window["lanes"]:
            continue
        page.goto(f"{demo.url}/calibrate/{listed['id']}?arm=1")
        met |= compare(page, window)
    assert met == {"null", "clipped", "found", "not found", "whisker", "bracket", "beyond", "ridge"}


def test_the_window_band_lies_between_its_ends(demo, as_im: Page):
    page, held = as_im, calibration_id(demo, "C-001")
    window = demo.lab.get(f"/api/calibrations/{held}")["arms"][0]["window"]["window"]
    page.goto(f"{demo.url}/calibrate/{held}")
    strip, x = scale(page)
    band = strip.locator("rect.window")
    assert number(band, "x") == pytest.approx(x(window["lower_s"]), abs=0.6)
    assert number(band, "x") + number(band, "width") == pytest.approx(x(window["upper_s"]), abs=0.6)
    expect(strip).to_contain_text(f"latitude {window['latitude_pct']:.0f}")


def test_coupons_stand_at_their_exposure_with_shape_and_word(demo, as_im: Page):
    page, held = as_im, calibration_id(demo, "C-003")
    arm = demo.lab.get(f"/api/calibrations/{held}")["arms"][0]
    page.goto(f"{demo.url}/calibrate/{held}")
    strip, x = scale(page)
    words = {"under": "under", "ok": "within limits", "over": "over"}
    for coupon in arm["coupons"]:
        mark = strip.locator(f"[data-mark='{coupon['code']}']")
        at = float(mark.get_attribute("transform").split("(")[1].split()[0])
        assert at == pytest.approx(x(coupon["exposure_s"]), abs=0.6)
        assert words[coupon["verdict"]] in mark.get_attribute("aria-label")


def test_predictions_follow_the_line_without_a_request(demo, as_im: Page):
    page, held = as_im, calibration_id(demo, "C-003")
    window = demo.lab.get(f"/api/calibrations/{held}")["arms"][0]["window"]
    page.goto(f"{demo.url}/calibrate/{held}?step=decide&policy=centre")
    slider = page.get_by_role("slider", name="Chosen exposure")
    slider.focus()
    asked = []

    def keep(request: Request) -> None:
        asked.append(request.url)

    page.on("request", keep)
    for _ in range(3):
        page.keyboard.press("ArrowRight")
    at = float(slider.get_attribute("aria-valuenow"))
    assert at == pytest.approx(window["policies"]["centre"] + 0.15)
    told = next(p for p in window["predictions"] if p["exposure_s"] == pytest.approx(at))
    table = page.get_by_role("table", name="Expected at")
    expect(table).to_contain_text(f"~{told['walls_standing']:.1f} of {told['walls_of']}")
    low, high = told["margin_upper_ci_pct"]
    expect(table).to_contain_text(f"~{told['margin_upper_pct']:.0f}\u2009%({low:.0f} to {high:.0f})")
    page.remove_listener("request", keep)
    assert asked == []
