"""The rules of a verdict, one by one; and what is offered to a brief."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from setback.core.qualify.properties import ASKABLE, OF_SET
from setback.core.qualify.templates import TEMPLATES
from setback.core.qualify.verdict import (
    EvidenceShown,
    NotCounted,
    Offered,
    Requirement,
    judge,
    overall,
    with_margin,
)
from setback.core.statistics.summary import SummaryInput, sample_summary
from setback.core.testing.methods import PROPERTIES


def of(values, source="T-001", unbroken=()):
    told = sample_summary(SummaryInput(values=list(values), unbroken=list(unbroken)))
    return EvidenceShown(
        source=source,
        value=told.mean,
        ci=told.mean_ci if told.n > 2 else None,
        bound_low=told.tolerance_lower,
        bound_high=told.tolerance_upper,
        values=list(values),
        unbroken=list(unbroken),
        sd=told.sd,
        reliability=told.reliability_shown,
        n=told.n + told.n_unbroken if not values else told.n,
    )


def asked(limit, at="least", **more):
    return Requirement.model_validate({"property": "cantilever-bend.strength", "at": at, "limit": limit, **more})


def told(demand, *evidence, **more):
    return judge(demand, "Bending strength", "MPa", "a test: bend", None, Offered(usable=list(evidence), **more))


TIGHT = [60.0, 61, 62, 60, 61, 62, 61]


class TestMean:
    def test_met_not_met_and_not_shown(self):
        assert told(asked(58), of(TIGHT)).status == "met"
        assert told(asked(65), of(TIGHT)).status == "not met"
        assert told(asked(61), of(TIGHT)).status == "not shown"

    def test_at_most_is_the_other_way_round(self):
        assert told(asked(65, "most"), of(TIGHT)).status == "met"
        assert told(asked(58, "most"), of(TIGHT)).status == "not met"

    def test_two_specimens_have_no_interval(self):
        one = told(asked(10), of([60.0, 61]))
        assert one.status == "not shown" and "too few" in one.words and one.need is not None

    def test_a_margin_moves_the_limit_to_the_safe_side(self):
        assert with_margin(asked(100, margin_pct=10)) == pytest.approx(110)
        assert with_margin(asked(100, "most", margin_pct=10)) == pytest.approx(90)
        assert with_margin(asked(-20, margin_pct=10)) == pytest.approx(-18)
        assert told(asked(58, margin_pct=10), of(TIGHT)).status == "not met"


class TestBound:
    def test_nine_parts_in_ten_are_harder_than_the_mean(self):
        wide = [50.0, 60, 70, 55, 65, 58, 62]
        assert told(asked(52), of(wide)).status == "met"
        one = told(asked(52, basis="bound"), of(wide))
        assert one.status == "not shown" and one.need.specimens is None
        assert told(asked(20, basis="bound"), of(wide)).status == "met"

    def test_a_mean_on_the_wrong_side_is_not_met(self):
        assert told(asked(80, basis="bound"), of(TIGHT)).status == "not met"

    def test_how_many_specimens_would_do_is_enough_if_they_are_alike(self):
        few = [60.0, 70, 66]
        one = told(asked(52, basis="bound"), of(few))
        assert one.status == "not shown"
        more = one.need.specimens
        mean, sd = of(few).value, of(few).sd
        alike = [mean + sd * ((i % 2) * 2 - 1) * ((more - 1) / more) ** 0.5 for i in range(more)]
        assert told(asked(52, basis="bound"), of(alike)).status == "met"


class TestEvery:
    def test_one_on_the_wrong_side_is_enough(self):
        one = told(asked(60.5, basis="every"), of(TIGHT))
        assert one.status == "not met" and "2 of 7" in one.words

    def test_all_on_the_right_side(self):
        assert told(asked(59, basis="every"), of(TIGHT)).status == "met"

    def test_two_are_too_few(self):
        assert told(asked(59, basis="every"), of([60.0, 61])).status == "not shown"


class TestUnbroken:
    def test_none_broke_is_a_result(self):
        survived = EvidenceShown(source="T-1", value=None, ci=None, unbroken=[600.0] * 5, reliability=0.549, n=5)
        assert told(asked(300), survived).status == "met"
        assert told(asked(300, basis="every"), survived).status == "met"
        bound = told(asked(300, basis="bound"), survived)
        assert bound.status == "not shown" and bound.need.specimens == 29
        many = survived.model_copy(update={"unbroken": [600.0] * 29, "reliability": 0.902, "n": 29})
        assert told(asked(300, basis="bound"), many).status == "met"

    def test_not_taken_far_enough_is_not_shown(self):
        survived = EvidenceShown(source="T-1", value=None, ci=None, unbroken=[200.0] * 5, reliability=0.549, n=5)
        assert told(asked(300), survived).status == "not shown"

    def test_survivors_are_on_the_wrong_side_of_at_most(self):
        survived = EvidenceShown(source="T-1", value=None, ci=None, unbroken=[200.0] * 5, reliability=0.549, n=5)
        assert told(asked(100, "most"), survived).status == "not met"


class TestEvidence:
    def test_nothing_says_what_would_show_it(self):
        one = told(asked(10), missing="It was never tested.")
        assert one.status == "not shown" and one.need.specimens == 5 and "bend" in one.need.words

    def test_two_results_that_exclude_each_other_are_both_named(self):
        one = told(asked(50), of(TIGHT, "T-002"), of([80.0, 81, 82, 81], "T-001"))
        assert one.status == "not shown" and "T-002" in one.words and "T-001" in one.words

    def test_what_does_not_count_is_named_and_not_used(self):
        one = told(asked(50), left_out=[NotCounted(source="T-001", why="made with S-002")])
        assert one.status == "not shown" and one.left_out[0].why == "made with S-002"

    def test_a_fact_without_spread_is_met_or_not(self):
        fact = EvidenceShown(source="S-001", value=0.35, ci=None, exact=True, n=1)
        assert told(asked(0.4, "most"), fact).status == "met"
        assert told(asked(0.3, "most"), fact).status == "not met"

    @given(
        st.lists(st.floats(1, 100), min_size=3, max_size=12),
        st.floats(1, 100),
        st.sampled_from(["mean", "bound", "every"]),
    )
    def test_an_easier_limit_is_never_judged_harder(self, values, limit, basis):
        order = {"not met": 0, "not shown": 1, "met": 2}
        hard = told(asked(limit, basis=basis), of(values)).status
        easy = told(asked(limit * 0.8, basis=basis), of(values)).status
        assert order[easy] >= order[hard]


class TestOnePrint:
    """One print shows nothing of the material; a specimen that failed has failed all the same."""

    @pytest.mark.parametrize(("limit", "basis"), [(58, "mean"), (66, "mean"), (55, "bound"), (58, "every")])
    def test_it_neither_meets_nor_misses(self, limit, basis):
        judged = told(asked(limit, basis=basis), of(TIGHT).model_copy(update={"prints": 1}))
        assert judged.status == "not shown" and judged.sure == "one print"
        assert "one print" in judged.words and "prints" in judged.need.words

    def test_every_specimen_on_the_right_side_is_asked_and_one_was_not(self):
        judged = told(asked(61, basis="every"), of(TIGHT).model_copy(update={"prints": 1}))
        assert judged.status == "not met"

    def test_survivors_of_one_print(self):
        survived = EvidenceShown(
            source="T-1", value=None, ci=None, unbroken=[600.0] * 30, reliability=0.905, n=30, prints=1
        )
        assert told(asked(300, basis="bound"), survived).status == "not shown"

    def test_two_prints_do_and_say_so(self):
        judged = told(asked(58), of(TIGHT).model_copy(update={"prints": 2}))
        assert judged.status == "met" and "n = 7 from 2 prints" in judged.words

    def test_a_bound_that_is_wanting_asks_for_prints(self):
        few = of(TIGHT).model_copy(update={"prints": 2, "bound_low": None, "bound_high": None})
        judged = told(asked(55, basis="bound"), few)
        assert judged.status == "not shown" and "from 2 prints" in judged.words
        assert "over 4 prints" in judged.need.words


def line(status, kind="must"):
    evidence = {"met": of(TIGHT), "not met": of([1.0, 1.1, 1.2]), "not shown": of([58.0, 70, 40])}[status]
    one = told(asked(55, kind=kind), evidence)
    assert one.status == status
    return one


class TestOverall:
    @pytest.mark.parametrize(
        ("lines", "state", "verdict"),
        [
            ([("met", "must"), ("met", "should")], "valid", "qualified"),
            ([("met", "must"), ("not met", "should")], "valid", "conditional"),
            ([("met", "must"), ("not shown", "should")], "valid", "conditional"),
            ([("met", "must")], "due", "conditional"),
            ([("not met", "must"), ("met", "should")], "valid", "not qualified"),
            ([("not shown", "must")], "valid", "not qualified"),
            ([("not met", "must")], "due", "not qualified"),
            ([("met", "must")], "lapsed", "lapsed"),
            ([("not met", "must")], "lapsed", "lapsed"),
        ],
    )
    def test_by_musts_shoulds_and_the_life_of_the_set(self, lines, state, verdict):
        said, reasons = overall([line(s, k) for s, k in lines], state, ["Screen replaced."])
        assert said == verdict and bool(reasons) == (verdict != "qualified")


def test_every_method_property_and_every_fact_of_a_set_can_be_asked():
    assert set(ASKABLE) == set(PROPERTIES) | {one.key for one in OF_SET}
    assert all(one.how for one in ASKABLE.values())


def test_templates_ask_for_what_there_is():
    for template in TEMPLATES:
        for demand in template.requirements:
            assert demand.property in ASKABLE
            keys = {f.key for f in PROPERTIES[demand.property][0].setup} if demand.property in PROPERTIES else set()
            assert {c.key for c in demand.conditions} <= keys
