"""Another workshop's sets: borrowed from its bundle, carried to a printer here, and never part of the chain."""

import json

import pytest

from setback.api.app import create_app
from setback.services.files import bundles
from setback.services.unit_of_work import UnitOfWork, seeded_ids
from setback.store.database import connect
from tests.lab import brief, entered

HEADERS = {"Setback-Technician": "IM"}


@pytest.fixture
def theirs(small_path):
    """The file of a set, as another workshop sends it."""
    app = create_app(small_path, new_id=seeded_ids(5), worker=False)
    client = app.test_client()
    yield client.get("/api/sets/S-001").json, client.get("/api/sets/S-001/part").data
    app.extensions["connections"].close()


@pytest.fixture
def here(lab):
    """Our own lab with a resin and a printer."""
    shelf = lab.shelf()
    return lab, {"material_id": shelf["material_id"], "printer_id": shelf["printer_id"]}


def received(lab, content, expected=201):
    answer = lab.client.post("/api/bundles", data=content, headers=HEADERS)
    assert answer.status_code == expected, answer.data
    return answer.json


def borrow(lab, bundle, pair, expected=201, **changes):
    sets = lab.get(f"/api/bundles/{bundle['id']}/sets")["items"]
    request = {"bundle_id": bundle["id"], "set_code": sets[0]["code"], "workshop": "Harbour school", **pair, **changes}
    return lab.post("/api/borrowed-sets", request, expected)


@pytest.mark.long
def test_a_foreign_set_becomes_a_borrowed_source(here, theirs):
    (ours, pair), (issued, content) = here, theirs
    bundle = received(ours, content)
    offered = ours.get(f"/api/bundles/{bundle['id']}/sets")
    assert offered["items"][0]["code"] == issued["code"] and offered["items"][0]["exposure_s"] == issued["exposure_s"]
    assert {row["id"] for row in offered["printers"]} == {pair["printer_id"]}
    kept = borrow(ours, bundle, pair)
    assert (
        kept["code"] == "BS-001" and kept["workshop"] == "Harbour school" and kept["theirs"]["code"] == issued["code"]
    )
    assert kept["low_s"] < kept["exposure_s"] < kept["high_s"] and "nothing in common" in kept["carried"][0]
    again = ours.get(f"/api/bundles/{bundle['id']}/sets")["items"][0]
    assert again["borrowed_as"] == "BS-001"
    # A source for a range, and a prior for the estimate.
    query = f"material_id={pair['material_id']}&printer_id={pair['printer_id']}&layer_height_um=50"
    start = ours.get(f"/api/calibration-start?{query}")
    source = next(row for row in start["sources"] if row["key"] == "borrowed")
    assert source["low_s"] <= kept["low_s"] + 0.1 and source["high_s"] >= kept["high_s"] - 0.1
    assert "workshop’s number was heard" in start["guess"]["basis"]
    ours.post("/api/borrowed-sets/BS-001/withdraw", {"reason": "another resin after all"})
    assert ours.get("/api/borrowed-sets")["total"] == 0
    assert "heard" not in ours.get(f"/api/calibration-start?{query}")["guess"]["basis"]
    ours.post("/api/borrowed-sets/BS-001/withdraw", {"reason": "again"}, 409)
    assert ours.post("/api/borrowed-sets/BS-001/restore")["withdrawn_at"] is None


def test_it_never_appears_as_shown(here, theirs):
    (ours, pair), (_, content) = here, theirs
    kept = borrow(ours, received(ours, content), pair)
    board = ours.get("/api/board?layer_height_um=50")
    assert {cell["state"] for cell in board["cells"]} <= {"predicted"}
    made = brief(ours)["code"]
    assert ours.get(f"/api/qualify/{made}")["candidates"] == []
    for path in (
        f"/api/qualify/{made}/{kept['code']}",
        f"/api/sets/{kept['code']}",
        f"/api/sets/{kept['theirs']['code']}",
    ):
        ours.get(path, 404)
    ours.get(f"/api/sets/{kept['code']}/file?format=pdf", 404)


@pytest.mark.long
def test_a_common_material_narrows_what_is_carried(lab, demo_path, tmp_path):
    calibration = lab.decided()
    lab.issue(calibration)
    pair = {"printer_id": calibration["printer_id"], "material_id": calibration["material_id"]}
    fields = entered(lab.get("/api/resins")["items"][0], "ResinInput")
    other = lab.post("/api/resins", fields | {"name": "Kelp", "colour": "green"}, 201)
    db = connect(demo_path)
    path = tmp_path / "their-lab.zip"
    bundles.write_to(UnitOfWork(db, lab.clock, seeded_ids(2), "IM"), path, lambda *_: None)
    db.close()
    bundle = received(lab, path.read_bytes())
    offered = lab.get(f"/api/bundles/{bundle['id']}/sets")["items"]
    kelp = next(row for row in offered if (row["material"], row["printer"]) == ("Kelpflex", "Cormorant"))
    request = {"set_code": kelp["code"], "printer_id": pair["printer_id"], "material_id": other["id"]}
    alone = borrow(lab, bundle, request | {"same_materials": {"Slate 2": other["id"]}})
    common = borrow(lab, bundle, request | {"same_materials": {"Slate 2": pair["material_id"]}})
    assert common["log_sd"] < alone["log_sd"] and "Slate 2, calibrated in both" in common["carried"][0]


def test_a_printer_or_material_that_does_not_exist_here_is_asked_for(here, theirs):
    (ours, pair), (_, content) = here, theirs
    bundle = received(ours, content)
    wrong = borrow(ours, bundle, pair, 422, printer_id="nowhere")
    assert "no printer here" in wrong["error"]["fields"]["printer_id"]
    assert "material_id" in borrow(ours, bundle, pair, 422, material_id="nothing")["error"]["fields"]
    assert "set_code" in borrow(ours, bundle, pair, 422, set_code="S-404")["error"]["fields"]
    assert ours.get("/api/borrowed-sets")["items"] == []


def test_a_file_that_was_changed_on_the_way_or_is_none_is_refused(here, theirs):
    (ours, _), (_, content) = here, theirs
    changed = json.loads(content)
    changed["tables"]["parameter_set"][0]["exposure_s"] += 0.1
    assert "seal" in received(ours, json.dumps(changed), 422)["error"]["fields"]["file"]
    received(ours, b"no bundle", 422)
    ours.get("/api/bundles/00000000-0000-0000-0000-000000000000/sets", 404)


class TestClaims:
    def claim(self, lab, material, expected=201, **changes):
        request = {
            "property": "exposure",
            "low": 1.5,
            "high": 3.5,
            "layer_height_um": 50,
            "source": "maker’s sheet",
            **changes,
        }
        return lab.post(f"/api/materials/{material}/claims", request, expected)

    def test_a_claim_stands_beside_what_was_measured(self, lab):
        calibration = lab.decided()
        material = calibration["material_id"]
        (row,) = self.claim(lab, material, dated="2024-05-01")["items"]
        assert row["measured"] is None and row["agrees"] is None and row["unit"] == "s"
        issued = lab.issue(calibration)
        rows = lab.get(f"/api/materials/{material}/claims")["items"]
        assert rows[0]["agrees"] is (1.5 <= issued["exposure_s"] <= 3.5) and issued["code"] in rows[0]["measured"]

    def test_claims_that_contradict_each_other_say_so(self, lab):
        material = lab.shelf()["material_id"]
        self.claim(lab, material)
        rows = self.claim(lab, material, low=8, high=12, source="label on the bottle")["items"]
        assert {row["source"]: row["contradicts"] for row in rows} == {
            "maker’s sheet": ["label on the bottle"],
            "label on the bottle": ["maker’s sheet"],
        }
        left = lab.post(f"/api/claims/{rows[0]['id']}/withdraw")["items"]
        assert [row["contradicts"] for row in left] == [[]]
        assert len(lab.post(f"/api/claims/{rows[0]['id']}/restore")["items"]) == 2

    @pytest.mark.parametrize(
        ("field", "changes"),
        [
            ("property", {"property": "luck"}),
            ("high", {"high": 1}),
            ("layer_height_um", {"layer_height_um": None}),
            ("low", {"low": -1}),
        ],
    )
    def test_what_cannot_be_meant_is_refused_at_its_field(self, lab, field, changes):
        assert field in self.claim(lab, lab.shelf()["material_id"], 422, **changes)["error"]["fields"]
