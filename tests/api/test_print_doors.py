"""A print comes out by four doors, and the same holds at each: coupons, parts of the log, specimens, the virtual printer."""

import pytest

from setback.core.testing.methods import METHODS
from tests.specimens import plan_of, readings, setup_of

MISSING = {"whole": "whole", "missing parts": "in part", "failed": "missing"}
BY_HAND = ["coupon", "log", "specimens"]


class Coupon:
    """A coupon of a calibration."""

    simulated = False

    def __init__(self, lab):
        self.lab = lab
        calibration = lab.decided()
        self.printer_id = calibration["printer_id"]
        (code,) = lab.plan(calibration, [2.4])
        self.print_id = lab.get(f"/api/coupons/{code}")["print_id"]

    def record(self, expected=200, **printed):
        return self.lab.post(f"/api/prints/{self.print_id}/printed", printed, expected)

    def undo(self):
        self.lab.post(f"/api/prints/{self.print_id}/unprinted")


class Log(Coupon):
    """Parts, outside a campaign: what is undone is logged again."""

    def record(self, expected=201, outcome="whole", **printed):
        expected = 201 if expected == 200 else expected
        parts = [{"name": "funnel", "outcome": MISSING[outcome]}]
        answer = self.lab.post("/api/prints", {"printer_id": self.printer_id, "parts": parts, **printed}, expected)
        self.print_id = answer.get("id")
        return answer


class Specimens(Coupon):
    """One of the prints of a test's group."""

    def __init__(self, lab):
        self.lab = lab
        calibration = lab.decided()
        self.printer_id = calibration["printer_id"]
        card = lab.issue(calibration)
        sheet = lab.post("/api/reference-materials", {"name": "Sawn sheet", "what": "4 mm", "price_per_l": 30}, 201)
        issued = {
            "material_id": calibration["material_id"],
            "set_code": card["code"],
            "sheet_id": sheet["id"],
        }
        test = lab.post("/api/tests", plan_of(METHODS["cantilever-bend"], issued), 201)
        self.print_id = test["groups"][1]["prints"][0]["id"]

    def record(self, expected=200, **printed):
        return self.lab.post(f"/api/test-prints/{self.print_id}/made", printed, expected)

    def undo(self):
        self.lab.post(f"/api/test-prints/{self.print_id}/unmade")


class Virtual(Coupon):
    """A coupon of the virtual printer, whose prints are always whole."""

    def __init__(self, lab):
        self.lab = lab
        calibration = lab.calibration(lab.shelf(simulated=True))
        self.printer_id = calibration["printer_id"]
        (code,) = lab.plan(calibration, [2.4])
        self.print_id = lab.get(f"/api/coupons/{code}")["print_id"]

    def record(self, expected=200, **printed):
        order = {"print_id": self.print_id, "speed": 1_000_000, **printed}
        answer = self.lab.post("/api/virtual-prints", order, 201 if expected == 200 else expected)
        return self.lab.ended(answer) if expected == 200 else answer


DOORS = {"coupon": Coupon, "log": Log, "specimens": Specimens, "virtual": Virtual}


@pytest.fixture(params=DOORS)
def door(lab, request):
    return DOORS[request.param](lab)


@pytest.fixture(params=BY_HAND)
def door_by_hand(lab, request):
    return DOORS[request.param](lab)


def gates(lab):
    return [(gate["kind"], gate["print_id"]) for gate in lab.get("/api/gates")["items"]]


def missed(lab, printer_id):
    """A print of the log that left a part missing."""
    parts = [{"name": "clip", "outcome": "missing"}]
    return lab.post("/api/prints", {"printer_id": printer_id, "parts": parts}, 201)["id"]


def test_no_door_opens_before_the_vat_is_searched(lab, door):
    before = missed(lab, door.printer_id)
    assert "search the vat" in door.record(409)["error"]["fields"]["vat"]
    lab.post(f"/api/prints/{before}/vat-searched")
    door.record()


def test_no_door_opens_for_a_normal_print_before_the_lift_is_back_on(lab, door):
    strip = {"printer_id": door.printer_id, "parts": [{"name": "dose strip"}], "lift_suppressed": True}
    before = lab.post("/api/prints", strip, 201)["id"]
    assert "lift back on" in door.record(409)["error"]["fields"]["lift"]
    lab.post(f"/api/prints/{before}/lift-back")
    door.record()


def test_nothing_comes_out_of_a_retired_printer(lab, door):
    for calibration in lab.get("/api/calibrations")["items"]:
        row = lab.get(f"/api/calibrations/{calibration['id']}")
        if row["closed_at"] is None:
            lab.post(f"/api/calibrations/{row['id']}/close", {"reason": "put away", "version": row["version"]})
    lab.post(f"/api/printers/{door.printer_id}/retire")
    assert "is retired" in door.record(409)["error"]["message"]


def test_missing_parts_shut_the_gate_each_time_they_are_noted(lab, door_by_hand):
    door = door_by_hand
    door.record(outcome="missing parts", seen="two tips in the vat")
    assert gates(lab) == [("vat", door.print_id)]
    lab.post(f"/api/prints/{door.print_id}/vat-searched")
    assert gates(lab) == []
    door.undo()
    door.record(outcome="missing parts")
    assert gates(lab) == [("vat", door.print_id)], "what was searched before it was undone counts no more"


def test_what_is_undone_leaves_nothing_behind(lab, door):
    conditions = {"temp_c": 23} if isinstance(door, Virtual) else {"temp_c": 23, "temp_place": "resin", "seen": "pale"}
    before = len(lab.get("/api/prints")["items"])
    door.record(**conditions)
    assert len(lab.get("/api/prints")["items"]) == before + 1
    door.undo()
    assert len(lab.get("/api/prints")["items"]) == before
    door.record()
    newest = lab.get("/api/prints")["items"][0]
    assert (newest["temp_c"], newest["seen"]) == ((23, "") if isinstance(door, Virtual) else (None, ""))


@pytest.mark.parametrize(("noted", "field"), [({"temp_c": 23}, "temp_place"), ({"temp_place": "resin"}, "temp_c")])
def test_a_temperature_and_its_place_come_together_or_not_at_all(lab, door_by_hand, noted, field):
    before = len(lab.get("/api/prints")["items"])
    assert field in door_by_hand.record(422, **noted)["error"]["fields"]
    assert len(lab.get("/api/prints")["items"]) == before


def test_a_print_of_the_log_that_was_taken_out_counts_again_as_it_was_reported(lab):
    door = Log(lab)
    door.record()
    print_id = door.print_id
    door.undo()
    lab.post(f"/api/prints/{print_id}/reinstate")
    assert lab.get("/api/prints")["items"][0]["id"] == print_id


def test_a_strip_that_is_undone_and_printed_again_suppresses_the_lift_again(lab):
    calibration = lab.calibration(lab.shelf(suppresses_lift=True, plate_x_mm=230, plate_y_mm=130))
    code = lab.plan(calibration, [1.0, 2.0, 4.0], way="strip")[0]
    print_id = lab.get(f"/api/coupons/{code}")["print_id"]
    for _ in range(2):
        lab.post(f"/api/prints/{print_id}/printed", {})
        assert gates(lab) == [("lift", print_id)]
        lab.post(f"/api/prints/{print_id}/lift-back")
        lab.post(f"/api/prints/{print_id}/unprinted")


def test_specimens_that_are_read_keep_their_print(lab):
    door = Specimens(lab)
    door.record(cured=True)
    test = lab.get(f"/api/tests/{lab.get('/api/tests')['items'][0]['id']}")
    code = next(s["code"] for s in test["specimens"] if s["group"] == 2 and s["print"] == 1)
    method = METHODS["cantilever-bend"]
    (row,) = readings(method, setup_of(method), 1, 2)[0]
    lab.post(f"/api/specimens/{code}/readings", {"read": row}, 201)
    lab.post(f"/api/prints/{door.print_id}/unprinted", expected=409)
    lab.post(f"/api/test-prints/{door.print_id}/unmade", expected=409)


def test_several_prints_that_came_out_alike_are_noted_together_or_not_at_all(lab):
    calibration = lab.calibration()
    codes = lab.plan(calibration, [2.0, 2.4, 2.8])
    prints = [lab.get(f"/api/coupons/{code}")["print_id"] for code in codes]
    alike = {"print_ids": prints, "temp_c": 23.5, "temp_place": "resin", "bottle_id": calibration["bottle_id"]}
    lab.post("/api/prints-together/printed", {**alike, "print_ids": [*prints, "nobody's"]}, 404)
    assert lab.again(calibration)["arms"][0]["to_print"] == codes
    lab.post("/api/prints-together/printed", alike)
    cards = lab.again(calibration)["arms"][0]["coupons"]
    assert [(c["status"], c["temp_c"]) for c in cards] == [("printed", 23.5)] * 3
    used = sum(c["volume_ml"] for c in cards)
    assert lab.get(f"/api/bottles/{calibration['bottle_id']}")["left_ml"] == pytest.approx(1000 - used)
    lab.read(codes[0])
    lab.post("/api/prints-together/unprinted", {"print_ids": prints}, 409)
    lab.post("/api/prints-together/unprinted", {"print_ids": prints[1:]})
    assert lab.again(calibration)["arms"][0]["to_print"] == codes[1:]
