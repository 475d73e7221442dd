"""Everything known of one material, or one printer, in one place."""

from tests.lab import RESIN


def test_a_material_page_gathers_sets_depth_bottles_events_campaigns_and_prints(lab):
    calibration = lab.decided()
    card = lab.issue(calibration, temp_low_c=22, temp_high_c=26)
    held = lab.post(f"/api/calibrations/{calibration['id']}/depth-squares", {"exposures_s": [3.0, 6.0, 12.0]}, 201)
    for square, thick in zip(held["squares"], (0.15, 0.25, 0.35), strict=True):
        lab.post(f"/api/depth-squares/{square['id']}/readings", {"thicknesses_mm": [thick]}, 201)
    lab.post(
        "/api/prints",
        {"printer_id": calibration["printer_id"], "set_code": card["code"], "parts": [{"name": "clip"}]},
        201,
    )
    lab.post("/api/events", {"kind": "dye-added", "bottle_id": calibration["bottle_id"]}, 201)
    page = lab.get(f"/api/materials/{calibration['material_id']}/page")
    (line,) = page["sets"]
    assert line["code"] == card["code"] and line["state"] == "lapsed" and line["why"].startswith("Dye")
    assert 0.1 < page["curve"]["penetration_depth_mm"] < 0.2 and page["curve"]["squares"] == 3
    assert page["temperature"] is None and "another temperature" in page["temperature_missing"]
    assert page["bottles"][0]["left_ml"] == 1000 and page["campaigns"][0]["set_code"] == card["code"]
    assert [e["kind"] for e in page["events"]] == ["dye-added"] and page["prints"][0]["set_code"] == card["code"]


def test_two_policies_at_two_temperatures_tell_no_effect(lab):
    calibration = lab.decided()
    policies = calibration["arms"][0]["window"]["policies"]
    lab.issue(calibration, temp_low_c=25, temp_high_c=27)
    lab.issue(
        calibration,
        policy="hardest-in-tolerance",
        exposure_s=policies["hardest-in-tolerance"],
        temp_low_c=15,
        temp_high_c=17,
    )
    assert lab.again(calibration)["temperature"] is None


def test_versions_at_several_temperatures_tell_the_effect_decide_shows_it_and_only_a_shown_one_corrects(lab):
    calibration = lab.decided()
    centre = calibration["arms"][0]["window"]["policies"]["centre"]

    def issue(exposure_s, temp_c):
        return lab.issue(
            calibration, policy="own choice", exposure_s=exposure_s, temp_low_c=temp_c - 1, temp_high_c=temp_c + 1
        )

    issue(centre + 0.4, 16)
    issue(centre, 26)
    effect = lab.again(calibration)["temperature"]
    assert effect["percent_per_c"] < 0 and effect["fitted_range_c"] == [16, 26]
    # Two temperatures make a line, but nothing says how sure it is: the card corrects by nothing.
    assert effect["percent_per_c_ci"] is None and issue(centre, 26)["correction"] is None
    card = issue(centre + 0.2, 21)
    assert lab.again(calibration)["temperature"]["percent_per_c_ci"][1] < 0
    correction = lab.get(f"/api/sets/{card['code']}")["correction"]
    assert all(
        row["low_s"] <= row["exposure_s"] + 0.05 and row["exposure_s"] - 0.05 <= row["high_s"]
        for row in correction["rows"]
    )
    cold = next(row for row in correction["rows"] if row["temp_c"] == 16)
    assert cold["low_s"] < cold["high_s"] and cold["exposure_s"] > card["exposure_s"]
    told = next(
        x["value"] for x in lab.get(f"/api/sets/{card['code']}")["lines"] if x["name"] == "Exposure by temperature"
    )
    assert f"({cold['low_s']:.3g} to {cold['high_s']:.3g}) at 16 °C" in told
    # More light when warmer is the wrong way round: no correction, whatever the interval says.
    for exposure_s, temp_c in ((centre + 0.6, 34), (centre + 0.6, 34), (centre + 0.6, 35), (centre + 0.6, 36)):
        issue(exposure_s, temp_c)
    assert lab.again(calibration)["temperature"]["percent_per_c"] > 0
    assert lab.get(f"/api/sets/{card['code']}")["correction"] is None


def test_a_printer_page_gathers_sets_chart_plate_and_prints(lab):
    calibration = lab.decided()
    lab.issue(calibration)
    url = f"/api/printers/{calibration['printer_id']}"
    lab.post(f"{url}/plate-maps", {"readings": [[1, 1], [1, 0.9]]}, 201)
    lab.post(f"{url}/defects", {"x_mm": 5, "y_mm": 5, "note": "scratch"}, 201)
    page = lab.get(f"{url}/page")
    assert page["sets"][0]["state"] == "issued" and page["map_source"] == "light meter"
    assert page["defects"][0]["note"] == "scratch" and page["chart"]["chart"] is None and len(page["prints"]) == 8


def test_an_empty_material_has_a_page_too_and_an_unknown_one_has_none(lab):
    resin = lab.post("/api/resins", RESIN, 201)
    page = lab.get(f"/api/materials/{resin['id']}/page")
    assert page["sets"] == [] and page["axis_s"] is None and page["curve"]["squares"] == 0
    lab.get("/api/materials/nothing/page", 404)
    lab.get("/api/printers/nothing/page", 404)


def test_a_printer_page_lists_its_last_twelve_prints(lab):
    calibration = lab.calibration()
    for exposure_s in range(2, 15):
        (code,) = lab.plan(calibration, [float(exposure_s)])
        lab.print(code)
    prints = lab.get(f"/api/printers/{calibration['printer_id']}/page")["prints"]
    log = lab.get(f"/api/prints?printer={calibration['printer_id']}&limit=50")["items"]
    assert len(log) == 13 and [row["code"] for row in prints] == [row["code"] for row in log[:12]]
