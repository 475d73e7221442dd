import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from setback.core.calculators import CALCULATORS
from setback.core.contract import Problem
from setback.core.plate.uniformity import dose_at

uniformity = CALCULATORS["plate-uniformity"]
GRID = [[0.9, 1.0, 0.95], [1.0, 1.1, 1.0], [0.85, 1.0, 0.9]]
USUAL = {"readings": GRID, "exposure_s": 2.4, "window_lower_s": 2.2, "window_upper_s": 2.7, "reference_cell": [1, 1]}


def test_every_cell_is_under_inside_or_over():
    got = uniformity(USUAL)
    flat = [state for row in got["cells"] for state in row]
    assert got["cells"][1][1] == "inside" and "under" in flat
    assert got["usable_fraction"] == pytest.approx(flat.count("inside") / 9)
    assert got["worst_cell"] == [2, 0]
    assert got["effective_exposure_s"][0][0] == pytest.approx(2.4 * 0.9 / 1.1)


def test_the_unit_of_the_readings_does_not_matter():
    scaled = [[1000 * v for v in row] for row in GRID]
    assert uniformity({**USUAL, "readings": scaled})["cells"] == uniformity(USUAL)["cells"]


def test_without_a_reference_the_mean_stands_in_and_is_named():
    got = uniformity({k: v for k, v in USUAL.items() if k != "reference_cell"})
    assert sum(v for row in got["relative_dose"] for v in row) == pytest.approx(9)
    assert [w["code"] for w in got["warnings"]] == ["no-reference"]


def test_an_exposure_outside_its_window_is_said():
    assert "outside-window" in [w["code"] for w in uniformity({**USUAL, "exposure_s": 3})["warnings"]]


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"readings": [[1, 1], [1]]}, "readings"),
        ({"readings": [[]]}, "readings"),
        ({"readings": []}, "readings"),
        ({"readings": [[1, 0]]}, "readings.0.1"),
        ({"reference_cell": [3, 0]}, "reference_cell"),
        ({"window_upper_s": 2.0}, "window_upper_s"),
    ],
)
def test_a_grid_of_the_wrong_size_is_refused(change, field):
    with pytest.raises(Problem) as told:
        uniformity({**USUAL, **change})
    assert field in told.value.fields


GRIDS = st.integers(1, 6).flatmap(
    lambda width: st.lists(st.lists(st.floats(0.5, 2), min_size=width, max_size=width), min_size=1, max_size=6)
)


@given(GRIDS, st.floats(1, 5), st.floats(0.5, 0.95), st.floats(1.05, 2))
def test_no_cell_has_less_room_than_the_worst_one(grid, exposure, below, above):
    lower, upper = exposure * below, exposure * above
    got = uniformity({"readings": grid, "exposure_s": exposure, "window_lower_s": lower, "window_upper_s": upper})

    def room(t):
        return min(math.log(t / lower), math.log(upper / t))

    row, column = got["worst_cell"]
    effective = got["effective_exposure_s"]
    assert room(effective[row][column]) == pytest.approx(min(room(t) for line in effective for t in line))
    assert (got["usable_fraction"] == 1) == (got["cells"][row][column] == "inside")
    assert 0 < got["min_over_max"] <= 1


@given(GRIDS, st.floats(0, 1), st.floats(0, 1))
def test_between_cells_there_is_neither_more_nor_less_light_than_in_them(grid, across, down):
    flat = [value for row in grid for value in row]
    assert min(flat) - 1e-12 <= dose_at(grid, across, down) <= max(flat) + 1e-12


def test_at_a_cell_s_middle_it_is_that_cell_and_half_way_the_mean_of_both():
    grid = [[0.8, 1.0], [1.2, 1.4]]
    assert dose_at(grid, 0.25, 0.25) == pytest.approx(0.8)
    assert dose_at(grid, 0.75, 0.75) == pytest.approx(1.4)
    assert dose_at(grid, 0.5, 0.25) == pytest.approx(0.9)
    assert dose_at(grid, 0.25, 0.5) == pytest.approx(1.0)
    assert dose_at(grid, 0.0, 0.0) == pytest.approx(0.8), "level beyond the outer cells"


def test_a_wider_window_never_makes_less_of_the_plate_usable():
    narrow = uniformity(USUAL)["usable_fraction"]
    wide = uniformity({**USUAL, "window_lower_s": 1.5, "window_upper_s": 3.5})["usable_fraction"]
    assert narrow < wide == 1
