"""An exposure of another workshop: carried by what both measured, and never surer than that."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from setback.core.calibrate.borrowing import (
    PRINTERS_SD,
    WORKSHOP_SD,
    BorrowInput,
    SharedMaterial,
    borrow,
    with_borrowed,
)

seconds = st.floats(0.5, 40)


def shared(*pairs):
    return [SharedMaterial(name=f"M{at}", there_s=there, here_s=here) for at, (there, here) in enumerate(pairs)]


def test_with_nothing_in_common_the_number_stands_with_all_the_room_it_takes():
    carried = borrow(BorrowInput(exposure_s=2.4))
    assert carried.exposure_s == pytest.approx(2.4) and carried.log_sd == pytest.approx(
        math.hypot(PRINTERS_SD, WORKSHOP_SD)
    )
    assert "nothing in common" in carried.carried_by[0]


def test_a_common_material_moves_it_most_of_the_way_and_narrows_it():
    carried = borrow(BorrowInput(exposure_s=2.4, shared=shared((2.0, 4.0))))
    assert 4.0 < carried.exposure_s < 4.8 and carried.log_sd < borrow(BorrowInput(exposure_s=2.4)).log_sd
    more = borrow(BorrowInput(exposure_s=2.4, shared=shared((2.0, 4.0), (3.0, 6.0), (5.0, 10.0))))
    assert more.log_sd < carried.log_sd and "3 more" not in more.carried_by[0] and "2.00 times" in more.carried_by[0]


def test_light_and_working_curves_carry_too():
    by_light = borrow(BorrowInput(exposure_s=2.0, light_there=4.0, light_here=2.0))
    by_curve = borrow(BorrowInput(exposure_s=2.0, critical_there_s=0.5, critical_here_s=1.0))
    assert 3.0 < by_light.exposure_s < 4.0 and 3.0 < by_curve.exposure_s < 4.0
    assert by_light.carried_by[0].startswith("light meters")


@given(seconds, st.lists(st.tuples(seconds, seconds), max_size=4))
def test_it_is_never_surer_than_another_room_allows(exposure, pairs):
    carried = borrow(BorrowInput(exposure_s=exposure, shared=shared(*pairs)))
    assert WORKSHOP_SD < carried.log_sd <= math.hypot(PRINTERS_SD, WORKSHOP_SD) + 1e-9
    assert carried.interval_s[0] < carried.exposure_s < carried.interval_s[1]


def test_a_borrowed_number_pulls_a_vague_belief_and_hardly_a_sure_one():
    vague, _ = with_borrowed(math.log(2), 0.36, [(4.0, 0.3)])
    sure, variance = with_borrowed(math.log(2), 0.0025, [(4.0, 0.3)])
    assert vague > math.log(2.8) and sure < math.log(2.1) and variance < 0.0025
    assert with_borrowed(1.0, 0.0, [(4.0, 0.3)]) == (1.0, 0.0) and with_borrowed(1.0, 0.2, []) == (1.0, 0.2)
