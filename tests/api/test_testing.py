"""Tests from plan to result: every method of the registry, fair and unfair comparisons, and the bench."""

import io

import pytest
from PIL import Image

from setback.core.testing.methods import METHODS
from tests.specimens import make_all, plan_of, read_all


@pytest.mark.parametrize("method", METHODS.values(), ids=lambda m: m.key)
def test_every_method_from_plan_to_result(lab, issued, method):
    quote = lab.post("/api/tests/quote", plan_of(method, issued))
    assert quote["specimens"] == 6 and quote["concerns"] == []
    assert (quote["volume_ml"] > 0) == (method.specimen is not None)
    test = lab.post("/api/tests", plan_of(method, issued), 201)
    assert test["left"] == 6 and [g["ready"] for g in test["groups"]] == [True, False]
    test = read_all(lab, method, make_all(lab, test))
    assert test["left"] == 0
    result = lab.get(f"/api/tests/{test['code']}/result")
    assert [p["key"] for p in result["properties"]] == [p.key for p in method.properties]
    for one in result["properties"]:
        assert [b["n"] for b in one["batches"]] == [3, 3] and all(b["words"] for b in one["batches"])
    assert result["made_under"][1]["age_h"] is not None and result["made_under"][1]["cure_min"] == 6
    assert result["source"] and lab.get("/api/properties")["columns"]
    sheet = lab.client.get(f"/api/tests/{test['code']}/readings.csv").get_data(as_text=True)
    assert len(sheet.splitlines()) >= 7 and test["specimens"][0]["code"] in sheet


class TestPlanning:
    def test_the_number_follows_from_the_wanted_difference(self, lab, issued):
        method = METHODS["cantilever-bend"]
        few = lab.post("/api/tests/quote", plan_of(method, issued, None, wanted={"detect_pct": 12, "cv_pct": 8}))
        many = lab.post("/api/tests/quote", plan_of(method, issued, None, wanted={"detect_pct": 6, "cv_pct": 8}))
        assert few["each"] == 9 and many["each"] > 3 * few["each"] and "12 %" in few["each_from"]
        assert few["groups"][1]["plates"] >= 1 and few["groups"][1]["duration_s"] > 0

    def test_without_a_wanted_difference_a_noisy_method_asks_for_a_larger_one(self, lab, issued):
        wear, bend = (
            lab.post("/api/tests/quote", plan_of(METHODS[key], issued, None, wanted={}))
            for key in ("joint-wear", "cantilever-bend")
        )
        assert "15 %" in bend["each_from"] and bend["each"] == 6
        assert "45 %" in wear["each_from"] and wear["each"] <= 12
        asked = plan_of(METHODS["joint-wear"], issued, None, wanted={"detect_pct": 15})
        assert "wanted.detect_pct" in lab.post("/api/tests/quote", asked, 422)["error"]["fields"]

    def test_the_order_is_random_and_each_has_its_place(self, lab, issued):
        test = lab.post("/api/tests", plan_of(METHODS["flexing"], issued, 8), 201)
        groups = [s["group"] for s in test["specimens"]]
        assert groups not in ([1] * 8 + [2] * 8, [1, 2] * 8) and sorted(groups) == [1] * 8 + [2] * 8
        assert all(s["place"] for s in test["specimens"] if s["group"] == 2)

    def test_too_few_says_that_there_is_no_bound(self, lab, issued):
        quote = lab.post("/api/tests/quote", plan_of(METHODS["flexing"], issued, 2))
        assert "too-few" in {w["code"] for w in quote["warnings"]}

    def test_specimens_are_spread_over_prints(self, lab, issued):
        plan = plan_of(METHODS["cantilever-bend"], issued, 7)
        assert lab.post("/api/tests/quote", plan)["prints"] == 2
        test = lab.post("/api/tests", plan | {"prints": 3}, 201)
        assert [len(g["prints"]) for g in test["groups"]] == [0, 3]
        sizes = [sum(s["print"] == n for s in test["specimens"]) for n in (1, 2, 3)]
        assert sizes == [3, 2, 2]
        bought = [s for s in test["specimens"] if s["group"] == 1]
        assert {s["print"] for s in bought} == {None} and all(s["ready"] for s in bought)
        spent = lab.get("/api/tests")["items"][0]
        assert spent["specimens"] == 14

    def test_a_bound_takes_four_prints(self, lab, issued):
        line = {"property": "cantilever-bend.strength", "at": "least", "limit": 20, "basis": "bound"}
        brief = lab.post("/api/briefs", {"name": "Bracket", "requirements": [line]}, 201)
        quote = lab.post("/api/tests/quote", plan_of(METHODS["cantilever-bend"], issued, 8) | {"brief_id": brief["id"]})
        assert quote["prints"] == 4 and "nine parts in ten" in quote["prints_from"]
        # Enough degrees of freedom from a test that was read: two are enough from then on.
        test = lab.post("/api/tests", plan_of(METHODS["cantilever-bend"], issued, 16) | {"prints": 8}, 201)
        assert "not known" in quote["sees"]
        read_all(lab, METHODS["cantilever-bend"], make_all(lab, test))
        quote = lab.post("/api/tests/quote", plan_of(METHODS["cantilever-bend"], issued, 8) | {"brief_id": brief["id"]})
        assert quote["prints"] == 2 and "earlier tests" in quote["prints_from"] and "% in" in quote["sees"]

    def test_one_print_is_said_before_and_after(self, lab, issued):
        method = METHODS["cantilever-bend"]
        plan = plan_of(method, issued, 4) | {"prints": 1}
        assert "one-print" in {w["code"] for w in lab.post("/api/tests/quote", plan)["warnings"]}
        test = read_all(lab, method, make_all(lab, lab.post("/api/tests", plan, 201)))
        strength = lab.get(f"/api/tests/{test['code']}/result")["properties"][0]
        assert [b["prints"] for b in strength["batches"]] == [None, 1]
        assert "one-print" in {w["code"] for w in strength["warnings"]}
        assert "parts of this print" in strength["batches"][1]["words"]
        assert not strength["comparisons"][0]["shown"] and "only its print" in strength["comparisons"][0]["words"]

    def test_more_prints_than_specimens(self, lab, issued):
        plan = plan_of(METHODS["cantilever-bend"], issued, 3) | {"prints": 4}
        assert "3 specimens" in lab.post("/api/tests/quote", plan, 422)["error"]["fields"]["prints"]

    def test_setup_is_checked_at_its_fields(self, lab, issued):
        plan = plan_of(METHODS["cantilever-bend"], issued) | {"setup": {"arm_mm": 0.1}}
        answer = lab.post("/api/tests", plan, 422)
        assert "arm_mm" in answer["error"]["fields"]

    def test_two_like_groups_are_one_too_many(self, lab, issued):
        plan = plan_of(METHODS["cantilever-bend"], issued)
        plan["groups"].append(plan["groups"][1])
        assert "groups" in lab.post("/api/tests/quote", plan, 422)["error"]["fields"]

    def test_what_is_bought_in_has_no_set(self, lab, issued):
        plan = plan_of(METHODS["cantilever-bend"], issued)
        plan["groups"][0]["set_code"] = issued["set_code"]
        assert "groups.0.set_code" in lab.post("/api/tests/quote", plan, 422)["error"]["fields"]

    def test_labels_for_every_specimen(self, lab, issued):
        test = lab.post("/api/tests", plan_of(METHODS["drop"], issued), 201)
        answer = lab.client.get(f"/api/tests/{test['code']}/labels?sheet=40")
        assert answer.status_code == 200 and answer.data.startswith(b"%PDF")


class TestUnfair:
    def borrowed(self, lab, issued):
        other = lab.post(
            "/api/resins",
            {
                "name": "Hullform",
                "maker": "Tidewrack Works",
                "colour": "grey",
                "family": "ABS-like",
                "opacity": "opaque",
                "wash_class": "solvent",
            },
            201,
        )
        plan = plan_of(METHODS["cantilever-bend"], issued)
        plan["groups"].append({"material_id": other["id"], "set_code": issued["set_code"]})
        return plan

    def test_a_borrowed_set_is_named_and_refused_until_confirmed(self, lab, issued):
        plan = self.borrowed(lab, issued)
        quote = lab.post("/api/tests/quote", plan)
        assert [c["code"] for c in quote["concerns"]] == ["borrowed-set"] and quote["concerns"][0]["must_confirm"]
        refused = lab.post("/api/tests", plan, 409)
        assert "another material's numbers" in refused["error"]["message"]
        test = lab.post("/api/tests", plan | {"concerns_reason": "Only to see the order of size."}, 201)
        assert test["concerns"][0]["groups"] == ["Hullform"]
        result = lab.get(f"/api/tests/{test['code']}/result")
        assert result["concerns_reason"] == "Only to see the order of size."

    def test_a_lapsed_set_is_refused_until_confirmed(self, lab, issued):
        printer = lab.get("/api/printers")["items"][0]["id"]
        lab.post("/api/events", {"kind": "screen-replaced", "printer_id": printer}, 201)
        plan = plan_of(METHODS["cantilever-bend"], issued)
        assert [c["code"] for c in lab.post("/api/tests/quote", plan)["concerns"]] == ["lapsed-set"]
        lab.post("/api/tests", plan, 409)

    def test_no_set_at_all(self, lab, issued):
        plan = plan_of(METHODS["cantilever-bend"], issued)
        del plan["groups"][1]["set_code"]
        assert [c["code"] for c in lab.post("/api/tests/quote", plan)["concerns"]] == ["no-set"]

    def test_mixed_cure_is_named(self, lab, issued):
        plan = self.borrowed(lab, issued)
        plan["groups"][2]["cure_min"] = 20
        codes = {c["code"]: c["must_confirm"] for c in lab.post("/api/tests/quote", plan)["concerns"]}
        assert codes == {"borrowed-set": True, "mixed-cure": True}

    def test_one_material_at_several_cures_is_a_trend_and_no_concern(self, lab, issued):
        method = METHODS["hardness-cure"]
        plan = plan_of(method, issued)
        own = plan["groups"][1]
        plan["groups"] = [own | {"cure_min": m} for m in (2, 4, 8, 16)]
        assert lab.post("/api/tests/quote", plan)["concerns"] == []
        test = make_all(lab, lab.post("/api/tests", plan, 201))
        hard = {1: 66, 2: 74, 3: 80, 4: 81.5}
        while test["next_code"]:
            one = next(s for s in test["specimens"] if s["code"] == test["next_code"])
            values = [hard[one["group"]] + d + 0.1 * one["number"] for d in (-0.5, 0, 0.5)]
            test = lab.post(f"/api/specimens/{one['code']}/readings", {"read": {"readings": values}}, 201)
        trend = lab.get(f"/api/tests/{test['code']}/result")["trends"][0]
        assert trend["x"] == [2, 4, 8, 16] and trend["curve"]["final_hardness"] == pytest.approx(82, abs=1.5)
        assert trend["words"].startswith("95 % of the gain after")
        line, curve = trend["line"], trend["curve"]
        assert line[0] == [0, pytest.approx(curve["initial_hardness"])] and line[-1][0] > 16
        assert [y for _, y in line] == sorted(y for _, y in line) and line[-1][1] < curve["final_hardness"]

    def test_one_material_at_several_exposures_shows_whether_harder_is_stronger(self, lab, issued):
        plan = plan_of(METHODS["cantilever-bend"], issued)
        own = plan["groups"][1]
        plan["groups"] = [own | {"exposure_s": e} for e in (2.4, 3.2, 4.0)]
        test = make_all(lab, lab.post("/api/tests", plan, 201))
        force = {1: 40, 2: 52, 3: 55}
        while test["next_code"]:
            one = next(s for s in test["specimens"] if s["code"] == test["next_code"])
            row = {"width_mm": 10, "height_mm": 4, "force_n": force[one["group"]] + one["number"], "broke": True}
            test = lab.post(f"/api/specimens/{one['code']}/readings", {"read": row}, 201)
        trend = lab.get(f"/api/tests/{test['code']}/result")["trends"][0]
        assert (trend["against"], trend["x"]) == ("exposure", [2.4, 3.2, 4.0])
        assert trend["words"] == "Bending strength rises with exposure over what was tried"
        assert trend["curve"] is None and trend["line"] == [], "nothing is drawn that was not fitted"


class TestAtTheBench:
    @pytest.fixture
    def ready(self, lab, issued):
        return make_all(lab, lab.post("/api/tests", plan_of(METHODS["tensile-bar"], issued), 201))

    ROW = {"width_mm": 8, "thickness_mm": 3, "force_n": 900, "broke": True}

    def test_a_force_without_a_section_is_refused_at_its_field(self, lab, ready):
        row = {"force_n": 900, "broke": True}
        answer = lab.post(f"/api/specimens/{ready['next_code']}/readings", {"read": row}, 422)
        assert set(answer["error"]["fields"]) == {"width_mm", "thickness_mm"}

    def test_nothing_is_read_before_it_is_printed_and_cured(self, lab, issued):
        test = lab.post("/api/tests", plan_of(METHODS["tensile-bar"], issued), 201)
        code = next(s["code"] for s in test["specimens"] if s["group"] == 2)
        assert (
            "not printed and cured"
            in lab.post(f"/api/specimens/{code}/readings", {"read": self.ROW}, 409)["error"]["message"]
        )

    def test_a_correction_needs_its_reason_and_keeps_the_old(self, lab, ready):
        code = ready["next_code"]
        test = lab.post(f"/api/specimens/{code}/readings", {"read": self.ROW}, 201)
        first = next(s for s in test["specimens"] if s["code"] == code)["reads"][0]
        lab.post(f"/api/specimens/{code}/readings", {"read": self.ROW}, 409)
        lab.post(f"/api/specimens/{code}/readings", {"read": self.ROW, "replaces": first["id"]}, 422)
        body = {"read": self.ROW | {"force_n": 850}, "replaces": first["id"], "reason": "Read the wrong scale."}
        test = lab.post(f"/api/specimens/{code}/readings", body, 201)
        one = next(s for s in test["specimens"] if s["code"] == code)
        assert one["reads"][0]["read"]["force_n"] == 850 and one["past"][0]["read"]["force_n"] == 900

    def test_a_withdrawn_reading_counts_no_more_and_can_be_read_again(self, lab, ready):
        code = ready["next_code"]
        test = lab.post(f"/api/specimens/{code}/readings", {"read": self.ROW}, 201)
        read = next(s for s in test["specimens"] if s["code"] == code)["reads"][0]
        test = lab.post(f"/api/specimen-readings/{read['id']}/withdraw", {"reason": "Slipped in the grip."})
        one = next(s for s in test["specimens"] if s["code"] == code)
        assert one["reads"] == [] and len(one["past"]) == 2 and test["next_code"] == code
        lab.post(f"/api/specimens/{code}/readings", {"read": self.ROW}, 201)
        lab.post(f"/api/specimen-readings/{read['id']}/withdraw", {"reason": "again"}, 409)

    def test_a_rise_above_the_free_swing(self, lab, issued):
        test = make_all(lab, lab.post("/api/tests", plan_of(METHODS["notched-impact"], issued), 201))
        row = {"width_mm": 8, "net_depth_mm": 10, "rise_deg": 119}
        answer = lab.post(f"/api/specimens/{test['next_code']}/readings", {"read": row}, 422)
        assert "at most the free rise" in answer["error"]["fields"]["read.rise_deg"]

    def test_the_staircase_says_its_next_height_and_takes_no_other(self, lab, issued):
        test = make_all(lab, lab.post("/api/tests", plan_of(METHODS["drop"], issued, 4), 201))
        code = next(s["code"] for s in test["specimens"] if s["group"] == 1)
        assert test["groups"][0]["next_height_m"] == 0.6
        wrong = lab.post(f"/api/specimens/{code}/readings", {"read": {"height_m": 0.8, "broke": True}}, 422)
        assert "0.6 m" in wrong["error"]["fields"]["read.height_m"]
        test = lab.post(f"/api/specimens/{code}/readings", {"read": {"height_m": 0.6, "broke": True}}, 201)
        assert test["groups"][0]["next_height_m"] == 0.5 and test["groups"][1]["next_height_m"] == 0.6

    def test_a_lost_specimen_is_waited_for_by_nobody(self, lab, ready):
        code = ready["next_code"]
        test = lab.post(f"/api/specimens/{code}/gone", {"reason": "chipped on the plate"})
        assert test["left"] == 5 and test["next_code"] != code
        assert lab.post(f"/api/specimens/{code}/found-again")["left"] == 6

    def test_printed_and_cured_can_be_undone_while_nothing_is_read(self, lab, ready):
        first, second = ready["groups"][1]["prints"]
        undone = lab.post(f"/api/test-prints/{first['id']}/unmade")
        assert not undone["groups"][1]["ready"]
        assert [one["status"] for one in undone["groups"][1]["prints"]] == ["planned", "printed"]
        # Specimens of the other print can be read meanwhile.
        assert {s["print"] for s in undone["specimens"] if not s["ready"]} == {1}
        again = make_all(lab, undone)
        code = next(s["code"] for s in again["specimens"] if s["group"] == 2 and s["print"] == 1)
        lab.post(f"/api/specimens/{code}/readings", {"read": self.ROW}, 201)
        lab.post(f"/api/test-prints/{first['id']}/unmade", None, 409)
        assert not lab.post(f"/api/test-prints/{second['id']}/unmade")["groups"][1]["ready"]

    def test_a_closed_test_takes_nothing_and_its_planned_prints_are_taken_back(self, lab, issued):
        test = lab.post("/api/tests", plan_of(METHODS["tensile-bar"], issued), 201)
        closed = lab.post(f"/api/tests/{test['id']}/close", {"reason": "not needed"})
        assert {one["status"] for one in closed["groups"][1]["prints"]} == {"cancelled"}
        lab.post(f"/api/specimens/{test['next_code']}/readings", {"read": self.ROW}, 409)
        opened = lab.post(f"/api/tests/{test['id']}/reopen")
        assert {one["status"] for one in opened["groups"][1]["prints"]} == {"planned"}

    def test_a_photo_of_where_it_broke(self, lab, ready):
        picture = io.BytesIO()
        Image.new("RGB", (40, 30), "grey").save(picture, "PNG")
        answer = lab.client.post(
            f"/api/specimens/{ready['next_code']}/photos",
            data={"photo": (io.BytesIO(picture.getvalue()), "x.png")},
            headers={"Setback-Technician": "IM"},
        )
        assert answer.status_code == 201
        one = next(s for s in lab.get(f"/api/tests/{ready['code']}")["specimens"] if s["code"] == ready["next_code"])
        assert one["photos"][0]["id"] == answer.get_json()["id"]


class TestBriefs:
    GIVEN = {
        "name": "Sensor clip",
        "use": "Holds a probe in sea water.",
        "requirements": [
            {"property": "flexing.cycles", "at": "least", "limit": 300},
            {"property": "tensile-bar.strength", "at": "least", "limit": 30, "kind": "should"},
        ],
    }

    def test_a_change_is_a_new_version_and_a_planned_test_keeps_the_old(self, lab, issued):
        brief = lab.post("/api/briefs", self.GIVEN, 201)
        test = lab.post("/api/tests", plan_of(METHODS["tensile-bar"], issued, brief_id=brief["id"]), 201)
        changed = dict(
            self.GIVEN, version=1, requirements=[{"property": "tensile-bar.strength", "at": "least", "limit": 99}]
        )
        assert lab.put(f"/api/briefs/{brief['id']}", changed)["version"] == 2
        lab.put(f"/api/briefs/{brief['id']}", changed, 409)
        result = lab.get(f"/api/tests/{test['code']}/result")
        assert result["properties"][0]["line"]["limit"] == 30
        assert len(lab.get(f"/api/briefs/{brief['id']}/versions")["items"]) == 2

    def test_what_cannot_be_asked_for(self, lab):
        wrong = dict(
            self.GIVEN,
            requirements=[
                {"property": "nonsense", "at": "least", "limit": 1},
                *self.GIVEN["requirements"],
                self.GIVEN["requirements"][0],
            ],
        )
        fields = lab.post("/api/briefs", wrong, 422)["error"]["fields"]
        assert set(fields) == {"requirements.0.property", "requirements.3.property"}
        lab.post("/api/briefs", self.GIVEN, 201)
        assert "name" in lab.post("/api/briefs", self.GIVEN, 422)["error"]["fields"]

    def test_retired_and_back(self, lab):
        brief = lab.post("/api/briefs", self.GIVEN, 201)
        assert lab.post(f"/api/briefs/{brief['id']}/retire")["retired_at"]
        assert lab.get("/api/briefs")["items"] == []
        assert lab.post(f"/api/briefs/{brief['id']}/restore")["retired_at"] is None


class TestSideBySide:
    def test_a_table_an_index_and_what_it_hangs_on(self, lab, issued):
        for key in ("cantilever-bend", "drop"):
            plan = plan_of(METHODS[key], issued, 6)
            read_all(lab, METHODS[key], make_all(lab, lab.post("/api/tests", plan, 201)))
        held = lab.get("/api/properties")
        assert {m["material"] for m in held["materials"]} == {"Slate 2", "Sawn sheet"}
        assert {c["key"] for c in held["columns"]} >= {"cantilever-bend.strength", "drop.height"}
        weights = [{"property": "cantilever-bend.strength", "weight": 2}, {"property": "drop.height", "weight": 1}]
        given = {"weights": weights, "baseline_id": issued["sheet_id"]}
        made = lab.post("/api/properties/index", given)
        assert {r["name"]: r["index"] for r in made["result"]["ranking"]}["Sawn sheet"] == pytest.approx(100)
        assert made["result"]["warnings"][0]["code"] == "one-number" and made["costs"][0]["per_unit"] > 0
        fields = lab.post("/api/properties/index", given | {"baseline_id": "x"}, 422)["error"]["fields"]
        assert "baseline_id" in fields

    def test_values_not_got_alike_are_refused_until_confirmed(self, lab, issued):
        method = METHODS["cantilever-bend"]
        for group, arm in ((0, 40), (1, 60)):
            plan = plan_of(method, issued)
            plan |= {"groups": [plan["groups"][group]], "setup": {"arm_mm": arm}}
            read_all(lab, method, make_all(lab, lab.post("/api/tests", plan, 201)))
        given = {"weights": [{"property": "cantilever-bend.strength", "weight": 1}], "baseline_id": issued["sheet_id"]}
        refused = lab.post("/api/properties/index", given, 409)
        assert "from the clamp to the load 60, 40" in refused["error"]["message"]
        assert lab.post("/api/properties/index", given | {"confirmed": True})["mixed"]


def test_a_note_that_is_a_formula_leaves_as_text(lab, issued):
    method = METHODS["cantilever-bend"]
    test = make_all(lab, lab.post("/api/tests", plan_of(method, issued), 201))
    row = {"width_mm": 10, "height_mm": 4, "force_n": 60, "broke": True}
    lab.post(f"/api/specimens/{test['next_code']}/readings", {"read": row, "note": "=1+1"}, 201)
    sheet = lab.client.get(f"/api/tests/{test['code']}/readings.csv").get_data(as_text=True)
    assert "'=1+1" in sheet and ",=1+1" not in sheet
