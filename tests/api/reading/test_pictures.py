"""Reading a coupon by its picture: proposed, asked, confirmed, and what is refused."""

import io
from dataclasses import replace

import pytest
from PIL import Image

from setback.coupon.lettering import embossed
from setback.simulate.camera import Placed, photograph_tray
from tests.pictures import PLAIN, SCAN, picture, printed


@pytest.fixture
def code(lab):
    calibration = lab.calibration()
    (code,) = lab.plan(calibration, [2.6])
    lab.print(code)
    return code


def send(lab, code, content, expected=201, dpi=None, name="coupon.jpg"):
    headers = {"Setback-Technician": lab.initials}
    url = f"/api/coupons/{code}/pictures" + (f"?scanner_dpi={dpi}" if dpi else "")
    answer = lab.client.post(url, data={"picture": (io.BytesIO(content), name)}, headers=headers)
    assert answer.status_code == expected, answer.get_data(as_text=True)
    return answer.get_json()


def states(reading):
    return {one["feature_key"]: one["state"] for one in reading["features"] if one["state"]}


class TestReading:
    def test_sure_marks_are_filled_unsure_ones_asked_and_nothing_counts_yet(self, lab, code):
        made = printed(2.6)
        coupon = send(lab, code, picture(made, code))
        seen = coupon["picture"]
        assert coupon["reading"] is None and seen["tilt_deg"] < 5
        filled = {one["key"]: one for one in seen["filled"]}
        marks = {one["key"]: one for one in seen["marks"]}
        assert set(filled).isdisjoint(seen["asked"]) and len(filled) > 30
        assert all(marks[key]["reason"] for key in seen["asked"])
        truth = {
            o.key: "formed" if o.share >= 0.9 else "partial" if o.share > 0.3 else "absent"
            for o in made.outcomes
            if o.along
        }
        right = [truth[key] == one["state"] for key, one in filled.items() if key in truth]
        assert sum(right) >= 0.95 * len(right) > 30
        # A photo says that a bar is there; how wide it is stays with the calipers.
        assert not any(one["measured_mm"] for one in filled.values())
        straight = lab.client.get(f"/api/pictures/{seen['id']}/straight")
        with Image.open(io.BytesIO(straight.data)) as image:
            assert image.size[0] / image.size[1] == pytest.approx(54 / 38, rel=0.01)

    @pytest.mark.long
    def test_a_scan_of_known_resolution_measures(self, lab, code):
        made = printed(2.6)
        seen = send(lab, code, picture(made, code, SCAN), dpi=600)["picture"]
        sizes = {one["key"]: one["measured_mm"] for one in seen["filled"] if one["measured_mm"]}
        truth = {o.key: o.size_mm for o in made.outcomes if o.kind in ("outer", "inner")}
        assert len(sizes) == 8 and seen["scanner_dpi"] == 600
        assert all(abs(sizes[key] - truth[key]) < 0.02 for key in sizes)
        assert all(0 < one["sd_um"] < 15 for one in seen["marks"] if one["size_mm"])

    @pytest.mark.long
    def test_what_a_person_corrects_stands_beside_what_the_picture_showed(self, lab, code):
        seen = send(lab, code, picture(printed(2.6), code))["picture"]
        filled = [one for one in seen["filled"] if one["key"] != "wall-left-9"]
        corrected = [*filled, {"key": "wall-left-9", "state": "partial"}]
        coupon = lab.post(f"/api/coupons/{code}/readings", {"features": corrected, "picture_id": seen["id"]}, 201)
        assert coupon["picture"] is None
        assert (coupon["confirmed"]["marks"], coupon["confirmed"]["changed"]) == (len(seen["marks"]), 1)
        assert states(coupon["reading"])["wall-left-9"] == "partial"
        again = {
            "features": corrected,
            "picture_id": seen["id"],
            "supersedes_id": coupon["latest_id"],
            "reason": "once more",
        }
        assert "confirmed or discarded" in lab.post(f"/api/coupons/{code}/readings", again, 409)["error"]["message"]

    @pytest.mark.long
    def test_a_second_picture_takes_the_place_of_one_that_waits_and_either_can_be_discarded(self, lab, code):
        made = printed(2.6)
        first = send(lab, code, picture(made, code))["picture"]
        second = send(lab, code, picture(made, code, seed=2))["picture"]
        assert first["id"] != second["id"]
        coupon = lab.post(f"/api/pictures/{second['id']}/discard")
        assert coupon["picture"] is None and len(coupon["photos"]) == 2

    @pytest.mark.long
    def test_another_coupons_picture_cannot_be_confirmed_here(self, lab, code):
        seen = send(lab, code, picture(printed(2.6), code))["picture"]
        (other,) = lab.plan(lab.get(f"/api/calibrations/{lab.get(f'/api/coupons/{code}')['calibration_id']}"), [2.4])
        lab.print(other)
        body = {"features": [{"key": "wall-left-9", "state": "formed"}], "picture_id": seen["id"]}
        assert "another coupon" in lab.post(f"/api/coupons/{other}/readings", body, 409)["error"]["message"]


@pytest.mark.long
class TestRefused:
    def refused(self, lab, code, content, words, **options):
        error = send(lab, code, content, 422, **options)["error"]
        assert words in error["fields"]["picture"], error
        assert lab.get(f"/api/coupons/{code}")["photos"] == []

    def test_a_picture_of_something_else(self, lab, code):
        out = io.BytesIO()
        Image.effect_noise((900, 700), 60).convert("RGB").save(out, "JPEG")
        self.refused(lab, code, out.getvalue(), "No coupon of Setback's was found")

    def test_another_coupon_than_the_chosen_one(self, lab, code):
        self.refused(lab, code, picture(printed(2.6), "150A"), "This picture shows coupon 150, not")

    def test_a_mirror_image(self, lab, code):
        self.refused(lab, code, picture(printed(2.6), code, replace(PLAIN, mirrored=True)), "mirror image")

    @pytest.mark.long
    def test_two_coupons_with_one_code(self, lab, code):
        made = printed(2.6)
        lettered = embossed(made.coupon, code, "2.6s")
        tray = [Placed(made, lettered, y_mm=-21), Placed(made, lettered, y_mm=21)]
        content = photograph_tray(tray, 1, replace(PLAIN, px_per_mm=20))
        self.refused(lab, code, content, "Two coupons in this picture carry the code")

    def test_a_scan_at_another_resolution_than_was_chosen(self, lab, code):
        self.refused(lab, code, picture(printed(2.6), code, SCAN), "about 600 dpi, not at 1200", dpi=1200)

    @pytest.mark.parametrize(
        ("content", "words"),
        [
            (b"\x00\x00\x00\x18ftypheic" + bytes(40), "HEIC"),
            (b"no picture at all", "no picture that can be read"),
        ],
    )
    def test_a_file_that_is_none(self, lab, code, content, words):
        self.refused(lab, code, content, words)

    def test_a_hundred_megapixels(self, lab, code):
        out = io.BytesIO()
        Image.new("L", (10_000, 10_000)).save(out, "PNG")
        self.refused(lab, code, out.getvalue(), "100 million pixels")

    def test_a_picture_from_before_the_print(self, lab, code):
        image = Image.open(io.BytesIO(picture(printed(2.6), code)))
        exif = Image.Exif()
        exif.get_ifd(0x8769)[36867] = "2025:12:01 10:00:00"
        out = io.BytesIO()
        image.save(out, "JPEG", exif=exif)
        self.refused(lab, code, out.getvalue(), "before coupon")

    def test_a_coupon_that_is_not_printed_or_of_another_kind(self, lab):
        (planned,) = lab.plan(lab.calibration(), [2.6])
        assert "not printed yet" in send(lab, planned, b"x", 409)["error"]["message"]

    def test_a_photo_of_a_support_coupon(self, lab):
        calibration = lab.calibration()
        (code,) = lab.plan(calibration, [2.6], "support")
        lab.print(code)
        assert lab.get(f"/api/coupons/{code}")["picture_by"] == "scan"
        answer = send(lab, code, picture(printed(2.6, "support"), code), 422)
        assert "off a scan" in answer["error"]["fields"]["picture"]
        assert send(lab, code, picture(printed(2.6, "support"), code, SCAN), dpi=600)["picture"]["filled"]


@pytest.mark.long
def test_a_scanner_is_a_gauge_once_coupons_were_read_both_ways(lab):
    """Whoever changes a size that a scan shows has measured it: the scanner's error is learnt from that."""
    made = lab.calibration()
    codes = lab.plan(made, [2.3, 2.6, 2.9])
    for code, exposure_s in zip(codes, (2.3, 2.6, 2.9), strict=True):
        lab.print(code)
        seen = send(lab, code, picture(printed(exposure_s), code, SCAN), dpi=600)["picture"]
        # Calipers make each bar 20 µm less wide, each notch 20 µm wider: the scan reads edges 10 µm too far.
        features = [
            {**f, "measured_mm": round(f["measured_mm"] + (-0.02 if f["key"].startswith("outer") else 0.02), 3)}
            if f["measured_mm"] is not None
            else f
            for f in seen["filled"]
        ]
        lab.post(f"/api/coupons/{code}/readings", {"features": features, "picture_id": seen["id"]}, 201)
    (gauge,) = lab.get("/api/camera-gauges")["items"]
    assert gauge["camera"] == "scanner at 600 dpi" and gauge["changed"] == 0 and gauge["marks"] > 60
    assert gauge["growth"]["coupons"] == 3 and gauge["growth"]["shown"]
    assert abs(gauge["growth"]["bias_um"] - 10) < 0.5
