import pytest
from hypothesis import given
from hypothesis import strategies as st

from setback.core.calculators import CALCULATORS
from setback.core.contract import Problem

following = CALCULATORS["next-exposure"]


def ask(*coupons, step=0.1, **more):
    rows = [dict(zip(("exposure_s", "verdict", "label", "repeat"), c, strict=False)) for c in coupons]
    return following({"coupons": rows, "exposure_step_s": step, **more})


def test_starts_at_the_geometric_middle_of_the_range():
    assert ask(low_s=1, high_s=4)["exposure_s"] == 2.0


def test_needs_a_range_to_start():
    with pytest.raises(Problem) as caught:
        ask()
    assert set(caught.value.fields) == {"low_s", "high_s"}


def test_only_overs_go_down_by_the_same_ratio():
    assert ask((3, "over"), (4.5, "over"))["exposure_s"] == 2.0


def test_an_ok_with_no_under_looks_below_and_above():
    assert ask((2.0, "ok"))["exposure_s"] == 1.6  # the lower of two equal gaps


def test_the_upper_gap_is_left_to_coupons_that_can_show_over():
    assert ask((1.9, "under"), (2.0, "ok"), shows="under")["action"] == "done"


def test_mixed_takes_no_part_but_is_not_printed_again():
    answer = ask((1.3, "under"), (2.5, "mixed"), (4.7, "over"))
    assert answer["exposure_s"] == 2.6


def test_a_contradiction_asks_for_both_by_name():
    answer = ask((3.3, "under", "A"), (2.7, "over", "B"))
    assert answer["action"] == "repeat" and set(answer["repeat"]) == {"A", "B"}
    assert set(answer["repeat_exposures_s"]) == {3.3, 2.7}


def test_a_repeat_supersedes_earlier_ones_at_its_exposure():
    answer = ask((3.3, "under", "A"), (2.7, "over", "B"), (2.7, "under", "B2", True), (4.4, "over", "D"))
    assert answer["action"] == "print" and answer["exposure_s"] == 3.8


def test_disagreement_at_one_exposure_is_a_contradiction():
    assert ask((2.0, "under", "A"), (2.0, "ok", "B"))["action"] == "repeat"


def test_both_repeated_and_still_contradicting_ends_in_review():
    answer = ask((3.3, "under", "A"), (2.7, "over", "B"), (3.3, "under", "A2", True), (2.7, "over", "B2", True))
    assert answer["action"] == "review"
    assert "still contradict" in answer["reason"]


def test_only_the_coupon_not_yet_repeated_is_asked_for():
    answer = ask((3.3, "under", "A"), (2.7, "over", "B"), (3.3, "under", "A2", True))
    assert answer["repeat"] == ["B"]


def test_closed_in_without_an_ok_says_so():
    answer = ask((2.0, "under"), (2.1, "over"))
    assert answer["action"] == "done"
    assert [w["code"] for w in answer["warnings"]] == ["no-ok"]


@given(
    st.lists(st.integers(10, 80), min_size=1, max_size=8, unique=True),
    st.integers(0, 8),
    st.integers(0, 8),
    st.sampled_from([0.05, 0.1]),
)
def test_never_prints_the_same_exposure_twice_and_stays_on_the_step(tenths, unders, oks, step):
    exposures = sorted(t / 10 for t in tenths)
    verdicts = ["under"] * unders + ["ok"] * oks + ["over"] * 20
    answer = ask(*zip(exposures, verdicts, strict=False), step=step)
    if answer["action"] == "print":
        assert answer["exposure_s"] not in exposures
        assert round(answer["exposure_s"] / step, 6) == round(answer["exposure_s"] / step)
        assert answer["exposure_s"] > 0
    assert answer["reason"]
