"""Settings in use, not shown: where they appear, where they never do, and what becomes of them."""

import pytest

from tests.lab import brief


@pytest.fixture
def pair(lab):
    shelf = lab.shelf()
    return {"material_id": shelf["material_id"], "printer_id": shelf["printer_id"]}


def in_use(lab, pair, expected=201, **changes):
    request = {
        **pair,
        "layer_height_um": 50,
        "exposure_s": 2.6,
        "settings": {"base_exposure_s": 30, "rest_before_s": 1},
        "source": "own habit",
        "in_use_since": "2025-09-21",
        **changes,
    }
    return lab.post("/api/provisional-sets", request, expected)


def cell(lab, pair):
    cells = lab.get("/api/board")["cells"]
    return next((one for one in cells if one["material_id"] == pair["material_id"]), None)


def log(lab, code, exposure, whole, printed=4, failed="under"):
    start = lab.get(f"/api/start-from/{code}")
    trial = start["trial"] | {"exposure_s": exposure}
    part = {"name": "bracket", "printed": printed, "whole": whole, "under": 0, "over": 0}
    part[failed] = printed - whole
    request = {
        "printer_id": start["printer_id"],
        "trial": trial,
        "started_from": code,
        "parts": [part],
        "temp_c": 23,
        "temp_place": "room",
        "pieces_lost": False,
    }
    lab.post("/api/prints", request, 201)


def test_they_stand_on_the_board_with_their_age_and_say_where_they_come_from(lab, pair):
    page = in_use(lab, pair)
    assert page["code"] == "U-001" and page["state"] == "in use" and page["age_days"] == 122
    assert "Base layers" in page["usual_lines"] and "Base exposure" not in page["usual_lines"]
    assert page["stated"] == ["base_exposure_s", "rest_before_s"] and page["settings"]["base_layers"] == 4
    board = cell(lab, pair)
    assert (board["state"], board["provisional_code"], board["in_use_days"]) == ("in use", "U-001", 122)
    assert board["exposure_s"] == 2.6 and board["set_code"] is None and board["source_words"] == "own habit"
    assert [row["code"] for row in lab.get("/api/provisional-sets")["items"]] == ["U-001"]


def test_the_cheapest_coupon_that_would_show_most_is_offered(lab, pair):
    offer = in_use(lab, pair)["next"]
    assert offer["kind"] == "flat" and offer["exposures_s"] and offer["cost"]["volume_ml"] > 0
    assert offer["cost"]["duration_s"] > 60


def test_a_change_is_a_new_version_and_the_earlier_one_stays(lab, pair):
    page = in_use(lab, pair)
    request = {**pair, "layer_height_um": 50, "exposure_s": 2.8, "source": "maker", "version": 1}
    changed = lab.put("/api/provisional-sets/U-001", request)
    assert changed["version"] == 2 and [row["exposure_s"] for row in changed["history"]] == [2.8, 2.6]
    lab.put("/api/provisional-sets/U-001", request, 409)
    lab.put("/api/provisional-sets/U-001", request | {"version": 2, "layer_height_um": 30}, 422)
    gone = lab.post("/api/provisional-sets/U-001/withdraw", {"reason": "a slip"})
    listed = lab.get("/api/provisional-sets")
    assert (listed["total"], listed["items"]) == (0, []), "an earlier version does not come back for a withdrawn one"
    assert gone["state"] == "withdrawn" and lab.get("/api/board")["cells"] == []
    lab.put("/api/provisional-sets/U-001", request | {"version": 2}, 409)
    lab.get(f"/api/start-from/{page['code']}", 404)
    assert lab.post("/api/provisional-sets/U-001/restore")["state"] == "in use"


@pytest.mark.parametrize(
    ("field", "value"),
    [
        ("exposure_s", 0.01),
        ("layer_height_um", 0.05),
        ("in_use_since", "2027-01-01"),
        ("material_id", "nothing"),
        ("printer_id", "nothing"),
        ("source", "the moon"),
    ],
)
def test_what_cannot_be_meant_is_refused_at_its_field(lab, pair, field, value):
    assert field in in_use(lab, pair, 422, **{field: value})["error"]["fields"]
    assert lab.get("/api/provisional-sets")["items"] == []


def test_prints_that_were_logged_with_them_give_a_hollow_window(lab, pair):
    code = in_use(lab, pair)["code"]
    assert lab.get(f"/api/provisional-sets/{code}")["from_prints"] is None
    for exposure, whole, failed in [
        (1.6, 0, "under"),
        (2.2, 4, "under"),
        (2.6, 4, "under"),
        (3.2, 4, "over"),
        (4.4, 0, "over"),
    ]:
        for _ in range(3):
            log(lab, code, exposure, whole, failed=failed)
    window = lab.get(f"/api/provisional-sets/{code}")["from_prints"]
    assert window["prints"] == 15 and 1.6 < window["lower_s"] < 2.4 and 2.9 < window["upper_s"] < 4.4
    board = cell(lab, pair)
    assert board["from_prints"] and board["state"] == "in use" and board["lower_s"] == window["lower_s"]


def test_a_set_that_is_calibrated_later_takes_their_place_and_says_how_far_they_were_off(lab):
    calibration = lab.decided()
    pair = {"material_id": calibration["material_id"], "printer_id": calibration["printer_id"]}
    code = in_use(lab, pair, exposure_s=2.0)["code"]
    issued = lab.issue(calibration)
    page = lab.get(f"/api/provisional-sets/{code}")
    assert page["state"] == "superseded" and page["next"] is None
    assert page["calibrated"]["off_pct"] == pytest.approx(100 * (2.0 / issued["exposure_s"] - 1))
    assert issued["code"] in page["calibrated"]["words"] and "shorter" in page["calibrated"]["words"]
    assert cell(lab, pair)["state"] == "issued"
    before = lab.get(f"/api/sets/{issued['code']}/in-use-before")["items"]
    assert [(row["provisional_code"], row["words"]) for row in before] == [(code, page["calibrated"]["words"])]


class TestNeverAsShown:
    """At each door where a set speaks for a material, settings in use do not."""

    @pytest.fixture
    def code(self, lab, pair):
        return in_use(lab, pair)["code"]

    def test_not_among_the_sets_with_no_card(self, lab, code):
        lab.get(f"/api/sets/{code}", 404)
        lab.get(f"/api/sets/{code}/file?format=pdf", 404)
        lab.get(f"/api/sets/{code}/life", 404)

    def test_not_as_a_candidate_and_not_signed(self, lab, code):
        written = brief(lab)
        code_of_brief = written["code"]
        assert lab.get(f"/api/qualify/{code_of_brief}")["candidates"] == []
        verdict = {"brief_id": written["id"], "set_code": code, "evidence_hash": "0" * 64, "initials": "IM", "seen": []}
        lab.post("/api/qualifications", verdict, 404)
        assert lab.get("/api/qualifications")["items"] == []
        lab.get(f"/api/qualify/{code_of_brief}/{code}", 404)

    def test_no_check_coupon_renews_them(self, lab, code):
        lab.post(f"/api/sets/{code}/check", {}, 404)

    def test_no_test_rests_on_them(self, lab, pair, code):
        from setback.core.testing.methods import METHODS
        from tests.specimens import plan_of

        sheet = lab.post("/api/reference-materials", {"name": "Sheet", "what": "cast sheet"}, 201)
        issued = {"set_code": code, "material_id": pair["material_id"], "sheet_id": sheet["id"]}
        lab.post("/api/tests", plan_of(METHODS["cantilever-bend"], issued), 422)


class TestDefaults:
    """What a new calibration begins with, from experience."""

    def start(self, lab, pair, height=50):
        query = f"material_id={pair['material_id']}&printer_id={pair['printer_id']}&layer_height_um={height}"
        return lab.get(f"/api/calibration-start?{query}")

    def test_settings_in_use_are_taken_over_with_their_range_and_said(self, lab, pair):
        in_use(lab, pair, source="other workshop", tip_mm=0.4)
        start = self.start(lab, pair)
        assert start["settings_from"] == "As in U-001, in use and not shown"
        assert start["settings"]["base_exposure_s"] == 30 and start["source"] == "borrowed"
        borrowed = next(source for source in start["sources"] if source["key"] == "borrowed")
        assert borrowed["low_s"] < 2.6 < borrowed["high_s"] < 5
        assert start["limits"]["tips_size_mm"] == min(start["series"]["tips_mm"], key=lambda size: abs(size - 0.4))
        assert self.start(lab, pair, 30)["settings_from"] is None

    def test_the_base_exposure_follows_the_rule_of_the_lab_then_of_the_printer_then_what_gripped(self, lab, pair):
        in_use(lab, pair)
        assert self.start(lab, pair)["base_from"] is None
        lab.put("/api/base-rules", {"multiple": 8, "version": 0})
        start = self.start(lab, pair)
        assert start["settings"]["base_exposure_s"] == 20.8 and start["base_from"].endswith("by this lab’s rule")
        rules = {"multiple": 8, "printers": {pair["printer_id"]: {"seconds": 33}}, "version": 1}
        lab.put("/api/base-rules", rules)
        start = self.start(lab, pair)
        assert start["settings"]["base_exposure_s"] == 33 and "printer’s own" in start["base_from"]
        lab.put("/api/base-rules", rules, 409)
        wrong = lab.put("/api/base-rules", {"printers": {"nothing": {"multiple": 5}}, "version": 2}, 422)
        assert "printers.nothing" in wrong["error"]["fields"]
        calibration = lab.calibration(pair | {"bottle_id": None, "finish_route_id": None})
        tried = {"base_exposure_s": 27, "rating": 3, "thickness_mm": 0.3}
        lab.post(f"/api/calibrations/{calibration['id']}/base-tries", tried, 201)
        start = self.start(lab, pair)
        assert start["settings"]["base_exposure_s"] == 27 and "gripped as wanted" in start["base_from"]
