"""The ranking of causes: what moves it, what cannot be, and that every key is in its schema."""

import json

import pytest

from setback.core.calculators import CALCULATORS
from setback.core.contract import Problem
from setback.core.prints.symptoms import SYMPTOMS
from setback.core.trace.contract import TraceInput
from setback.core.trace.knowledge import KNOWLEDGE, Knowledge
from setback.core.trace.model import leading, record_weight, trace


def ranked(**asked):
    return trace(TraceInput.model_validate(asked))


def share(result, key):
    return next(cause.probability for cause in result.causes if cause.key == key)


def test_shares_add_up_and_other_is_always_there():
    result = ranked(symptoms=["tacky"])
    assert sum(cause.probability for cause in result.causes) == pytest.approx(1)
    assert {cause.key for cause in result.causes} == {*KNOWLEDGE.causes, "other"}
    assert len(KNOWLEDGE.causes) >= 20 and len(SYMPTOMS) >= 15


def test_what_the_record_says_moves_a_cause_and_is_told_as_a_reason():
    cold = ranked(symptoms=["nothing-on-plate"], record={"below_band_c": 12, "level_prints": 0})
    (first, *_) = cold.causes
    assert first.key == "cold-resin" and "12 °C below its band" in [reason.words for reason in first.for_]
    assert share(cold, "cold-resin") > 2 * share(ranked(symptoms=["nothing-on-plate"]), "cold-resin")
    warm = ranked(symptoms=["nothing-on-plate"], record={"below_band_c": 0})
    of_cold = next(cause for cause in warm.causes if cause.key == "cold-resin")
    assert "not colder than its band" in [reason.words for reason in of_cold.against]


def test_an_answer_ranks_anew_and_a_wrong_lead_falls():
    seen = {"symptoms": ["same-mark"], "record": {"failed_place": "one spot"}}
    before, after = ranked(**seen), ranked(**seen, answers={"white-screen": "even"})
    assert before.causes[0].key == "screen-spot" and after.causes[0].key != "screen-spot"
    assert share(after, "screen-spot") < share(before, "screen-spot") / 3


def test_what_a_check_is_said_to_come_to_is_what_it_comes_to():
    seen = {"symptoms": ["nothing-on-plate"], "record": {"below_band_c": 2}}
    result = ranked(**seen)
    check = result.next_checks[0]
    assert sum(one.probability for one in check.answers) == pytest.approx(1)
    for one in check.answers:
        after = ranked(**seen, answers={check.key: one.key})
        assert share(after, result.causes[0].key) == pytest.approx(one.first, abs=1e-9)
        assert after.causes[0].probability == pytest.approx(one.leader_probability, abs=1e-9)


def test_the_cheapest_check_that_tells_comes_first_and_none_twice():
    result = ranked(symptoms=["tacky"])
    worth = [check.worth for check in result.next_checks]
    assert worth == sorted(worth, reverse=True) and result.next_checks[0].minutes <= 2
    assert "bath" not in {check.key for check in ranked(symptoms=["tacky"], answers={"bath": "clear"}).next_checks}


def test_confirmed_causes_move_what_this_shop_expects():
    usual = ranked(symptoms=["supports-torn"])
    moved = ranked(symptoms=["supports-torn"], confirmed={"fast-lift": 10})
    assert share(moved, "fast-lift") > 2 * share(usual, "fast-lift")
    assert share(moved, "cold-resin") > 0


def test_signs_that_exclude_each_other_and_an_empty_record_are_said_and_ranked_all_the_same():
    odd = ranked(symptoms=["nothing-on-plate", "brittle"])
    assert {"exclude-each-other", "no-record"} <= {one.code for one in odd.warnings}
    assert odd.causes[0].probability < 0.5 and odd.next_checks
    nothing = ranked()
    assert {one.code for one in nothing.warnings} == {"no-signs", "no-record"} and nothing.next_checks


def test_something_nobody_knows_stays_possible():
    every = ranked(symptoms=list(SYMPTOMS))
    assert share(every, "other") > 0.2


@pytest.mark.parametrize(
    ("asked", "field"),
    [
        ({"symptoms": ["humming"]}, "symptoms.0"),
        ({"record": {"moon": 1}}, "record.moon"),
        ({"record": {"lot_changed": "perhaps"}}, "record.lot_changed"),
        ({"record": {"below_band_c": float("nan")}}, "record.below_band_c"),
        ({"answers": {"bath": "blue"}}, "answers.bath"),
        ({"confirmed": {"gremlins": 1}}, "confirmed.gremlins.[key]"),
    ],
)
def test_keys_that_are_not_known_are_refused_at_their_place(asked, field):
    with pytest.raises(Problem) as refused:
        CALCULATORS["trace"](asked)
    assert field in refused.value.fields


def test_the_schema_lists_every_key():
    text = json.dumps(CALCULATORS["trace"].takes.model_json_schema())
    for key in (*SYMPTOMS, *KNOWLEDGE.facts, *KNOWLEDGE.checks, *KNOWLEDGE.causes):
        assert f'"{key}"' in text
    answer = CALCULATORS["trace"]({"symptoms": ["tacky"]})
    assert {"for", "against", "probability", "remedy", "key", "name", "source"} == set(answer["causes"][0])


def test_a_cause_more_is_one_entry():
    content = KNOWLEDGE.model_dump()
    content["causes"]["gnats"] = {
        "name": "Gnats in the vat",
        "prior": 0.01,
        "source": "bench",
        "remedy": "strain",
        "symptoms": {"white-patches": 0.5},
        "record": {},
        "checks": {"strain": [0.9, 0.1]},
    }
    assert "gnats" in Knowledge.model_validate(content).causes
    content["causes"]["gnats"]["checks"] = {"strain": [0.9, 0.2]}
    with pytest.raises(ValueError, match="add up to 1"):
        Knowledge.model_validate(content)


def test_a_record_weighs_as_it_is_told():
    assert record_weight("cold-resin", {"below_band_c": 11}) > 3 > 1 > record_weight("cold-resin", {"below_band_c": 0})
    assert record_weight("base-high", {"below_band_c": 11}) == 1
    assert leading([], {"above_band_c": 5}, {}, 1)[0].remedy.key == "cool"
