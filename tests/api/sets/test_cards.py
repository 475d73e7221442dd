"""The card of an issued set: lines, versions side by side, and the files it leaves as."""

import csv
import io
import json

import pypdfium2
import pytest

from setback.services.sets.cards import chance_words
from setback.store.database import connect


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


@pytest.mark.parametrize(("chance", "words"), [(0.9998, ">99"), (0.994, "99"), (0.9, "90"), (0.0, "<1")])
def test_a_chance_is_never_said_to_be_certain(chance, words):
    assert chance_words(chance) == words


SINCE = {
    "": (
        "method",
        "p_holds",
        "p_window",
        "missing_lanes",
        "decision",
        "contradictions",
        "reference_temp_c",
        "cut_offs",
        "policies_p",
    ),
    "lanes": ("found", "binding"),
    "predictions": (
        "p",
        "offered",
        "tip_ci",
        "part_ci",
        "walls_ci",
        "slots_ci",
        "bloom_ci_um",
        "margin_lower_ci_pct",
        "margin_upper_ci_pct",
    ),
}
"""Keys that a set issued by the method before chances does not carry."""


def made_earlier(db_path, code: str) -> None:
    """Write the set as that method kept it; the triggers that hold evidence stand in the way, and are put aside."""
    db = connect(db_path)
    db.execute("DROP TRIGGER parameter_set_kept")
    result = json.loads(db.execute("SELECT result FROM parameter_set WHERE code = ?", (code,)).fetchone()[0])
    for name in SINCE[""]:
        del result[name]
    for lane in result["lanes"].values():
        for name in SINCE["lanes"]:
            del lane[name]
        lane |= {"lower_capped": False, "upper_capped": True}
    for prediction in result["predictions"]:
        for name in SINCE["predictions"]:
            del prediction[name]
    db.execute("UPDATE parameter_set SET result = ? WHERE code = ?", (json.dumps(result), code))
    db.close()


def test_a_set_of_the_earlier_method_keeps_its_window_says_so_and_can_be_looked_at_anew(lab, db_path, issued):
    calibration, card = issued
    assert card["earlier_method"] is False and card["chance"] >= 0.9
    made_earlier(db_path, card["code"])
    kept = lab.get(f"/api/sets/{card['code']}")
    assert kept["earlier_method"] is True and kept["chance"] is None
    assert kept["window"]["window"] == card["window"]["window"]
    lines = {line["name"]: line["value"] for line in kept["lines"]}
    assert lines["Window by"] == "the earlier method, without chances" and "All requirements hold with" not in lines
    anew = lab.get(f"/api/sets/{card['code']}/anew")
    assert anew["chance"] == card["chance"] and anew["offered"] is True
    assert anew["window"]["window"] == calibration["arms"][0]["window"]["window"]
    # It is still checked, carried on the Board, and judged, as it was issued.
    check = lab.post(f"/api/sets/{card['code']}/check", None, 201)["coupon"]
    lab.print(check)
    lab.read(check)
    assert lab.get(f"/api/sets/{card['code']}/life")["checks"][0]["passed"] is True
    assert lab.get("/api/board")["cells"][0]["lower_s"] == card["window"]["window"]["lower_s"]


def test_a_reason_outside_an_offer_is_on_every_form_of_the_card(lab):
    calibration = lab.decided()
    reason = "A mould of one day, for the tide of Thursday; what a tight slot does there does not matter to anybody."
    card = lab.issue(calibration, policy="own choice", exposure_s=4.5, outside_reason=reason)
    url = f"/api/sets/{card['code']}/file?format="
    for form in ("txt", "csv", "json"):
        assert reason in lab.client.get(url + form).get_data(as_text=True)
    with pypdfium2.PdfDocument(lab.client.get(url + "pdf").data) as paper:
        said = " ".join(paper[0].get_textpage().get_text_range().split())
    assert "Issued outside an offer" in said and "does not matter to anybody." in said


def test_a_set_issued_outside_an_offer_without_any_window_breaks_no_page(lab):
    calibration = lab.calibration()
    lab.series(calibration, [2.6])
    calibration = lab.again(calibration)
    assert calibration["arms"][0]["window"]["window"] is None
    card = lab.issue(calibration, policy="own choice", exposure_s=2.6, outside_reason="The tide does not wait.")
    assert card["chance"] is None and "Window" not in {line["name"] for line in card["lines"]}
    code, printer = card["code"], f"/api/printers/{calibration['printer_id']}"
    check = lab.post(f"/api/sets/{code}/check", None, 201)["coupon"]
    lab.print(check)
    lab.read(check)
    places = (
        f"/api/sets/{code}/life",
        f"/api/sets/{code}/anew",
        f"/api/materials/{calibration['material_id']}/page",
        f"{printer}/page",
        f"/api/calibrations/{calibration['id']}/confirm",
    )
    for place in places:
        lab.get(place)
    assert lab.get(f"{printer}/plate")["sets"] == []
    assert lab.get("/api/board")["cells"][0]["lower_s"] is None
    for form in ("txt", "csv", "json", "pdf"):
        assert lab.client.get(f"/api/sets/{code}/file?format={form}").status_code == 200
