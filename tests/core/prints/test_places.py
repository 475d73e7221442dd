"""Failures by place: found where one corner fails, not found where places do not matter."""

import numpy as np
import pytest

from setback.core.calculators import CALCULATORS
from setback.core.contract import Problem
from setback.core.prints.places import FailurePlacesInput, PlacedPart, failure_places
from tests.core.statistics.coverage import Coverage
from tests.length import FULL

PLATE = {"plate_x_mm": 153, "plate_y_mm": 87}


def plates(rng, prints, chance_at):
    """Prints of nine parts, one in each ninth."""
    return [
        PlacedPart(
            print=f"J-{number}",
            x_mm=25 + 51 * (cell % 3),
            y_mm=14 + 29 * (cell // 3),
            failed=bool(rng.random() < chance_at(cell)),
        )
        for number in range(prints)
        for cell in range(9)
    ]


def places(parts):
    return failure_places(FailurePlacesInput(**PLATE, parts=parts))


@pytest.mark.honesty
def test_chance_alone_is_taken_for_a_place_no_more_often_than_it_says():
    rng, false = np.random.default_rng(2), Coverage("a place is blamed where none matters")
    for _ in range(400 if FULL else 10):
        level = rng.uniform(0.05, 0.4)
        false.count(places(plates(rng, 20, lambda _, level=level: level)).shown)
    print(f"\n{false}")
    assert false.most(0.05)


def test_a_corner_that_fails_is_found_and_named():
    rng = np.random.default_rng(4)
    result = places(plates(rng, 25, lambda cell: 0.5 if cell == 8 else 0.08))
    assert result.shown and result.p < 0.01
    assert (result.worst.column, result.worst.row) == (2, 2)
    assert result.worst.failed > 2 * result.worst.expected
    assert sum(cell.parts for cell in result.cells) == 225


def test_a_print_that_failed_whole_says_nothing_of_places():
    rng = np.random.default_rng(5)
    result = places(plates(rng, 12, lambda _: 1.0))
    assert result.prints == 0 and result.p is None and result.warnings[0].code == "too-few"


def test_the_same_parts_get_the_same_answer():
    parts = plates(np.random.default_rng(6), 10, lambda cell: 0.3)
    assert places(parts) == places(parts)


def test_a_part_off_the_plate_is_named():
    with pytest.raises(Problem) as refused:
        places([PlacedPart(print="J-1", x_mm=160, y_mm=10, failed=True)])
    assert "parts.0" in refused.value.fields
    with pytest.raises(Problem):
        CALCULATORS["failure-places"]({**PLATE, "parts": []})


def test_parts_that_stand_together_tell_nothing_of_places():
    parts = [
        PlacedPart(print=f"J-{number}", x_mm=20, y_mm=20, failed=index == 0)
        for number in range(8)
        for index in range(4)
    ]
    result = places(parts)
    assert result.p is None and result.worst is None and result.warnings[0].code == "one-place"
