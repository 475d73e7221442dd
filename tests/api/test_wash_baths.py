"""Wash baths: loads counted from the log, filled anew and as before, and what they say of a print that failed."""

from datetime import timedelta

import pytest

BATH = {"name": "Dirty bath", "wash_fluid": "Solvent", "stage": "dirty", "volume_l": 4, "most_loads": 4}


@pytest.fixture
def card(lab):
    """A set whose parts go through the two-bath route: 20 min drying, 5 min or so of cure."""
    return lab.issue(lab.decided())


def logged(lab, card, **changes):
    lab.clock.now += timedelta(hours=3)
    body = {
        "printer_id": card["printer_id"],
        "set_code": card["code"],
        "started_at": (lab.clock.now - timedelta(hours=1)).isoformat(),
        "finished_at": lab.clock.now.isoformat(),
        "temp_c": 24,
        "temp_place": "resin",
        "parts": [{"name": "clip", "printed": 4, "whole": 4}],
        "pieces_lost": False,
        **changes,
    }
    return lab.post("/api/prints", body, 201)


def bath(lab):
    return lab.get("/api/wash-baths")["items"][0]


def facts(lab, row):
    trace = lab.post("/api/traces", {"print_code": row["code"]}, 201)
    return {fact["key"]: fact for fact in trace["record"]}


def failed(lab, card, **changes):
    return logged(lab, card, parts=[{"name": "clip", "printed": 4, "whole": 0}], symptoms=["tacky"], **changes)


def test_loads_are_counted_from_the_filling_on_and_come_back_with_undo(lab, card):
    added = lab.post("/api/wash-baths", BATH, 201)
    assert (added["loads"], added["version"]) == (0, 1) and added["filled_at"]
    for _ in range(3):
        logged(lab, card)
    # A print of which nobody knows how it is washed is no load of this bath.
    trial = {"material_id": card["material_id"], "layer_height_um": 30, "exposure_s": 2}
    logged(lab, card, set_code=None, trial=trial)
    assert bath(lab)["loads"] == 3
    url = f"/api/wash-baths/{added['id']}/fillings"
    assert lab.post(url, None, 201)["loads"] == 0
    logged(lab, card)
    assert bath(lab)["loads"] == 1
    assert lab.post(f"{url}/withdraw")["loads"] == 4
    lab.post(f"{url}/withdraw")
    refused = lab.post(f"{url}/withdraw", None, 409)
    assert refused["error"]["message"] == "No filling of Dirty bath is noted."
    assert (bath(lab)["filled_at"], bath(lab)["loads"]) == (None, 0)


def test_a_bath_of_another_fluid_has_none_of_them(lab, card):
    lab.post("/api/wash-baths", BATH | {"wash_fluid": "tap water"}, 201)
    logged(lab, card)
    assert bath(lab)["loads"] == 0


@pytest.mark.parametrize(
    ("change", "field"),
    [({"most_loads": 0}, "most_loads"), ({"volume_l": 0}, "volume_l"), ({"stage": "third"}, "stage")],
)
def test_what_cannot_be_a_bath_is_refused_at_its_field(lab, change, field):
    assert field in lab.post("/api/wash-baths", BATH | change, 422)["error"]["fields"]
    assert lab.get("/api/wash-baths")["items"] == []


def test_a_bath_is_changed_once_named_once_and_retired(lab):
    added = lab.post("/api/wash-baths", BATH, 201)
    assert "name" in lab.post("/api/wash-baths", BATH | {"name": "dirty BATH"}, 422)["error"]["fields"]
    changed = lab.put(f"/api/wash-baths/{added['id']}", BATH | {"most_loads": 60, "version": 1})
    assert (changed["most_loads"], changed["version"]) == (60, 2)
    lab.put(f"/api/wash-baths/{added['id']}", BATH | {"version": 1}, 409)
    lab.post(f"/api/wash-baths/{added['id']}/retire")
    assert lab.get("/api/wash-baths")["items"] == []
    lab.post(f"/api/wash-baths/{added['id']}/restore")
    assert bath(lab)["name"] == "Dirty bath"


def test_a_spent_bath_speaks_of_a_tacky_print_and_a_fresh_one_against(lab, card):
    added = lab.post("/api/wash-baths", BATH, 201)
    for _ in range(5):
        logged(lab, card)
    spent = failed(lab, card)
    fact = facts(lab, spent)["bath_share"]
    assert (fact["value"], fact["words"]) == (1.25, "Dirty bath: 5 of 4 loads")
    trace = lab.post("/api/traces", {"print_code": spent["code"]}, 201)
    cause = next(one for one in trace["result"]["causes"] if "bath_share" in [reason["key"] for reason in one["for"]])
    assert trace["remedies"][cause["remedy"]["key"]]["link"] == "/shelf/wash-baths"
    lab.post(f"/api/wash-baths/{added['id']}/fillings", None, 201)
    assert facts(lab, failed(lab, card))["bath_share"]["value"] == 0
    # What was in it when the first print failed does not change with a later filling.
    assert facts(lab, spent)["bath_share"]["value"] == 1.25


def test_drying_and_cure_are_facts_where_somebody_noted_them(lab, card):
    silent = facts(lab, failed(lab, card))
    assert "dried" not in silent and "cure_share" not in silent
    row = failed(lab, card, dry_min=5, cure_min=1)
    noted = facts(lab, row)
    assert noted["dried"]["value"] == "less" and noted["cure_share"]["value"] < 0.5
    assert noted["dried"]["words"] == "dried 5 min, its finish route says 20 min"
    corrected = {"parts": [{"name": "clip", "printed": 4, "whole": 0}], "reason": "Looked at the timer.", "number": 1}
    lab.post(f"/api/prints/{row['id']}/correct", corrected | {"dry_min": 20})
    later = facts(lab, row)
    assert later["dried"]["value"] == "as planned" and "cure_share" not in later
