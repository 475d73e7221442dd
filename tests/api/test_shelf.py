from contextlib import closing

import pytest

from setback.store.database import connect, writing
from setback.store.lab import answers
from tests.lab import PRINTER, RESIN, ROUTE


class TestResins:
    def test_add_edit_retire_and_bring_back(self, lab):
        made = lab.post("/api/resins", RESIN, 201)
        assert made["code"] == "R-001" and made["version"] == 1
        changed = lab.put(f"/api/resins/{made['id']}", RESIN | {"colour": "ash", "version": 1})
        assert changed["colour"] == "ash" and changed["version"] == 2
        lab.post(f"/api/resins/{made['id']}/retire")
        assert lab.get("/api/resins")["items"] == []
        assert [r["name"] for r in lab.get("/api/resins?retired=true")["items"]] == ["Slate 2"]
        lab.post(f"/api/resins/{made['id']}/restore")
        assert len(lab.get("/api/resins")["items"]) == 1

    def test_a_stale_edit_is_refused_and_changes_nothing(self, lab):
        made = lab.post("/api/resins", RESIN, 201)
        url = f"/api/resins/{made['id']}"
        lab.put(url, RESIN | {"colour": "ash", "version": 1})
        told = lab.put(url, RESIN | {"colour": "coal", "version": 1}, 409)
        assert "another tab" in told["error"]["message"]
        assert lab.get(url)["colour"] == "ash"

    @pytest.mark.parametrize(
        ("change", "field"),
        [
            ({"name": "  "}, "name"),
            ({"name": "x" * 200}, "name"),
            ({"family": "magic"}, "family"),
            ({"maker_low_s": -1}, "maker_low_s"),
            ({"maker_low_s": 0}, "maker_low_s"),
            ({"maker_low_s": "two"}, "maker_low_s"),
            ({"maker_low_s": 1e9}, "maker_low_s"),
            ({"maker_high_s": None}, "maker_high_s"),
            ({"maker_low_s": 5, "maker_high_s": 2}, "maker_high_s"),
            ({"maker_low_s": 0.02, "maker_high_s": 40}, "maker_high_s"),
            ({"density_g_ml": 1100}, "density_g_ml"),
            ({"safety_sheet_url": "javascript:alert(1)"}, "safety_sheet_url"),
            ({"smell": "faint"}, "smell"),
        ],
    )
    def test_bad_values_are_said_at_their_field(self, lab, change, field):
        told = lab.post("/api/resins", RESIN | change, 422)
        assert told["error"]["fields"][field]
        assert lab.get("/api/resins")["items"] == []

    def test_nan_and_broken_json(self, lab):
        for text in ('{"name": NaN}', "{", "[1, 2]", '"text"'):
            answer = lab.client.post("/api/resins", data=text, content_type="application/json")
            assert answer.status_code == 422 and answer.get_json()["error"]["message"]

    def test_a_name_is_there_once(self, lab):
        lab.post("/api/resins", RESIN, 201)
        told = lab.post("/api/resins", RESIN | {"name": "slate 2"}, 422)
        assert "on the shelf already" in told["error"]["fields"]["name"]

    def test_a_double_tap_makes_one(self, lab):
        first = lab.post("/api/resins", RESIN, 201, Idempotency_Key="tap-1")
        second = lab.post("/api/resins", RESIN, 200, Idempotency_Key="tap-1")
        assert second == first
        assert len(lab.get("/api/resins")["items"]) == 1

    def test_the_key_of_a_request_names_its_record_for_good(self, lab):
        key = "6f1c3d52-8f5e-4b8e-9a39-0a6f0c8a7b11"
        first = lab.post("/api/resins", RESIN, 201, Idempotency_Key=key)
        assert first["id"] == key
        other = lab.post("/api/resins", RESIN | {"name": "Other"}, 409, Idempotency_Key=key)
        assert "another request" in other["error"]["message"]
        headers = {"Idempotency-Key": key, "Setback-Technician": "QQ"}
        lab.post("/api/technicians", {"initials": "QQ"}, 201)
        told = lab.client.post("/api/resins", json=RESIN, headers=headers)
        assert told.status_code == 409 and "by somebody else" in told.json["error"]["message"]
        with closing(connect(lab.path)) as db, writing(db):
            answers.expire(db, "9999")
        told = lab.post("/api/resins", RESIN, 409, Idempotency_Key=key)
        assert "recorded already" in told["error"]["message"]
        assert len(lab.get("/api/resins")["items"]) == 1

    def test_pages(self, lab):
        for name in "abcdef":
            lab.post("/api/resins", RESIN | {"name": name}, 201)
        first = lab.get("/api/resins?limit=4")["items"]
        rest = lab.get(f"/api/resins?limit=4&after={first[-1]['name']}")["items"]
        assert [r["name"] for r in first + rest] == list("abcdef")
        assert "limit" in lab.get("/api/resins?limit=100000", 422)["error"]["fields"]


class TestBottles:
    def test_holds_no_more_than_it_can(self, lab):
        resin = lab.post("/api/resins", RESIN, 201)
        bottle = {"material_id": resin["id"], "lot": "A", "volume_ml": 500}
        assert lab.post("/api/bottles", bottle, 201)["left_ml"] == 500
        assert "left_ml" in lab.post("/api/bottles", bottle | {"left_ml": 600}, 422)["error"]["fields"]

    @pytest.mark.parametrize(
        ("change", "field"),
        [
            ({"opened_on": "yesterday"}, "opened_on"),
            ({"received_on": "2026-01-10", "opened_on": "2026-01-02"}, "opened_on"),
            ({"material_id": "nobody"}, "material_id"),
        ],
    )
    def test_bad_values(self, lab, change, field):
        resin = lab.post("/api/resins", RESIN, 201)
        told = lab.post("/api/bottles", {"material_id": resin["id"], "lot": "A", "volume_ml": 500} | change, 422)
        assert field in told["error"]["fields"]

    def test_keeps_its_resin(self, lab):
        one, other = lab.post("/api/resins", RESIN, 201), lab.post("/api/resins", RESIN | {"name": "other"}, 201)
        bottle = lab.post("/api/bottles", {"material_id": one["id"], "lot": "A", "volume_ml": 500}, 201)
        given = {"material_id": other["id"], "lot": "A", "volume_ml": 500, "version": 1}
        assert "material_id" in lab.put(f"/api/bottles/{bottle['id']}", given, 422)["error"]["fields"]

    def test_shaken_is_noted(self, lab):
        shelf = lab.shelf()
        assert lab.post(f"/api/bottles/{shelf['bottle_id']}/shaken")["last_shaken_at"].startswith("2026-01-21")


class TestPrintersAndRoutes:
    def test_fill_line_within_the_vat(self, lab):
        told = lab.post("/api/printers", PRINTER | {"fill_line_ml": 999}, 422)
        assert "fill_line_ml" in told["error"]["fields"]

    def test_a_changed_route_is_a_new_version_and_old_work_keeps_its_own(self, lab):
        calibration = lab.calibration()
        route = lab.get("/api/finish-routes")["items"][0]
        lab.put(f"/api/finish-routes/{route['id']}", ROUTE | {"cure_min": 30, "version": 1})
        now = lab.get("/api/finish-routes")["items"][0]
        assert now["version"] == 2 and now["cure_min"] == 30 and now["uses"] == 0
        assert lab.again(calibration)["finish_route"] == "Two-bath solvent, version 1"

    def test_nothing_in_work_can_be_retired(self, lab):
        calibration = lab.calibration()
        for kind, row_id in (("printers", calibration["printer_id"]), ("resins", calibration["material_id"])):
            assert "C-001 is still open" in lab.post(f"/api/{kind}/{row_id}/retire", None, 409)["error"]["message"]


def test_technicians_are_initials(lab):
    assert lab.post("/api/technicians", {"initials": "rb"}, 201)["initials"] == "RB"
    assert "initials" in lab.post("/api/technicians", {"initials": "RB"}, 422)["error"]["fields"]
    assert "initials" in lab.post("/api/technicians", {"initials": "R2"}, 422)["error"]["fields"]


def test_what_is_not_there_is_said_plainly(lab):
    assert lab.get("/api/resins/none", 404)["error"]["message"] == "There is no such resin."
    assert lab.get("/api/nowhere", 404)["error"]["message"]
