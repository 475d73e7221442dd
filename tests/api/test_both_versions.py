"""A stale edit is refused with both versions, and with what to send to save it all the same; what waited keeps its time."""

from datetime import datetime, timedelta

import pytest

from tests.lab import RESIN


def stale(answer):
    return answer["error"]["differences"], answer["error"]["over"]


def test_a_resin_that_two_people_changed_is_shown_twice_and_saved_over_by_choice(lab):
    made = lab.post("/api/resins", RESIN, 201)
    url = f"/api/resins/{made['id']}"
    lab.put(url, {**RESIN, "colour": "grey", "maker_low_s": 2.0, "maker_high_s": 3.5, "version": made["version"]})
    mine = {**RESIN, "colour": "slate", "maker_low_s": 2.2, "maker_high_s": 3.5, "version": made["version"]}
    differences, over = stale(lab.put(url, mine, 409))
    assert {(row["words"], row["yours"], row["theirs"]) for row in differences} == {
        ("Colour", "slate", "grey"),
        ("Maker low, s", "2.2", "2"),
    }
    assert lab.get(url)["colour"] == "grey"
    assert lab.put(url, mine | over)["colour"] == "slate"


@pytest.fixture
def coupon(lab):
    """A coupon that was read once."""
    [code] = lab.series(lab.calibration(), [2.0])
    return code


def read_again(lab, coupon, **headers):
    """A second reading; when it was read."""
    before = lab.get(f"/api/coupons/{coupon}")
    body = {"features": lab.seen(coupon), "supersedes_id": before["latest_id"], "reason": "Looked again"}
    lab.post(f"/api/coupons/{coupon}/readings", body, 201, **headers)
    after = lab.get(f"/api/coupons/{coupon}")
    return next(row["read_at"] for row in after["history"] if row["id"] == after["latest_id"])


def ago(lab, moment):
    """How long ago that was, to the minute."""
    minutes = (lab.clock() - datetime.fromisoformat(moment)).total_seconds() / 60
    return timedelta(minutes=round(minutes))


def test_two_readings_of_a_coupon_stand_side_by_side_feature_by_feature(lab, coupon):
    before = lab.get(f"/api/coupons/{coupon}")
    first, *rest = [row for row in lab.seen(coupon) if row["state"]]
    url = f"/api/coupons/{coupon}/readings"
    body = {"features": [{**first, "state": "lost"}, *rest], "supersedes_id": None, "reason": "Looked again"}
    differences, over = stale(lab.post(url, body, 409))
    assert {row["field"]: row["yours"] for row in differences}[f"features.{first['key']}"] == "lost"
    assert over == {"supersedes_id": before["latest_id"]}
    assert lab.post(url, body | over, 201)["latest_id"] != before["latest_id"]


def test_what_waited_in_a_device_was_read_when_it_was_entered(lab, coupon):
    assert ago(lab, read_again(lab, coupon, Setback_Waited="3600")) == timedelta(hours=1)


@pytest.mark.parametrize("waited", ["-5", "soon", "1e9", "\xb2"])
def test_a_wait_that_is_no_number_is_none(lab, coupon, waited):
    assert ago(lab, read_again(lab, coupon, Setback_Waited=waited)) == timedelta(0)


def test_the_lab_settings_are_compared_too(lab):
    kept = lab.get("/api/lab-settings")
    lab.put("/api/lab-settings", {**kept, "name": "Skerry Point"})
    differences, over = stale(lab.put("/api/lab-settings", {**kept, "name": "The shed"}, 409))
    assert [(row["words"], row["theirs"]) for row in differences] == [("Name", "Skerry Point")]
    assert lab.put("/api/lab-settings", {**kept, "name": "The shed"} | over)["name"] == "The shed"
