"""Three ways of printing a ladder, where a range comes from, and what each may be used for."""

import io
import json
import math
import zipfile

import pytest

from tests.lab import PRINTER, RESIN, noted

EXPOSURES = [1.6, 2.0, 2.5, 3.1, 3.9]
LIGHT = [[0.80, 0.90, 0.82], [0.92, 1.00, 0.93], [0.81, 0.91, 0.80]]
ROOMY = {"plate_x_mm": 230, "plate_y_mm": 130, "several_exposures": True, "suppresses_lift": True}


@pytest.fixture
def roomy(lab):
    """A calibration on a printer that can do all three ways."""
    return lab.calibration(lab.shelf(**ROOMY))


def map_light(lab, calibration):
    body = {"readings": LIGHT, "reference_cell": [1, 1]}
    lab.post(f"/api/printers/{calibration['printer_id']}/plate-maps", body, 201)


def printed_and_read(lab, codes):
    lab.print(codes[0])
    for code in codes:
        lab.read(code)


class TestOnePlate:
    def test_one_print_holds_the_ladder_shuffled_and_repeated(self, lab, roomy):
        map_light(lab, roomy)
        arm = roomy["arms"][0]["id"]
        quote = lab.post(f"/api/arms/{arm}/quote", {"exposures_s": EXPOSURES, "way": "plate"})
        assert quote["prints"] == 1 and quote["plate"]["mapped"] and quote["plate"]["repeats"] == 2
        alone = lab.post(f"/api/arms/{arm}/quote", {"exposures_s": EXPOSURES})
        assert quote["duration_s"] < 0.4 * alone["duration_s"]
        places = quote["plate"]["places"]
        assert sorted(p["exposure_s"] for p in places) == sorted(EXPOSURES * 2)
        across = [p["exposure_s"] for p in sorted(places, key=lambda p: (p["y_mm"], p["x_mm"]))]
        assert across not in (sorted(across), sorted(across, reverse=True))
        codes = lab.plan(roomy, EXPOSURES, way="plate")
        coupons = lab.again(roomy)["arms"][0]["coupons"]
        assert len(codes) == 10 and len({c["print_id"] for c in coupons}) == 1
        kept = sorted((c["place_mm"][0], c["place_mm"][1], c["exposure_s"]) for c in coupons)
        assert kept == sorted((p["x_mm"], p["y_mm"], p["exposure_s"]) for p in places)

    def test_the_dose_of_each_place_is_corrected_by_the_map(self, lab, roomy):
        map_light(lab, roomy)
        printed_and_read(lab, lab.plan(roomy, EXPOSURES, way="plate"))
        arm = lab.again(roomy)["arms"][0]
        for coupon in arm["coupons"]:
            assert coupon["effective_s"] == pytest.approx(coupon["exposure_s"] * coupon["dose_ratio"])
            assert 0.79 < coupon["dose_ratio"] <= 1.0
        assert not arm["range_only"] and not arm["window"]["provisional"]
        by_map = arm["window"]["size_true_s"]
        other = lab.calibration(_shelf_of(roomy))
        lab.series(other, EXPOSURES)
        alone = lab.again(other)["arms"][0]["window"]["size_true_s"]
        assert by_map == pytest.approx(alone, rel=0.04)

    def test_without_a_map_it_finds_the_range_and_nothing_is_issued(self, lab, roomy):
        codes = lab.plan(roomy, EXPOSURES, way="plate", repeats=1)
        printed_and_read(lab, codes)
        calibration = lab.again(roomy)
        arm = calibration["arms"][0]
        assert "map of its light" in arm["range_only"] and arm["window"]["provisional"]
        assert any(w["code"] == "range-only" for w in arm["window"]["warnings"])
        assert arm["next"]["advice"]["action"] in ("print", "repeat", "stop")
        assert "map of its light" in lab.issue(calibration, 409)["error"]["message"]

    def test_separate_coupons_take_over_from_a_plate_without_a_map(self, lab, roomy):
        printed_and_read(lab, lab.plan(roomy, EXPOSURES, way="plate", repeats=1))
        alone = lab.series(roomy, [2.1, 2.4, 2.8])
        window = lab.again(roomy)["arms"][0]["window"]
        assert sorted(r["coupon"] for r in window["raw"]) == sorted(alone) and not window["provisional"]

    def test_coupons_keep_off_known_marks(self, lab, roomy):
        mark = {"x_mm": 100, "y_mm": 20, "width_mm": 30, "height_mm": 90, "note": "scratch"}
        lab.post(f"/api/printers/{roomy['printer_id']}/defects", mark, 201)
        quote = lab.post(f"/api/arms/{roomy['arms'][0]['id']}/quote", {"exposures_s": EXPOSURES, "way": "plate"})
        for p in quote["plate"]["places"]:
            clear = (
                p["x_mm"] + p["width_mm"] <= 100
                or p["x_mm"] >= 130
                or p["y_mm"] + p["height_mm"] <= 20
                or p["y_mm"] >= 110
            )
            assert clear, p

    def test_too_many_for_the_plate_says_how_many_fit(self, lab, roomy):
        many = [round(1 + 0.1 * i, 1) for i in range(20)]
        error = lab.post(f"/api/arms/{roomy['arms'][0]['id']}/plan", {"exposures_s": many, "way": "plate"}, 422)[
            "error"
        ]
        assert "fit" in error["fields"]["exposures_s"] and lab.again(roomy)["arms"][0]["coupons"] == []

    @pytest.mark.long
    def test_its_file_says_which_exposure_belongs_to_which_region(self, lab, roomy):
        codes = lab.plan(roomy, EXPOSURES, way="plate", repeats=1)
        print_id = lab.get(f"/api/coupons/{codes[0]}")["print_id"]
        answer = lab.client.get(f"/api/prints/{print_id}/file")
        with zipfile.ZipFile(io.BytesIO(answer.data)) as held:
            manifest = json.loads(held.read("manifest.json"))
        assert {r["code"]: r["exposure_s"] for r in manifest["regions"]} == dict(zip(codes, EXPOSURES, strict=True))
        last = manifest["layers"][-1]["flashes"]
        assert sum(f["seconds"] for f in last) == pytest.approx(max(EXPOSURES))
        assert b"<svg" in lab.client.get(f"/api/prints/{print_id}/file?format=svg").data


def _shelf_of(calibration):
    return {k: calibration[k] for k in ("material_id", "printer_id", "finish_route_id", "bottle_id")}


class TestStrip:
    def test_it_seeds_the_range_and_is_no_part_of_the_window(self, lab, roomy):
        codes = lab.plan(roomy, [0.8, 1.2, 1.8, 2.7, 4.0, 6.0], way="strip")
        printed_and_read(lab, codes)
        arm = lab.again(roomy)["arms"][0]
        assert {c["kind"] for c in arm["coupons"]} == {"strip"} and arm["window"] is None
        low, high = arm["seed"]
        verdicts = {c["exposure_s"]: c["verdict"] for c in arm["coupons"]}
        unders = [t for t, v in verdicts.items() if v == "under"]
        assert unders and low <= max(unders) < high
        sources = {s["key"]: s for s in lab.get(f"/api/calibrations/{roomy['id']}/sources")["sources"]}
        assert (sources["dose strip"]["low_s"], sources["dose strip"]["high_s"]) == (low, high)

    def test_the_lift_must_be_back_on_before_a_normal_print_or_the_end(self, lab, roomy):
        lab.print(lab.plan(roomy, [1.0, 2.0, 4.0], way="strip")[0])
        (alone,) = lab.plan(roomy, [2.4])
        print_id = lab.get(f"/api/coupons/{alone}")["print_id"]
        refused = lab.post(f"/api/prints/{print_id}/printed", {"temp_c": 24, "temp_place": "room"}, 409)
        assert "lift" in refused["error"]["fields"]
        held = lab.again(roomy)
        close = {"version": held["version"], "reason": "enough for today"}
        assert "lift" in lab.post(f"/api/calibrations/{roomy['id']}/close", close, 409)["error"]["fields"]
        (gate,) = lab.get(f"/api/calibrations/{roomy['id']}/preparing")["gates"]
        lab.post(f"/api/prints/{gate['print_id']}/lift-back")
        lab.print(alone)
        lab.post(f"/api/calibrations/{roomy['id']}/close", close)

    def test_its_file_is_one_layer_of_flashes(self, lab, roomy):
        codes = lab.plan(roomy, [1.0, 2.0, 4.0], way="strip")
        print_id = lab.get(f"/api/coupons/{codes[0]}")["print_id"]
        with zipfile.ZipFile(io.BytesIO(lab.client.get(f"/api/prints/{print_id}/file").data)) as held:
            manifest = json.loads(held.read("manifest.json"))
        (layer,) = manifest["layers"]
        assert [(f["seconds"], len(f["regions"])) for f in layer["flashes"]] == [(1.0, 3), (1.0, 2), (2.0, 1)]


@pytest.mark.parametrize("way", ["plate", "strip"])
def test_a_printer_that_cannot_do_it_says_so(lab, way):
    calibration = lab.calibration(lab.shelf(several_exposures=False, suppresses_lift=False))
    error = lab.post(f"/api/arms/{calibration['arms'][0]['id']}/plan", {"exposures_s": [2.0, 3.0], "way": way}, 422)
    assert "Print separately" in error["error"]["fields"]["way"]


class TestSources:
    def test_they_stand_in_order_of_rising_trust_and_say_what_they_lack(self, lab):
        calibration = lab.calibration()
        found = lab.get(f"/api/calibrations/{calibration['id']}/sources")["sources"]
        order = [s["key"] for s in found]
        assert lab.get(f"/api/calibrations/{calibration['id']}/sources")["measured"] is None
        assert order.index("maker") < order.index("borrowed") < order.index("working curve") < order.index("prediction")
        by = {s["key"]: s for s in found}
        assert by["maker"]["low_s"] and by["working curve"]["missing"] and by["dose strip"]["missing"]
        assert all(s["trust"] for s in found)

    def test_depth_squares_make_the_working_curve_a_source(self, lab):
        calibration = lab.calibration()
        held = lab.post(f"/api/calibrations/{calibration['id']}/depth-squares", {"exposures_s": [2.0, 4.0, 8.0]}, 201)
        for square in held["squares"]:
            thick = 0.11 * math.log(square["exposure_s"] / 0.5)
            lab.post(f"/api/depth-squares/{square['id']}/readings", {"thicknesses_mm": [round(thick, 3)]}, 201)
        told = lab.get(f"/api/calibrations/{calibration['id']}/sources")
        curve = next(s for s in told["sources"] if s["key"] == "working curve")
        assert (told["chosen"], told["measured"]) == ("maker", "working curve")
        assert curve["low_s"] < curve["number_s"] < curve["high_s"] and "3 squares" in curve["basis"]

    def test_another_source_moves_the_range_and_a_stale_one_is_refused(self, lab):
        calibration = lab.calibration()
        around = lab.get(f"/api/calibrations/{calibration['id']}/borrowed-range?number_s=2.4")
        given = {"version": calibration["version"], "source": "borrowed", **around}
        held = lab.put(f"/api/calibrations/{calibration['id']}/range", given)
        assert (held["source"], held["low_s"], held["high_s"]) == ("borrowed", 1.5, 3.9)
        lab.put(f"/api/calibrations/{calibration['id']}/range", given, 409)
        upside = {"version": held["version"], "source": "borrowed", "low_s": 4, "high_s": 2}
        assert "high_s" in lab.put(f"/api/calibrations/{calibration['id']}/range", upside, 422)["error"]["fields"]

    @pytest.mark.long
    def test_values_are_carried_over_from_another_printer(self, lab):
        here = lab.decided()
        lab.issue(here)
        other = lab.post("/api/resins", RESIN | {"name": "Kelp"}, 201)
        twin = lab.post("/api/printers", PRINTER | {"name": "Twin"}, 201)
        shelf = {"material_id": other["id"], "printer_id": here["printer_id"]}
        for at in (shelf, {**shelf, "material_id": here["material_id"], "printer_id": twin["id"]}):
            calibration = lab.calibration(at)
            lab.series(calibration, [1.5, 2.0, 2.6, 3.4, 4.4])
            lab.series(calibration, [1.8, 2.2, 2.8], "support")
            lab.issue(lab.again(calibration))
        for printer, light in ((here["printer_id"], 4.0), (twin["id"], 2.0)):
            lab.post(f"/api/printers/{printer}/plate-maps", {"readings": [[light, light], [light, light]]}, 201)
        new = lab.calibration({"material_id": other["id"], "printer_id": twin["id"]})
        by = {s["key"]: s for s in lab.get(f"/api/calibrations/{new['id']}/sources")["sources"]}
        resin, meter = by["reference resin"], by["light meter"]
        assert "times as long" in resin["basis"] and resin["low_s"] < resin["number_s"] < resin["high_s"]
        assert meter["number_s"] == pytest.approx(
            2
            * next(
                s
                for s in lab.get("/api/board")["cells"]
                if (s["material_id"], s["printer_id"]) == (other["id"], here["printer_id"])
            )["exposure_s"]
        )
        lab.put(
            f"/api/calibrations/{new['id']}/range",
            {
                "version": new["version"],
                "source": "reference resin",
                "low_s": resin["low_s"],
                "high_s": resin["high_s"],
            },
        )

    def test_what_a_calibration_starts_with_is_decided_by_the_server(self, lab):
        shelf = lab.shelf()
        held = lab.get(f"/api/calibration-start?material_id={shelf['material_id']}&printer_id={shelf['printer_id']}")
        assert held["bottle_id"] == shelf["bottle_id"] and held["finish_route_id"] == shelf["finish_route_id"]
        assert held["limits"]["walls_size_mm"] in held["series"]["walls_mm"] and held["source"] == "maker"
        offered = {s["key"]: s for s in held["sources"]}
        assert list(offered) == ["own guess", "maker", "borrowed", "prediction"] and all(
            s["trust"] for s in held["sources"]
        )
        assert offered["prediction"]["low_s"] <= held["guess"]["exposure_s"] <= offered["prediction"]["high_s"]


class TestGridMap:
    def test_a_grid_coupon_becomes_a_plate_map(self, lab, roomy):
        lab.series(roomy, [1.8, 2.2, 2.8])
        (code,) = lab.plan(roomy, [2.4], "grid")
        lab.print(code)
        window = lab.again(roomy)["arms"][0]["window"]
        told = [p for p in window["predictions"] if p["growth_um"] is not None]
        slope = (told[-1]["growth_um"] - told[0]["growth_um"]) / math.log(
            told[-1]["exposure_s"] / told[0]["exposure_s"]
        )
        plan = lab.get(f"/api/coupons/{code}")["plan"]
        bars = [f for f in plan["features"] if f["kind"] == "outer"]
        light = dict(zip([f["key"] for f in bars], [v for row in LIGHT for v in row], strict=True))
        features = [
            {
                "key": f["key"],
                "measured_mm": round(f["size_mm"] + 2 * (20 + slope * math.log(light[f["key"]])) / 1000, 4),
            }
            for f in bars
        ]
        lab.read(code, features)
        assert [r["coupon"] for r in lab.again(roomy)["arms"][0]["window"]["raw"]] == [
            r["coupon"] for r in window["raw"]
        ]
        held = lab.post(f"/api/printers/{roomy['printer_id']}/plate-maps/from-grid", {"coupon": code}, 201)
        assert held["map"]["source"] == "grid coupon"
        relative = held["result"]["relative_dose"]
        for row, wanted in zip(relative, LIGHT, strict=True):
            assert row == pytest.approx(wanted, abs=0.02)

    def test_a_coupon_that_is_no_grid_or_not_measured_is_refused(self, lab, roomy):
        (flat,) = lab.series(roomy, [2.2])
        url = f"/api/printers/{roomy['printer_id']}/plate-maps/from-grid"
        assert "no grid coupon" in lab.post(url, {"coupon": flat}, 422)["error"]["fields"]["coupon"]
        (grid,) = lab.plan(roomy, [2.4], "grid")
        lab.print(grid)
        assert "not measured" in lab.post(url, {"coupon": grid}, 422)["error"]["fields"]["coupon"]


class TestRests:
    @pytest.mark.long
    def test_the_guided_set_changes_the_rest_alone(self, lab):
        calibration = lab.decided()
        rests = lab.get(f"/api/calibrations/{calibration['id']}/arms")["rests"]
        assert rests["rests_s"] == [0.5, 2.0, 4.0] and len(rests["exposures_s"]) == 4 and rests["duration_s"] > 600
        given = {name: rests[name] for name in ("arm_id", "rests_s", "exposures_s")}
        made = lab.post(f"/api/calibrations/{calibration['id']}/rest-arms", given, 201)
        assert len(made["coupons"]) == 12
        arms = lab.again(calibration)["arms"]
        assert [a["settings"]["rest_before_s"] for a in arms] == [1.0, 0.5, 2.0, 4.0]
        for arm in arms[1:]:
            assert {**arm["settings"], "rest_before_s": 1.0} == arms[0]["settings"]
        assert "rests_s" in lab.post(f"/api/calibrations/{calibration['id']}/rest-arms", given, 422)["error"]["fields"]
        for i, arm in enumerate(arms[1:], 1):
            for coupon in arm["coupons"]:
                lab.print(coupon["code"])
                lab.read(coupon["code"], noted("flat", coupon["exposure_s"], lab.noise, rest_s=rests["rests_s"][i - 1]))
        held = lab.get(f"/api/calibrations/{calibration['id']}/arms")
        assert held["rests"] is None
        # Four coupons an arm show the longest to be needed, or say that nothing shorter is shown to be as good.
        found, codes = held["result"]["least_sufficient_rest_s"], {w["code"] for w in held["result"]["warnings"]}
        assert found in (0.5, 1.0, 2.0, 4.0) or (found is None and "rest-not-shown" in codes)

    def test_a_delay_that_includes_the_motion_is_offered_above_it(self, lab):
        calibration = lab.calibration(lab.shelf(delay_includes_motion=True))
        rests = lab.get(f"/api/calibrations/{calibration['id']}/arms")["rests"]
        motion = 6 + 6 * 60 / 150
        assert min(rests["rests_s"]) > motion


class TestArmSettings:
    def test_they_are_corrected_until_something_is_printed(self, lab):
        calibration = lab.calibration()
        arm = calibration["arms"][0]
        given = {"name": arm["name"], "version": 1, "settings": {**arm["settings"], "base_exposure_s": 31}}
        held = lab.put(f"/api/arms/{arm['id']}/settings", given)
        assert held["arms"][0]["settings"]["base_exposure_s"] == 31
        assert "changed meanwhile" in lab.put(f"/api/arms/{arm['id']}/settings", given, 409)["error"]["message"]
        lab.print(lab.plan(calibration, [2.4])[0])
        given |= {"version": held["arms"][0]["version"]}
        given["settings"]["base_exposure_s"] = 40
        assert "another arm" in lab.put(f"/api/arms/{arm['id']}/settings", given, 409)["error"]["message"]
