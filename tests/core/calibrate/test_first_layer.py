import pytest
from hypothesis import given
from hypothesis import strategies as st

from setback.core.calibrate.first_layer import ENOUGH, GRIPS, FirstLayerInput, first_layer


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


TRIES = st.lists(
    st.tuples(st.floats(0.5, 60), st.integers(0, 4), st.sets(st.sampled_from([*ALL, "scuffed"]))),
    min_size=1,
    max_size=8,
)


@given(TRIES, st.sampled_from([0.05, 0.1, 0.5, 1.0]))
def test_whatever_was_tried_what_comes_next_can_be_set_and_has_a_reason(tries, step):
    """The next exposure lies on the printer's step or is one that was tried, and never at nothing."""
    told = advised(*(tried(*one) for one in tries), exposure_step_s=step)
    exposure = told.base_exposure_s
    assert exposure is not None and exposure > 0 and told.message
    asked = {one[0] for one in tries}
    assert exposure in asked or exposure / step == pytest.approx(round(exposure / step), abs=1e-6)


@given(TRIES)
def test_only_the_wanted_grip_ends_it(tries):
    told = advised(*(tried(*one) for one in tries))
    assert (told.action == "done") == (tries[-1][1] == 3)
    if told.action == "lower":
        assert told.base_exposure_s < tries[-1][0] + 0.5
    if told.action == "raise":
        assert told.base_exposure_s > tries[-1][0] - 0.5


@given(TRIES)
def test_what_was_checked_once_is_not_asked_for_again(tries):
    checked = set().union(*(one[2] for one in tries))
    told = advised(*(tried(*one) for one in tries))
    assert not checked & set(told.checks)


def test_light_alone_is_never_raised_beyond_what_could_still_be_its_fault():
    """From 20 s up by a third each time: the last advice of more light stays under 2.5 times the first try."""
    tries, raised = [tried(20, 0, ALL)], []
    while (told := advised(*tries)).action == "raise":
        raised.append(told.base_exposure_s)
        tries.append(tried(told.base_exposure_s, 0))
    assert told.action == "scuff" and raised[-1] <= ENOUGH * 20
    assert raised == sorted(raised)


@pytest.mark.parametrize("rating", [0, 1, 2, 4])
def test_the_words_say_how_it_gripped(rating):
    assert GRIPS[rating] in advised(tried(20, rating)).message


def test_offset_and_flare_are_of_the_last_square_that_was_measured():
    measured = tried(20, 1, thickness_mm=0.09, foot_mm=10.2, above_mm=10.0)
    later = {"base_exposure_s": 26, "rating": 3}
    told = advised(measured, later)
    assert told.z_offset_um == pytest.approx(40) and told.flare_um == pytest.approx(200)
