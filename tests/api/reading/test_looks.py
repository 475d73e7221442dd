"""One look at a coupon: under, right or over. It seeds a range and counts as what it is."""

import pytest


@pytest.fixture
def calibration(lab):
    return lab.calibration(lab.shelf())


def printed(lab, calibration, exposures):
    lab.plan(calibration, exposures)
    codes = lab.again(calibration)["arms"][0]["to_print"]
    for code in codes:
        lab.print(code)
    return codes


def look(lab, code, verdict, expected=201):
    return lab.post(f"/api/coupons/{code}/look", {"verdict": verdict}, expected)


def test_five_looks_seed_a_range_and_make_no_window(lab, calibration):
    codes = printed(lab, calibration, [1.2, 1.8, 2.4, 3.4, 4.8])
    for code, verdict in zip(codes, ("under", "under", "right", "over", "over"), strict=True):
        look(lab, code, verdict)
    arm = lab.again(calibration)["arms"][0]
    assert arm["seed"][0] <= 1.8 and arm["seed"][1] >= 3.4 and arm["seed"][1] < 4.8
    assert arm["window"] is None and arm["to_read"] == []
    assert [card["verdict"] for card in arm["coupons"]] == ["under", "under", "ok", "over", "over"]
    assert {card["looked_by"] for card in arm["coupons"]} == {"IM"}
    low, high = arm["seed"]
    assert all(low - 0.05 <= exposure <= high + 0.05 for exposure in arm["next"]["exposures_s"])
    assert lab.get("/api/board")["waiting"] == 0


def test_a_reading_says_more_than_the_look_before_it(lab, calibration):
    (code,) = printed(lab, calibration, [2.4])
    look(lab, code, "under")
    lab.read(code)
    card = lab.again(calibration)["arms"][0]["coupons"][0]
    assert card["status"] == "read" and card["reading_id"] and card["verdict"] == card["computed_verdict"]
    assert lab.again(calibration)["arms"][0]["seed"] is None


def test_a_look_can_be_changed_and_withdrawn(lab, calibration):
    (code,) = printed(lab, calibration, [2.4])
    look(lab, code, "under")
    assert look(lab, code, "over")["verdict"] == "over"
    assert lab.again(calibration)["arms"][0]["coupons"][0]["look"] == "over"
    lab.post(f"/api/coupons/{code}/look/withdraw")
    card = lab.again(calibration)["arms"][0]["coupons"][0]
    assert (card["look"], card["status"]) == (None, "printed")


def test_what_is_not_printed_or_gone_cannot_be_looked_at(lab, calibration):
    lab.plan(calibration, [2.4])
    (code,) = lab.again(calibration)["arms"][0]["to_print"]
    look(lab, code, "right", 409)
    lab.print(code)
    look(lab, code, "splendid", 422)
    lab.post(f"/api/coupons/{code}/gone", {"reason": "fell behind the bench"})
    look(lab, code, "right", 409)


def test_looks_never_make_an_offer(lab, calibration):
    for code, verdict in zip(printed(lab, calibration, [1.8, 2.4, 3.4]), ("under", "right", "over"), strict=True):
        look(lab, code, verdict)
    issue = {"version": lab.again(calibration)["version"], "arm_id": calibration["arms"][0]["id"], "policy": "centre"}
    lab.post(
        f"/api/calibrations/{calibration['id']}/issue", issue | {"exposure_s": 2.4, "reason": "it looked right"}, 409
    )
