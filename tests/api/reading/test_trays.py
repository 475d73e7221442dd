"""A picture of a whole tray through the API: each coupon is found by its code and waits; the ladder shows them beside each other."""

from __future__ import annotations

import io
import time
from dataclasses import replace

import pytest
from PIL import Image

from setback.coupon.lettering import embossed
from setback.simulate.camera import Placed, photograph_tray
from tests.pictures import PLAIN, printed

EXPOSURES = (2.2, 2.6, 3.1)


@pytest.fixture
def calibration(lab):
    made = lab.calibration()
    codes = lab.plan(made, list(EXPOSURES))
    for code in codes:
        lab.print(code)
    return made, codes


def tray(codes, seed=4, **changes):
    """All on one bench, each turned a little, in one picture."""
    placed = []
    for place, (code, exposure_s) in enumerate(zip(codes, EXPOSURES, strict=False)):
        made = printed(exposure_s, seed=place + 1)
        lettered = embossed(made.coupon, code, f"{exposure_s:g}s")
        placed.append(Placed(made, lettered, y_mm=42.0 * (place - (len(codes) - 1) / 2), turn_deg=(0, 3, -4)[place]))
    return photograph_tray(placed, seed, replace(PLAIN, px_per_mm=20, **changes))


def sent(lab, calibration, content, expected=201):
    answer = lab.client.post(
        f"/api/calibrations/{calibration['id']}/trays",
        data={"picture": (io.BytesIO(content), "tray.jpg")},
        headers={"Setback-Technician": "IM"},
    )
    assert answer.status_code == expected, answer.get_data(as_text=True)[:300]
    return answer.get_json()


def finished(lab, job):
    """The job when it has ended; reading a tray takes a while on a busy machine."""
    deadline = time.monotonic() + 120
    while job["state"] in ("queued", "running") and time.monotonic() < deadline:
        time.sleep(0.05)
        job = lab.get(f"/api/jobs/{job['id']}")
    return job


@pytest.mark.long
def test_each_coupon_is_found_by_its_code_and_waits_to_be_confirmed(lab, calibration):
    made, codes = calibration
    job = finished(lab, sent(lab, made, tray(codes)))
    assert job["state"] == "done", job
    result = job["result"]
    assert {line["code"] for line in result["coupons"]} == set(codes) and result["others"] == []
    assert all(line["sure"] > 30 for line in result["coupons"])
    for code, exposure_s in zip(codes, EXPOSURES, strict=True):
        seen = lab.get(f"/api/coupons/{code}")
        truth = printed(exposure_s, seed=codes.index(code) + 1)
        walls = {o.key: o.share for o in truth.outcomes if o.kind == "wall"}
        marks = [m for m in seen["picture"]["marks"] if m["key"] in walls and m["sure"]]
        right = [m for m in marks if (m["state"] == "formed") == (walls[m["key"]] >= 0.9)]
        assert len(marks) >= 12 and len(right) >= 0.95 * len(marks)
        # Of the photo each keeps its own part.
        (photo,) = seen["photos"]
        assert photo["width_px"] < 1600
    ladder = lab.get(f"/api/calibrations/{made['id']}/pictures")["ladders"][0]
    assert [c["code"] for c in ladder["coupons"]] == codes
    assert {c["state"] for c in ladder["coupons"]} == {"waiting"}
    straight = [lab.client.get(f"/api/pictures/{c['picture_id']}/straight").get_data() for c in ladder["coupons"]]
    assert len({Image.open(io.BytesIO(content)).size for content in straight}) == 1
    assert not list(lab.path.with_name(f"{lab.path.stem}-files").glob("tray-*"))


@pytest.mark.long
def test_a_stranger_on_the_tray_is_named_and_the_others_are_read(lab, calibration):
    made, codes = calibration
    job = finished(lab, sent(lab, made, tray([codes[0], "190A"])))
    assert [line["code"] for line in job["result"]["coupons"]] == [codes[0]]
    assert "190" in job["result"]["others"][0] and "own page" in job["result"]["others"][0]


@pytest.mark.long
def test_what_is_no_picture_of_a_tray_is_refused_and_nothing_is_kept(lab, calibration):
    made, codes = calibration
    job = finished(lab, sent(lab, made, b"no picture"))
    assert job["state"] == "failed" and "picture" in job["fields"]
    out = io.BytesIO()
    Image.effect_noise((900, 700), 60).convert("RGB").save(out, "JPEG")
    job = finished(lab, sent(lab, made, out.getvalue()))
    assert job["result"]["coupons"] == [] and "No coupon of Setback's" in job["result"]["others"][0]
    assert lab.get(f"/api/coupons/{codes[0]}")["picture"] is None


def test_a_calibration_without_a_printed_coupon_has_nothing_to_be_read(lab):
    made = lab.calibration()
    assert "No printed flat" in sent(lab, made, b"x", 409)["error"]["message"]
    assert lab.get(f"/api/calibrations/{made['id']}/pictures")["ladders"] == []
