"""Every situation a campaign must carry, as it stands on the screen."""

import re

import pytest
from playwright.sync_api import Page, expect

from setback.simulate.hidden import Material
from tests.browser.conftest import calibration_id

pytestmark = pytest.mark.long


def go(page: Page, live, calibration, query: str = "") -> None:
    page.goto(f"{live.url}/calibrate/{calibration if isinstance(calibration, str) else calibration['id']}{query}")


def panel(page: Page):
    return page.get_by_role("complementary")


def notice(page: Page, code: str):
    return page.locator(f"[data-notice='{code}']").first


class TestOnTheDemo:
    def test_two_coupons_swapped(self, demo, as_im: Page):
        go(as_im, demo, calibration_id(demo, "C-005"))
        expect(notice(as_im, "wrong-direction")).to_contain_text("Were two coupons swapped?")
        expect(as_im.get_by_role("group", name="Exposure strip")).to_contain_text("more light made less")
        expect(panel(as_im)).to_contain_text("Print again")

    def test_only_unders_so_far(self, demo, as_im: Page):
        go(as_im, demo, calibration_id(demo, "C-007"))
        expect(panel(as_im)).to_contain_text("Four flat coupons over the range")
        expect(notice(as_im, "beyond-ladder")).to_contain_text("print longer")
        expect(panel(as_im).get_by_role("button", name=re.compile(r"Plan it · \d+\smin"))).to_be_visible()

    def test_no_exposure_is_right(self, demo, as_im: Page):
        go(as_im, demo, calibration_id(demo, "C-004"), "?arm=1&step=decide")
        conflict = as_im.get_by_role("region", name="Conflict")
        expect(conflict).to_contain_text("No exposure is right.")
        expect(conflict.get_by_role("listitem").first).to_contain_text("Bring the resin to 22–28 °C")
        # Each remedy is begun where it stands.
        expect(conflict.get_by_role("button", name="Start an arm with it").first).to_be_visible()
        expect(conflict.get_by_role("link", name="Plan a warm start")).to_be_visible()
        expect(as_im.get_by_role("radio")).to_have_count(0)
        expect(as_im.get_by_role("slider")).to_have_count(0)
        expect(as_im.locator("[data-conflict]")).to_be_visible()
        expect(as_im.get_by_role("group", name="Exposure strip")).to_contain_text("no exposure is right: lanes are")
        go(as_im, demo, calibration_id(demo, "C-004"), "?arm=1&step=issue")
        expect(panel(as_im)).to_contain_text("offers no exposure")

    def test_loss_on_one_side_points_to_level_or_light(self, demo, as_im: Page):
        go(as_im, demo, calibration_id(demo, "C-002"), "?step=refine")
        expect(panel(as_im)).to_contain_text(
            "walls failed on the right side only: that points to level, film or uneven light"
        )

    def test_coupons_of_two_arms_are_shown_apart(self, demo, as_im: Page):
        go(as_im, demo, calibration_id(demo, "C-004"), "?arm=2")
        expect(as_im.get_by_role("button", name=re.compile("rest 4 s"))).to_have_attribute("aria-pressed", "true")
        expect(as_im.get_by_role("article", name=re.compile("Coupon"))).to_have_count(0)
        as_im.get_by_role("button", name=re.compile("Arm 1")).click()
        expect(as_im.get_by_role("article", name=re.compile("Coupon"))).to_have_count(4)


def test_a_damaged_coupon_is_left_out_named_and_counted_on_purpose(empty, as_im: Page):
    page, lab = as_im, empty.lab
    calibration = lab.decided()
    (code,) = lab.plan(calibration, [2.3])
    lab.print(code)
    page.goto(f"{empty.url}/coupons/{code}")
    page.get_by_label("Walls standing, left").fill("3")
    page.get_by_label("damaged").check()
    expect(page.get_by_text("It is left out of the window, and named.")).to_be_visible()
    page.get_by_role("button", name="Save the reading").click()
    card = page.get_by_role("article", name=f"Coupon {code}")
    expect(card).to_contain_text("left out")
    expect(notice(page, "left-out")).to_contain_text(f"{code} is left out: damaged.")
    card.get_by_role("button", name="Count it…").or_(
        page.get_by_role("button", name=f"Count {code} on purpose")
    ).click()
    page.get_by_label("Why it should count").fill("only the corner is chipped")
    page.get_by_role("button", name="Count it", exact=True).click()
    expect(card).to_contain_text("counted on purpose")
    expect(notice(page, "included")).to_contain_text(code)


def test_contradicting_readings_ask_for_the_repeat_and_stop_when_repeats_do_not_settle_them(empty, as_im: Page):
    page, lab = as_im, empty.lab
    calibration = lab.calibration()
    a, b = lab.plan(calibration, [1.6, 3.8])
    for code, other in ((a, 3.8), (b, 1.6)):
        lab.print(code)
        lab.read(code, lab.seen(code, other))
    go(page, empty, calibration)
    again = panel(page).get_by_role("region", name="Print again")
    expect(again).to_contain_text("Were two coupons swapped?")
    again.get_by_role("button", name=re.compile("Plan 2 coupons")).click()
    tray = page.get_by_role("list", name="Coupons")
    expect(tray.get_by_text("repeat", exact=True)).to_have_count(2)
    for coupon in lab.again(calibration)["arms"][0]["coupons"]:
        if coupon["status"] == "planned":
            lab.print(coupon["code"])
            lab.read(coupon["code"], lab.seen(coupon["code"], 5.4 - coupon["exposure_s"]))
    page.reload()
    expect(panel(page)).to_contain_text("Repeats do not settle it: look at labels, film and light")
    expect(panel(page).get_by_role("button", name=re.compile("^Plan (it|2)"))).to_have_count(0)


def test_only_overs_so_far(empty, as_im: Page):
    calibration = empty.lab.calibration(low_s=7, high_s=10)
    empty.lab.series(calibration, [7.0, 8.0, 9.0, 10.0])
    go(as_im, empty, calibration)
    expect(panel(as_im).get_by_role("region", name="Next coupon")).to_contain_text("4.7")


def test_all_or_nothing_tips_show_their_bracket(empty, as_im: Page):
    lab = empty.lab
    calibration = lab.calibration(limits={"tips_size_mm": 0.42})
    for exposure, held in ((2.0, False), (2.3, False), (2.6, True), (3.0, True)):
        (code,) = lab.plan(calibration, [exposure], "support")
        lab.print(code)
        state = "formed" if held else "absent"
        lab.read(code, [{"key": f"tip-{side}-6", "state": state} for side in ("left", "right")])
    go(as_im, empty, calibration)
    lane = lab.again(calibration)["arms"][0]["window"]["lanes"]["tips"]
    assert lane["bracket_s"] == [2.3, 2.6]
    strip = as_im.get_by_role("group", name="Exposure strip")
    expect(strip.locator("[data-lane=tips]")).to_contain_text(f"{lane['lower_s']:.2f}")
    # Tips alone limit the window from below only.
    expect(notice(as_im, "open-side")).to_contain_text("Nothing limits the window from above yet")


def test_lanes_that_hardly_meet_offer_no_choice_but_one_suggestion(empty, as_im: Page):
    page, lab = as_im, empty.lab
    calibration = lab.calibration(limits={"walls_size_mm": 0.21, "slots_size_mm": 0.35})
    for exposure, walls, slots in ((1.6, 6, 8), (2.0, 6, 8), (2.4, 7, 6), (2.8, 9, 5), (3.3, 9, 3)):
        (code,) = lab.plan(calibration, [exposure])
        lab.print(code)
        features = []
        for side, more in (("left", 0), ("right", 1)):
            for i in range(1, 11):
                features.append({"key": f"wall-{side}-{i}", "state": "formed" if i > 10 - walls + more else "absent"})
                features.append({"key": f"slot-{side}-{i}", "state": "formed" if i > 10 - slots + more else "absent"})
        lab.read(code, features)
    window = lab.again(calibration)["arms"][0]["window"]
    assert window["decision"] == "more" and window["conflict"] is None and window["p_window"] < 0.9
    go(page, empty, calibration, "?step=decide")
    expect(panel(page)).to_contain_text("No exposure is offered yet: 90")
    expect(page.get_by_role("radio")).to_have_count(0)
    panel(page).get_by_role("button", name="What to print next").click()
    panel(page).get_by_role("region", name="Next coupon").get_by_role("button", name=re.compile("^Plan it")).click()
    expect(page.get_by_role("article", name=re.compile("Coupon"))).to_have_count(6)


def test_no_printer_step_inside_the_window(empty, as_im: Page):
    lab = empty.lab
    calibration = lab.calibration(lab.shelf(exposure_step_s=1.0), limits={"growth_tol_um": 4}, low_s=1, high_s=8)
    lab.truth = Material(1.2)
    lab.series(calibration, [1, 2, 3, 4, 5])
    window = lab.again(calibration)["arms"][0]["window"]
    assert window["window"] and window["policies"] is None
    go(as_im, empty, calibration, "?step=decide")
    expect(notice(as_im, "no-step")).to_contain_text("No step of 1 s falls inside the window")
    expect(as_im.get_by_role("radio")).to_have_count(0)


def test_a_coupon_thinner_than_its_base_layers_is_refused(empty, as_im: Page):
    go(as_im, empty, empty.lab.calibration())
    as_im.get_by_label("Thickness").fill("0.3")
    refused = as_im.get_by_text("it would read the base exposure, not the normal one. Give at least 0.55 mm.")
    expect(refused).to_be_visible()
    expect(as_im.get_by_role("button", name="Plan", exact=True)).to_be_disabled()
    as_im.get_by_label("Thickness").fill("550 µm")
    expect(as_im.get_by_role("button", name=re.compile("Plan 5 coupons"))).to_be_enabled()


def test_a_slipped_layer_height_asks_what_was_meant(empty, as_im: Page):
    page = as_im
    empty.lab.shelf()
    page.goto(f"{empty.url}/calibrate/new")
    height = page.get_by_label("Layer height")
    height.fill("0.5 mm")
    expect(page.get_by_text("= 500")).to_be_visible()
    page.get_by_role("button", name="Start", exact=True).click()
    expect(page.get_by_text("0.5 mm is no layer height. Was 0.05 mm (50 µm) meant?").first).to_be_visible()
    page.get_by_role("button", name=re.compile("Use 50")).click()
    expect(height).to_have_value("50")
    page.get_by_role("button", name="Start", exact=True).click()
    expect(page.get_by_role("heading", name=re.compile("Slate 2 on Cormorant, 50"))).to_be_visible()


@pytest.mark.parametrize("key", ["tips_size_mm", "slots_size_mm"])
def test_limits_move_the_window(empty, as_im: Page, key):
    page = as_im
    calibration = empty.lab.decided()
    go(page, empty, calibration)
    strip = page.get_by_role("group", name="Exposure strip")
    said = strip.locator("[data-decision]")
    expect(said).to_contain_text("latitude")
    before = said.text_content()
    page.keyboard.press("l")
    label = "Support tip" if key == "tips_size_mm" else "Narrowest slot"
    sizes = calibration["series"]["tips_mm" if key == "tips_size_mm" else "slots_mm"]
    page.get_by_label(label).select_option(f"{sizes[0 if key == 'tips_size_mm' else 4]:g}")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_text("Limits are saved")).to_be_visible()
    expect(said).not_to_have_text(before)
    page.get_by_role("button", name="Undo").click()
    expect(said).to_have_text(before)


def test_what_a_person_typed_stays_when_suggestions_come_anew(empty, as_im: Page):
    page, lab = as_im, empty.lab
    shelf = lab.shelf()
    page.goto(f"{empty.url}/calibrate/new?material={shelf['material_id']}&printer={shelf['printer_id']}")
    low, high = page.get_by_label("From", exact=True), page.get_by_label("To", exact=True)
    expect(low).to_have_value("1.5")
    low.fill("1.9")
    with page.expect_response(
        lambda answer: "/api/calibration-start" in answer.url and "layer_height_um=100" in answer.url
    ):
        page.get_by_label("Layer height").fill("100")
    expect(low).to_have_value("1.9")
    # Another source brings its own range along, also over what was typed.
    source = page.get_by_label("Where it comes from")
    source.select_option("prediction")
    expect(low).not_to_have_value("1.9")
    source.select_option("maker")
    expect(low).to_have_value("1.5")
    expect(high).to_have_value("4")


def test_limits_are_asked_for_once_the_printer_is_known_and_one_typed_stays(empty, as_im: Page):
    page, lab = as_im, empty.lab
    shelf = lab.shelf()
    waiting = []
    page.route("**/api/calibration-start?*", lambda route: waiting.append(route))
    page.goto(f"{empty.url}/calibrate/new?material={shelf['material_id']}&printer={shelf['printer_id']}")
    expect(page.get_by_text("sizes are those its pixels draw")).to_be_visible()
    expect(page.get_by_label("Support tip")).to_have_count(0)
    for route in waiting:
        route.continue_()
    expect(page.get_by_label("Support tip")).to_have_value("0.42")
    page.get_by_label("Z loss under bridges").fill("210")
    page.unroute("**/api/calibration-start?*")
    with page.expect_response(
        lambda answer: "/api/calibration-start" in answer.url and "layer_height_um=100" in answer.url
    ):
        page.get_by_label("Layer height").fill("100")
    expect(page.get_by_label("Thinnest wall")).to_have_value("0.21")
    expect(page.get_by_label("Z loss under bridges")).to_have_value("210")
