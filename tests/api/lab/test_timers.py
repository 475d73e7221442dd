"""Timers outlive the page and the server."""

import random

import pytest

from setback.api.app import create_app
from tests.conftest import MovedClock
from tests.lab import Lab


def test_several_run_at_once_the_next_due_first(lab):
    lab.post("/api/timers", {"name": "Clean bath 104R", "seconds": 300, "place": "/coupons/104R"}, 201)
    lab.post("/api/timers", {"name": "Dirty bath 105U", "seconds": 120}, 201)
    held = lab.get("/api/timers")["items"]
    assert [t["name"] for t in held] == ["Dirty bath 105U", "Clean bath 104R"]
    assert 100 < held[0]["left_s"] < 120 and held[1]["place"] == "/coupons/104R"


def test_a_timer_survives_a_restart_and_runs_on(lab, db_path):
    lab.post("/api/timers", {"name": "Cure", "seconds": 360}, 201)
    before = lab.get("/api/timers")["items"][0]
    clock = MovedClock()
    app = create_app(db_path, clock=clock, worker=False)
    again = Lab(app.test_client(), random.Random(1)).get("/api/timers")["items"][0]
    assert again["due_at"] == before["due_at"]


def test_ended_timers_leave_the_bar_and_can_be_taken_back(lab):
    made = lab.post("/api/timers", {"name": "Dry", "seconds": 60}, 201)
    lab.post(f"/api/timers/{made['id']}/end")
    assert lab.get("/api/timers")["items"] == []
    lab.post(f"/api/timers/{made['id']}/end", None, 409)
    lab.post(f"/api/timers/{made['id']}/resume")
    assert len(lab.get("/api/timers")["items"]) == 1


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"seconds": 0}, "seconds"),
        ({"name": " "}, "name"),
        ({"seconds": 9e9}, "seconds"),
        ({"place": "http://x"}, "place"),
    ],
)
def test_bad_timers_are_refused(lab, change, field):
    assert field in lab.post("/api/timers", {"name": "Dry", "seconds": 60, **change}, 422)["error"]["fields"]
    lab.post("/api/timers/nothing/end", None, 404)
