"""The life of parameter sets through the API: events, limits, check coupons, the Board that shows it."""

import pytest

from setback.services.sets.check_results import rebuild
from setback.services.unit_of_work import UnitOfWork
from setback.store.database import connect
from tests.lab import LIMITS, RESIN


def change_limit(lab, key, limit, status=200):
    was = next(rule["limit"] for rule in lab.get("/api/validity-rules")["rules"] if rule["key"] == key)
    return lab.put(f"/api/validity-rules/{key}/limit", {"limit": limit, "was": was}, status)


@pytest.fixture
def issued(lab):
    """An issued set, its window wide; with the clock's hours noted on the printer."""
    calibration = lab.decided()
    card = lab.issue(calibration, temp_low_c=20, temp_high_c=26)
    return lab.again(calibration), card


def cell(lab, calibration):
    cells = lab.get("/api/board")["cells"]
    return next(
        c
        for c in cells
        if (c["material_id"], c["printer_id"]) == (calibration["material_id"], calibration["printer_id"])
    )


def record(lab, calibration, kind, expected=201, **more):
    return lab.post("/api/events", {"kind": kind, "printer_id": calibration["printer_id"], **more}, expected)


def life(lab, card):
    return lab.get(f"/api/sets/{card['code']}/life")


class TestEvents:
    def test_what_it_touches_is_said_before_and_the_board_shows_it(self, lab, issued):
        calibration, card = issued
        assert cell(lab, calibration)["state"] == "issued"
        given = {"kind": "screen-replaced", "printer_id": calibration["printer_id"]}
        (touched,) = lab.post("/api/events/preview", given)["touched"]
        assert touched["set_code"] == card["code"] and touched["effect"] == "lapse"
        assert cell(lab, calibration)["state"] == "issued"
        made = record(lab, calibration, "screen-replaced")
        held = cell(lab, calibration)
        assert held["state"] == "lapsed" and held["why"].startswith("Screen replaced")
        (task,) = [t for t in lab.get("/api/board")["today"] if t["kind"] == "check"]
        assert task["set_code"] == card["code"] and "lapsed" in task["title"]
        # Recorded by mistake: withdrawn with a reason, and what it had lapsed comes back.
        lab.post(f"/api/events/{made['event']['id']}/withdraw", {"reason": "it was the other printer"})
        assert cell(lab, calibration)["state"] == "issued"
        lab.post(f"/api/events/{made['event']['id']}/withdraw", {"reason": "once more"}, 409)
        lab.post(f"/api/events/{made['event']['id']}/restore")
        assert cell(lab, calibration)["state"] == "lapsed"

    def test_a_new_kind_added_as_data_alone_changes_a_cell(self, lab, issued):
        calibration, _ = issued
        rule = {
            "key": "shed-flooded",
            "name": "Shed flooded",
            "subject": "printer",
            "effect": "lapse",
            "why": "Salt water everywhere.",
            "renewed_by": ["calibration"],
        }
        record(lab, calibration, "shed-flooded", 422)
        lab.post("/api/validity-rules", rule, 201)
        record(lab, calibration, "shed-flooded")
        assert cell(lab, calibration)["why"].startswith("Shed flooded")
        assert "on record" in lab.post("/api/validity-rules/shed-flooded/forget", None, 409)["error"]["message"]

    def test_a_new_lot_makes_due_and_the_same_lot_does_not(self, lab, issued):
        calibration, _ = issued
        for lot, state in (("SL-1", "issued"), ("SL-2", "due")):
            bottle = lab.post(
                "/api/bottles", {"material_id": calibration["material_id"], "lot": lot, "volume_ml": 500}, 201
            )
            lab.post("/api/events", {"kind": "lot-opened", "bottle_id": bottle["id"]}, 201)
            assert cell(lab, calibration)["state"] == state

    def test_a_topped_up_vat_lapses_only_that_pair_and_no_check_renews_it(self, lab, issued):
        calibration, card = issued
        record(lab, calibration, "vat-topped-up", material_id=calibration["material_id"])
        held = life(lab, card)
        assert held["validity"]["state"] == "lapsed" and not held["validity"]["by_check"]

    @pytest.mark.parametrize(
        ("change", "field"),
        [
            ({"happened_at": "2031-01-01T00:00:00Z"}, "happened_at"),
            ({"happened_at": "2019-01-01T00:00:00Z"}, "happened_at"),
            ({"printer_id": None}, "printer_id"),
            ({"kind": "months"}, "kind"),
            ({"kind": "nonsense"}, "kind"),
            ({"screen_hours": -1}, "screen_hours"),
        ],
    )
    def test_what_cannot_be_is_refused_at_its_field(self, lab, issued, change, field):
        calibration, _ = issued
        given = {"kind": "film-replaced", "printer_id": calibration["printer_id"], **change}
        assert field in lab.post("/api/events", given, 422)["error"]["fields"]
        assert cell(lab, calibration)["state"] == "issued"

    def test_hours_run_forwards_until_the_screen_is_replaced(self, lab, issued):
        calibration, _ = issued
        record(lab, calibration, "firmware-changed", screen_hours=500)
        assert "screen_hours" in record(lab, calibration, "film-replaced", 422, screen_hours=400)["error"]["fields"]
        record(lab, calibration, "screen-replaced", screen_hours=520)
        assert lab.get(f"/api/printers/{calibration['printer_id']}")["screen_hours"] == 0
        record(lab, calibration, "film-replaced", screen_hours=3)


class TestRecords:
    def test_many_hours_make_due_by_the_shops_own_limit(self, lab, issued):
        calibration, card = issued
        record(lab, calibration, "firmware-changed", screen_hours=300)
        check(lab, card)
        assert life(lab, card)["validity"]["state"] == "valid"
        record(lab, calibration, "firmware-changed", screen_hours=380)
        check(lab, card)
        change_limit(lab, "hours", 50)
        record(lab, calibration, "firmware-changed", screen_hours=450)
        causes = {c["rule"] for c in life(lab, card)["validity"]["causes"]}
        assert causes == {"hours", "firmware-changed"}

    def test_a_print_outside_the_band_makes_due(self, lab, issued):
        calibration, card = issued
        given = {
            "printer_id": calibration["printer_id"],
            "set_code": card["code"],
            "temp_c": 12,
            "temp_place": "resin",
            "volume_ml": 30,
            "parts": [{"name": "funnel"}],
            "outside_band": "The tide waits for nobody.",
        }
        lab.post("/api/prints", given, 201)
        held = life(lab, card)["validity"]
        assert held["state"] == "due" and "12 °C" in held["causes"][0]["detail"]

    def test_many_litres_make_due(self, lab, issued):
        calibration, card = issued
        change_limit(lab, "litres", 1)
        given = {
            "printer_id": calibration["printer_id"],
            "set_code": card["code"],
            "volume_ml": 600,
            "parts": [{"name": "tub"}],
        }
        lab.post("/api/prints", given, 201)
        assert life(lab, card)["validity"]["state"] == "valid"
        lab.post("/api/prints", given, 201)
        assert [c["rule"] for c in life(lab, card)["validity"]["causes"]] == ["litres"]

    def test_litres_are_counted_anew_after_a_check_coupon(self, lab, issued):
        calibration, card = issued
        change_limit(lab, "litres", 1)
        given = {
            "printer_id": calibration["printer_id"],
            "set_code": card["code"],
            "volume_ml": 1200,
            "parts": [{"name": "tub"}],
        }
        lab.post("/api/prints", given, 201)
        assert life(lab, card)["validity"]["state"] == "due"
        check(lab, card)
        assert life(lab, card)["validity"]["state"] == "valid"
        lab.post("/api/prints", {**given, "volume_ml": 600}, 201)
        assert life(lab, card)["validity"]["state"] == "valid"
        lab.post("/api/prints", {**given, "volume_ml": 600}, 201)
        assert [c["rule"] for c in life(lab, card)["validity"]["causes"]] == ["litres"]

    def test_the_temperature_said_is_that_of_the_last_print_outside_the_band(self, lab, issued):
        calibration, card = issued
        for temp in (30, 11, 24):
            given = {
                "printer_id": calibration["printer_id"],
                "set_code": card["code"],
                "temp_c": temp,
                "temp_place": "resin",
                "parts": [{"name": "clip"}],
                "outside_band": "To see what happens.",
            }
            lab.post("/api/prints", given, 201)
        assert "11 °C" in life(lab, card)["validity"]["causes"][0]["detail"]

    def test_a_changed_finish_route_makes_due(self, lab, issued):
        _, card = issued
        (route,) = lab.get("/api/finish-routes")["items"]
        changed = {
            k: route[k]
            for k in (
                "name",
                "wash_fluid",
                "wash_method",
                "dirty_bath_min",
                "clean_bath_min",
                "dry_min",
                "air_min",
                "lamp",
                "cure_min",
                "cure_temp_c",
                "supports_off",
                "version",
            )
        } | {"cure_min": 20}
        lab.put(f"/api/finish-routes/{route['id']}", changed)
        assert [c["rule"] for c in life(lab, card)["validity"]["causes"]] == ["finish-route-changed"]


def check(lab, card, exposure_s=None):
    """Plan, print and read a check coupon; ``exposure_s`` when light has changed meanwhile."""
    code = lab.post(f"/api/sets/{card['code']}/check", None, 201)["coupon"]
    lab.print(code)
    return lab.read(code, lab.seen(code, exposure_s))


class TestChecks:
    def test_within_limits_it_renews_the_set(self, lab, issued):
        calibration, card = issued
        record(lab, calibration, "screen-replaced")
        plan = lab.post(f"/api/sets/{card['code']}/check", None, 201)
        lab.post(f"/api/sets/{card['code']}/check", None, 409)
        assert life(lab, card)["waiting"] == [plan["coupon"]]
        lab.print(plan["coupon"])
        read = lab.read(plan["coupon"])
        assert read["check_of"] == card["code"]
        held = life(lab, card)
        assert held["validity"]["state"] == "valid" and held["checks"][0]["passed"]
        assert abs(held["checks"][0]["off_pct"]) < 15
        # It is no evidence of the campaign: the window stays what was issued.
        assert plan["coupon"] not in [c["code"] for c in lab.again(calibration)["arms"][0]["coupons"]]

    def test_outside_limits_it_lapses_the_set_and_a_re_range_is_offered(self, lab, issued):
        calibration, card = issued
        check(lab, card, card["exposure_s"] * 2.2)
        held = life(lab, card)
        assert held["validity"]["state"] == "lapsed" and held["checks"][0]["verdict"] in ("over", "mixed")
        assert held["checks"][0]["off_pct"] > 50
        low, high = held["re_range"]["low_s"], held["re_range"]["high_s"]
        assert low < card["exposure_s"] < high and cell(lab, calibration)["state"] == "lapsed"

    def test_a_dose_beyond_the_window_lapses_it_though_every_feature_looks_right(self, lab):
        calibration = lab.calibration(limits={**LIMITS, "growth_tol_um": 150})
        lab.series(calibration, [1.5, 2.0, 2.6, 3.4, 4.4])
        calibration = lab.led(calibration, latitude=True)
        card = lab.issue(calibration)
        upper = calibration["arms"][0]["window"]["window"]["upper_s"]
        code = lab.post(f"/api/sets/{card['code']}/check", None, 201)["coupon"]
        lab.print(code)
        # Walls, slots and tips as they were when the set was found; only the blocks are as large as with far more light.
        features = [f for f in lab.seen(code) if f["measured_mm"] is None] + [
            f for f in lab.seen(code, 1.4 * upper) if f["measured_mm"] is not None
        ]
        lab.read(code, features)
        held = life(lab, card)
        (told,) = held["checks"]
        assert (told["verdict"], told["judged_by"], told["passed"]) == ("over", "dose", False)
        assert card["exposure_s"] * (1 + told["off_pct"] / 100) > upper
        assert held["validity"]["state"] == "lapsed"
        assert "beyond the window" in held["validity"]["causes"][0]["detail"]

    def test_a_withdrawn_reading_takes_its_result_along_and_a_rebuild_finds_the_same(self, lab, db_path, issued):
        _, card = issued
        read = check(lab, card, card["exposure_s"] * 2.2)
        assert life(lab, card)["validity"]["state"] == "lapsed"
        before = life(lab, card)["checks"]
        db = connect(db_path)
        db.execute("DELETE FROM check_result")
        assert rebuild(UnitOfWork(db)) == 1
        db.close()
        assert life(lab, card)["checks"] == before
        lab.post(
            f"/api/coupons/{read['code']}/withdraw", {"reading_id": read["latest_id"], "reason": "read the wrong one"}
        )
        assert life(lab, card)["validity"]["state"] == "valid" and life(lab, card)["checks"] == []

    def test_check_coupons_make_the_printers_chart_and_a_fading_screen_is_seen(self, lab, issued):
        calibration, card = issued
        url = f"/api/printers/{calibration['printer_id']}/control-chart"
        assert lab.get(url)["chart"] is None
        for i in range(12):
            record(lab, calibration, "firmware-changed", screen_hours=40 * i)
            check(lab, card, card["exposure_s"] * (1 - 0.02 * i))
        held = lab.get(url)
        drift = held["chart"]["drift"]
        assert drift["shown"] and -7 < drift["per_100_hours"] < -3
        assert drift["leaves_at_hours"] > 440 and "few" in {w["code"] for w in held["chart"]["warnings"]}
        change_limit(lab, "drift", 5000)
        assert "drift" in {c["rule"] for c in life(lab, card)["validity"]["causes"]}


class TestGuesses:
    def test_every_pair_never_calibrated_shows_a_guess_and_what_it_rests_on(self, lab, issued):
        calibration, card = issued
        other = lab.post("/api/resins", RESIN | {"name": "Hullform", "maker_low_s": None, "maker_high_s": None}, 201)
        held = next(c for c in lab.get("/api/board")["cells"] if c["material_id"] == other["id"])
        assert held["state"] == "predicted" and held["lower_s"] < held["exposure_s"] < held["upper_s"]
        assert "this printer" in held["why"]
        same = lab.get(
            f"/api/guess?material_id={other['id']}&printer_id={calibration['printer_id']}&layer_height_um=50"
        )
        assert same["exposure_s"] == pytest.approx(held["exposure_s"])
        assert same["carried_by"][0]["label"].startswith(card["code"])

    def test_a_campaign_starts_from_it_and_keeps_it_beside_its_result(self, lab, issued):
        calibration, _ = issued
        other = lab.calibration(
            {"material_id": calibration["material_id"], "printer_id": calibration["printer_id"]}, layer_height_um=100
        )
        source = {s["key"]: s for s in lab.get(f"/api/calibrations/{other['id']}/sources")["sources"]}["prediction"]
        assert source["low_s"] <= other["guess"]["exposure_s"] <= source["high_s"]
        given = {
            "version": other["version"],
            "source": "prediction",
            "low_s": source["low_s"],
            "high_s": source["high_s"],
        }
        lab.put(f"/api/calibrations/{other['id']}/range", given)
        lab.series(other, [1.5, 2.0, 2.6, 3.4, 4.4])
        lab.series(other, [1.8, 2.2, 2.8], "support")
        lab.issue(lab.again(other))
        record = lab.get("/api/guesses")
        kept = next(g for g in record["guesses"] if g["calibration_code"] == other["code"])
        assert kept["guess_s"] == pytest.approx(other["guess"]["exposure_s"]) and record["total"] == 2


class TestBoard:
    def test_it_is_paged_filtered_and_shows_what_needs_attention(self, lab, issued):
        calibration, _ = issued
        for name in ("Aster", "Bladder", "Zostera"):
            lab.post("/api/resins", RESIN | {"name": name, "family": "clear"}, 201)
        first = lab.get("/api/board?limit=2")
        assert [m["name"] for m in first["materials"]] == ["Aster", "Bladder"] and first["more_after"] == "Bladder"
        rest = lab.get("/api/board?limit=2&after=Bladder")
        assert [m["name"] for m in rest["materials"]] == ["Slate 2", "Zostera"] and rest["more_after"] is None
        assert {c["material_id"] for c in first["cells"]} <= {m["id"] for m in first["materials"]}
        assert len(lab.get("/api/board?family=clear")["materials"]) == 3
        assert lab.get("/api/board?attention=true")["materials"] == []
        record(lab, calibration, "film-replaced")
        assert [m["name"] for m in lab.get("/api/board?attention=true")["materials"]] == ["Slate 2"]
