"""Coupons of a workshop's own: described, printed, read into the same lanes; and a printer's built-in strip."""

import io

import pytest
from PIL import Image


@pytest.fixture
def calibration(lab):
    return lab.calibration(lab.shelf())


FAN = {
    "name": "Harbour fan",
    "thickness_mm": 4,
    "volume_ml": 1.4,
    "series": [
        {"name": "pins", "lost_by": "less light", "sizes_mm": [0.1, 0.14, 0.2, 0.28, 0.4], "each": 2},
        {"name": "holes", "lost_by": "more light", "sizes_mm": [0.2, 0.28, 0.35, 0.5], "each": 2},
    ],
    "lengths": [{"name": "long bar", "kind": "outer", "nominal_mm": 10, "axis": "x"}],
    "go_no_go": True,
}


def described(lab, expected=201, **changes):
    return lab.post("/api/own-coupons", FAN | changes, expected)


def planned(lab, calibration, code, exposures):
    arm = calibration["arms"][0]["id"]
    plan = {"kind": "own", "own_coupon": code, "exposures_s": exposures}
    return lab.post(f"/api/arms/{arm}/plan", plan, 201)["coupons"]


def test_it_is_drawn_as_a_simple_list_of_what_is_read(lab):
    own = described(lab)
    assert own["code"] == "OC-001" and own["coupons"] == 0
    kinds = [feature["kind"] for feature in own["plan"]["features"]]
    assert (kinds.count("wall"), kinds.count("slot"), kinds.count("outer"), kinds.count("fit")) == (10, 8, 1, 2)
    assert {part["name"] for part in own["plan"]["parts"]} == {"pins", "holes", "long bar", "Go and no-go"}


def test_its_minutes_and_millilitres_are_those_that_were_stated(lab, calibration):
    own = described(lab)
    arm = calibration["arms"][0]["id"]
    quote = lab.post(f"/api/arms/{arm}/quote", {"kind": "own", "own_coupon": own["code"], "exposures_s": [2.4]})
    assert quote["layers"] == 80 and quote["volume_ml"] == 1.4 and quote["thickness_mm"] == 4
    missing = lab.post(f"/api/arms/{arm}/quote", {"kind": "own", "exposures_s": [2.4]}, 422)
    assert "own_coupon" in missing["error"]["fields"]
    on_plate = {"kind": "own", "own_coupon": own["code"], "exposures_s": [2.4], "way": "plate"}
    lab.post(f"/api/arms/{arm}/quote", on_plate, 422)


def test_what_is_read_on_it_enters_the_same_lanes(lab, calibration):
    own = described(lab)
    codes = planned(lab, calibration, own["code"], [1.5, 2.0, 2.6, 3.4, 4.8])
    features = own["plan"]["features"]
    for at, code in enumerate(codes):
        lab.print(code)
        thinnest, narrowest = [0.4, 0.28, 0.2, 0.14, 0.1][at], [0.2, 0.28, 0.28, 0.35, 0.5][at]
        read = [
            {
                "key": one["key"],
                "state": "formed" if one["size_mm"] >= (thinnest if one["kind"] == "wall" else narrowest) else "absent",
            }
            for one in features
            if one["kind"] in ("wall", "slot")
        ]
        lab.post(f"/api/coupons/{code}/readings", {"features": read}, 201)
    arm = lab.again(calibration)["arms"][0]
    assert {"walls", "slots"} <= set(arm["window"]["lanes"])
    assert [card["walls"] for card in arm["coupons"]] == [[2, 10], [4, 10], [6, 10], [8, 10], [10, 10]]
    assert lab.get("/api/own-coupons")["items"][0]["coupons"] == 5
    # A description that changes later leaves what was printed as it is.
    lab.put(f"/api/own-coupons/{own['code']}", FAN | {"series": FAN["series"][:1], "version": 1})
    assert len(lab.get(f"/api/coupons/{codes[0]}")["plan"]["features"]) == len(features)


def test_its_file_is_the_workshops_own(lab, calibration):
    own = described(lab)
    (code,) = planned(lab, calibration, own["code"], [2.4])
    answer = lab.client.get(f"/api/coupons/{code}/file?format=stl")
    assert answer.status_code == 422 and "your own file" in answer.json["error"]["message"]


@pytest.mark.parametrize(
    ("field", "changes"),
    [
        ("series", {"series": [], "lengths": [], "go_no_go": False}),
        ("series.0.sizes_mm", {"series": [{"name": "pins", "lost_by": "less light", "sizes_mm": [0.4, 0.2]}]}),
        ("series.0.lost_by", {"series": [{"name": "pins", "lost_by": "luck", "sizes_mm": [0.2, 0.4]}]}),
        ("thickness_mm", {"thickness_mm": 0}),
        ("name", {"name": " "}),
    ],
)
def test_what_cannot_be_meant_is_refused_at_its_field(lab, field, changes):
    assert field in described(lab, 422, **changes)["error"]["fields"]
    assert lab.get("/api/own-coupons")["items"] == []


def test_it_has_a_picture_is_changed_retired_and_put_back(lab):
    own = described(lab)
    url = f"/api/own-coupons/{own['code']}"
    picture = io.BytesIO()
    Image.new("RGB", (40, 30), "grey").save(picture, "PNG")
    headers = {"Setback-Technician": "IM"}
    answer = lab.client.post(f"{url}/photo", data={"photo": (io.BytesIO(picture.getvalue()), "a.png")}, headers=headers)
    assert answer.status_code == 201 and answer.json["has_photo"]
    assert lab.client.get(f"{url}/photo").data[:2] == b"\xff\xd8"
    answer = lab.client.post(f"{url}/photo", data={"photo": (io.BytesIO(b"no picture"), "a.png")}, headers=headers)
    assert answer.status_code == 422
    lab.put(url, FAN | {"version": 7}, 409)
    lab.post(f"{url}/retire")
    assert lab.get("/api/own-coupons")["items"] == []
    assert lab.post(f"{url}/restore")["retired_at"] is None
    assert described(lab)["has_photo"] is False
    assert lab.client.get("/api/own-coupons/OC-002/photo").status_code == 404


class TestBuiltInStrip:
    def strip(self, lab, calibration, expected=201, **changes):
        request = {"base_s": 1.2, "columns": 6, "multiplier": 1.3, **changes}
        return lab.post(f"/api/arms/{calibration['arms'][0]['id']}/built-in-strip", request, expected)

    def test_its_columns_are_read_by_one_look_and_seed_a_range(self, lab, calibration):
        codes = self.strip(lab, calibration)["coupons"]
        lab.print(codes[0])
        for code, verdict in zip(codes, ("under", "under", "right", "right", "over", "over"), strict=True):
            lab.post(f"/api/coupons/{code}/look", {"verdict": verdict}, 201)
        arm = lab.again(calibration)["arms"][0]
        assert [card["exposure_s"] for card in arm["coupons"]] == [1.2, 1.56, 2.028, 2.636, 3.427, 4.456]
        assert arm["window"] is None and arm["seed"][0] <= 1.6 and 3.4 <= arm["seed"][1] < 4.4
        assert lab.get("/api/gates?printer_id=" + calibration["printer_id"]) is not None

    def test_by_step_and_counted_on_ones_own_coupon(self, lab, calibration):
        own = described(lab)
        codes = self.strip(lab, calibration, columns=3, multiplier=None, step_s=0.5, own_coupon=own["code"])["coupons"]
        lab.print(codes[0])
        key = next(one["key"] for one in own["plan"]["features"] if one["kind"] == "wall")
        lab.post(f"/api/coupons/{codes[0]}/readings", {"features": [{"key": key, "state": "absent"}]}, 201)
        arm = lab.again(calibration)["arms"][0]
        assert [card["exposure_s"] for card in arm["coupons"]] == [1.2, 1.7, 2.2] and arm["window"] is None

    @pytest.mark.parametrize(
        ("field", "changes"),
        [
            ("columns", {"columns": 1}),
            ("multiplier", {"multiplier": 1}),
            ("multiplier", {"step_s": 0.5}),
            ("step_s", {"multiplier": None, "step_s": 0}),
            ("columns", {"multiplier": None, "step_s": -0.5}),
            ("columns", {"multiplier": 9, "columns": 12}),
            ("own_coupon", {"own_coupon": "OC-404"}),
        ],
    )
    def test_a_strip_that_cannot_be_is_refused_at_its_field(self, lab, calibration, field, changes):
        assert field in self.strip(lab, calibration, 422, **changes)["error"]["fields"]
