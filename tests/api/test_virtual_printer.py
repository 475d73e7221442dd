"""The simulated printer through the API: a campaign on it, and everything that can stand in its way."""

import io
import threading
import time

import numpy as np
import pytest
from PIL import Image

from setback.services.calibrate import assessment
from setback.services.lab import jobs
from setback.services.lab.jobs import Cancelled
from setback.services.prints import virtual
from setback.services.unit_of_work import UnitOfWork
from setback.simulate.hidden import Conditions
from setback.simulate.printed import size_true_s
from setback.store.database import connect


@pytest.fixture
def simulated(lab):
    """A calibration on a simulated printer."""
    return lab.calibration(lab.shelf(simulated=True))


def print_it(lab, code, expected=201, **given):
    print_id = lab.get(f"/api/coupons/{code}")["print_id"]
    return lab.post("/api/virtual-prints", {"print_id": print_id, "speed": 1_000_000, **given}, expected)


def printed(lab, calibration, exposures, kind="flat", temp_c=24.0, arm=0):
    codes = lab.plan(calibration, exposures, kind, arm=arm)
    jobs = [print_it(lab, code, temp_c=temp_c) for code in codes]
    for job in jobs:
        lab.ended(job)
    return codes


def read(lab, code, **given):
    seen = lab.post(f"/api/coupons/{code}/virtual-reading", given)
    lab.read(code, seen["features"])
    return seen


def test_the_printer_is_marked_on_the_shelf_and_stays_what_it_is(lab):
    shelf = lab.shelf(simulated=True)
    printer = lab.get(f"/api/printers/{shelf['printer_id']}")
    assert printer["simulated"] is True
    fields = {k: v for k, v in printer.items() if k not in ("id", "code", "created_at", "retired_at")}
    told = lab.put(f"/api/printers/{printer['id']}", {**fields, "simulated": False}, 422)
    assert "simulated" in told["error"]["fields"]


@pytest.mark.long
def test_a_print_is_photographed_and_its_temperature_noted(lab, simulated):
    (code,) = printed(lab, simulated, [2.4], temp_c=19.5)
    coupon = lab.get(f"/api/coupons/{code}")
    assert coupon["status"] == "printed" and coupon["simulated"] is True
    assert (coupon["temp_c"], coupon["temp_place"]) == (19.5, "resin")
    photo = lab.client.get(f"/api/photos/{coupon['photos'][0]['id']}")
    picture = np.asarray(Image.open(io.BytesIO(photo.data)))
    assert picture.shape[1] > 800 and picture.std() > 8


@pytest.mark.long
def test_a_reading_is_asked_for_and_saved_by_the_technician(lab, simulated):
    (code,) = printed(lab, simulated, [3.0])
    seen = lab.post(f"/api/coupons/{code}/virtual-reading", {"seed": 4})
    assert seen == lab.post(f"/api/coupons/{code}/virtual-reading", {"seed": 4})
    assert lab.get(f"/api/coupons/{code}")["reading"] is None, "asking saves nothing"
    biased = lab.post(f"/api/coupons/{code}/virtual-reading", {"seed": 4, "caliper_bias_mm": 0.05})
    pairs = [
        (a["measured_mm"], b["measured_mm"])
        for a, b in zip(seen["features"], biased["features"], strict=True)
        if a["measured_mm"]
    ]
    assert pairs and all(0.035 < b - a < 0.065 for a, b in pairs)
    lab.read(code, seen["features"])
    assert lab.get(f"/api/coupons/{code}")["reading"]["initials"] == "IM"


@pytest.mark.long
def test_a_campaign_finds_the_hidden_truth_and_a_longer_rest_makes_another_arm(lab, simulated, db_path):
    for code in printed(lab, simulated, [1.5, 2.0, 2.6, 3.4, 4.4]):
        read(lab, code)
    for code in printed(lab, simulated, [1.8, 2.4, 3.2], "support"):
        read(lab, code)
    settings = {"rest_before_s": 4}
    lab.post(f"/api/calibrations/{simulated['id']}/arms", {"name": "rest 4 s", "settings": settings}, 201)
    now = lab.again(simulated)
    for code in printed(lab, now, [2.0, 2.8, 4.0], arm=1):
        read(lab, code)
    first, rested = (arm["window"] for arm in lab.again(simulated)["arms"])
    db = connect(db_path)
    machine, material = virtual.truth(UnitOfWork(db), simulated["arms"][0]["id"])
    db.close()
    for window, rest_s in ((first, 1.0), (rested, 4.0)):
        true = size_true_s(machine, material, Conditions(1, rest_s=rest_s, temp_c=24))
        assert window["size_true_s"] == pytest.approx(true, rel=0.12)
    assert first["lanes"]["tips"]["lower_s"] is not None


@pytest.mark.long
def test_a_print_cancelled_half_way_leaves_nothing(lab, simulated, db_path):
    (code,) = lab.plan(simulated, [2.4])
    job = print_it(lab, code, speed=1)
    lab.post(f"/api/jobs/{job['id']}/cancel")
    lab.ended(job, "cancelled")
    coupon = lab.get(f"/api/coupons/{code}")
    assert coupon["status"] == "planned" and coupon["photos"] == []
    db = connect(db_path)
    assert db.execute("SELECT count(*) FROM virtual_print").fetchone()[0] == 0
    db.close()
    lab.ended(print_it(lab, code))


def test_stopping_between_any_two_layers_keeps_nothing(lab, simulated, db_path):
    (code,) = lab.plan(simulated, [2.4])
    print_id = lab.get(f"/api/coupons/{code}")["print_id"]
    db = connect(db_path)

    def stop(share, message):
        if share == 1.0:
            raise Cancelled

    with pytest.raises(Cancelled):
        virtual.run(UnitOfWork(db), stop, {"print_id": print_id, "speed": 1_000_000})
    assert db.execute("SELECT status FROM print WHERE id = ?", (print_id,)).fetchone()[0] == "planned"
    assert db.execute("SELECT count(*) FROM photo").fetchone()[0] == 0
    db.close()


def test_one_print_is_under_way_once_and_shown_while_it_is(lab, simulated):
    (code,) = lab.plan(simulated, [2.4])
    job = print_it(lab, code, speed=1)
    again = print_it(lab, code, 409)
    assert "under way" in again["error"]["message"]
    print_id = lab.get(f"/api/coupons/{code}")["print_id"]
    assert lab.again(simulated)["under_way"] == {print_id: job["id"]}
    lab.post(f"/api/jobs/{job['id']}/cancel")
    lab.ended(job, "cancelled")
    assert lab.again(simulated)["under_way"] == {}


def test_undoing_a_print_takes_its_photo_and_truth_away(lab, simulated, db_path):
    (code,) = printed(lab, simulated, [2.4])
    coupon = lab.get(f"/api/coupons/{code}")
    lab.post(f"/api/prints/{coupon['print_id']}/unprinted")
    now = lab.get(f"/api/coupons/{code}")
    assert now["status"] == "planned" and now["photos"] == []
    lab.post(f"/api/coupons/{code}/virtual-reading", {}, 409)


def test_what_cannot_be_printed_virtually_is_said(lab, simulated):
    real = lab.calibration(
        {
            **{k: simulated[k] for k in ("material_id",)},
            "printer_id": lab.post(
                "/api/printers", {**_printer(lab, simulated), "name": "Gannet", "simulated": False}, 201
            )["id"],
        }
    )
    (code,) = lab.plan(real, [2.4])
    assert "no simulated printer" in print_it(lab, code, 409)["error"]["message"]
    lab.print(code)
    assert "read it yourself" in lab.post(f"/api/coupons/{code}/virtual-reading", {}, 409)["error"]["message"]
    lab.post("/api/virtual-prints", {"print_id": "nothing"}, 404)
    (planned,) = lab.plan(simulated, [2.4])
    assert "temp_c" in print_it(lab, planned, 422, temp_c=500)["error"]["fields"]


def test_a_retired_printer_prints_nothing_and_says_so(lab, simulated):
    (code,) = lab.plan(simulated, [2.4])
    lab.post(
        f"/api/calibrations/{simulated['id']}/close", {"reason": "the printer goes", "version": simulated["version"]}
    )
    lab.post(f"/api/printers/{simulated['printer_id']}/retire")
    assert "is retired" in print_it(lab, code, 409)["error"]["message"]
    print_id = lab.get(f"/api/coupons/{code}")["print_id"]
    assert "is retired" in lab.post(f"/api/prints/{print_id}/printed", {}, 409)["error"]["message"]
    told = lab.get(f"/api/coupons/{code}/file?format=stl", 409)
    assert "is retired" in told["error"]["message"]
    lab.post(f"/api/arms/{simulated['arms'][0]['id']}/plan", {"exposures_s": [3.0]}, 409)


def _printer(lab, calibration):
    held = lab.get(f"/api/printers/{calibration['printer_id']}")
    return {k: v for k, v in held.items() if k not in ("id", "code", "created_at", "retired_at", "version")}


def test_a_coupon_that_comes_out_while_the_calibration_is_read_is_never_left_between_two_states(
    lab, simulated, db_path, monkeypatch
):
    """A screen that saw it neither printed nor under way would wait for nothing for ever."""
    code = lab.plan(simulated, [2.0])[0]
    begin = threading.Event()
    real_run = virtual.run
    monkeypatch.setitem(jobs.WORK, "virtual-print", lambda *given: begin.wait(30) and real_run(*given))
    job = print_it(lab, code)
    real_arms = assessment.arms

    def arms_then_printed(*given):
        arms = real_arms(*given)
        begin.set()
        watcher = connect(db_path)
        deadline = time.monotonic() + 30
        while time.monotonic() < deadline:
            if watcher.execute("SELECT state FROM job WHERE id = ?", (job["id"],)).fetchone()[0] == "done":
                break
            time.sleep(0.01)
        watcher.close()
        return arms

    monkeypatch.setattr(assessment, "arms", arms_then_printed)
    seen = lab.get(f"/api/calibrations/{simulated['id']}")
    monkeypatch.undo()
    card = seen["arms"][0]["coupons"][0]
    assert card["status"] == "planned" and seen["under_way"] == {card["print_id"]: job["id"]}
    after = lab.again(simulated)
    assert after["arms"][0]["coupons"][0]["status"] == "printed" and after["under_way"] == {}


def test_a_check_coupon_is_printed_photographed_and_read_on_the_simulated_printer(lab, simulated):
    for code in printed(lab, simulated, [1.5, 2.1, 2.9, 4.0]):
        read(lab, code)
    arm = lab.again(simulated)["arms"][0]
    chosen = arm["window"]["predictions"][len(arm["window"]["predictions"]) // 2]["exposure_s"]
    request = {"policy": "own choice", "exposure_s": chosen, "outside_reason": "to have a set that can be checked"}
    card = lab.issue(lab.again(simulated), **request)
    planned = lab.post(f"/api/sets/{card['code']}/check", {}, 201)
    before = lab.get(f"/api/coupons/{planned['coupon']}")
    assert before["simulated"] and not before["printed_virtually"] and before["job_id"] is None
    lab.ended(print_it(lab, planned["coupon"], temp_c=24, outside_band="no band was noted"))
    after = lab.get(f"/api/coupons/{planned['coupon']}")
    assert after["printed_virtually"] and len(after["photos"]) == 1 and after["check_of"] == card["code"]
    read(lab, planned["coupon"])
    assert lab.get(f"/api/sets/{card['code']}/life")["checks"][0]["coupon"] == planned["coupon"]


def test_a_coupon_marked_as_printed_by_hand_has_no_simulated_reader(lab, simulated):
    (code,) = lab.plan(simulated, [2.4])
    lab.print(code)
    assert lab.get(f"/api/coupons/{code}")["printed_virtually"] is False


class TestConfirmation:
    def confirm(self, lab, calibration, exposure_s, place="centre", status=200):
        url = f"/api/arms/{calibration['arms'][0]['id']}/virtual-confirmation"
        return lab.post(url, {"exposure_s": exposure_s, "place": place}, status)

    def test_far_too_little_and_far_too_much_light_are_found_and_nothing_is_saved(self, lab, simulated):
        (code,) = lab.plan(simulated, [2.4])
        lab.print(code)
        assert self.confirm(lab, simulated, 0.3)["finding"] == "too-little"
        told = self.confirm(lab, simulated, 30, "worst place")
        assert told["finding"] in ("too-much", "parts-fail") and told["note"].startswith("Outside the limits: ")
        assert lab.get(f"/api/calibrations/{simulated['id']}/confirm")["confirmations"] == []

    def test_a_real_printer_is_not_simulated(self, lab):
        assert "no simulated printer" in self.confirm(lab, lab.calibration(), 2, status=409)["error"]["message"]
