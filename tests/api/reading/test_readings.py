"""Readings: by feature, superseded and never edited, and every way to get one wrong."""

import io
from dataclasses import replace

import pytest
from PIL import Image

from setback.store.database import connect


@pytest.fixture
def coupon(lab):
    (code,) = lab.plan(lab.calibration(), [2.4])
    lab.print(code)
    return code


def stored(db_path, sql, *values):
    db = connect(db_path)
    rows = [tuple(r) for r in db.execute(sql, values)]
    db.close()
    return rows


class TestReading:
    def test_is_stored_feature_by_feature(self, lab, coupon, db_path):
        features = lab.seen(coupon)
        lab.read(coupon, features)
        rows = stored(db_path, "SELECT feature_key, state, measured_mm FROM reading_feature")
        assert {(f["key"], f["state"], f["measured_mm"]) for f in features} == set(rows)

    def test_a_correction_supersedes_and_says_why(self, lab, coupon, db_path):
        first = lab.read(coupon)
        told = lab.read(coupon, None, 422, supersedes_id=first["latest_id"])
        assert "reason" in told["error"]["fields"]
        second = lab.read(coupon, None, 201, supersedes_id=first["latest_id"], reason="jaws were not zeroed")
        assert [r["reason"] for r in second["history"]] == [None, "jaws were not zeroed"]
        assert stored(db_path, "SELECT count(*) FROM reading") == [(2,)]

    def test_two_tabs_do_not_overwrite_each_other(self, lab, coupon):
        lab.read(coupon)
        told = lab.read(coupon, None, 409)
        assert "IM read coupon" in told["error"]["message"] and "kept" in told["error"]["message"]
        assert len(lab.get(f"/api/coupons/{coupon}")["history"]) == 1

    def test_a_double_tap_saves_once(self, lab, coupon):
        body = {"features": lab.seen(coupon)}
        first = lab.post(f"/api/coupons/{coupon}/readings", body, 201, Idempotency_Key="x")
        assert (
            lab.post(f"/api/coupons/{coupon}/readings", body, 200, Idempotency_Key="x")["latest_id"]
            == first["latest_id"]
        )

    def test_withdrawn_it_counts_no_more_and_stays(self, lab, coupon):
        read = lab.read(coupon)
        told = lab.post(f"/api/coupons/{coupon}/withdraw", {"reading_id": read["latest_id"], "reason": "wrong coupon"})
        assert told["reading"] is None and [r["withdrawn"] for r in told["history"]] == [False, True]
        lab.post(f"/api/coupons/{coupon}/withdraw", {"reading_id": read["latest_id"], "reason": "wrong coupon"}, 409)
        lab.read(coupon, supersedes_id=told["latest_id"], reason="read the right one")

    def test_carries_who_made_it(self, lab, coupon):
        lab.initials = None
        assert "technician" in lab.read(coupon, [], 422)["error"]["fields"]
        lab.initials = "ZZ"
        assert "not a technician" in lab.read(coupon, [], 422)["error"]["message"]


class TestBadReadings:
    @pytest.mark.parametrize(
        ("feature", "place", "word"),
        [
            ({"key": "wall-left-11", "state": "formed"}, "features.0.key", "20 wall"),
            ({"key": "wall-left-1", "state": "bent"}, "features.0.state", "one of"),
            ({"key": "wall-left-1", "measured_mm": 0.2}, "features.0.measured_mm", "counted"),
            ({"key": "outer-x-1", "measured_mm": -7}, "features.0.measured_mm", "at least 0"),
            ({"key": "outer-x-1", "measured_mm": "seven"}, "features.0.measured_mm", "number"),
            ({"key": "outer-x-1", "measured_mm": 70.1}, "features.0.measured_mm", "was 7.01 mm meant"),
            ({"key": "outer-x-1", "measured_mm": 0.276}, "features.0.measured_mm", "inches"),
            ({"key": "outer-x-1", "measured_mm": 1e9}, "features.0.measured_mm", "at most"),
            ({"key": "outer-x-1", "state": "formed"}, "features.0.state", "measured"),
        ],
    )
    def test_are_said_at_their_feature_and_nothing_is_saved(self, lab, coupon, feature, place, word):
        told = lab.read(coupon, [feature, {"key": "wall-left-2", "state": "formed"}], 422)
        assert word in told["error"]["fields"][place]
        assert lab.get(f"/api/coupons/{coupon}")["history"] == []

    def test_a_feature_twice(self, lab, coupon):
        told = lab.read(coupon, [{"key": "wall-left-2", "state": "formed"}] * 2, 422)
        assert "twice" in told["error"]["fields"]["features.1.key"]

    def test_nothing_at_all(self, lab, coupon):
        assert "features" in lab.read(coupon, [], 422)["error"]["fields"]

    def test_a_coupon_that_is_gone(self, lab, coupon):
        lab.post(f"/api/coupons/{coupon}/gone", {"reason": "fell behind the bench"})
        told = lab.read(coupon, None, 409)
        assert "fell behind the bench" in told["error"]["message"]
        lab.post(f"/api/coupons/{coupon}/found")
        lab.read(coupon)

    def test_a_coupon_not_printed_yet(self, lab):
        (code,) = lab.plan(lab.calibration(), [2.4])
        assert "not printed yet" in lab.read(code, None, 409)["error"]["message"]


class TestConditions:
    @pytest.mark.parametrize("fault", ["damaged", "unwashed", "uncured"])
    def test_a_faulty_coupon_is_left_out_named_and_can_be_counted(self, lab, fault):
        calibration = lab.decided()
        before = calibration["arms"][0]["window"]["window"]
        (code,) = lab.plan(calibration, [2.3])
        lab.print(code)
        lab.read(code, lab.seen(code, 4.2), **{fault: True})
        window = lab.again(calibration)["arms"][0]["window"]
        assert window["window"] == before
        assert [(out["coupon"], out["why"]) for out in window["left_out"]] == [(code, [fault])]
        assert (
            "reason"
            in lab.post(f"/api/coupons/{code}/judgements", {"include": True, "reason": ""}, 422)["error"]["fields"]
        )
        lab.post(f"/api/coupons/{code}/judgements", {"include": True, "reason": "only the edge is chipped"}, 201)
        counted = lab.again(calibration)["arms"][0]
        assert counted["window"]["window"] != before and counted["window"]["left_out"] == []
        assert next(c for c in counted["coupons"] if c["code"] == code)["included"] is True

    def test_features_lost_in_handling_leave_the_count(self, lab, coupon):
        features = [
            f | {"state": "lost"} if f["key"] in ("wall-left-9", "wall-left-10") else f for f in lab.seen(coupon)
        ]
        lab.read(coupon, features)
        card = lab.get(f"/api/calibrations/{lab.get(f'/api/coupons/{coupon}')['calibration_id']}")["arms"][0][
            "coupons"
        ][0]
        assert card["walls"][1] == 18 and card["verdict"] == "ok"

    def test_loss_on_one_side_points_to_level_or_light(self, lab):
        calibration = lab.decided()
        before = calibration["arms"][0]["window"]["lanes"]["walls"]["lower_s"]
        lab.machine = replace(lab.machine, tilt=-1.0)
        (code,) = lab.series(calibration, [2.4])
        arm = lab.again(calibration)["arms"][0]
        card = next(c for c in arm["coupons"] if c["code"] == code)
        assert "right side only" in card["findings"][0]
        assert card["walls"][1] == 10
        assert arm["window"]["lanes"]["walls"]["lower_s"] == pytest.approx(before, rel=0.1)

    def test_a_verdict_can_be_overruled_with_who_and_why(self, lab, coupon):
        lab.read(coupon)
        told = lab.post(
            f"/api/coupons/{coupon}/judgements", {"verdict": "over", "reason": "slots gummed up by hand"}, 201
        )
        card = lab.get(f"/api/calibrations/{told['calibration_id']}")["arms"][0]["coupons"][0]
        assert card["verdict"] == "over" and card["computed_verdict"] == "ok" and card["judgement"]["initials"] == "IM"

    def test_preview_is_what_saving_would_give(self, lab):
        calibration = lab.decided()
        (code,) = lab.plan(calibration, [3.0])
        lab.print(code)
        features = lab.seen(code)
        preview = lab.post(f"/api/coupons/{code}/preview", {"features": features})
        assert lab.again(calibration)["arms"][0]["window"] == calibration["arms"][0]["window"]
        lab.read(code, features)
        arm = lab.again(calibration)["arms"][0]
        assert preview["window"]["lanes"] == arm["window"]["lanes"]
        assert preview["verdict"]["verdict"] == next(c for c in arm["coupons"] if c["code"] == code)["verdict"]


class TestPhotos:
    def send(self, lab, coupon, content):
        return lab.client.post(
            f"/api/coupons/{coupon}/photos",
            data={"photo": (io.BytesIO(content), "coupon.png")},
            content_type="multipart/form-data",
            headers={"Setback-Technician": "IM"},
        )

    def picture(self, size=(60, 40)):
        out = io.BytesIO()
        Image.new("RGB", size, (90, 100, 110)).save(out, "PNG")
        return out.getvalue()

    def test_is_kept_shown_taken_away_and_brought_back(self, lab, coupon):
        answer = self.send(lab, coupon, self.picture((3000, 1500)))
        assert answer.status_code == 201 and answer.get_json()["width_px"] == 2000
        photo = answer.get_json()["id"]
        shown = lab.client.get(f"/api/photos/{photo}")
        assert shown.mimetype == "image/jpeg" and Image.open(io.BytesIO(shown.data)).size == (2000, 1000)
        lab.post(f"/api/photos/{photo}/retire")
        assert lab.get(f"/api/coupons/{coupon}")["photos"] == []
        lab.post(f"/api/photos/{photo}/restore")
        assert len(lab.get(f"/api/coupons/{coupon}")["photos"]) == 1

    @pytest.mark.parametrize("content", [b"", b"no picture", b"GIF89a" + b"\0" * 40, b"\x89PNG\r\n\x1a\n" + b"\0" * 40])
    def test_no_picture(self, lab, coupon, content):
        answer = self.send(lab, coupon, content)
        assert answer.status_code == 422 and "JPEG" in answer.get_json()["error"]["fields"]["photo"]

    def test_cut_short(self, lab, coupon):
        answer = self.send(lab, coupon, self.picture((800, 600))[:-400])
        assert answer.status_code == 422

    def test_far_too_large(self, lab, coupon):
        answer = self.send(lab, coupon, b"\0" * 30_000_000)
        assert answer.status_code == 413 and "25 MB" in answer.get_json()["error"]["fields"]["photo"]
        assert lab.get(f"/api/coupons/{coupon}")["photos"] == []

    def test_no_file(self, lab, coupon):
        assert "photo" in lab.post(f"/api/coupons/{coupon}/photos", {}, 422)["error"]["fields"]
