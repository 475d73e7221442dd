"""Files of coupons through the API and the command line."""

import io
import json
import re
import zipfile

import pytest
import trimesh
from click.testing import CliRunner

from setback.cli import main
from setback.coupon import KINDS


def test_the_library_draws_every_kind_for_a_printer(lab):
    items = lab.get("/api/coupon-kinds?pixel_um=19&layer_um=30")["items"]
    assert [item["kind"] for item in items] == list(KINDS)
    assert all(item["plan"]["shapes"] and item["tells"] and item["volume_ml"] > 0 for item in items)
    told = lab.get("/api/coupon-kinds?layer_um=500", 422)
    assert told["error"]["suggest"] == {"layer_height_um": 50}


def test_a_planned_coupon_comes_with_its_code_and_exposure(lab):
    calibration = lab.calibration()
    (code,) = lab.plan(calibration, [2.4])
    answer = lab.client.get(f"/api/coupons/{code}/file?format=stl")
    assert answer.mimetype == "model/stl" and f"{code}-flat-2.4s.stl" in answer.headers["Content-Disposition"]
    opened = trimesh.load(io.BytesIO(answer.data), file_type="stl")
    plain = lab.client.get("/api/coupon-file?kind=flat&format=stl")
    assert opened.volume > trimesh.load(io.BytesIO(plain.data), file_type="stl").volume
    masks = zipfile.ZipFile(io.BytesIO(lab.client.get(f"/api/coupons/{code}/file?format=masks").data))
    manifest = json.loads(masks.read("manifest.json"))
    assert manifest["exposure_s"] == 2.4 and manifest["pixel_um"] == 35
    assert manifest["layers"][0]["exposure_s"] == 24
    svg = lab.client.get(f"/api/coupons/{code}/file?format=svg").get_data(as_text=True)
    assert code in svg and "2.4s" in svg


@pytest.mark.parametrize(
    ("query", "field"),
    [
        ("kind=teapot", "kind"),
        ("kind=flat&pixel_um=1", "pixel_um"),
        ("kind=flat&format=obj", "format"),
        ("kind=flat&thickness_mm=0.2", "thickness_mm"),
        ("kind=strip&thickness_mm=1e-300", "thickness_mm"),
        ("kind=flat&exposure=-2", "exposure"),
        ("kind=flat&walls_mm=0.02,0.2", "walls_mm"),
        ("kind=flat&walls_mm=0.3,0.2", "walls_mm"),
        ("kind=flat&walls_mm=thin,thick", "walls_mm.0"),
        ("kind=flat&tips_mm=0.3,0.4", "tips_mm"),
        ("kind=flat&base_layers=90&layer_um=200", "base_layers"),
        ("kind=grid&plate_x_mm=30&plate_y_mm=80", "plate_x_mm"),
        ("kind=grid&plate_x_mm=100", "plate_y_mm"),
    ],
)
def test_what_cannot_be_made_is_said(lab, query, field):
    assert field in lab.get(f"/api/coupon-file?{query}", 422)["error"]["fields"]


@pytest.mark.parametrize("kind", sorted(KINDS))
def test_every_kind_is_written_by_the_command(kind, tmp_path):
    target = tmp_path / f"{kind}.svg"
    done = CliRunner().invoke(main, ["coupon", kind, "--format", "svg", "--output", str(target)])
    assert done.exit_code == 0 and target.read_text().startswith("<svg")


def test_the_command_says_what_it_cannot_make(tmp_path):
    target = tmp_path / "x.stl"
    done = CliRunner().invoke(main, ["coupon", "teapot", "--format", "stl", "--output", str(target)])
    assert done.exit_code == 1 and "There is no coupon called teapot" in done.output and not target.exists()


PLATE = "kind=flat&plate_x_mm=153&plate_y_mm=87"


def test_a_plate_places_every_exposure_once_and_not_in_order(lab):
    seen = set()
    for seed in range(1, 7):
        plate = lab.get(f"/api/coupon-plate?{PLATE}&exposures_s=1.5,2.1,2.9,4&seed={seed}")
        assert plate["fits"] == 4 and sorted(p["exposure_s"] for p in plate["places"]) == [1.5, 2.1, 2.9, 4]
        seen.add(tuple((p["x_mm"], p["y_mm"]) for p in plate["places"]))
    assert len(seen) > 3


@pytest.mark.parametrize(
    ("query", "field"),
    [
        ("exposures_s=1,2,3,4,5", "exposures_s"),
        ("exposures_s=2&repeats=5", "exposures_s"),
        ("exposures_s=", "exposures_s"),
    ],
)
def test_a_ladder_that_does_not_fit_is_refused_with_how_many_do(lab, query, field):
    told = lab.get(f"/api/coupon-plate?{PLATE}&{query}", 422)["error"]["fields"]
    assert field in told
    if query != "exposures_s=":
        assert "4 fit" in told[field]


def test_the_file_of_a_plate_has_the_same_places(lab):
    given = f"{PLATE}&exposures_s=2,3&pixel_um=50&base_exposure_s=20"
    plate = lab.get(f"/api/coupon-plate?{given}")
    held = zipfile.ZipFile(io.BytesIO(lab.client.get(f"/api/coupon-plate/file?{given}").data))
    manifest = json.loads(held.read("manifest.json"))
    for region, place in zip(manifest["regions"], plate["places"], strict=True):
        assert region["exposure_s"] == place["exposure_s"]
        assert (region["x_px"] * 0.05, region["y_px"] * 0.05) == pytest.approx((place["x_mm"], place["y_mm"]))
    # Base layers get one flash for all; then a straight way down to each exposure of its own.
    assert manifest["layers"][0]["flashes"] == [{"seconds": 20.0, "regions": ["P1", "P2"]}]
    assert [f["seconds"] for f in manifest["layers"][10]["flashes"]] == [2.0, 1.0]
    assert "2 s" in lab.client.get(f"/api/coupon-plate/file?{given}&format=svg").get_data(as_text=True)


def test_the_drawing_says_what_each_part_tells_and_what_a_layer_takes(lab):
    drawn = lab.get("/api/coupon-drawing?kind=flat&walls_mm=0.1,0.2,0.4")
    assert [p["name"] for p in drawn["plan"]["parts"]][:2] == ["Walls", "Slots"]
    assert len([f for f in drawn["plan"]["features"] if f["kind"] == "wall"]) == 6
    assert drawn["layers"] == len(drawn["layer_areas_mm2"])
    total = sum(drawn["layer_areas_mm2"]) * 0.05 / 1000
    assert total == pytest.approx(drawn["plan"]["volume_ml"], rel=0.01)


def test_the_command_writes_plates_series_and_tables(tmp_path):
    def ran(*args):
        return CliRunner().invoke(main, ["coupon", *args, "--output", str(tmp_path / "out")])

    assert (
        ran("flat", "--format", "masks", "--plate", "153x87", "--exposures", "2,3", "--pixel-um", "50").exit_code == 0
    )
    assert zipfile.is_zipfile(tmp_path / "out")
    assert ran("flat", "--format", "layers", "--walls", "0.1,0.3", "--exposure", "2.5").exit_code == 0
    assert (tmp_path / "out").read_text().splitlines()[1].endswith(",25.0"), "base: ten times the exposure"
    told = ran("flat", "--format", "svg", "--plate", "60x44", "--exposures", "2,3")
    assert told.exit_code == 1 and "one fits" in told.output and "Traceback" not in told.output
    assert ran("flat", "--format", "svg", "--plate", "60").exit_code == 2
    assert ran("flat", "--format", "svg", "--walls", "a,b").exit_code == 2
    assert "Give both sides" not in ran("grid", "--format", "svg", "--plate", "150x80").output


class TestFilesToPrint:
    def archive(self, lab, calibration, query="format=svg"):
        answer = lab.client.get(f"/api/calibrations/{calibration['id']}/files-to-print?{query}")
        assert answer.status_code == 200, answer.json
        return zipfile.ZipFile(io.BytesIO(answer.data))

    def test_all_that_waits_comes_in_one_archive_and_nothing_else(self, lab):
        calibration = lab.calibration()
        codes = lab.plan(calibration, [1.5, 2.4, 3.0])
        lab.print(codes[0])
        held = self.archive(lab, calibration)
        assert sorted(held.namelist()) == [f"{codes[1]}-flat-2.4s.svg", f"{codes[2]}-flat-3s.svg", "settings.txt"]
        settings = held.read("settings.txt").decode()
        assert re.search(r"Layer height +0.05 mm", settings) and re.search(rf"{codes[2]} +3.0 s", settings)
        assert codes[0] not in settings
        assert codes[1] in held.read(f"{codes[1]}-flat-2.4s.svg").decode()

    def test_a_plate_comes_as_its_masks_beside_solids(self, lab):
        calibration = lab.calibration(lab.shelf(several_exposures=True))
        (single,) = lab.plan(calibration, [2.4])
        lab.plan(calibration, [2.0, 3.0], way="plate", repeats=1)
        names = self.archive(lab, calibration, "format=stl").namelist()
        assert f"{single}-flat-2.4s.stl" in names and [n for n in names if n.endswith("-plate.zip")] and len(names) == 3

    def test_nothing_waits_or_there_is_no_such_arm(self, lab):
        calibration = lab.calibration()
        place = f"/api/calibrations/{calibration['id']}/files-to-print"
        assert "waits to be printed" in lab.get(place, 409)["error"]["message"]
        assert "arm" in lab.get(f"{place}?arm=7", 422)["error"]["fields"]
        lab.get("/api/calibrations/nowhere/files-to-print", 404)
