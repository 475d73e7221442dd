"""The rules of the job, through the API: planning, arms, situations a campaign must carry."""

import pytest

from setback.simulate.hidden import Conditions
from setback.simulate.printed import size_true_s
from tests.lab import LIMITS, RESIN, brief


class TestOpening:
    def test_a_slipped_layer_height_asks_what_was_meant(self, lab):
        told = lab.post(
            "/api/calibrations",
            {**lab.shelf(), "layer_height_um": 500, "low_s": 1, "high_s": 3, "limits": LIMITS, "settings": {}},
            422,
        )
        assert told["error"]["suggest"] == {"layer_height_um": 50}
        assert "0.05 mm" in told["error"]["fields"]["layer_height_um"]

    @pytest.mark.parametrize(
        ("change", "field"),
        [
            ({"low_s": 3, "high_s": 1}, "high_s"),
            ({"low_s": -1}, "low_s"),
            ({"low_s": 0.01, "high_s": 0.02}, "low_s"),
            ({"material_id": "none"}, "material_id"),
            ({"bottle_id": "none"}, "bottle_id"),
            ({"limits": {"walls_probability": 1.5}}, "limits.walls_probability"),
            ({"settings": {"rest_before_s": -2}}, "settings.rest_before_s"),
        ],
    )
    def test_bad_values_are_said_at_their_field(self, lab, change, field):
        given = {
            **lab.shelf(),
            "layer_height_um": 50,
            "low_s": 1,
            "high_s": 3,
            "limits": LIMITS,
            "settings": {},
        } | change
        assert field in lab.post("/api/calibrations", given, 422)["error"]["fields"]
        assert lab.get("/api/calibrations")["items"] == []


class TestPlanning:
    def test_a_ladder_from_the_makers_range_says_its_cost(self, lab):
        arm = lab.calibration()["arms"][0]["id"]
        quote = lab.post(f"/api/arms/{arm}/quote-ladder", {"low_s": 1.5, "high_s": 4, "count": 4})
        assert [c["exposure_s"] for c in quote["coupons"]] == [1.5, 2.1, 2.9, 4.0]
        assert quote["duration_s"] == pytest.approx(sum(c["duration_s"] for c in quote["coupons"]))
        assert quote["volume_ml"] == pytest.approx(4 * quote["coupons"][0]["volume_ml"]) and quote["volume_ml"] > 1
        # Every layer is counted: floor of base and transition layers, then a millimetre of features.
        assert quote["layers"] == 27 and quote["thickness_mm"] == pytest.approx(1.35)

    def test_a_coupon_thinner_than_its_base_layers_is_refused(self, lab):
        arm = lab.calibration(settings={"base_layers": 8, "transition_layers": 6})["arms"][0]["id"]
        told = lab.post(f"/api/arms/{arm}/plan", {"exposures_s": [2], "thickness_mm": 0.6}, 422)
        assert "at least 0.9 mm" in told["error"]["fields"]["thickness_mm"]
        assert "base exposure" in told["error"]["message"]

    def test_an_exposure_between_steps_names_the_nearest(self, lab):
        arm = lab.calibration()["arms"][0]["id"]
        told = lab.post(f"/api/arms/{arm}/plan", {"exposures_s": [2.63]}, 422)
        assert "2.6 s is the nearest" in told["error"]["fields"]["exposures_s.0"]

    def test_a_delay_that_includes_motion_leaves_no_rest(self, lab):
        arm = lab.calibration(lab.shelf(delay_includes_motion=True), settings={"rest_before_s": 3})["arms"][0]["id"]
        quote = lab.post(f"/api/arms/{arm}/quote", {"exposures_s": [2]})
        assert quote["rest_before_s"] == 0
        assert "no-rest" in [w["code"] for w in quote["warnings"]]

    def test_a_bottle_that_will_not_do_is_said(self, lab):
        shelf = lab.shelf()
        lab.put(
            f"/api/bottles/{shelf['bottle_id']}",
            {"material_id": shelf["material_id"], "lot": "SL-1", "volume_ml": 1000, "left_ml": 2, "version": 1},
        )
        arm = lab.calibration(shelf)["arms"][0]["id"]
        quote = lab.post(f"/api/arms/{arm}/quote", {"exposures_s": [2, 3, 4]})
        assert "bottle-short" in [w["code"] for w in quote["warnings"]]

    def test_a_double_tap_plans_once(self, lab):
        calibration = lab.calibration()
        url, body = f"/api/arms/{calibration['arms'][0]['id']}/plan", {"exposures_s": [2]}
        first = lab.post(url, body, 201, Idempotency_Key="k")
        assert lab.post(url, body, 200, Idempotency_Key="k") == first
        assert len(lab.again(calibration)["arms"][0]["coupons"]) == 1

    def test_a_planned_print_can_be_taken_back_and_its_code_is_not_used_again(self, lab):
        calibration = lab.calibration()
        (code,) = lab.plan(calibration, [2])
        print_id = lab.get(f"/api/coupons/{code}")["print_id"]
        lab.post(f"/api/prints/{print_id}/cancel")
        assert lab.again(calibration)["arms"][0]["coupons"] == []
        assert lab.plan(calibration, [2]) != [code]
        lab.post(f"/api/prints/{print_id}/reinstate")
        assert len(lab.again(calibration)["arms"][0]["coupons"]) == 2

    def test_a_temperature_names_its_place(self, lab):
        (code,) = lab.plan(lab.calibration(), [2])
        print_id = lab.get(f"/api/coupons/{code}")["print_id"]
        assert "temp_place" in lab.post(f"/api/prints/{print_id}/printed", {"temp_c": 22}, 422)["error"]["fields"]
        assert (
            "temp_c"
            in lab.post(f"/api/prints/{print_id}/printed", {"temp_c": 300, "temp_place": "room"}, 422)["error"][
                "fields"
            ]
        )
        assert lab.post(f"/api/prints/{print_id}/printed", {"temp_c": 22, "temp_place": "room"})["temp_c"] == 22
        lab.post(f"/api/prints/{print_id}/printed", {}, 409)

    def test_a_closed_calibration_prints_no_more(self, lab):
        calibration = lab.calibration()
        lab.post(f"/api/calibrations/{calibration['id']}/close", {"version": 1, "reason": "resin sold out"})
        told = lab.post(f"/api/arms/{calibration['arms'][0]['id']}/plan", {"exposures_s": [2]}, 409)
        assert "closed" in told["error"]["message"]
        lab.post(f"/api/calibrations/{calibration['id']}/reopen")
        assert lab.plan(calibration, [2])


class TestCampaign:
    def test_nothing_yet_starts_at_an_end_of_the_range(self, lab):
        arm = lab.calibration()["arms"][0]
        assert arm["stage"] == "range" and arm["window"] is None
        assert arm["next"]["advice"]["action"] == "print" and arm["next"]["exposures_s"] == [1.5]
        assert arm["next"]["cost"]["volume_ml"] > 0 and arm["next"]["advice"]["p_offer"] is None

    def test_only_unders_so_far(self, lab):
        calibration = lab.calibration(low_s=0.8, high_s=1.2)
        lab.series(calibration, [0.8, 0.9, 1.0, 1.2])
        arm = lab.again(calibration)["arms"][0]
        assert {c["verdict"] for c in arm["coupons"]} == {"under"}
        # Half as much again as the highest.
        assert arm["stage"] == "range" and arm["next"]["exposures_s"] == [1.8]
        assert arm["window"]["policies"] is None

    def test_only_overs_so_far(self, lab):
        calibration = lab.calibration(low_s=7, high_s=10)
        lab.series(calibration, [7.0, 8.0, 9.0, 10.0])
        arm = lab.again(calibration)["arms"][0]
        assert {c["verdict"] for c in arm["coupons"]} == {"over"}
        assert arm["next"]["exposures_s"] == [4.7]

    def test_a_ladder_then_one_suggestion_at_a_time_ends_in_an_offer(self, lab):
        calibration = lab.calibration()
        lab.series(calibration, [1.5, 2.1, 2.9, 4.0])
        for _ in range(12):
            arm = lab.again(calibration)["arms"][0]
            if not arm["next"]["exposures_s"]:
                break
            assert arm["next"]["cost"]["duration_s"] > 0 and arm["stage"] == "refine"
            lab.series(calibration, arm["next"]["exposures_s"], arm["next"]["advice"]["kind"])
        assert arm["next"]["advice"]["action"] == "stop" and arm["window"]["decision"] == "offer"
        assert arm["stage"] == "decide" and len(arm["coupons"]) <= 10
        chosen = arm["window"]["policies"]["centre"]
        (at,) = [p for p in arm["window"]["predictions"] if p["exposure_s"] == chosen]
        assert at["offered"] and at["p"] >= 0.9 and at["tip_ci"] and at["growth_ci_um"]
        # Only the lower end lies inside what was printed; the upper one is the ladder's, and has no interval.
        low, high = at["margin_lower_ci_pct"]
        assert low < at["margin_lower_pct"] < high and at["margin_upper_ci_pct"] is None
        assert lab.issue(lab.again(calibration))["chance"] == at["p"]

    def test_from_range_to_a_window(self, lab):
        calibration = lab.decided()
        arm = calibration["arms"][0]
        assert calibration["stage"] == "decide"
        true = size_true_s(lab.machine, lab.truth, Conditions(1))
        assert arm["window"]["size_true_s"] == pytest.approx(true, rel=0.03)
        low, high = arm["window"]["size_true_ci_s"]
        assert low < true < high
        steps = [p["exposure_s"] for p in arm["window"]["predictions"]]
        assert steps[0] == 1.5 and steps[-1] == 4.8 and len(steps) == 34

    def test_two_coupons_swapped(self, lab):
        calibration = lab.calibration()
        a, b = lab.plan(calibration, [1.6, 3.8])
        for code, other in ((a, 3.8), (b, 1.6)):
            lab.print(code)
            lab.read(code, lab.seen(code, other))
        arm = lab.again(calibration)["arms"][0]
        assert "wrong-direction" in [w["code"] for w in arm["window"]["warnings"]]
        assert arm["window"]["provisional"] is True
        lab.series(calibration, [2.2, 2.9])
        advice = lab.again(calibration)["arms"][0]["next"]["advice"]
        assert advice["action"] == "repeat" and set(advice["coupons"]) <= {a, b} and advice["coupons"]

    def test_a_coupon_that_was_mixed_up_is_named_and_repeated(self, lab):
        calibration = lab.calibration()
        codes = lab.plan(calibration, [1.5, 2.0, 2.6, 3.4, 4.4, 5.8])
        for code, other in zip(codes, (1.5, 2.0, 2.6, 3.4, 1.6, 5.8), strict=True):
            lab.print(code)
            lab.read(code, lab.seen(code, other))
        arm = lab.again(calibration)["arms"][0]
        (told,) = arm["window"]["contradictions"]
        assert told["coupon"] == codes[4] and "less light" in told["message"]
        assert arm["next"]["is_repeat"] and arm["next"]["exposures_s"] == [4.4]
        assert arm["next"]["advice"]["coupons"] == [codes[4]] and arm["stage"] == "refine"

    def test_coupons_of_two_arms_are_never_pooled(self, lab):
        calibration = lab.decided()
        before = calibration["arms"][0]["window"]
        lab.post(
            f"/api/calibrations/{calibration['id']}/arms", {"name": "rest 4 s", "settings": {"rest_before_s": 4}}, 201
        )
        lab.truth = type(lab.truth)(1.4)
        lab.series(calibration | {"arms": lab.again(calibration)["arms"]}, [2.0, 3.0, 4.4], arm=1)
        arms = lab.again(calibration)["arms"]
        assert arms[0]["window"] == before
        assert arms[1]["window"]["size_true_s"] > 1.2 * before["size_true_s"]

    def test_an_arm_must_change_something(self, lab):
        calibration = lab.calibration()
        told = lab.post(f"/api/calibrations/{calibration['id']}/arms", {"name": "again", "settings": {}}, 422)
        assert "settings" in told["error"]["fields"]

    def test_lanes_that_do_not_overlap_offer_no_exposure(self, lab):
        lab.truth = type(lab.truth)(0.8, peel=2.2)
        calibration = lab.calibration()
        lab.series(calibration, [1.6, 2.2, 3.0, 4.2, 5.8, 8.0])
        lab.series(calibration, [3.0, 4.2, 5.8, 6.8, 8.0, 9.6], "support")
        window = lab.again(calibration)["arms"][0]["window"]
        assert window["decision"] == "none" and window["policies"] is None and window["p_window"] <= 0.05
        low, high = window["conflict"]["gap_ci_pct"]
        assert 0 < low < window["conflict"]["gap_pct"] < high
        assert window["conflict"]["remedies"][0]["code"] == "rest"
        issue = {
            "version": 1,
            "arm_id": calibration["arms"][0]["id"],
            "exposure_s": 5.0,
            "policy": "own choice",
            "reason": "we need a number today",
        }
        told = lab.post(f"/api/calibrations/{calibration['id']}/issue", issue, 422)["error"]
        assert "No exposure is right" in told["fields"]["outside_reason"]
        arm = lab.again(calibration)["arms"][0]
        assert arm["next"]["advice"]["action"] == "stop" and arm["stage"] == "refine"

    def test_limits_can_change_and_the_window_follows(self, lab):
        calibration = lab.decided()
        url = f"/api/calibrations/{calibration['id']}/limits"
        limits = calibration["limits"] | {"growth_tol_um": 12}
        changed = lab.put(url, {"version": 1, "limits": limits})
        assert changed["arms"][0]["window"]["window"]["upper_from"] == "size"
        lab.put(url, {"version": 1, "limits": limits}, 409)


class TestIssuing:
    def body(self, calibration, **changes):
        arm = calibration["arms"][0]
        return {
            "version": calibration["version"],
            "arm_id": arm["id"],
            "policy": "centre",
            "exposure_s": arm["window"]["policies"]["centre"],
            "reason": "Walls and slots matter alike here.",
            "temp_low_c": 22,
            "temp_high_c": 26,
        } | changes

    def test_an_issued_set_carries_its_evidence(self, lab):
        calibration = lab.decided()
        card = lab.post(f"/api/calibrations/{calibration['id']}/issue", self.body(calibration), 201)
        assert card["code"] == "S-001" and card["version"] == 1 and card["initials"] == "IM"
        assert card["window"]["window"] == calibration["arms"][0]["window"]["window"]
        assert len(card["coupons"]) == 8 and card["finish_steps"]
        assert card["tip_proven_mm"] == 0.42
        assert lab.get("/api/sets/s-001") == card
        assert lab.again(calibration)["stage"] == "issued"
        again = lab.post(f"/api/calibrations/{calibration['id']}/issue", self.body(calibration), 201)
        assert again["version"] == 2 and again["hash"] != card["hash"]
        assert lab.get("/api/sets/S-001")["newest"] is False

    @pytest.mark.parametrize(
        ("change", "field"),
        [
            ({"reason": "because"}, "reason"),
            ({"exposure_s": 2.62, "policy": "own choice"}, "exposure_s"),
            ({"exposure_s": 4.8, "policy": "own choice"}, "exposure_s"),
            ({"exposure_s": 4.5, "policy": "own choice"}, "outside_reason"),
            ({"exposure_s": 9.9, "policy": "own choice"}, "outside_reason"),
            ({"policy": "size-true"}, "policy"),
            ({"temp_high_c": None}, "temp_high_c"),
            ({"temp_low_c": 30}, "temp_high_c"),
        ],
    )
    def test_bad_choices_are_said_at_their_field(self, lab, change, field):
        calibration = lab.decided()
        told = lab.post(f"/api/calibrations/{calibration['id']}/issue", self.body(calibration, **change), 422)
        assert field in told["error"]["fields"]
        assert lab.again(calibration)["sets"] == []

    def test_it_takes_initials(self, lab):
        calibration = lab.decided()
        lab.initials = None
        told = lab.post(f"/api/calibrations/{calibration['id']}/issue", self.body(calibration), 422)
        assert "technician" in told["error"]["fields"]

    def test_nothing_is_issued_on_a_provisional_window(self, lab):
        calibration = lab.decided()
        (code,) = lab.plan(calibration, [2.3])
        lab.print(code)
        lab.read(code, uncured=True)
        lab.post(f"/api/coupons/{code}/judgements", {"include": True, "reason": "nothing else to go on"}, 201)
        window = lab.again(calibration)["arms"][0]["window"]
        assert window["provisional"] and not any(p["offered"] for p in window["predictions"])
        own = self.body(calibration, policy="own choice", exposure_s=3.1)
        told = lab.post(f"/api/calibrations/{calibration['id']}/issue", own, 422)
        assert "provisional" in told["error"]["fields"]["outside_reason"]

    def test_outside_an_offer_it_takes_a_reason_which_stands_on_the_card_and_never_qualifies(self, lab):
        calibration = lab.decided()
        outside = self.body(calibration, policy="own choice", exposure_s=4.5)
        url = f"/api/calibrations/{calibration['id']}/issue"
        assert "90 % are asked for" in lab.post(url, outside, 422)["error"]["fields"]["outside_reason"]
        reason = "A mould of one day; a tight slot does not matter."
        card = lab.post(url, outside | {"outside_reason": reason}, 201)
        assert card["outside_reason"] == reason and card["tip_proven_mm"] is None and card["chance"] < 0.9
        assert {"Issued outside an offer": reason}.items() <= {x["name"]: x["value"] for x in card["lines"]}.items()
        text = lab.client.get(f"/api/sets/{card['code']}/file?format=txt").get_data(as_text=True)
        assert reason in text
        held = brief(lab, [{"property": "set.wall", "at": "most", "limit": 2}])
        verdict = lab.get(f"/api/qualify/{held['code']}/{card['code']}")
        assert [j["status"] for j in verdict["judged"]] == ["met"]
        assert verdict["verdict"] == "not qualified" and reason in verdict["reasons"][0]
        # Inside an offer a reason is not asked for and not kept; the chain of both is whole.
        inside = lab.post(url, self.body(lab.again(calibration), outside_reason="not needed"), 201)
        assert inside["outside_reason"] is None
        assert lab.get(f"/api/qualify/{held['code']}/{inside['code']}")["verdict"] == "qualified"
        told = lab.ended(lab.post("/api/jobs", {"kind": "verify"}, 201))["result"]
        assert told["intact"] is True and told["checked"] == 2

    def test_no_reason_issues_an_exposure_at_which_a_coupon_failed(self, lab):
        calibration = lab.decided()
        for exposure_s, words in ((1.5, "too little light"), (4.8, "too much light")):
            body = self.body(
                calibration, policy="own choice", exposure_s=exposure_s, outside_reason="The funnels cannot wait."
            )
            told = lab.post(f"/api/calibrations/{calibration['id']}/issue", body, 422)
            assert words in told["error"]["fields"]["exposure_s"]
        # Tips that failed at an exposure where walls and slots hold count as much.
        (code,) = lab.plan(calibration, [3.0], "support")
        lab.print(code)
        lab.read(code, lab.seen(code, 1.2))
        body = self.body(calibration, policy="own choice", exposure_s=3.0, outside_reason="The funnels cannot wait.")
        told = lab.post(f"/api/calibrations/{calibration['id']}/issue", body, 422)
        assert code in told["error"]["fields"]["exposure_s"]
        assert lab.again(calibration)["sets"] == []

    def test_a_changed_calibration_must_be_looked_at_again(self, lab):
        calibration = lab.decided()
        lab.put(f"/api/calibrations/{calibration['id']}/limits", {"version": 1, "limits": calibration["limits"]})
        lab.post(f"/api/calibrations/{calibration['id']}/issue", self.body(calibration), 409)


def test_a_lab_with_nothing_calibrated_is_told_where_to_begin(lab):
    assert lab.get("/api/board")["today"] == []
    shelf = lab.shelf()
    (task,) = lab.get("/api/board")["today"]
    assert (task["kind"], task["title"]) == ("start", "Calibrate Slate 2 on Cormorant")
    assert (task["material_id"], task["printer_id"]) == (shelf["material_id"], shelf["printer_id"])
    lab.calibration(shelf)
    assert lab.get("/api/board")["today"] == []


def test_while_a_first_ladder_is_on_its_way_it_is_what_waits(lab):
    calibration = lab.calibration()
    codes = lab.plan(calibration, [1.5, 2.4, 4.0])
    arm = lab.again(calibration)["arms"][0]
    assert arm["to_print"] == codes and arm["window"] is None
    for code in codes:
        lab.print(code)
    lab.read(codes[0])
    arm = lab.again(calibration)["arms"][0]
    assert arm["to_read"] == codes[1:] and arm["next"]["advice"]["kind"] == "flat"


def test_board_shows_what_is_issued_and_what_waits(lab):
    calibration = lab.decided()
    assert lab.get("/api/board")["cells"][0]["state"] == "calibrating"
    (code,) = lab.plan(calibration, [3.0])
    lab.print(code)
    assert [t["coupon_code"] for t in lab.get("/api/board?layer_height_um=50")["today"]] == [code]
    issue = TestIssuing().body(calibration)
    lab.post(f"/api/calibrations/{calibration['id']}/issue", issue, 201)
    cell = lab.get("/api/board")["cells"][0]
    assert cell["state"] == "issued" and cell["exposure_s"] == issue["exposure_s"]
    assert [c["state"] for c in lab.get("/api/board?layer_height_um=30")["cells"]] == ["predicted"]
    assert "layer_height_um" in lab.get("/api/board?layer_height_um=thin", 422)["error"]["fields"]


def test_find_by_code_and_word(lab):
    calibration = lab.decided()
    code = calibration["arms"][0]["coupons"][0]["code"]
    assert lab.get(f"/api/find?q={code.lower()}")["items"][0]["code"] == code
    kinds = {f["kind"] for f in lab.get("/api/find?q=slate")["items"]}
    assert kinds == {"resin", "calibration", "bottle"}
    assert lab.get("/api/find?q=%25")["items"] == []


class TestWhatIsNotShownYet:
    """A limit asks for the coupon that shows it, and the campaign does not go on to decide without."""

    def test_tips_are_asked_for_once_flats_are_read_with_what_they_cost(self, lab):
        calibration = lab.calibration()
        lab.series(calibration, [1.5, 2.0, 2.6, 3.4, 4.4])
        arm = lab.again(calibration)["arms"][0]
        assert arm["window"]["missing_lanes"] == ["tips"] and arm["window"]["decision"] == "more"
        assert not any(p["offered"] for p in arm["window"]["predictions"])
        suggested = arm["next"]
        assert suggested["advice"]["kind"] == "support" and suggested["settles"] == "the lower end of support tips"
        assert 1.5 <= suggested["exposures_s"][0] <= 4.4
        assert suggested["cost"]["volume_ml"] > 0 and arm["stage"] == "refine"

    def test_without_a_limited_lane_an_exposure_is_issued_only_outside_an_offer(self, lab):
        calibration = lab.calibration()
        lab.series(calibration, [1.5, 2.0, 2.6, 3.4, 4.4])
        calibration = lab.again(calibration)
        body = TestIssuing().body(
            calibration | {"arms": [calibration["arms"][0] | {"window": {"policies": {"centre": 3.0}}}]}
        )
        body |= {"policy": "own choice"}
        told = lab.post(f"/api/calibrations/{calibration['id']}/issue", body, 422)
        assert "nothing is known yet" in told["error"]["fields"]["outside_reason"]

    def test_without_the_limit_nothing_is_asked(self, lab):
        calibration = lab.calibration(limits={**LIMITS, "tips_size_mm": None})
        lab.series(calibration, [1.5, 2.0, 2.6, 3.4, 4.4])
        arm = lab.again(calibration)["arms"][0]
        assert arm["window"]["missing_lanes"] == [] and arm["stage"] == "decide"

    def test_an_end_that_is_only_the_ladders_gives_no_latitude_and_the_coupon_that_would_show_it(self, lab):
        calibration = lab.calibration(limits={"walls_size_mm": 0.21, "slots_size_mm": 0.35})
        lab.series(calibration, [1.5, 2.0, 2.5, 3.0])
        arm = lab.again(calibration)["arms"][0]
        assert arm["window"]["decision"] == "offer" and arm["window"]["window"]["latitude_pct"] is None
        further = arm["next"]["advice"]["further"]
        assert further["kind"] == "flat" and further["exposure_s"] > 3.0 and further["settles"]["end"] == "upper"
        assert arm["next"]["further_cost"]["duration_s"] > 0
        card = lab.issue(lab.again(calibration))
        held = brief(lab, [{"property": "set.latitude", "at": "least", "limit": 3}])
        (judged,) = lab.get(f"/api/qualify/{held['code']}/{card['code']}")["judged"]
        assert judged["status"] == "not shown" and "is not found" in judged["words"]
        assert judged["need"]["stage"] == "refine"
        assert {x["value"] for x in card["lines"] if x["name"] == "Latitude"} == {"not shown: an end is not found"}

    def test_a_clear_resin_is_asked_what_its_undersides_may_lose(self, lab):
        shelf = lab.shelf()
        query = f"printer_id={shelf['printer_id']}&layer_height_um=50"
        opaque = lab.get(f"/api/calibration-start?material_id={shelf['material_id']}&{query}")
        clear = lab.post("/api/resins", RESIN | {"name": "Tideglass", "opacity": "clear"}, 201)
        assert opaque["limits"]["z_bloom_max_um"] is None
        assert lab.get(f"/api/calibration-start?material_id={clear['id']}&{query}")["limits"]["z_bloom_max_um"] == 150

    def test_another_arm_looks_around_what_looked_right_before(self, lab):
        calibration = lab.calibration()
        lab.series(calibration, [1.5, 2.0, 2.6, 3.4, 4.4])
        first = lab.again(calibration)["arms"][0]
        right = [c["exposure_s"] for c in first["coupons"] if c["verdict"] == "ok"]
        settings = {**first["settings"], "rest_before_s": 4}
        lab.post(f"/api/calibrations/{calibration['id']}/arms", {"name": "rest 4 s", "settings": settings}, 201)
        second = lab.again(calibration)["arms"][1]
        assert second["range_from"] == first["name"]
        assert second["range_s"][0] < min(right) and second["range_s"][1] > max(right)
        assert first["range_from"] is None and first["range_s"] == [1.5, 4]


class TestCutOffs:
    """How sure the lab wants to be is one setting for all its calibrations."""

    def test_they_move_what_is_offered_and_issued_sets_keep_theirs(self, lab):
        calibration = lab.decided()
        usual = lab.get("/api/cut-offs")
        held = {name: value for name, value in usual.items() if name != "version"}
        assert held == calibration["arms"][0]["window"]["cut_offs"] and usual["offer"] == 0.9
        card = lab.issue(calibration)

        def offered(held):
            return [p["exposure_s"] for p in held["arms"][0]["window"]["predictions"] if p["offered"]]

        before = offered(lab.again(calibration))
        assert lab.put("/api/cut-offs", usual | {"offer": 0.98, "lanes": 0.98})["offer"] == 0.98
        stricter = lab.again(calibration)
        assert stricter["arms"][0]["window"]["cut_offs"]["offer"] == 0.98
        assert set(offered(stricter)) < set(before)
        assert lab.get(f"/api/sets/{card['code']}")["window"]["cut_offs"] == held
        assert "changed meanwhile" in lab.put("/api/cut-offs", usual, 409)["error"]["message"]

    @pytest.mark.parametrize(
        ("change", "field"), [({"offer": 0.2}, "offer"), ({"none": 0.6}, "none"), ({"most_coupons": 2}, "most_coupons")]
    )
    def test_cut_offs_that_promise_nothing_are_refused(self, lab, change, field):
        told = lab.put("/api/cut-offs", lab.get("/api/cut-offs") | change, 422)
        assert field in told["error"]["fields"] and lab.get("/api/cut-offs")["offer"] == 0.9


def test_limits_follow_from_what_the_parts_are_for_and_from_briefs(lab):
    shelf = lab.shelf()
    asks = [
        {"property": "set.wall", "at": "most", "limit": 0.14},
        {"property": "set.growth", "at": "most", "limit": 25},
    ]
    lab.post("/api/briefs", {"name": "Filter baffle", "use": "Fine slots", "requirements": asks}, 201)
    lab.post(
        "/api/briefs",
        {"name": "Bumper", "requirements": [{"property": "drop.height", "at": "least", "limit": 1}]},
        201,
    )
    query = f"material_id={shelf['material_id']}&printer_id={shelf['printer_id']}&layer_height_um=50"
    start = lab.get(f"/api/calibration-start?{query}")
    uses = {use["name"]: use for use in start["uses"]}
    assert start["uses"][0]["limits"] == start["limits"] and "Brief: Bumper" not in uses
    of_brief = uses["Brief: Filter baffle"]["limits"]
    assert (of_brief["walls_size_mm"], of_brief["slots_size_mm"], of_brief["growth_tol_um"]) == (0.14, None, 25)
    assert all(use["limits"]["walls_size_mm"] in (None, *start["series"]["walls_mm"]) for use in start["uses"])


def test_settings_begin_as_in_the_printers_newest_set_and_say_so(lab):
    calibration = lab.decided()
    query = f"material_id={calibration['material_id']}&printer_id={calibration['printer_id']}&layer_height_um=30"
    assert lab.get(f"/api/calibration-start?{query}")["settings_from"] is None
    arm = calibration["arms"][0]
    card = lab.issue(calibration)
    start = lab.get(f"/api/calibration-start?{query}")
    assert start["settings"] == arm["settings"] and start["settings_from"].startswith(
        f"As in {card['code']}, this material"
    )
