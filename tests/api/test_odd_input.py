"""Requests that no person sends: each gets a clear refusal, at its place, and none ends in a 500."""

import json
import time

import pytest

from tests.lab import RESIN

JSON = "application/json"
RESIN_TEXT = json.dumps(RESIN)


def sent(lab, url, text, expected):
    answer = lab.client.post(url, data=text, content_type=JSON, headers={"Setback-Technician": "IM"})
    assert answer.status_code == expected, answer.get_data(as_text=True)
    return answer.get_json()["error"]


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("[" * 100_000, "nested too deep"),
        ('{"a":' * 50_000 + "1" + "}" * 50_000, "nested too deep"),
        ('{"a":' * 60 + "1" + "}" * 60, "nested too deep"),
        ('{"name": ' + "9" * 5000 + "}", "thousands of digits"),
        ("{", "not valid JSON"),
    ],
)
@pytest.mark.parametrize("url", ["/api/resins", "/api/calculators/print-time"])
def test_json_that_is_none(lab, url, text, words):
    assert words in sent(lab, url, text, 422)["message"]


@pytest.mark.parametrize(
    ("url", "text", "field"),
    [
        ("/api/resins", json.dumps(RESIN | {"name": "Slate\0"}), "name"),
        ("/api/resins", json.dumps(RESIN | {"name": "Slate \ud800"}), "name"),
        ("/api/calculators/print-time", '{"layers": 10, "exposure_s": 5e-324}', "exposure_s"),
        ("/api/calculators/print-time", '{"layers": 10, "exposure_s": 1e400}', "exposure_s"),
        ("/api/calculators/print-time", '{"layers": 10, "exposure_s": NaN}', "exposure_s"),
    ],
)
def test_values_that_are_none_are_refused_at_their_place(lab, url, text, field):
    assert list(sent(lab, url, text, 422)["fields"]) == [field]


@pytest.mark.parametrize("day", ["0044-01-01", "9999-12-31", "2026-02-30", "99999-01-01"])
def test_days_no_bottle_was_bought_on(lab, day):
    material = lab.post("/api/resins", RESIN, 201)["id"]
    body = {"material_id": material, "lot": "A", "received_on": day, "volume_ml": 1000}
    assert "received_on" in lab.post("/api/bottles", body, 422)["error"]["fields"]


@pytest.mark.parametrize("path", ["x" * 60_000, "%00", "..%2f..%2fetc%2fpasswd", "%ff%fe", "a?limit=" + "9" * 5000])
def test_paths_that_lead_nowhere(lab, path):
    assert lab.client.get(f"/api/resins/{path}").status_code in (400, 404, 422)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        (b"time,temp\r1,2\r3,4\r", "carriage returns alone"),
        (b"\0\0\0", "no text file"),
        (b"time," + b"t" * 300 + b"\n1,2\n3,4\n", "longer than 200 letters"),
    ],
)
def test_loggers_files_that_are_none(lab, text, words):
    answer = lab.client.post("/api/probe-files?name=a.csv", data=text)
    assert answer.status_code == 422 and words in answer.get_json()["error"]["message"], answer.json


@pytest.mark.parametrize("cell", ["1" * 20_000 + " " * 20_000 + ",", "12:34 " * 8000, "1.1." * 10_000, "+" * 40_000])
def test_a_crafted_cell_holds_nobody_up(lab, cell):
    began = time.monotonic()
    rows = "".join(f"2026-01-0{day} 10:00;{20 + day}\n" for day in range(1, 9))
    text = f"time;temp\n{rows}{cell};20\n2026-01-09 09:00;{cell}\n"
    file = lab.client.post("/api/probe-files?name=a.csv", data=text.encode())
    assert file.status_code in (201, 422)
    # Twenty-one seconds it took once; a slow machine takes a tenth.
    assert time.monotonic() - began < 5
    if file.status_code == 422:
        return
    probe = lab.post("/api/probes", {"name": "Shelf", "place": "room", "driver": "hand"}, 201)["id"]
    mapping = {"time_column": "time", "temp_column": "temp", "leave_out_unreadable": True}
    body = {"file_id": file.json["id"], "mapping": mapping}
    job = lab.ended(lab.post(f"/api/probes/{probe}/imports", body, 201))
    assert job["result"]["new"] == 8 and "longer than 200 letters" in " ".join(job["result"]["examples"])


def test_the_number_of_a_request_stands_in_its_answer_and_in_its_error(lab):
    answer = lab.client.get("/api/none")
    assert answer.get_json()["error"]["request"] == answer.headers["Setback-Request"]
    assert len(answer.headers["Setback-Request"]) == 8
