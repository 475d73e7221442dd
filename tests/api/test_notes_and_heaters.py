"""What is noted of a calibration, and the heaters a warm start is planned with."""

import pytest

from tests.lab import RESIN, ROUTE


class TestNotes:
    def noted(self, lab, calibration, expected=200, **changes):
        given = {"version": calibration["version"], "bottle_id": None, "finish_route_id": None, "note": ""} | changes
        return lab._call("PUT", f"/api/calibrations/{calibration['id']}/notes", given, expected)

    def test_bottle_route_and_note_are_changed_while_nothing_is_issued(self, lab):
        calibration = lab.calibration()
        bottle = lab.post(
            "/api/bottles", {"material_id": calibration["material_id"], "lot": "SL-2", "volume_ml": 500}, 201
        )
        route = lab.post("/api/finish-routes", ROUTE | {"name": "One bath"}, 201)
        made = self.noted(lab, calibration, bottle_id=bottle["id"], finish_route_id=route["id"], note="second bottle")
        assert (
            made["bottle_id"] == bottle["id"]
            and made["note"] == "second bottle"
            and made["version"] == calibration["version"] + 1
        )

    def test_another_materials_bottle_and_a_retired_route_are_refused_at_their_fields(self, lab):
        calibration = lab.calibration()
        other = lab.post("/api/resins", RESIN | {"name": "Rinsewell"}, 201)["id"]
        bottle = lab.post("/api/bottles", {"material_id": other, "lot": "RI-1", "volume_ml": 500}, 201)["id"]
        route = lab.post("/api/finish-routes", ROUTE | {"name": "One bath"}, 201)["id"]
        lab.post(f"/api/finish-routes/{route}/retire")
        told = self.noted(lab, calibration, 422, bottle_id=bottle, finish_route_id=route)
        assert set(told["error"]["fields"]) == {"bottle_id", "finish_route_id"}

    def test_two_tabs_do_not_overwrite_each_other(self, lab):
        calibration = lab.calibration()
        self.noted(lab, calibration, note="first")
        self.noted(lab, calibration, 409, note="second")
        assert lab.again(calibration)["note"] == "first"

    def test_after_a_set_the_note_may_grow_but_its_evidence_stays(self, lab):
        calibration = lab.decided()
        lab.issue(calibration)
        held = lab.again(calibration)
        told = self.noted(lab, held, 409, bottle_id=None, finish_route_id=None)
        assert "stay as they were" in told["error"]["message"]


class TestHeaters:
    HEATER = {"name": "Panel heater", "watts": 60, "cut_out": True, "thermostat": False}

    def test_a_heater_is_added_changed_and_not_doubled(self, lab):
        made = lab.post("/api/heaters", self.HEATER, 201)
        assert made["code"] == "H-001"
        changed = lab.put(f"/api/heaters/{made['id']}", self.HEATER | {"watts": 80, "version": made["version"]})
        assert changed["watts"] == 80 and changed["version"] == made["version"] + 1
        assert "name" in lab.post("/api/heaters", self.HEATER, 422)["error"]["fields"]
        lab._call("PUT", f"/api/heaters/{made['id']}", self.HEATER | {"version": made["version"]}, 409)
        assert [h["watts"] for h in lab.get("/api/heaters")["items"]] == [80]

    @pytest.mark.parametrize(
        ("changes", "field"),
        [
            ({"to_at": "2026-01-20T07:00:00Z"}, "to_at"),
            ({"from_at": "2026-01-18T08:00:00Z"}, "to_at"),
            ({"from_at": "yesterday"}, "from_at"),
        ],
    )
    def test_a_heating_has_a_start_before_its_end_within_a_day(self, lab, changes, field):
        shelf = lab.shelf()
        heater = lab.post("/api/heaters", self.HEATER, 201)["id"]
        probe = lab.post(
            "/api/probes",
            {"name": "chamber", "place": "chamber air", "printer_id": shelf["printer_id"], "driver": "hand"},
            201,
        )["id"]
        given = {
            "probe_id": probe,
            "heater_id": heater,
            "from_at": "2026-01-20T08:00:00Z",
            "to_at": "2026-01-20T09:00:00Z",
            "ambient_c": 7,
        } | changes
        assert field in lab.post("/api/chamber-fits", given, 422)["error"]["fields"]

    def test_a_probe_in_the_room_tells_nothing_of_a_chamber(self, lab):
        heater = lab.post("/api/heaters", self.HEATER, 201)["id"]
        probe = lab.post("/api/probes", {"name": "room", "place": "room", "driver": "hand"}, 201)["id"]
        given = {
            "probe_id": probe,
            "heater_id": heater,
            "from_at": "2026-01-20T08:00:00Z",
            "to_at": "2026-01-20T09:00:00Z",
        }
        assert "probe_id" in lab.post("/api/chamber-fits", given, 422)["error"]["fields"]
