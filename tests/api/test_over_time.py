"""Success of prints over time through the API: of a material, of a printer, of both."""

from datetime import timedelta

import pytest


@pytest.fixture
def shelf(lab):
    return lab.shelf()


def log(lab, shelf, whole, days_ago=0, **changes):
    at = lab.clock.now - timedelta(days=days_ago)
    body = {
        "printer_id": shelf["printer_id"],
        "trial": {"material_id": shelf["material_id"], "layer_height_um": 50, "exposure_s": 2.6},
        "started_at": (at - timedelta(hours=2)).isoformat(),
        "finished_at": at.isoformat(),
        "parts": [{"name": "clip", "printed": 4, "whole": 4 if whole else 3}],
        "pieces_lost": False,
        **changes,
    }
    return lab.post("/api/prints", body, 201)


def over_time(lab, **asked):
    return lab.get("/api/success-over-time?" + "&".join(f"{name}={value}" for name, value in asked.items()))


def test_months_hold_their_prints_and_what_is_taken_back_is_gone(lab, shelf):
    assert over_time(lab, material=shelf["material_id"]) == {"months": [], "change": None}
    for days_ago, whole in ((70, True), (65, False), (30, True), (0, True)):
        last = log(lab, shelf, whole, days_ago)
    told = over_time(lab, material=shelf["material_id"], printer=shelf["printer_id"])
    assert [(one["prints"], one["whole"]) for one in told["months"]] == [(2, 1), (1, 1), (1, 1)]
    lab.post(f"/api/prints/{last['id']}/withdraw", {"reason": "It was another printer."})
    assert len(over_time(lab, printer=shelf["printer_id"])["months"]) == 2


def test_other_materials_and_older_years_are_left_out(lab, shelf):
    log(lab, shelf, True)
    log(lab, shelf, True, days_ago=800)
    log(lab, shelf, True, days_ago=1, trial=None, set_code=None)
    told = over_time(lab, material=shelf["material_id"])
    assert [(one["month"], one["prints"]) for one in told["months"]] == [("2026-01", 1)]
    assert sum(one["prints"] for one in over_time(lab, printer=shelf["printer_id"])["months"]) == 2


def test_newest_prints_that_fail_more_often_are_told(lab, shelf):
    for number in range(41):
        log(lab, shelf, whole=number < 21, days_ago=41 - number)
    change = over_time(lab, material=shelf["material_id"])["change"]
    assert change["shown"] and change["newest_whole"] == 0 and change["before_whole"] == 21
