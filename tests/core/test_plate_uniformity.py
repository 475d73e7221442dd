import pytest

from setback.core.calculators import CALCULATORS
from setback.core.contract import Problem

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
        ({"readings": [[1, 1], [1]]}, "readings"), ({"readings": [[]]}, "readings"), ({"readings": []}, "readings"),
        ({"readings": [[1, 0]]}, "readings.0.1"), ({"reference_cell": [3, 0]}, "reference_cell"),
        ({"window_upper_s": 2.0}, "window_upper_s"),
    ],
)  # fmt: skip
def test_a_grid_of_the_wrong_size_is_refused(change, field):
    with pytest.raises(Problem) as told:
        uniformity({**USUAL, **change})
    assert field in told.value.fields
