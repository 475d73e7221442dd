import pytest
from pydantic import ValidationError

from setback.core.calibrate.stages import check_thickness, layers_of, least_thickness_mm, stage
from setback.core.contract import Problem
from setback.core.printing.plausible import check_layer_height, check_range
from setback.core.printing.settings import Settings, difference
from setback.core.window.contract import Offer, PrintOn, TooNarrow, window_outcome


def test_a_coupon_thinner_than_its_base_layers_is_refused_with_the_least_thickness():
    settings = Settings(base_layers=6, transition_layers=4)
    assert least_thickness_mm(settings, 50) == 0.7
    with pytest.raises(Problem) as caught:
        check_thickness(0.5, settings, 50)
    assert "0.7 mm" in caught.value.fields["thickness_mm"] and "base exposure" in caught.value.message
    check_thickness(0.7, settings, 50)


def test_layers_are_counted_up_without_rounding_noise():
    assert layers_of(1.35, 50) == 27
    assert layers_of(1.351, 50) == 28


@pytest.mark.parametrize(("given", "meant"), [(500, 50), (50_000, 50), (0.05, 50), (1000, 100)])
def test_a_slipped_layer_height_asks_what_was_meant(given, meant):
    with pytest.raises(Problem) as caught:
        check_layer_height(given)
    assert caught.value.suggest == {"layer_height_um": meant}
    assert f"{meant:g} µm" in caught.value.message


@pytest.mark.parametrize("height", [10, 30, 50, 100, 200])
def test_usual_layer_heights_pass(height):
    check_layer_height(height)


def test_ranges():
    check_range(1, 5)
    for low, high in ((5, 1), (0.1, 50)):
        with pytest.raises(Problem):
            check_range(low, high)


def told(**changes):
    """A window's answer with nothing in it but what is changed."""
    return window_outcome({"ladder_s": None, "left_out": [], "raw": [], "warnings": [], **changes})


OFFER = {"decision": "offer", "policies": {"centre": 2.4}, "policies_p": {"centre": 0.95}}


def test_stages_follow_the_evidence():
    assert stage([], None, issued=False) == "range"
    assert stage(["under", "under"], told(), issued=False) == "range"
    assert stage(["under", "over"], told(), issued=False) == "refine"
    assert stage(["ok"], told(), issued=False) == "refine"
    assert stage(["under", "ok", "over"], told(decision="narrow"), issued=False) == "refine"
    assert stage(["under", "ok", "over"], told(**OFFER), issued=False) == "decide"
    assert stage(["under", "ok", "over"], told(**OFFER, provisional=True), issued=False) == "refine"
    assert stage(["ok"], None, issued=True) == "issued"


def test_what_was_kept_comes_back_as_the_outcome_it_was():
    assert isinstance(told(**OFFER), Offer) and isinstance(told(decision="narrow"), TooNarrow)
    assert isinstance(told(policies={"centre": 2.4}), PrintOn), "an earlier method kept policies and no decision"
    with pytest.raises(ValidationError):
        told(decision="offer")
    with pytest.raises(ValidationError):
        told(decision="none")


HOLDS = [{"exposure_s": t, "p": p} for t, p in ((2.0, 0.4), (3.0, 0.98), (3.4, 0.92), (3.8, 0.88), (4.0, 0.5))]


def test_an_exposure_is_offered_where_a_policy_names_it_or_its_chance_reaches_the_cut_off():
    offer = told(
        decision="offer",
        ladder_s=(2, 4),
        policies={"centre": 3.0, "hardest-in-tolerance": 3.8, "size-true": None},
        policies_p={},
        p_holds=HOLDS,
    )
    assert [offer.offers(t) for t in (2.0, 3.0, 3.4, 3.8, 4.0, 4.5)] == [False, True, True, True, False, False]
    assert offer.p_at(3.1) == 0.98 and offer.p_at(4.5) is None
    assert not offer.model_copy(update={"provisional": True}).offers(3.0)
    assert not told(ladder_s=(2, 4), p_holds=HOLDS).offers(3.0)


def test_an_end_that_is_only_the_ladders_is_no_end():
    window = {"lower_s": 2.1, "lower_from": "walls", "upper_s": 4.0, "upper_from": "size", "latitude_pct": None}
    end = dict.fromkeys(("lower_s", "upper_s", "lower_ci_s", "upper_ci_s"))
    lanes = {
        "walls": end | {"lower_s": 2.1, "found": {"lower": True, "upper": False}},
        "size": end | {"upper_s": 4.4, "found": {"lower": False, "upper": False}},
    }
    assert told(window=window, lanes=lanes).ends_found() == (2.1, None)
    assert told().ends_found() == (None, None)
    # What the method before chances kept says nothing of ends that are not found, and more than is read today.
    kept = {name: lane | {"lower_capped": False} for name, lane in lanes.items()}
    for lane in kept.values():
        lane.pop("found")
    assert told(window=window, lanes=kept, method="").ends_found() == (2.1, 4.0)
    assert told(window=window, lanes=kept, method="", beyond_ladder=["size"]).ends_found() == (2.1, None)


def test_arms_differ_by_named_settings():
    assert difference(Settings(), Settings(rest_before_s=3)) == ["rest_before_s"]
