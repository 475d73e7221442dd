"""What counts as evidence for a set, and why the rest does not: only this set, under these conditions."""

import pytest

from setback.core.testing.methods import METHODS
from tests.specimens import make_all, read_all, setup_of

METHOD = METHODS["flexing"]


@pytest.fixture
def brief(lab):
    line = {"property": "flexing.cycles", "at": "least", "limit": 50, "conditions": [{"key": "temp_c", "value": 10}]}
    return lab.post("/api/briefs", {"name": "Clip", "requirements": [line]}, 201)["code"]


def a_read_test(lab, issued, **changes):
    group = {"material_id": issued["material_id"], "set_code": issued["set_code"]} | changes.pop("group", {})
    setup = setup_of(METHOD) | {"temp_c": 10} | changes.pop("setup", {})
    plan = {"method": METHOD.key, "setup": setup, "each": 6, "groups": [group], "concerns_reason": "to know", **changes}
    test = lab.post("/api/tests", plan, 201)
    read_all(lab, METHOD, make_all(lab, test))
    return test["code"]


def judged(lab, brief, issued):
    (line,) = lab.get(f"/api/qualify/{brief}/{issued['set_code']}")["judged"]
    return line


def test_a_test_of_this_set_under_these_conditions_counts(lab, issued, brief):
    code = a_read_test(lab, issued)
    line = judged(lab, brief, issued)
    assert line["used"]["source"] == code and line["used"]["n"] == 6 and line["left_out"] == []
    assert "temperature of the specimen 10 °C" in line["used"]["made_under"]


def test_the_newest_of_two_counts_unless_they_exclude_each_other(lab, issued, brief):
    a_read_test(lab, issued)
    newer = a_read_test(lab, issued)
    assert judged(lab, brief, issued)["used"]["source"] == newer


def test_one_print_counts_for_itself_and_shows_nothing_of_the_material(lab, issued, brief):
    a_read_test(lab, issued, prints=1)
    line = judged(lab, brief, issued)
    assert line["used"]["prints"] == 1 and line["status"] == "not shown" and line["sure"] == "one print"
    assert "one print" in lab.get(f"/api/qualify/{brief}/{issued['set_code']}")["judged"][0]["words"]


@pytest.mark.parametrize(
    ("changes", "why"),
    [
        ({"group": {"set_code": None}}, "made without an issued set"),
        ({"group": {"exposure_s": 1.9}}, "made at 1.9 s instead of"),
        ({"group": {"cure_min": 2}}, "cured 2 min instead of 6"),
        ({"setup": {"temp_c": 20}}, "temperature of the specimen 20 instead of 10"),
    ],
)
def test_what_was_made_otherwise_is_named_and_does_not_count(lab, issued, brief, changes, why):
    code = a_read_test(lab, issued, **changes)
    line = judged(lab, brief, issued)
    assert line["status"] == "not shown" and line["used"] is None
    (left,) = line["left_out"]
    assert left["source"] == code and why in left["why"]
    assert line["need"]["specimens"] >= 3


def test_nothing_at_all_says_so(lab, issued, brief):
    line = judged(lab, brief, issued)
    assert line["status"] == "not shown" and "never tested" in line["words"] and line["left_out"] == []


def test_another_condition_on_the_list_of_the_brief_is_judged_apart(lab, issued):
    lines = [
        {"property": "flexing.cycles", "at": "least", "limit": 50, "conditions": [{"key": "temp_c", "value": t}]}
        for t in (10, 20)
    ]
    code = lab.post("/api/briefs", {"name": "Both", "requirements": lines}, 201)["code"]
    cold, warm = a_read_test(lab, issued), a_read_test(lab, issued, setup={"temp_c": 20})
    held = lab.get(f"/api/qualify/{code}/{issued['set_code']}")["judged"]
    assert [line["used"]["source"] for line in held] == [cold, warm]
    assert [line["left_out"][0]["source"] for line in held] == [warm, cold]
