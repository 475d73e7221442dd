"""The small things of every day: correct, withdraw, retire, close, look up, take along."""

import re

import pytest
from playwright.sync_api import Page, expect

pytestmark = pytest.mark.long


@pytest.fixture
def read_coupon(empty):
    """A coupon that was read, of a calibration with nothing else."""
    calibration = empty.lab.calibration()
    (code,) = empty.lab.series(calibration, [2.4])
    return code, calibration


def record(page: Page):
    return page.get_by_role("region", name="Record")


class TestTheRecordOfACoupon:
    def test_a_verdict_is_overruled_with_a_reason(self, empty, as_im: Page, read_coupon):
        page, (code, calibration) = as_im, read_coupon
        page.goto(f"{empty.url}/coupons/{code}")
        record(page).get_by_role("button", name="Overrule the verdict…").click()
        page.get_by_label("It is").select_option("over")
        page.get_by_role("button", name="Overrule", exact=True).click()
        expect(page.get_by_text("Give the reason in a few words.")).to_be_visible()
        page.get_by_label("Why", exact=True).fill("slots gummed up while washing")
        page.get_by_role("button", name="Overrule", exact=True).click()
        expect(record(page)).to_contain_text("IM judged it over: slots gummed up while washing")
        page.goto(f"{empty.url}/calibrate/{calibration['id']}")
        card = page.get_by_role("article", name=f"Coupon {code}")
        expect(card).to_contain_text("over")
        expect(card).to_contain_text("overruled by IM")

    def test_a_reading_is_withdrawn_and_stays_on_record(self, empty, as_im: Page, read_coupon):
        page, (code, _) = as_im, read_coupon
        page.goto(f"{empty.url}/coupons/{code}")
        record(page).get_by_role("button", name="Withdraw the reading…").click()
        page.get_by_label("Why", exact=True).fill("it was another coupon")
        page.get_by_role("button", name="Withdraw", exact=True).click()
        expect(record(page)).to_contain_text("withdrew the reading: it was another coupon")
        expect(record(page).get_by_role("button", name="Withdraw the reading…")).to_have_count(0)
        expect(page.get_by_label("Walls standing, left")).to_have_value("")

    def test_a_coupon_that_is_gone_waits_for_nobody_and_can_turn_up(self, empty, as_im: Page):
        page = as_im
        calibration = empty.lab.calibration()
        (code,) = empty.lab.plan(calibration, [2.4])
        empty.lab.print(code)
        page.goto(f"{empty.url}/coupons/{code}")
        record(page).get_by_role("button", name="Coupon lost or destroyed…").click()
        page.get_by_label("What became of it").fill("swept up")
        page.get_by_role("button", name="Mark as lost").click()
        expect(page.get_by_text("Lost or destroyed: swept up.")).to_be_visible()
        assert empty.lab.get("/api/board")["today"] == []
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_label("Walls standing, left")).to_be_visible()

    def test_a_photo_is_taken_away_and_brought_back(self, empty, as_im: Page, read_coupon, tmp_path):
        from PIL import Image

        page, (code, _) = as_im, read_coupon
        picture = tmp_path / "photo.png"
        Image.new("RGB", (80, 50), (120, 130, 140)).save(picture)
        page.goto(f"{empty.url}/coupons/{code}")
        page.get_by_label("Photo file").set_input_files(picture)
        photos = page.locator(".photos img")
        expect(photos).to_have_count(1)
        page.get_by_role("button", name="Remove").click()
        expect(photos).to_have_count(0)
        page.get_by_role("button", name="Undo").click()
        expect(photos).to_have_count(1)


class TestACalibration:
    def more(self, page: Page, action: str) -> None:
        page.get_by_role("button", name="More").click()
        page.get_by_role("button", name=action).click()

    def test_is_closed_with_a_reason_and_opened_again(self, empty, as_im: Page):
        page, calibration = as_im, empty.lab.decided()
        page.goto(f"{empty.url}/calibrate/{calibration['id']}?step=refine")
        self.more(page, "Close this calibration…")
        page.get_by_label("Why", exact=True).fill("the resin is sold out")
        page.get_by_role("button", name="Close it").click()
        expect(page.get_by_text("Closed: the resin is sold out")).to_be_visible()
        expect(page.get_by_role("button", name="Choose an exposure")).to_have_count(0)
        page.get_by_role("button", name="Open again").click()
        expect(page.get_by_role("button", name="Choose an exposure")).to_be_visible()

    @pytest.mark.parametrize(("kind", "starts"), [("SVG", b"<svg"), ("PNG", b"\x89PNG")])
    def test_its_strip_is_saved_as_a_file(self, empty, as_im: Page, kind, starts):
        page, calibration = as_im, empty.lab.decided()
        page.goto(f"{empty.url}/calibrate/{calibration['id']}")
        expect(page.locator("[data-lane=size]")).to_be_visible()
        with page.expect_download() as saved:
            self.more(page, f"Save the strip as {kind}")
        assert saved.value.suggested_filename == f"C-001.{kind.lower()}"
        content = saved.value.path().read_bytes()
        assert content.startswith(starts)
        if kind == "SVG":
            assert b"Thin walls" in content and b"fill:" in content

    def test_a_printed_mark_is_undone(self, empty, as_im: Page):
        page, calibration = as_im, empty.lab.calibration()
        (code,) = empty.lab.plan(calibration, [2.4])
        page.goto(f"{empty.url}/calibrate/{calibration['id']}")
        page.get_by_role("button", name=f"Mark {code} as printed").click()
        page.get_by_role("button", name="Mark as printed").click()
        card = page.get_by_role("article", name=f"Coupon {code}")
        expect(card).to_contain_text("to read")
        page.get_by_role("button", name="Undo").click()
        expect(card).to_contain_text("to print")

    def test_steps_are_places_to_come_back_to(self, empty, as_im: Page):
        page, calibration = as_im, empty.lab.decided()
        page.goto(f"{empty.url}/calibrate/{calibration['id']}")
        page.get_by_role("link", name="Range").click()
        expect(page).to_have_url(re.compile("step=range"))
        page.get_by_role("link", name="Issue").click()
        page.go_back()
        expect(page).to_have_url(re.compile("step=range"))
        expect(page.get_by_role("heading", name="What now")).to_be_visible()

    def test_an_exposure_moved_by_hand_is_in_the_address_and_issued_as_own_choice(self, empty, as_im: Page):
        page, calibration = as_im, empty.lab.decided()
        page.goto(f"{empty.url}/calibrate/{calibration['id']}?step=decide&policy=centre")
        slider = page.get_by_role("slider", name="Chosen exposure")
        slider.focus()
        page.keyboard.press("ArrowRight")
        at = slider.get_attribute("aria-valuenow")
        expect(page).to_have_url(re.compile(f"at={at}"))
        page.reload()
        expect(slider).to_have_attribute("aria-valuenow", at)
        page.get_by_role("button", name=re.compile("and confirm$")).click()
        page.get_by_role("button", name="Skip confirmation").click()
        expect(page.get_by_text("Chosen by hand")).to_be_visible()
        page.get_by_label("Why this exposure").fill("a little more for parts that carry load")
        page.reload()
        expect(page.get_by_label("Why this exposure")).to_have_value("a little more for parts that carry load")
        page.get_by_role("button", name=re.compile(r"Issue \d")).click()
        expect(page.get_by_role("article", name="Card of S-001")).to_contain_text("Own choice")

    def test_the_line_is_dragged_and_stays_on_the_step(self, empty, as_im: Page):
        page, calibration = as_im, empty.lab.decided()
        page.goto(f"{empty.url}/calibrate/{calibration['id']}?step=decide&policy=centre")
        slider = page.get_by_role("slider", name="Chosen exposure")
        before = float(slider.get_attribute("aria-valuenow"))
        place = slider.locator("[data-part=chosen]").bounding_box()
        page.mouse.move(place["x"], place["y"] + 20)
        page.mouse.down()
        page.mouse.move(place["x"] + 60, place["y"] + 20, steps=6)
        page.mouse.up()
        after = float(slider.get_attribute("aria-valuenow"))
        assert after > before and round(10 * after, 6) == round(10 * after)


class TestIssued:
    def test_a_later_version_supersedes_and_says_so(self, demo, as_im: Page):
        page, lab = as_im, demo.lab
        row = next(c for c in lab.get("/api/calibrations")["items"] if c["code"] == "C-001")
        now = lab.get(f"/api/calibrations/{row['id']}")
        exposure = now["arms"][0]["window"]["policies"]["support-safe"]
        issue = {
            "version": now["version"],
            "arm_id": now["arms"][0]["id"],
            "policy": "support-safe",
            "exposure_s": exposure,
            "reason": "hinges stand on thin supports",
        }
        code = lab.post(f"/api/calibrations/{row['id']}/issue", issue, 201)["code"]
        page.goto(f"{demo.url}/sets/S-001")
        expect(page.get_by_text("version 1, superseded")).to_be_visible()
        page.get_by_role("link", name=code).click()
        expect(page.get_by_role("article", name=f"Card of {code}")).to_contain_text("hinges stand on thin supports")
        page.goto(f"{demo.url}/board")
        expect(
            page.get_by_role("link", name=re.compile(rf"Slate 2 on Cormorant: issued, {exposure} s"))
        ).to_be_visible()

    def test_the_printed_card_is_clean(self, demo, as_im: Page):
        page = as_im
        page.goto(f"{demo.url}/sets/S-002")
        expect(page.get_by_role("article")).to_be_visible()
        page.emulate_media(media="print")
        expect(page.get_by_role("banner")).to_be_hidden()
        expect(page.get_by_role("button", name="Print the card")).to_be_hidden()
        expect(page.get_by_role("article")).to_contain_text("This printer’s delay counts from the start of motion.")
        page.emulate_media(media="screen")


class TestLookingUp:
    def test_something_is_found_by_a_part_of_its_name(self, demo, as_im: Page):
        page = as_im
        page.goto(f"{demo.url}/shelf/coupons")
        page.get_by_role("button", name="Find anything").click()
        page.keyboard.type("tap-water")
        expect(page.get_by_role("list", name="Found").get_by_role("link").first).to_be_visible()
        page.keyboard.press("Enter")
        expect(page.get_by_role("dialog", name="Find anything")).to_have_count(0)
        expect(page.get_by_text("Tap-water rinse").first).to_be_visible()

    def test_what_is_not_there_is_said(self, demo, as_im: Page):
        page = as_im
        page.goto(f"{demo.url}/board")
        expect(page.get_by_role("table", name="Materials by printers")).to_be_visible()
        page.keyboard.press("/")
        page.keyboard.type("zebra")
        expect(page.get_by_text("No match for “zebra”.")).to_be_visible()
        page.goto(f"{demo.url}/coupons/999Z")
        expect(page.get_by_text("There is no such coupon.")).to_be_visible()

    def test_today_leads_to_what_waits(self, demo, as_im: Page):
        page = as_im
        page.goto(f"{demo.url}/board")
        today = page.get_by_role("region", name="Today")
        first = today.get_by_role("listitem").first
        code = first.get_by_text("waits for a reading").inner_text().split()[1]
        first.get_by_role("link", name="Read it").click()
        expect(page.get_by_role("heading", name=re.compile(f"Coupon {code}"))).to_be_visible()

    def test_a_bottle_is_noted_as_shaken(self, demo, as_im: Page):
        page = as_im
        page.goto(f"{demo.url}/shelf/bottles")
        row = page.get_by_role("row", name=re.compile("B-003"))
        expect(row).to_contain_text("not noted")
        row.get_by_role("button", name="B-003 is shaken now").click()
        expect(row).not_to_contain_text("not noted")
