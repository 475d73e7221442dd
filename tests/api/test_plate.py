"""Light over a plate, and marks on it."""

import pytest

GRID = [[0.9, 1.0, 0.95], [1.0, 1.1, 1.0], [0.85, 1.0, 0.9]]


@pytest.fixture
def printer_id(lab):
    return lab.shelf()["printer_id"]


def add(lab, printer_id, expected=201, **changes):
    given = {"readings": GRID, "reference_cell": [1, 1], **changes}
    return lab.post(f"/api/printers/{printer_id}/plate-maps", given, expected)


def test_a_map_says_which_cells_stay_inside_the_window(lab, printer_id):
    assert lab.get(f"/api/printers/{printer_id}/plate")["map"] is None
    add(lab, printer_id)
    held = lab.get(f"/api/printers/{printer_id}/plate?exposure_s=2.4&window_lower_s=2.2&window_upper_s=2.7")
    assert held["map"]["initials"] == "IM"
    flat = [state for row in held["result"]["cells"] for state in row]
    assert held["result"]["usable_fraction"] == pytest.approx(flat.count("inside") / 9) and "under" in flat


@pytest.mark.parametrize("exposure_s", [0.0001, 92_372.9, 100_000])
def test_the_longest_and_the_shortest_exposure_have_their_light_too(lab, printer_id, exposure_s):
    add(lab, printer_id)
    result = lab.get(f"/api/printers/{printer_id}/plate?exposure_s={exposure_s}")["result"]
    assert result["relative_dose"][1][1] == 1 and result["cells"][1][1] == "inside"


def test_the_newest_map_counts_and_an_older_one_comes_back_when_it_is_retired(lab, printer_id):
    first = add(lab, printer_id)["map"]["id"]
    second = add(lab, printer_id, readings=[[1, 1], [1, 1]], reference_cell=None)["map"]
    assert second["id"] != first
    assert lab.post(f"/api/plate-maps/{second['id']}/retire")["map"]["id"] == first
    assert lab.post(f"/api/plate-maps/{second['id']}/restore")["map"]["id"] == second["id"]


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"readings": [[1, 1, 1], [1, 1]]}, "readings"),
        ({"readings": [[1, 1, 1]], "reference_cell": None}, "readings"),
        ({"reference_cell": [5, 5]}, "reference_cell"),
        ({"readings": [[1, -1], [1, 1]]}, "readings.0.1"),
    ],
)
def test_a_grid_of_the_wrong_size_is_said(lab, printer_id, change, field):
    assert field in add(lab, printer_id, 422, **change)["error"]["fields"]


def test_marks_are_kept_and_lie_on_the_plate(lab, printer_id):
    url = f"/api/printers/{printer_id}/defects"
    held = lab.post(url, {"x_mm": 20, "y_mm": 30, "note": "scratch on the film"}, 201)
    assert held["defects"][0]["note"] == "scratch on the film"
    told = lab.post(url, {"x_mm": 152.5, "y_mm": 30, "note": "dead pixel"}, 422)
    assert "outside the plate of 153 × 87 mm" in told["error"]["fields"]["x_mm"]
    mark = held["defects"][0]["id"]
    assert lab.post(f"/api/defects/{mark}/retire")["defects"] == []
    assert len(lab.post(f"/api/defects/{mark}/restore")["defects"]) == 1
