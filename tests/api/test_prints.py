"""The print log, what is checked before a print, and the gates that hold through the API."""

import sqlite3
from contextlib import closing
from datetime import timedelta

import pytest

from tests.lab import RESIN


@pytest.fixture
def shelf(lab):
    return lab.shelf()


def logged(lab, shelf, expected=201, **changes):
    given = {"printer_id": shelf["printer_id"], "parts": [{"name": "funnel", "place": "centre"}], **changes}
    return lab.post("/api/prints", given, expected)


class TestLog:
    def test_a_print_of_parts_is_logged_with_its_conditions(self, lab, shelf):
        made = logged(
            lab,
            shelf,
            temp_c=21.5,
            temp_place="resin",
            volume_ml=42,
            seen="first layers pale",
            settings_note="trial, 2.6 s",
            parts=[{"name": "funnel", "place": "centre"}, {"name": "clip", "outcome": "in part"}],
        )
        assert made["outcome"] == "missing parts" and made["initials"] == "IM"
        held = lab.get("/api/prints")["items"][0]
        assert [p["outcome"] for p in held["parts"]] == ["whole", "in part"] and held["temp_c"] == 21.5

    def test_coupons_and_parts_stand_in_one_log_newest_first_and_paged(self, lab, shelf):
        calibration = lab.calibration(shelf)
        (code,) = lab.plan(calibration, [2.4])
        lab.print(code)
        logged(lab, shelf)
        items = lab.get("/api/prints")["items"]
        assert [i["coupons"] for i in items] == [0, 1] and items[1]["calibration_code"] == calibration["code"]
        assert len(lab.get("/api/prints?limit=1")["items"]) == 1
        older = lab.get(f"/api/prints?before={items[0]['id']}")["items"]
        assert [i["code"] for i in older] == [items[1]["code"]]
        lab.get("/api/prints?before=none", expected=404)

    def test_prints_of_the_same_moment_are_all_seen_page_by_page(self, lab, shelf, db_path):
        codes = {logged(lab, shelf)["code"] for _ in range(5)}
        with closing(sqlite3.connect(db_path)) as db, db:
            db.execute("UPDATE print SET printed_at = (SELECT min(printed_at) FROM print)")
        seen, before = [], ""
        while page := lab.get(f"/api/prints?limit=2&before={before}")["items"]:
            seen += [one["code"] for one in page]
            before = page[-1]["id"]
        assert len(seen) == 5 and set(seen) == codes

    def test_an_issued_set_is_named_and_must_be_of_this_printer(self, lab):
        calibration = lab.decided()
        window = calibration["arms"][0]["window"]
        issue = {
            "version": calibration["version"],
            "arm_id": calibration["arms"][0]["id"],
            "policy": "centre",
            "exposure_s": window["policies"]["centre"],
            "reason": "funnels need both",
        }
        code = lab.post(f"/api/calibrations/{calibration['id']}/issue", issue, 201)["code"]
        held = {"printer_id": calibration["printer_id"]}
        assert logged(lab, held, set_code=code)["set_code"] == code
        assert "set_code" in logged(lab, held, 422, set_code="S-999")["error"]["fields"]

    @pytest.mark.parametrize(
        ("change", "field"),
        [
            ({"temp_c": 20}, "temp_place"),
            ({"parts": []}, "parts"),
            ({"parts": [{"name": ""}]}, "parts.0.name"),
            ({"volume_ml": -1}, "volume_ml"),
            ({"parts": [{"name": "x", "outcome": "meh"}]}, "parts.0.outcome"),
        ],
    )
    def test_bad_entries_are_said_at_their_field(self, lab, shelf, change, field):
        assert field in logged(lab, shelf, 422, **change)["error"]["fields"]
        assert lab.get("/api/prints")["items"] == []

    def test_failures_can_be_asked_for_alone(self, lab, shelf):
        bad = logged(lab, shelf, parts=[{"name": "funnel", "outcome": "in part"}])
        lab.post(f"/api/prints/{bad['id']}/vat-searched")
        logged(lab, shelf)
        assert [i["code"] for i in lab.get("/api/prints?failed=true")["items"]] == [bad["code"]]
        assert len(lab.get("/api/prints")["items"]) == 2


class TestGates:
    def test_all_printers_gates_stand_in_one_list_until_each_is_cleared(self, lab, shelf):
        assert lab.get("/api/gates")["items"] == []
        strip = logged(lab, shelf, lift_suppressed=True, parts=[{"name": "dose strip", "outcome": "missing"}])
        assert [(g["kind"], g["code"]) for g in lab.get("/api/gates")["items"]] == [
            ("vat", strip["code"]),
            ("lift", strip["code"]),
        ]
        assert all("Cormorant" in g["message"] for g in lab.get("/api/gates")["items"])
        lab.post(f"/api/prints/{strip['id']}/vat-searched")
        assert [g["kind"] for g in lab.get("/api/gates")["items"]] == ["lift"]
        lab.post(f"/api/prints/{strip['id']}/lift-back")
        assert lab.get("/api/gates")["items"] == []


class TestVatSearch:
    def test_missing_parts_hold_up_the_next_print_until_the_vat_is_searched(self, lab, shelf):
        calibration = lab.calibration(shelf)
        code, other = lab.plan(calibration, [2.4, 3.0])
        bad = logged(lab, shelf, parts=[{"name": "funnel", "outcome": "missing"}])
        assert bad["outcome"] == "failed"
        gate = lab.get(f"/api/calibrations/{calibration['id']}/preparing")["gates"][0]
        assert gate["kind"] == "vat" and bad["code"] in gate["message"]
        print_id = lab.get(f"/api/coupons/{code}")["print_id"]
        told = lab.post(f"/api/prints/{print_id}/printed", {}, 409)["error"]
        assert "search the vat" in told["fields"]["vat"]
        logged(lab, shelf, 409)
        assert lab.post(f"/api/prints/{bad['id']}/vat-searched")["searched_at"]
        lab.post(f"/api/prints/{bad['id']}/vat-searched", None, 409)
        lab.print(code)
        lab.print(other)

    def test_a_coupon_with_missing_parts_does_the_same(self, lab, shelf):
        code, other = lab.plan(lab.calibration(shelf), [2.4, 3.0])
        print_id = lab.get(f"/api/coupons/{code}")["print_id"]
        lab.post(f"/api/prints/{print_id}/printed", {"outcome": "missing parts", "seen": "two tips in the vat"})
        other_print = lab.get(f"/api/coupons/{other}")["print_id"]
        lab.post(f"/api/prints/{other_print}/printed", {}, 409)
        lab.post(f"/api/prints/{print_id}/unprinted")
        lab.post(f"/api/prints/{other_print}/printed", {})

    def test_another_printer_goes_on_and_who_searched_must_be_known(self, lab, shelf):
        bad = logged(lab, shelf, parts=[{"name": "funnel", "outcome": "missing"}])
        held = lab.get(f"/api/printers/{shelf['printer_id']}")
        fields = {k: v for k, v in held.items() if k not in ("id", "code", "created_at", "retired_at", "version")}
        other = lab.post("/api/printers", {**fields, "name": "Gannet"}, 201)
        logged(lab, {"printer_id": other["id"]})
        lab.initials = None
        told = lab.post(f"/api/prints/{bad['id']}/vat-searched", None, 422)
        assert "technician" in told["error"]["fields"]


class TestLift:
    def test_a_normal_print_and_closing_wait_until_the_lift_is_back_on(self, lab, shelf):
        calibration = lab.calibration(shelf)
        (code,) = lab.plan(calibration, [2.4])
        strip = logged(lab, shelf, lift_suppressed=True, parts=[{"name": "dose strip"}])
        print_id = lab.get(f"/api/coupons/{code}")["print_id"]
        told = lab.post(f"/api/prints/{print_id}/printed", {}, 409)["error"]
        assert "lift back on" in told["fields"]["lift"]
        close = {"reason": "done with it", "version": calibration["version"]}
        assert "lift" in lab.post(f"/api/calibrations/{calibration['id']}/close", close, 409)["error"]["fields"]
        again = logged(lab, shelf, lift_suppressed=True, parts=[{"name": "dose strip"}])
        for held in (strip, again):
            lab.post(f"/api/prints/{held['id']}/lift-back")
        lab.print(code)
        lab.post(f"/api/calibrations/{calibration['id']}/close", close)


class TestPreparing:
    def test_checks_are_ticked_whole_or_skipped_and_who_is_recorded(self, lab, shelf):
        calibration = lab.calibration(shelf)
        url = f"/api/calibrations/{calibration['id']}/preparing"
        held = lab.get(url)
        assert not held["campaign"]["done"] and any(c["caution"] for c in held["campaign"]["checks"])
        keys = [c["key"] for c in held["campaign"]["checks"]]
        assert "ticked" in lab.post(url, {"occasion": "campaign", "ticked": keys[:2]}, 422)["error"]["fields"]
        done = lab.post(url, {"occasion": "campaign", "ticked": keys}, 201)["campaign"]
        assert done["done"] and not done["skipped"] and done["initials"] == "IM"
        lab.post("/api/technicians", {"initials": "RB"}, 201)
        lab.initials = "RB"
        skipped = lab.post(url, {"occasion": "print", "skipped": True}, 201)["print"]
        assert skipped["skipped"] and skipped["initials"] == "RB"

    def test_a_check_holds_until_a_print_came_out(self, lab, shelf):
        calibration = lab.calibration(shelf)
        url = f"/api/calibrations/{calibration['id']}/preparing"
        (code,) = lab.plan(calibration, [2.4])
        lab.post(url, {"occasion": "print", "skipped": True}, 201)
        assert lab.get(url)["print"]["done"]
        lab.print(code)
        assert not lab.get(url)["print"]["done"]

    def test_the_first_full_check_of_a_day_on_a_printer_is_offered_again_and_no_skipped_one(self, lab, shelf):
        calibration = lab.calibration(shelf)
        url = f"/api/calibrations/{calibration['id']}/preparing"
        lab.post(url, {"occasion": "print", "skipped": True}, 201)
        assert lab.get(url)["print"]["earlier"] is None
        keys = [c["key"] for c in lab.get(url)["print"]["checks"]]
        at = lab.post(url, {"occasion": "print", "ticked": keys}, 201)["print"]["at"]
        other = lab.calibration(shelf)
        assert lab.get(f"/api/calibrations/{other['id']}/preparing")["print"]["earlier"] == {"initials": "IM", "at": at}
        lab.clock.now += timedelta(days=1)
        assert lab.get(url)["print"]["earlier"] is None

    def test_what_the_vat_is_noted_to_hold_is_held_against_the_material(self, lab, shelf):
        calibration = lab.calibration(shelf)
        said = lambda: lab.get(f"/api/calibrations/{calibration['id']}/preparing")["vat"]  # noqa: E731
        assert "Nothing is noted in the vat of Cormorant" in said()
        pour = {"kind": "fill", "volume_ml": 100, "bottle_id": shelf["bottle_id"]}
        lab.post(f"/api/printers/{shelf['printer_id']}/vat", pour, 201)
        assert said() is None
        other = lab.post("/api/resins", RESIN | {"name": "Rinsewell"}, 201)["id"]
        bottle = lab.post("/api/bottles", {"material_id": other, "lot": "RI-1", "volume_ml": 500}, 201)["id"]
        lab.post(f"/api/printers/{shelf['printer_id']}/vat", {"kind": "empty"}, 201)
        lab.post(
            f"/api/printers/{shelf['printer_id']}/vat", {"kind": "fill", "volume_ml": 80, "bottle_id": bottle}, 201
        )
        assert said() == "The vat of Cormorant is noted to hold Rinsewell, not Slate 2."

    def test_nobody_skips_unnamed_and_unknown_checks_are_refused(self, lab, shelf):
        url = f"/api/calibrations/{lab.calibration(shelf)['id']}/preparing"
        assert "ticked" in lab.post(url, {"occasion": "print", "ticked": ["luck"]}, 422)["error"]["fields"]
        lab.initials = None
        assert "technician" in lab.post(url, {"occasion": "print", "skipped": True}, 422)["error"]["fields"]


class TestConfirm:
    def given(self, calibration, **changes):
        arm = calibration["arms"][0]
        exposure = arm["window"]["policies"]["centre"]
        return {"arm_id": arm["id"], "exposure_s": exposure, "place": "centre", "what": "bracket", **changes}

    def test_an_exposure_is_confirmed_at_both_places(self, lab):
        calibration = lab.decided()
        url = f"/api/calibrations/{calibration['id']}/confirm"
        held = lab.post(url, self.given(calibration), 201)
        assert held["confirmed_s"] == []
        held = lab.post(url, self.given(calibration, place="worst place"), 201)
        assert held["confirmed_s"] == [self.given(calibration)["exposure_s"]]

    def test_a_finding_points_elsewhere_and_does_not_confirm(self, lab):
        calibration = lab.decided()
        url = f"/api/calibrations/{calibration['id']}/confirm"
        lab.post(url, self.given(calibration), 201)
        held = lab.post(url, self.given(calibration, place="worst place", finding="one-side"), 201)
        assert held["confirmed_s"] == []
        assert next(f for f in held["findings"] if f["key"] == "one-side")["suspect"].startswith("plate out of level")
        assert "finding" in lab.post(url, self.given(calibration, finding="gremlins"), 422)["error"]["fields"]

    def test_outside_the_window_a_reason_is_asked_for_and_recorded(self, lab):
        calibration = lab.decided()
        url = f"/api/calibrations/{calibration['id']}/confirm"
        told = lab.post(url, self.given(calibration, exposure_s=9.9), 409)["error"]
        assert "outside_reason" in told["fields"]
        reason = "the customer asked for it"
        held = lab.post(url, self.given(calibration, exposure_s=9.9, outside_reason=reason), 201)
        assert held["confirmations"][-1]["outside_reason"] == reason
        inside = lab.post(url, self.given(calibration, outside_reason=reason), 201)
        assert inside["confirmations"][-1]["outside_reason"] is None

    def test_before_there_is_a_window_everything_is_outside(self, lab):
        calibration = lab.calibration()
        given = {"arm_id": calibration["arms"][0]["id"], "exposure_s": 2.4, "place": "centre", "what": "bracket"}
        lab.post(f"/api/calibrations/{calibration['id']}/confirm", given, 409)

    def test_the_worst_place_comes_from_the_plates_map(self, lab):
        calibration = lab.decided()
        grid = [[0.9, 1.0, 0.95], [1.0, 1.1, 1.0], [0.8, 1.0, 0.9]]
        given = {"readings": grid, "reference_cell": [1, 1]}
        lab.post(f"/api/printers/{calibration['printer_id']}/plate-maps", given, 201)
        held = lab.get(f"/api/calibrations/{calibration['id']}/confirm")
        assert held["worst_place"].startswith("row 3, column 1") and "73 %" in held["worst_place"]

    def test_a_confirmation_can_be_withdrawn_and_brought_back(self, lab):
        calibration = lab.decided()
        held = lab.post(f"/api/calibrations/{calibration['id']}/confirm", self.given(calibration), 201)
        one = held["confirmations"][0]["id"]
        assert lab.post(f"/api/confirmations/{one}/withdraw", {"reason": "wrong part"})["confirmations"] == []
        lab.post(f"/api/confirmations/{one}/withdraw", {"reason": "wrong part"}, 409)
        assert len(lab.post(f"/api/confirmations/{one}/restore")["confirmations"]) == 1
