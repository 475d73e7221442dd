"""Results and prints from before: kept as imported, with their file, and marked; nothing here is moved by them."""

import pytest

from setback.core.earlier.pooled import EarlierValue, pooled
from tests.lab import brief


@pytest.fixture
def shelf(lab):
    shelf = lab.shelf()
    names = {row["id"]: row["name"] for kind in ("resins", "printers") for row in lab.get(f"/api/{kind}")["items"]}
    return {"material": names[shelf["material_id"]], "printer": names[shelf["printer_id"]], **shelf}


def taken(lab, kind, text, **more):
    table = lab.post("/api/earlier-tables/pasted", {"name": "old.csv", "text": text}, 201)
    matches = next(one for one in table["kinds"] if one["key"] == kind)["matches"]
    request = {"kind": kind, "matches": matches, **more}
    checked = lab.post(f"/api/earlier-tables/{table['code']}/check", request)
    assert checked["bad"] == 0, checked["problems"]
    return lab.post(f"/api/earlier-tables/{table['code']}/take", request), checked


def test_raw_values_and_means_become_one_mean_that_is_marked_as_imported(lab, shelf):
    text = "Resin,Property,Value,n,sd,Date\n" + "".join(
        f"{shelf['material']},cantilever-bend.strength,{value},{n},{sd},2024-05-0{at}\n"
        for at, (value, n, sd) in enumerate([(60, "", ""), (66, "", ""), (63, 4, 2)], 1)
    )
    kept, checked = taken(lab, "results", text)
    assert kept["rows_taken"] == 3 and "MPa, n = 4, sd 2" in checked["preview"][2]["words"]
    (line,) = lab.get(f"/api/materials/{shelf['material_id']}/earlier-results")["items"]
    assert line["n"] == 6 and line["mean"] == pytest.approx(63) and line["sd"] == pytest.approx((30 / 5) ** 0.5)
    assert (
        line["words"].endswith("n = 6, imported") and line["tables"] == ["TB-001"] and line["last_on"] == "2024-05-03"
    )
    # They never speak for a set.
    assert lab.get(f"/api/qualify/{brief(lab)['code']}")["candidates"] == []
    assert lab.get("/api/properties")["materials"] == []


def test_a_property_nobody_knows_is_asked_for(lab, shelf):
    text = f"Resin,Property,Value\n{shelf['material']},Toughness,60\n"
    table = lab.post("/api/earlier-tables/pasted", {"name": "old.csv", "text": text}, 201)
    matches = next(one for one in table["kinds"] if one["key"] == "results")["matches"]
    request = {"kind": "results", "matches": matches}
    checked = lab.post(f"/api/earlier-tables/{table['code']}/check", request)
    assert [row["name"] for row in checked["unknown_names"]] == ["Toughness"]
    assert any(one["id"] == "cantilever-bend.strength" for one in checked["choices"]["property"])
    chosen = request | {"names": {"property": {"Toughness": "cantilever-bend.strength"}}}
    assert lab.post(f"/api/earlier-tables/{table['code']}/check", chosen)["good"] == 1


def test_prints_that_were_counted_come_in_with_their_counts(lab, shelf):
    """A column called OK may hold how many were whole: twelve of sixteen is no whole print."""
    text = "Date,Resin,Printer,Part,Printed,OK\n" + "".join(
        f"2024-0{at + 1}-14,{shelf['material']},{shelf['printer']},funnel,16,{whole}\n"
        for at, whole in enumerate((12, 16, 0, 1))
    )
    kept, _ = taken(lab, "prints", text)
    assert kept["rows_taken"] == 4
    rows = lab.get("/api/prints")["items"]
    assert sorted(row["outcome"] for row in rows) == ["failed", "missing parts", "missing parts", "whole"]
    assert sorted(row["parts"][0]["whole"] for row in rows) == [0, 1, 12, 16]


@pytest.mark.parametrize(("ok", "message"), [("17", "17 whole of 16"), ("-", "Say how it came out")])
def test_a_count_that_cannot_be_is_a_bad_row(lab, shelf, ok, message):
    rows = "".join(
        f"2024-01-14,{shelf['material']},{shelf['printer']},funnel,16,{whole}\n" for whole in ("12", "14", ok)
    )
    text = "Date,Resin,Printer,Part,Printed,OK\n" + rows
    table = lab.post("/api/earlier-tables/pasted", {"name": "old.csv", "text": text}, 201)
    matches = next(one for one in table["kinds"] if one["key"] == "prints")["matches"]
    checked = lab.post(f"/api/earlier-tables/{table['code']}/check", {"kind": "prints", "matches": matches})
    assert (checked["good"], checked["bad"]) == (2, 1)
    assert message in checked["problems"][0]["message"]


def test_prints_from_before_stand_in_the_log_and_move_nothing(lab, shelf):
    before = lab.get("/api/printers")["items"][0]["screen_hours"]
    text = "Date,Resin,Printer,Exposure,Layer,Part,How many,Outcome,ml\n" + "".join(
        f"2024-0{1 + at % 9}-1{at % 9},{shelf['material']},{shelf['printer']},{exposure},0.05,clip,4,{outcome},12\n"
        for at, (exposure, outcome) in enumerate(
            [(1.6, "failed"), (2.2, "ok"), (2.6, "ok"), (3.2, "some missing"), (2.4, "ok")]
        )
    )
    kept, _ = taken(lab, "prints", text)
    assert kept["rows_taken"] == 5
    rows = lab.get("/api/prints")["items"]
    assert [row["imported"] for row in rows] == [True] * 5 and {row["outcome"] for row in rows} == {
        "whole",
        "failed",
        "missing parts",
    }
    assert rows[0]["started_from"] == "TB-001" and rows[0]["settings_note"].startswith("Imported: row ")
    assert lab.get("/api/printers")["items"][0]["screen_hours"] == before
    evidence = lab.get(
        f"/api/materials/{shelf['material_id']}/print-evidence?printer={shelf['printer_id']}&layer_height_um=50"
    )
    assert evidence["prints"] == 5
    assert [one["message"] for one in evidence["notices"]] == ["5 of these prints were imported from a table."]
    # No gate is shut by a failure of years ago.
    start = {
        "printer_id": shelf["printer_id"],
        "trial": {"material_id": shelf["material_id"], "layer_height_um": 50, "exposure_s": 2.4},
    }
    lab.post("/api/prints/start", start | {"parts": [{"name": "clip"}]}, 201)


def test_a_print_of_tomorrow_is_refused_at_its_cell(lab, shelf):
    text = f"Date,Resin,Printer,Outcome\n2031-01-01,{shelf['material']},{shelf['printer']},ok\n"
    table = lab.post("/api/earlier-tables/pasted", {"name": "old.csv", "text": text}, 201)
    matches = next(one for one in table["kinds"] if one["key"] == "prints")["matches"]
    checked = lab.post(f"/api/earlier-tables/{table['code']}/check", {"kind": "prints", "matches": matches})
    assert [(row["row"], row["column"]) for row in checked["problems"]] == [(2, "Date")]


def test_means_without_their_spread_say_nothing_of_it():
    assert pooled([EarlierValue(value=60, n=5)]).sd is None
    assert pooled([EarlierValue(value=60)]).sd is None
    whole = [57.0, 60.0, 61.0, 64.0, 68.0]
    parts = [EarlierValue(value=value) for value in whole[:2]] + [EarlierValue(value=193 / 3, n=3, sd=3.51188458)]
    assert pooled(parts).sd == pytest.approx(pooled([EarlierValue(value=value) for value in whole]).sd)
    with pytest.raises(ValueError):
        pooled([])


def test_pours_from_before_stand_with_their_bottle_and_move_nothing(lab, shelf):
    bottle = lab.get("/api/bottles")["items"][0]
    text = (
        f"Date,Bottle,ml,Printer\n2024-05-01,{bottle['code']},180,{shelf['printer']}\n2024-05-20,{bottle['lot']},60,\n"
    )
    kept, checked = taken(lab, "pours", text)
    assert kept["rows_taken"] == 2 and checked["preview"][0]["words"].endswith(f"into the vat of {shelf['printer']}")
    rows = lab.get(f"/api/bottles/{bottle['id']}/earlier-pours")["items"]
    assert [(row["volume_ml"], row["printer"]) for row in rows] == [(180, shelf["printer"]), (60, None)]
    assert lab.get("/api/bottles")["items"][0]["left_ml"] == bottle["left_ml"]
    assert lab.get(f"/api/printers/{shelf['printer_id']}/vat")["volume_ml"] == 0


def test_temperatures_become_samples_of_their_probe_in_the_time_zone_of_the_table(lab):
    probe = lab.post("/api/probes", {"name": "Shed wall", "place": "room", "printer_id": None}, 201)
    text = "Time,Temp,Probe\n" + "".join(f"2025-07-0{day} 14:30,{20 + day},Shed wall\n" for day in range(1, 6))
    kept, _ = taken(lab, "temperatures", text, time_zone="Europe/London", date_order="ymd")
    assert kept["rows_taken"] == 5
    trace = lab.get(f"/api/probes/{probe['id']}/trace?from_at=2025-07-01T00:00:00Z&to_at=2025-07-08T00:00:00Z")
    assert "2025-07-01T13:30" in str(trace)


@pytest.mark.parametrize(
    ("cell", "words"), [("2025-07-01", "no time"), ("2031-07-01 10:00", "not come yet"), ("yesterday", "no date")]
)
def test_a_temperature_without_a_moment_is_refused_at_its_cell(lab, cell, words):
    lab.post("/api/probes", {"name": "Shed wall", "place": "room", "printer_id": None}, 201)
    table = lab.post(
        "/api/earlier-tables/pasted", {"name": "t", "text": f"Time,Temp,Probe\n{cell},21,Shed wall\n"}, 201
    )
    matches = next(one for one in table["kinds"] if one["key"] == "temperatures")["matches"]
    request = {"kind": "temperatures", "matches": matches}
    problem = lab.post(f"/api/earlier-tables/{table['code']}/check", request)["problems"][0]
    assert problem["column"] == "Time" and words in problem["message"]
    wrong = lab.post(f"/api/earlier-tables/{table['code']}/check", request | {"time_zone": "Skerry/Point"}, 422)
    assert "time_zone" in wrong["error"]["fields"]
