"""Practice through the API: hidden coupons, read against their truth, and a person's bias over time."""

from __future__ import annotations

import io
import json
import sqlite3
from contextlib import closing

import pytest
from PIL import Image


def features(states):
    return [{"key": key, "state": state} for key, state in states.items()]


def everything(plan, state="formed"):
    return features({f["key"]: state for f in plan["features"] if f["kind"] in ("wall", "slot")})


def test_nothing_is_told_before_it_is_read_and_everything_after(lab):
    begun = lab.post("/api/practice/rounds", {"level": 1}, 201)
    (coupon,) = begun["coupons"]
    assert (coupon["truth"], coupon["right_s"], coupon["growth_um"], coupon["score"]) == (None,) * 4
    content = lab.client.get(f"/api/practice/coupons/{coupon['id']}/picture").get_data()
    assert Image.open(io.BytesIO(content)).size[0] > 1000
    body = {"features": everything(begun["plan"]), "verdict": "over", "next_s": 2.0}
    after = lab.post(f"/api/practice/coupons/{coupon['id']}/reading", body, 201)
    first, second = after["coupons"]
    assert first["score"]["true_call"] in ("under", "right", "over") and first["right_s"] > 0
    # Everything was called whole; what is not, is wrong.
    otherwise = {key for key, state in first["truth"].items() if key.startswith(("wall", "slot")) and state != "formed"}
    assert otherwise <= {mark["key"] for mark in first["score"]["wrong"]}
    # The next coupon of the round was printed at the exposure that was chosen.
    assert second["exposure_s"] == 2.0 and second["truth"] is None


@pytest.mark.long
def test_a_round_read_rightly_scores_so_and_shows_over_time(lab):
    begun = lab.post("/api/practice/rounds", {"level": 3}, 201)
    assert lab.get("/api/practice")["open_round"] == begun["id"]
    lab.post("/api/technicians", {"initials": "RB"}, 201)
    for place in range(begun["of"]):
        coupon = lab.get(f"/api/practice/rounds/{begun['id']}")["coupons"][place]
        truth = known(lab, coupon["id"])
        body = {"features": features(truth["states"]), "verdict": truth["call"], "next_s": truth["right_s"]}
        done = lab.post(f"/api/practice/coupons/{coupon['id']}/reading", body, 201)
        result = done["coupons"][place]["score"]
        assert result["wrong"] == [] and result["call"] == result["true_call"] and result["nearer"]
        assert abs(result["next_off_pct"]) < 2 and result["wall_bias_um"] == result["slot_bias_um"] == 0
    assert done["finished_at"]
    (person,) = lab.get("/api/practice")["people"]
    assert (person["initials"], person["coupons"], person["rightly_called"], person["wrong_pct"]) == ("IM", 4, 4, 0)
    assert {bias["of"] for bias in person["biases"]} >= {"walls", "slots"} and len(person["points"]) == 4
    assert lab.get("/api/practice")["open_round"] is None


def known(lab, coupon_id):
    """The hidden truth, from the file."""
    with closing(sqlite3.connect(lab.path)) as db:
        return json.loads(db.execute("SELECT truth FROM practice_coupon WHERE id = ?", (coupon_id,)).fetchone()[0])


@pytest.mark.long
def test_what_is_missing_is_said_and_somebody_elses_round_is_not_read(lab):
    begun = lab.post("/api/practice/rounds", {"level": 1}, 201)
    place = f"/api/practice/coupons/{begun['coupons'][0]['id']}/reading"
    body = {"features": everything(begun["plan"]), "verdict": "under", "next_s": 2.0}
    assert "under, right or over" in lab.post(place, {**body, "verdict": None}, 422)["error"]["fields"]["verdict"]
    assert "next" in lab.post(place, {**body, "next_s": None}, 422)["error"]["fields"]["next_s"]
    assert "between" in lab.post(place, {**body, "next_s": 500}, 422)["error"]["fields"]["next_s"]
    lab.post("/api/technicians", {"initials": "RB"}, 201)
    lab.initials = "RB"
    assert "round of IM" in lab.post(place, body, 409)["error"]["message"]
    lab.post("/api/practice/rounds", {"level": 4}, 422)
    lab.get("/api/practice/rounds/none", 404)
