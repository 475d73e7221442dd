"""A whole lab, one material or one set out and in, through the API and its jobs."""

import io
import json
import random
import time
import zipfile

import pytest

from setback.api.app import create_app
from setback.services import apart
from setback.services.files import bundles
from setback.services.unit_of_work import seeded_ids
from tests.conftest import MovedClock
from tests.lab import Lab


def exported(lab) -> bytes:
    made = lab.ended(lab.post("/api/jobs", {"kind": "export-lab"}, 201))["result"]
    answer = lab.client.get(f"/api/exports/{made['file']}")
    assert answer.status_code == 200 and answer.mimetype == "application/zip"
    assert "setback-lab.zip" in answer.headers["Content-Disposition"] and len(answer.data) == made["bytes"]
    return answer.data


def received(lab, data: bytes, expected=201):
    answer = lab.client.post("/api/bundles", data=io.BytesIO(data), headers={"Setback-Technician": "IM"})
    assert answer.status_code == expected, answer.json
    return answer.json


@pytest.fixture
def elsewhere(tmp_path):
    """Another, empty lab."""
    app = create_app(tmp_path / "elsewhere.db", clock=MovedClock(), new_id=seeded_ids(9))
    app.testing = False
    app.config["PROPAGATE_EXCEPTIONS"] = False
    yield Lab(app.test_client(), random.Random(4), initials="IM")
    app.extensions["jobs"].stop()


class TestWholeLab:
    def test_a_lab_goes_over_whole_and_a_second_time_changes_nothing(self, lab, elsewhere):
        card = lab.issue(lab.decided(), temp_low_c=22, temp_high_c=26)
        data = exported(lab)
        came = received(elsewhere, data)
        assert came["rows"] > 50 and came["tables"] > 10 and came["setback"]
        looked = elsewhere.ended(elsewhere.post("/api/bundles/preview", {"id": came["id"]}, 201))["result"]
        assert looked["new"] > 50 and looked["conflicting"] == 0
        assert elsewhere.get("/api/resins")["items"] == []
        elsewhere.ended(elsewhere.post("/api/bundles/import", {"id": came["id"]}, 201))
        there = elsewhere.get(f"/api/sets/{card['code']}")
        assert (there["exposure_s"], there["hash"]) == (card["exposure_s"], card["hash"])
        again = received(elsewhere, data)
        result = elsewhere.ended(elsewhere.post("/api/bundles/import", {"id": again["id"]}, 201))["result"]
        assert result["new"] == 0 and result["same"] == looked["new"]

    @pytest.mark.long
    def test_an_imported_bundle_is_gone_from_its_place(self, lab, elsewhere):
        came = received(elsewhere, exported(lab))
        elsewhere.ended(elsewhere.post("/api/bundles/import", {"id": came["id"]}, 201))
        failed = elsewhere.ended(elsewhere.post("/api/bundles/import", {"id": came["id"]}, 201), "failed")
        assert "bundle" in failed["message"]

    def test_two_labs_that_grew_apart_conflict_and_nothing_is_kept(self, lab, elsewhere):
        elsewhere.post("/api/technicians", {"initials": "RB"}, 201)
        elsewhere.initials = "RB"
        mine = elsewhere.shelf()
        lab.shelf()
        came = received(elsewhere, exported(lab))
        failed = elsewhere.ended(elsewhere.post("/api/bundles/import", {"id": came["id"]}, 201), "failed")
        assert "Nothing was kept" in failed["message"]
        assert [r["id"] for r in elsewhere.get("/api/resins")["items"]] == [mine["material_id"]]

    @pytest.mark.parametrize("data", [b"", b"no bundle at all", b"PK\x05\x06" + bytes(18), b'{"half": '])
    def test_what_is_no_bundle_is_said_at_once_and_leaves_no_file(self, lab, data, db_path):
        told = received(lab, data, 422)["error"]
        assert "file" in told["fields"]
        assert not list(db_path.parent.glob("**/import-*"))

    def test_too_large_a_bundle_is_refused_while_it_arrives(self, lab, monkeypatch):
        monkeypatch.setattr(bundles, "LARGEST_FILE_BYTES", 1000)
        assert "Bundles of up to" in received(lab, bytes(5000), 422)["error"]["fields"]["file"]

    @staticmethod
    def of_schema(lab, another):
        source, changed = zipfile.ZipFile(io.BytesIO(exported(lab))), io.BytesIO()
        with zipfile.ZipFile(changed, "w") as target:
            for name in source.namelist():
                held = source.read(name)
                if name == "manifest.json":
                    manifest = json.loads(held)
                    held = json.dumps(manifest | {"schema": another(int(manifest["schema"]))}).encode()
                target.writestr(name, held)
        return changed.getvalue()

    def test_a_newer_lab_says_what_to_do(self, lab):
        told = received(lab, self.of_schema(lab, lambda own: own + 1), 422)["error"]
        assert "Update Setback first" in told["fields"]["file"]

    @pytest.mark.long
    def test_one_that_says_it_is_older_than_its_rows_is_refused(self, lab, elsewhere):
        lab.issue(lab.decided())
        came = received(elsewhere, self.of_schema(lab, lambda own: 13))
        job = elsewhere.ended(elsewhere.post("/api/bundles/import", {"id": came["id"]}, 201), "failed")
        assert "other columns" in job["message"] and "Nothing was kept" in job["message"]
        assert elsewhere.get("/api/resins")["items"] == []

    @pytest.mark.parametrize("name", ["export-nowhere.zip", "lab.db", "..%2Flab.db"])
    def test_only_a_finished_export_can_be_fetched(self, lab, name):
        assert lab.client.get(f"/api/exports/{name}").status_code == 404


class TestOneThing:
    def test_a_material_goes_over_with_what_it_is_made_of(self, lab, elsewhere):
        shelf = lab.shelf()
        answer = lab.client.get(f"/api/materials/{shelf['material_id']}/file")
        assert answer.status_code == 200 and "R-001.json" in answer.headers["Content-Disposition"]
        came = received(elsewhere, answer.data)
        elsewhere.ended(elsewhere.post("/api/bundles/import", {"id": came["id"]}, 201))
        assert [r["name"] for r in elsewhere.get("/api/resins")["items"]] == ["Slate 2"]

    def test_a_set_is_the_same_where_it_was_issued(self, lab):
        card = lab.issue(lab.decided())
        answer = lab.client.get(f"/api/sets/{card['code']}/part")
        came = received(lab, answer.data)
        result = lab.ended(lab.post("/api/bundles/import", {"id": came["id"]}, 201))["result"]
        assert result["new"] == 0 and result["same"] > 3

    def test_what_is_not_there_has_no_file(self, lab):
        assert lab.client.get("/api/materials/nowhere/file").status_code == 404
        assert lab.client.get("/api/sets/S-404/part").status_code == 404


def reads_for_ever(path):
    time.sleep(60)


class TestReadApart:
    def test_every_row_is_read_in_a_child_before_the_server_does(self, lab, elsewhere, tmp_path):
        lab.shelf()
        path = tmp_path / "lab.zip"
        path.write_bytes(exported(lab))
        rows = apart.run(bundles.read_through, str(path), field="file")
        assert rows == received(elsewhere, path.read_bytes())["rows"] > 3

    @pytest.mark.long
    def test_one_that_would_take_too_long_ends_there_and_the_next_job_is_done(self, lab, elsewhere, monkeypatch):
        lab.shelf()
        data = exported(lab)
        came = received(elsewhere, data)
        monkeypatch.setattr(bundles, "READING_SECONDS", 1.0)
        monkeypatch.setattr(bundles, "read_through", reads_for_ever)
        failed = elsewhere.ended(elsewhere.post("/api/bundles/preview", {"id": came["id"]}, 201), "failed")
        assert "it was stopped" in failed["message"] and "Nothing was kept" in failed["message"]
        monkeypatch.undo()
        assert elsewhere.ended(elsewhere.post("/api/bundles/import", {"id": came["id"]}, 201))["result"]["new"] > 3
