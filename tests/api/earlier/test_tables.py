"""A table of old settings: opened, matched, checked, taken in with its file, with every bad row at its place."""

import io

import pytest
from openpyxl import Workbook

HEAD = "Resin,Printer,Layer,Bottom time,Exposure,Since\n"


@pytest.fixture
def shelf(lab):
    return lab.shelf()


@pytest.fixture
def names(lab, shelf):
    resin = next(row for row in lab.get("/api/resins")["items"] if row["id"] == shelf["material_id"])
    printer = next(row for row in lab.get("/api/printers")["items"] if row["id"] == shelf["printer_id"])
    return resin["name"], printer["name"]


def opened(lab, text, expected=201):
    return lab.post("/api/earlier-tables/pasted", {"name": "old.csv", "text": text}, expected)


def settings_kind(table):
    return next(kind for kind in table["kinds"] if kind["key"] == "settings")


def request_of(table, **more):
    return {"kind": "settings", "matches": settings_kind(table)["matches"], **more}


def rows(names, count=3, exposure=2.4):
    resin, printer = names
    return "".join(
        f"{resin},{printer},0.05,{24 + i},{exposure + 0.1 * i:.1f},2025-03-{1 + i % 28:02d}\n" for i in range(count)
    )


def test_a_pasted_table_is_matched_checked_and_taken_with_its_rows_and_file(lab, names):
    text = HEAD + rows(names)
    table = opened(lab, text)
    assert table["row_count"] == 3 and {m["field"] for m in settings_kind(table)["matches"]} >= {
        "material",
        "exposure_s",
    }
    checked = lab.post(f"/api/earlier-tables/{table['code']}/check", request_of(table))
    assert (checked["good"], checked["bad"], checked["unknown_names"]) == (3, 0, [])
    assert (
        checked["preview"][0]["words"].endswith("50 µm: 2.4 s, base 24 s")
        and lab.get("/api/provisional-sets")["items"] == []
    )
    taken = lab.post(f"/api/earlier-tables/{table['code']}/take", request_of(table))
    assert (taken["kind"], taken["rows_taken"], taken["rows_left"]) == ("settings", 3, 0)
    sets = lab.get("/api/provisional-sets")["items"]
    assert [(row["exposure_s"], row["table_code"], row["table_row"]) for row in sets] == [
        (2.6, "TB-001", 4),
        (2.5, "TB-001", 3),
        (2.4, "TB-001", 2),
    ]
    assert lab.client.get(f"/api/earlier-tables/{table['code']}/file").data == text.encode()
    lab.post(f"/api/earlier-tables/{table['code']}/take", request_of(table), 409)
    assert opened(lab, text)["taken_before"] == "TB-001"


def test_names_the_shelf_does_not_know_are_asked_for_and_may_be_left_out(lab, names):
    resin, printer = names
    table = opened(
        lab,
        f"{HEAD}Old grey,{printer},50,24,2.4,2025\nOld grey,{printer},50,24,2.6,2025\nLost,{printer},50,24,2,2025\n",
    )
    url = f"/api/earlier-tables/{table['code']}"
    checked = lab.post(f"{url}/check", request_of(table))
    assert [(row["name"], row["rows"]) for row in checked["unknown_names"]] == [("Old grey", 2), ("Lost", 1)]
    assert checked["bad"] == 3 and "Old grey" in checked["problems"][0]["message"]
    material = next(row["id"] for row in checked["choices"]["material"] if row["name"] == resin)
    matched = request_of(table, names={"material": {"Old grey": material, "Lost": ""}})
    checked = lab.post(f"{url}/check", matched)
    assert (checked["good"], checked["bad"], checked["left_out"]) == (2, 0, 1)
    assert lab.post(f"{url}/take", matched)["rows_left"] == 1


@pytest.mark.long
def test_of_five_thousand_rows_ten_are_bad_and_the_good_are_kept_only_when_asked(lab, names):
    resin, printer = names
    lines = [
        f"{resin},{printer},{20 + i // 60},{20 + i % 60}.{i % 7},{2 + (i % 60) / 100:.2f},2025-03-01\n"
        for i in range(5000)
    ]
    for i in range(10):
        lines[7 + 400 * i] = f"{resin},{printer},50,24,bad {i},2025-03-01\n"
    table = opened(lab, HEAD + "".join(lines))
    url = f"/api/earlier-tables/{table['code']}"
    checked = lab.post(f"{url}/check", request_of(table))
    assert checked["bad"] == 10 and [problem["row"] for problem in checked["problems"]] == [
        9 + 400 * i for i in range(10)
    ]
    assert {problem["column"] for problem in checked["problems"]} == {"Exposure"}
    refused = lab.post(f"{url}/take", request_of(table), 409)["error"]
    assert "row 9, Exposure" in refused["message"] and "leave_out_bad" in refused["fields"]
    assert lab.get("/api/provisional-sets")["items"] == []
    taken = lab.post(f"{url}/take", request_of(table, leave_out_bad=True))
    assert (taken["rows_taken"], taken["rows_left"]) == (4990, 10)


def test_a_spreadsheet_is_unpacked_apart_and_a_file_that_is_none_is_refused(lab, names):
    workbook = Workbook()
    workbook.active.append(["Resin", "Printer", "Exposure", "Layer"])
    workbook.active.append([*names, 2.4, 0.05])
    content = io.BytesIO()
    workbook.save(content)
    headers = {"Setback-Technician": "IM"}
    answer = lab.client.post("/api/earlier-tables?name=old.xlsx", data=content.getvalue(), headers=headers)
    assert answer.status_code == 201 and answer.json["columns"] == ["Resin", "Printer", "Exposure", "Layer"]
    for broken in (b"PK\x03\x04 broken", b"\x89PNG\r\n", b"", b"one\n"):
        answer = lab.client.post("/api/earlier-tables?name=x", data=broken, headers=headers)
        assert answer.status_code == 422 and "file" in answer.json["error"]["fields"]


def test_matches_that_make_no_sense_are_refused_at_their_place(lab, names):
    table = opened(lab, HEAD + rows(names))
    url = f"/api/earlier-tables/{table['code']}/check"
    matches = settings_kind(table)["matches"]
    fields = lab.post(url, {"kind": "settings", "matches": matches[1:]}, 422)["error"]["fields"]
    assert "Material" in fields["matches"]
    twice = [*matches, {"field": "note", "column": "Nowhere"}]
    assert (
        f"matches.{len(matches)}.column"
        in lab.post(url, {"kind": "settings", "matches": twice}, 422)["error"]["fields"]
    )
    lab.post("/api/earlier-tables/TB-999/check", request_of(table), 404)
