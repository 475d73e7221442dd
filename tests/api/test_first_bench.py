"""A bench set up in one go: ten fields, all or nothing, and a calibration can begin."""

import pytest

BENCH = {
    "initials": "RB",
    "printer": "Cormorant",
    "light_engine": "mono screen",
    "pixel_um": 35,
    "plate_x_mm": 153,
    "plate_y_mm": 87,
    "resin": "Slate 2",
    "opacity": "opaque",
    "bottle_ml": 800,
    "wash": "solvent",
}


def test_ten_fields_and_a_calibration_can_begin(lab):
    assert len(BENCH) <= 10
    lab.initials = None
    bench = lab.post("/api/first-bench", BENCH, 201)
    lab.initials = bench["initials"]
    printer = lab.get(f"/api/printers/{bench['printer_id']}")
    assert printer["fill_line_ml"] < printer["vat_capacity_ml"] and "reckoned" in printer["note"]
    assert lab.get(f"/api/bottles/{bench['bottle_id']}")["left_ml"] == 800
    shelf = {name: bench[name] for name in ("material_id", "printer_id", "bottle_id", "finish_route_id")}
    assert lab.plan(lab.calibration(shelf), [2.0, 3.0])


def test_a_simulated_printer_to_try_it_on(lab):
    bench = lab.post("/api/first-bench", {**BENCH, "light_engine": "simulated"}, 201)
    printer = lab.get(f"/api/printers/{bench['printer_id']}")
    assert printer["simulated"] is True and printer["light_engine"] == "mono screen"


@pytest.mark.parametrize(("field", "taken"), [("printer", {"resin": "Kelpflex"}), ("resin", {"printer": "Gannet"})])
def test_a_name_that_is_taken_is_said_at_its_field_and_nothing_is_kept(lab, field, taken):
    lab.post("/api/first-bench", BENCH, 201)
    told = lab.post("/api/first-bench", {**BENCH, **taken}, 422)
    assert list(told["error"]["fields"]) == [field]
    assert [len(lab.get(f"/api/{kind}")["items"]) for kind in ("resins", "printers", "bottles", "finish-routes")] == [
        1
    ] * 4


@pytest.mark.parametrize(
    ("field", "value"),
    [("initials", ""), ("printer", ""), ("pixel_um", 0), ("plate_x_mm", -1), ("bottle_ml", 0), ("wash", "petrol")],
)
def test_what_cannot_be_is_said_at_its_field(lab, field, value):
    assert field in lab.post("/api/first-bench", {**BENCH, field: value}, 422)["error"]["fields"]
    assert lab.get("/api/printers")["items"] == []


def test_a_plate_of_two_metres_has_the_largest_vat_there_is(lab):
    lab.post("/api/first-bench", {**BENCH, "plate_x_mm": 2000, "plate_y_mm": 2000}, 201)
    (printer,) = lab.get("/api/printers")["items"]
    assert printer["vat_capacity_ml"] == 50_000 and "Vat of 50000 ml, reckoned" in printer["note"]


def test_a_second_bench_of_the_same_wash_gets_a_route_of_its_own(lab):
    lab.post("/api/first-bench", BENCH, 201)
    lab.post("/api/first-bench", {**BENCH, "printer": "Gannet", "resin": "Hullform"}, 201)
    assert [one["name"] for one in lab.get("/api/finish-routes")["items"]] == [
        "Two baths of solvent",
        "Two baths of solvent 2",
    ]


def test_a_server_that_opens_no_demo_says_so(lab):
    assert lab.get("/api/demo") == {"is_demo": False, "closes": False, "state": "none", "address": None}
    assert "opens no demo" in lab.post("/api/demo/open", {}, 409)["error"]["message"]
    assert "No demo is open" in lab.post("/api/demo/close", {}, 409)["error"]["message"]
