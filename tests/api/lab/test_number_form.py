"""Answers in the units and the decimal mark a lab reads: words follow, numbers and files do not."""

import json
from pathlib import Path

import pytest

from setback.core.lab_form import PEOPLE_WRITE

SPEC = json.loads((Path(__file__).parents[3] / "docs" / "openapi.json").read_text())
OURS_TOO = {
    *("basis", "detail", "why", "what", "value", "unit", "condition", "line", "place", "property", "until"),
    *("method", "orientation", "kind", "lane", "symptom", "ticked", "seen", "initials", "printer", "currency"),
    *("best_before", "opened_on", "received_on", "feature", "coupon", "coupons", "answer"),
    *("status", "bottles", "from_at", "in_use_since", "field", "dated"),
}
"""Keys that requests and answers share, but whose words in answers are Setback's, or are no words."""


def strings(schema):
    """Whether a schema is a free text, or holds some."""
    if schema.get("type") == "string" and not {"enum", "const", "format"} & schema.keys():
        return True
    parts = [schema.get("items"), schema.get("additionalProperties"), *schema.get("anyOf", [])]
    return any(strings(part) for part in parts if isinstance(part, dict))


def named(tree, found):
    """The names of all models a part of the spec leads to."""
    for key, part in tree.items() if isinstance(tree, dict) else enumerate(tree):
        if key == "$ref" and (name := part.rsplit("/", 1)[-1]) not in found:
            found.add(name)
            named(SPEC["components"]["schemas"][name], found)
        elif isinstance(part, (dict, list)):
            named(part, found)
    return found


def texts_of(names):
    schemas = SPEC["components"]["schemas"]
    return {key for name in names for key, one in schemas[name].get("properties", {}).items() if strings(one)}


def test_each_text_that_people_write_is_kept_as_they_wrote_it():
    operations = [one for path in SPEC["paths"].values() for one in path.values() if isinstance(one, dict)]
    written = texts_of(named([one.get("requestBody", {}) for one in operations], set()))
    answered = texts_of(named([one.get("responses", {}) for one in operations], set()))
    shared = {key for key in written & answered if not key.endswith(("_id", "_ids", "_column", "_code", "_hash"))}
    assert shared - PEOPLE_WRITE == shared & OURS_TOO


SET = "S-001"


@pytest.fixture
def fahrenheit(demo_lab):
    kept = demo_lab.get("/api/lab-settings")
    demo_lab.put("/api/lab-settings", {**kept, "temperature_unit": "°F", "decimal_mark": ","})
    return demo_lab


def test_a_card_s_band_and_the_errors_at_a_probe_follow_and_the_setting_lines_do_not(fahrenheit):
    card = fahrenheit.get(f"/api/sets/{SET}")
    lines = {line["name"]: (line["value"], line["unit"]) for line in card["lines"]}
    low, high = (float(one) for one in lines["Temperature"][0].replace(",", ".").split(" to "))
    assert lines["Temperature"][1] == "°F"
    assert abs((low - 32) / 1.8 - card["temp_low_c"]) < 0.3
    assert abs((high - 32) / 1.8 - card["temp_high_c"]) < 0.3
    assert lines["Layer height"] == ("0,05", "mm")
    probe = fahrenheit.get("/api/probes")["items"][0]
    told = fahrenheit.post(f"/api/probes/{probe['id']}/samples", {"temp_c": 400, "at": None}, 422)
    assert "°C" not in json.dumps(told, ensure_ascii=False)


def test_files_stay_in_the_units_of_their_heads(fahrenheit):
    as_csv, as_text = (
        fahrenheit.client.get(f"/api/sets/{SET}/file?format={form}").get_data(as_text=True) for form in ("csv", "txt")
    )
    assert "°C" in as_csv and "°F" not in as_csv
    assert "°F" in as_text and "°C" not in as_text


def test_calculators_answer_in_the_units_of_their_contract(fahrenheit):
    asked = {"bath_ml": 300, "bath_c": 45, "resin_g": 900, "resin_c": 15, "target_c": 40}
    told = json.dumps(fahrenheit.post("/api/calculators/water-bath", asked, 200), ensure_ascii=False)
    assert "°C" in told and "°F" not in told
