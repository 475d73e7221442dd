"""Files of coupons through the API and the command line."""

import io
import json
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
        ("kind=flat&exposure=-2", "exposure"),
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
