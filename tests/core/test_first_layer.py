import pytest

from setback.core.first_layer import FirstLayerInput, first_layer


def advised(*tries, **more):
    given = {"tries": list(tries), "layer_height_um": 50, "exposure_step_s": 0.5, "normal_exposure_s": 2.5, **more}
    return first_layer(FirstLayerInput.model_validate(given))


def tried(exposure, rating, checked=(), **more):
    return {"base_exposure_s": exposure, "rating": rating, "checked": list(checked), "thickness_mm": 0.06, **more}


ALL = ("level", "zero", "resin", "bubbles")


def test_the_first_try_is_seeded_by_a_multiple_and_says_that_the_rating_decides():
    first = advised()
    assert (first.action, first.base_exposure_s, first.multiple) == ("try", 20, 8)
    assert "rating decides" in first.message
    assert advised(normal_exposure_s=None).base_exposure_s is None


def test_low_grip_is_checked_before_more_light_is_given():
    low = advised(tried(20, 1))
    assert (low.action, low.base_exposure_s, low.checks) == ("check", 20, list(ALL))
    half = advised(tried(20, 1, ("level", "zero")))
    assert half.checks == ["resin", "bubbles"]
    checked = advised(tried(20, 1, ALL))
    assert (checked.action, checked.base_exposure_s) == ("raise", 26)


def test_when_light_does_not_help_the_plate_is_scuffed_and_then_light_again():
    tries = [tried(20, 1, ALL), tried(26, 1), tried(34, 1), tried(44, 2)]
    assert advised(*tries).action == "scuff"
    assert "wet, with a dust mask" in advised(*tries).message
    assert advised(*tries, tried(44, 2, ("scuffed",))).action == "raise"


def test_too_much_grip_and_a_flared_foot_both_ask_for_less():
    assert advised(tried(20, 4)).base_exposure_s == 16
    flared = advised(tried(20, 3, foot_mm=10.5, above_mm=10.0))
    assert flared.action == "lower" and flared.flare_um == pytest.approx(500)
    assert advised(tried(20, 3, foot_mm=10.1, above_mm=10.0)).action == "done"


def test_thickness_tells_the_z_offset():
    done = advised(tried(20, 3, thickness_mm=0.13))
    assert done.z_offset_um == pytest.approx(80)
    assert "lower the Z offset" in done.warnings[0].message
    assert "raise the Z offset" in advised(tried(20, 3, thickness_mm=0.01)).warnings[0].message
    assert advised(tried(20, 3, thickness_mm=0.06)).warnings == []
    assert advised({"base_exposure_s": 20, "rating": 0}).warnings[0].code == "no-thickness"
