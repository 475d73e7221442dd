"""Why a print failed, through the API: the record, the checks, the cause that is kept and moves what this shop expects."""

from datetime import timedelta

import pytest

from setback.core.trace.knowledge import KNOWLEDGE


@pytest.fixture
def shelf(lab):
    return lab.shelf()


def log(lab, shelf, whole=4, printed=4, hours_ago=0.0, **changes):
    at = lab.clock.now - timedelta(hours=hours_ago)
    body = {
        "printer_id": shelf["printer_id"],
        "trial": {"material_id": shelf["material_id"], "layer_height_um": 50, "exposure_s": 2.6},
        "started_at": (at - timedelta(hours=1)).isoformat(),
        "finished_at": at.isoformat(),
        "parts": [{"name": "clip", "printed": printed, "whole": whole}],
        "pieces_lost": False,
        **changes,
    }
    return lab.post("/api/prints", body, 201)


def failed(lab, shelf, **changes):
    return log(lab, shelf, whole=0, symptoms=["nothing-on-plate"], **changes)


def opened(lab, row):
    return lab.post("/api/traces", {"print_code": row["code"]}, 201)


def facts(trace):
    return {fact["key"]: fact for fact in trace["record"]}


def lead(trace):
    return trace["result"]["causes"][0]["key"]


def cold_share(trace):
    return next(one["probability"] for one in trace["result"]["causes"] if one["key"] == "cold-resin")


def test_a_failed_print_brings_its_signs_and_its_record(lab, shelf):
    for hours_ago in (12, 9, 6):
        log(lab, shelf, hours_ago=hours_ago)
    lab.post("/api/events", {"kind": "plate-levelled", "printer_id": shelf["printer_id"]}, 201)
    lab.clock.now += timedelta(hours=3)
    row = failed(lab, shelf, bottle_id=shelf["bottle_id"], volume_ml=10)
    trace = opened(lab, row)
    assert trace["symptoms"] == ["nothing-on-plate"] and trace["print"]["code"] == row["code"]
    known = facts(trace)
    assert (known["settings"]["value"], known["whole_before"]["value"], known["new_part"]["value"]) == (
        "trial",
        3,
        "no",
    )
    assert known["level_prints"]["value"] == 0 and known["opacity"]["value"] == "opaque"
    assert known["shaken"]["value"] == "no" and known["shaken"]["link"] == "/bottles/B-001"
    # Of one print there is one trace.
    assert opened(lab, row)["code"] == trace["code"]
    assert [one["print_code"] for one in lab.get("/api/traces")["items"]] == [row["code"]]


def test_a_print_outside_its_sets_band_speaks_for_cold_and_leads_to_a_warm_start(lab):
    calibration = lab.decided()
    card = lab.issue(calibration, temp_low_c=21, temp_high_c=27)
    row = failed(
        lab,
        calibration,
        trial=None,
        set_code=card["code"],
        temp_c=9,
        temp_place="resin",
        outside_band="In a hurry.",
    )
    trace = opened(lab, row)
    assert lead(trace) == "cold-resin" and facts(trace)["below_band_c"]["value"] == 12
    assert "21 to 27 °C" in facts(trace)["below_band_c"]["words"]
    assert 0 < facts(trace)["window_place"]["value"] < 1
    remedy = trace["remedies"][trace["result"]["causes"][0]["remedy"]["key"]]
    assert remedy["link"] == f"/climate/warm-start?printer={calibration['printer_id']}&set={card['code']}"


def test_answers_rank_anew_and_the_newer_of_two_counts(lab, shelf):
    trace = opened(lab, failed(lab, shelf))
    first, at_first = lead(trace), cold_share(trace)
    cold = lab.post(f"/api/traces/{trace['id']}/answers", {"check": "read-resin", "answer": "cold"})
    assert cold_share(cold) > 3 * at_first and "read-resin" not in [one["key"] for one in cold["result"]["next_checks"]]
    right = lab.post(f"/api/traces/{trace['id']}/answers", {"check": "read-resin", "answer": "right"})
    assert cold_share(right) < at_first and [one["code"] for one in right["notices"]] == ["answered-twice"]
    assert [one["counts"] for one in right["answers"]] == [False, True]
    for one in right["answers"]:
        back = lab.post(f"/api/traces/{trace['id']}/answers/{one['id']}/withdraw")
    assert (lead(back), cold_share(back), back["answers"]) == (first, at_first, [])
    lab.post(f"/api/traces/{trace['id']}/answers/{one['id']}/withdraw", None, 409)
    refused = lab.post(f"/api/traces/{trace['id']}/answers", {"check": "read-resin", "answer": "blue"}, 422)
    assert "under 18 °C" in refused["error"]["fields"]["answer"]


def test_a_cause_that_was_found_moves_what_is_expected_until_it_is_taken_back(lab, shelf):
    first = opened(lab, failed(lab, shelf, hours_ago=30))
    for check, answer in (("paper-corners", "off"), ("read-resin", "right")):
        lab.post(f"/api/traces/{first['id']}/answers", {"check": check, "answer": answer})
    kept = lab.post(f"/api/traces/{first['id']}/cause", {"cause": "plate-level"})
    assert kept["found"]["name"] == "Plate out of level or zero" and kept["found"]["initials"] == "IM"
    assert kept["confirmed"] == [], "a trace is not its own witness"
    lab.post(f"/api/traces/{first['id']}/cause", {"cause": "cold-resin"}, 409)
    other = opened(lab, failed(lab, shelf))
    assert other["confirmed"] == [{"key": "plate-level", "name": "Plate out of level or zero", "count": 1}]
    share = {one["key"]: one["probability"] for one in other["result"]["causes"]}
    lab.post(f"/api/traces/{first['id']}/cause/withdraw")
    later = lab.get(f"/api/traces/{other['code']}")
    assert later["confirmed"] == []
    assert {one["key"]: one["probability"] for one in later["result"]["causes"]}["plate-level"] < share["plate-level"]
    lab.post(f"/api/traces/{first['id']}/cause/withdraw", None, 409)


def test_a_cause_that_is_not_in_the_list_is_written_down(lab, shelf):
    trace = opened(lab, failed(lab, shelf))
    refused = lab.post(f"/api/traces/{trace['id']}/cause", {"cause": "other"}, 422)
    assert refused["error"]["fields"]["note"] == "Say what it was."
    kept = lab.post(f"/api/traces/{trace['id']}/cause", {"cause": "other", "note": "The tide shook the shed."})
    assert (kept["found"]["name"], kept["found"]["note"]) == ("Something else", "The tide shook the shed.")


def test_it_begins_from_nothing_too_and_two_people_do_not_overwrite_each_other(lab, shelf):
    trace = lab.post("/api/traces", {"symptoms": ["tacky", "tacky"]}, 201)
    assert trace["print"] is None and trace["symptoms"] == ["tacky"] and trace["record"] == []
    assert trace["remedies"]["film"]["link"] == "/shelf/printers"
    body = {"version": trace["version"], "symptoms": ["tacky", "white-patches"]}
    changed = lab.put(f"/api/traces/{trace['id']}/symptoms", body)
    assert changed["symptoms"] == ["tacky", "white-patches"]
    lab.put(f"/api/traces/{trace['id']}/symptoms", body, 409)
    lab.post("/api/traces", {"symptoms": ["humming"]}, 422)


def test_what_came_out_whole_is_not_traced(lab, shelf):
    lab.post("/api/traces", {"print_code": log(lab, shelf)["code"]}, 409)
    lab.post("/api/traces", {"print_code": "J-999"}, 404)


def test_where_parts_failed_is_told_from_where_they_stood(lab, shelf):
    def at(*failed_at, names="abcdef"):
        spots = [(20, 20), (25, 22), (130, 20), (20, 70), (75, 45), (130, 70)]
        parts = [
            {"name": name, "printed": 1, "whole": 0 if n in failed_at else 1, "x_mm": x, "y_mm": y}
            for n, (name, (x, y)) in enumerate(zip(names, spots, strict=True))
        ]
        row = log(lab, shelf, parts=parts, symptoms=["same-mark"])
        lab.clock.now += timedelta(hours=3)
        return facts(opened(lab, row))["failed_place"]["value"]

    assert at(0, 1) == "one spot"
    assert at(0, 3) == "one side"
    assert at(0, 5) == "scattered"
    assert at(4) == "scattered"
    assert at(*range(6)) == "everywhere"


def test_pieces_of_the_print_before_are_told(lab, shelf):
    log(lab, shelf, whole=2, hours_ago=20, pieces_lost=True, symptoms=["supports-torn"])
    gate = lab.get("/api/gates")["items"][0]
    lab.post(f"/api/prints/{gate['print_id']}/vat-searched")
    trace = opened(lab, failed(lab, shelf))
    assert facts(trace)["pieces_before"]["value"] == "searched for"
    assert facts(trace)["pieces_before"]["link"] == "/log/J-001"


def test_every_remedy_has_a_page_and_none_a_hole_in_its_address(lab, shelf):
    from_print = opened(lab, failed(lab, shelf))["remedies"]
    from_nothing = lab.post("/api/traces", {"symptoms": ["tacky"]}, 201)["remedies"]
    for remedies in (from_print, from_nothing):
        assert set(remedies) == set(KNOWLEDGE.remedies)
        assert all(one["link"] for key, one in remedies.items() if key != "none")
        assert not any("{" in one["link"] for one in remedies.values() if one["link"])
    pair = f"/calibrate/new?material={shelf['material_id']}&printer={shelf['printer_id']}"
    assert from_print["more-light"]["link"] == f"{pair}&height=50&low=2.6&high=3.9"
    assert from_print["less-light"]["link"] == f"{pair}&height=50&low=1.73&high=2.6"
    assert from_print["thicker-layer"]["link"] == f"{pair}&height=100"
    assert from_nothing["thicker-layer"]["link"] == "/calibrate/new"
