"""The card of an issued set: lines, versions side by side, and the files it leaves as."""

import csv
import io

import pypdfium2
import pytest


@pytest.fixture
def issued(lab):
    calibration = lab.decided()
    return calibration, lab.issue(calibration)


def test_two_versions_stand_line_by_line(lab, issued):
    calibration, first = issued
    window = calibration["arms"][0]["window"]
    support = window["policies"]["support-safe"]
    second = lab.issue(calibration, policy="support-safe", exposure_s=support, temp_low_c=22, temp_high_c=27)
    held = lab.get(f"/api/sets/{second['code']}/compare?other={first['code']}")
    changed = {line["name"]: (line["this"], line["other"]) for line in held["lines"] if line["changed"]}
    assert changed["Exposure"] == (f"{support:.1f}", f"{first['exposure_s']:.1f}")
    assert changed["Temperature"] == ("22 to 27", "not noted") and "Lift speed" not in changed
    assert held["changed"] == len(changed)


def test_sets_of_different_pairs_are_not_compared(lab, issued):
    calibration, first = issued
    other = lab.calibration({k: calibration[k] for k in ("material_id", "printer_id")}, layer_height_um=100)
    lab.series(other, [1.5, 2.0, 2.6, 3.4, 4.4])
    lab.series(other, [1.8, 2.2, 2.8], "support")
    second = lab.issue(lab.again(other))
    assert "other" in lab.get(f"/api/sets/{second['code']}/compare?other={first['code']}", 422)["error"]["fields"]


def test_the_card_leaves_as_text_csv_json_and_a_page(lab, issued):
    _, card = issued
    url = f"/api/sets/{card['code']}/file?format="
    text = lab.client.get(url + "txt").get_data(as_text=True)
    assert card["code"] in text and "Exposure" in text and card["hash"] in text
    rows = list(csv.DictReader(io.StringIO(lab.client.get(url + "csv").get_data(as_text=True))))
    assert {r["name"]: r["value"] for r in rows}["Exposure"] == f"{card['exposure_s']:.1f}"
    assert lab.client.get(url + "json").get_json()["hash"] == card["hash"]
    with pypdfium2.PdfDocument(lab.client.get(url + "pdf").data) as paper:
        said = paper[0].get_textpage().get_text_range()
    assert f"{card['exposure_s']:.1f} s" in said and card["hash"] in said and "Support" not in said.split("Why")[0][:10]


def test_plate_and_confirmation_are_carried_to_the_card(lab, issued):
    calibration, card = issued
    assert card["usable_pct"] is None and not card["confirmed"]
    light = {"readings": [[0.5, 1.0], [1.0, 1.0]], "reference_cell": [1, 1]}
    lab.post(f"/api/printers/{calibration['printer_id']}/plate-maps", light, 201)
    for place in ("centre", "worst place"):
        given = {"arm_id": calibration["arms"][0]["id"], "exposure_s": card["exposure_s"], "place": place}
        lab.post(f"/api/calibrations/{calibration['id']}/confirm", given, 201)
    held = lab.get(f"/api/sets/{card['code']}")
    assert held["usable_pct"] == 75 and held["confirmed"] and len(held["confirmations"]) == 2
    lines = {line["name"]: line["value"] for line in held["lines"]}
    assert lines["Usable plate"] == "75" and lines["Confirmed"] == "centre and worst place"
    assert held["hash"] == card["hash"]
    assert {e["label"] for e in held["evidence"]} >= {*card["coupons"], "confirmation"}
