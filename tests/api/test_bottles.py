"""A bottle goes down by what is printed, comes back when that is taken back, and tells where it went."""

import pytest


def left(lab, bottle_id):
    return lab.get(f"/api/bottles/{bottle_id}")["left_ml"]


@pytest.fixture
def planned(lab):
    """A planned coupon with its print, and the bottle of its calibration."""
    calibration = lab.calibration()
    code = lab.plan(calibration, [2.4])[0]
    return lab.get(f"/api/coupons/{code}")["print_id"], calibration["bottle_id"]


def came_out(lab, print_id, expected=200, **changes):
    return lab.post(f"/api/prints/{print_id}/printed", {"temp_c": 24, "temp_place": "room", **changes}, expected)


def test_taken_off_and_given_back(lab, planned):
    print_id, bottle_id = planned
    came_out(lab, print_id, bottle_id=bottle_id, volume_ml=30)
    assert left(lab, bottle_id) == 970
    lab.post(f"/api/prints/{print_id}/unprinted")
    assert left(lab, bottle_id) == 1000
    came_out(lab, print_id, bottle_id=bottle_id, volume_ml=10)
    assert left(lab, bottle_id) == 990


def test_without_a_bottle_none_goes_down(lab, planned):
    print_id, bottle_id = planned
    came_out(lab, print_id, volume_ml=30)
    assert left(lab, bottle_id) == 1000


def test_more_than_it_holds_is_said_and_nothing_is_kept(lab, planned):
    print_id, bottle_id = planned
    told = came_out(lab, print_id, 422, bottle_id=bottle_id, volume_ml=1500)
    assert "holds 1000 ml" in told["error"]["fields"]["bottle_id"]
    assert left(lab, bottle_id) == 1000
    came_out(lab, print_id)


def test_a_bottle_that_is_not_there(lab, planned):
    came_out(lab, planned[0], 404, bottle_id="nobody's")


def test_the_simulated_printer_takes_it_by_itself(lab):
    calibration = lab.calibration(lab.shelf(simulated=True))
    code = lab.plan(calibration, [2.4])[0]
    coupon = lab.get(f"/api/coupons/{code}")
    job = lab.post("/api/virtual-prints", {"print_id": coupon["print_id"], "speed": 1_000_000}, 201)
    lab.ended(job)
    volume = next(c["volume_ml"] for c in lab.again(calibration)["arms"][0]["coupons"] if c["code"] == code)
    assert volume > 0 and left(lab, calibration["bottle_id"]) == pytest.approx(1000 - volume)


def test_its_page_says_where_it_went(lab, planned):
    print_id, bottle_id = planned
    came_out(lab, print_id, bottle_id=bottle_id, volume_ml=30)
    code = lab.get(f"/api/bottles/{bottle_id}")["code"]
    page = lab.get(f"/api/bottles/{code.lower()}/page")
    assert page["bottle"]["id"] == bottle_id and page["settles"] is True
    assert [(use["kind"], use["ml"]) for use in page["uses"]] == [("print", -30), ("calibration", None)]
    assert page["open_days"] is None and page["best_in_days"] is None


def test_pours_that_are_noted_take_it_once(lab, planned):
    bottle_id = planned[1]
    calibration = lab.get("/api/calibrations")["items"][0]
    assert lab.get(f"/api/calibrations/{calibration['id']}")["bottle_poured"] is False
    printer_id = lab.get(f"/api/calibrations/{calibration['id']}")["printer_id"]
    fill = {"kind": "fill", "volume_ml": 200, "bottle_id": bottle_id}
    lab.post(f"/api/printers/{printer_id}/vat", fill, 201)
    assert lab.get(f"/api/calibrations/{calibration['id']}")["bottle_poured"] is True
    assert lab.get(f"/api/bottles/{bottle_id}/page")["uses"][0]["ml"] == -200
