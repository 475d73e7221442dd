import pytest

from setback.core.campaign import check_thickness, layers_of, least_thickness_mm, stage
from setback.core.contract import Problem
from setback.core.plausible import check_layer_height, check_range
from setback.core.settings import Settings, difference


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


def test_stages_follow_the_evidence():
    assert stage([], None, None, 0, issued=False) == "range"
    assert stage(["under", "under"], None, None, 2, issued=False) == "range"
    assert stage(["under", "over"], None, None, 2, issued=False) == "refine"
    assert stage(["ok"], None, None, 1, issued=True) == "issued"


def test_arms_differ_by_named_settings():
    assert difference(Settings(), Settings(rest_before_s=3)) == ["rest_before_s"]
