"""Gauge studies through the API: planned, read in hidden order, their result in the window, biases corrected when asked for."""

from __future__ import annotations

import io
import random
from itertools import pairwise

import pytest

from tests.lab import LIMITS
from tests.pictures import SCAN, picture, printed

READERS = {"IM": 0.0, "RB": 12.0, "TK": 4.0}
"""Initials with how many µm of growth each reads too much."""


@pytest.fixture
def coupons(lab):
    for initials in ("RB", "TK"):
        lab.post("/api/technicians", {"initials": initials}, 201)
    calibration = lab.calibration(limits={**LIMITS, "growth_tol_um": 18})
    return calibration, lab.series(calibration, [1.6, 1.9, 2.3, 2.7, 3.2])


def planned(lab, codes, **changes):
    body = {"measure": "edges", "coupons": codes, "technicians": list(READERS), "repeats": 2, **changes}
    return lab.post("/api/gauge-studies", body, 201)


def turn_of(lab, study, initials):
    lab.initials = initials
    return lab.get(f"/api/gauge-studies/{study['code']}/next")["turn"]


def read_all(lab, study, biases=None, noise_um=1.0):
    """Everybody reads every coupon: growth rises from coupon to coupon by 15 µm."""
    chance = random.Random(3)
    order = {code: place for place, code in enumerate(study["coupons"])}
    seen = {}
    for initials, bias in (READERS if biases is None else biases).items():
        while (turn := turn_of(lab, study, initials)) is not None:
            seen.setdefault(initials, []).append(turn["coupon"])
            growth = (15 * order[turn["coupon"]] - 30 + bias + chance.gauss(0, noise_um)) / 1000
            body = {
                "outer_mm": round(turn["outer"]["size_mm"] + 2 * growth, 4),
                "inner_mm": round(turn["inner"]["size_mm"] - 2 * growth, 4),
            }
            lab.post(f"/api/gauge-turns/{turn['turn_id']}/reading", body, 201)
    lab.initials = "IM"
    return seen


@pytest.mark.long
def test_everybody_reads_every_coupon_as_often_in_an_order_of_their_own_without_seeing_anything(lab, coupons):
    _, codes = coupons
    study = planned(lab, codes)
    assert (study["turns"], study["done"], study["result"], study["cells"]) == (30, 0, None, [])
    turn = turn_of(lab, study, "RB")
    assert "growth_um" not in turn and (turn["place"], turn["of"]) == (1, 10)
    seen = read_all(lab, study)
    assert all(sorted(order) == sorted(codes * 2) for order in seen.values())
    assert len({tuple(order) for order in seen.values()}) == 3
    assert all(a != b for order in seen.values() for a, b in pairwise(order))


def test_its_result_says_whose_readings_lie_off_and_the_window_is_so_much_less_sure(lab, coupons):
    calibration, codes = coupons
    before = lab.again(calibration)["arms"][0]["window"]
    study = planned(lab, codes)
    read_all(lab, study)
    finished = lab.get(f"/api/gauge-studies/{study['code']}")
    result = finished["result"]
    assert finished["counts"] and finished["tolerance_um"] == 36
    assert 4 < result["reproducibility_sd"] < 9 and result["distinct_categories"] >= 4
    biases = {bias["technician"]: bias for bias in result["biases"]}
    assert biases["RB"]["shown"] and 4 < biases["RB"]["bias"] < 10
    after = lab.again(calibration)["arms"][0]["window"]
    assert "gauge-study" in {w["code"] for w in after["warnings"]} - {w["code"] for w in before["warnings"]}
    widths = [
        lane["lower_ci_s"][1] - lane["lower_ci_s"][0] for lane in (before["lanes"]["size"], after["lanes"]["size"])
    ]
    assert widths[1] > widths[0]
    lab.post(f"/api/gauge-studies/{study['code']}/withdraw", {"reason": "calipers were off"})
    assert lab.again(calibration)["arms"][0]["window"] == before


@pytest.mark.long
def test_a_bias_is_taken_off_only_when_it_is_shown_and_asked_for(lab, coupons):
    calibration, codes = coupons
    study = planned(lab, codes)
    read_all(lab, study)
    finished = lab.get(f"/api/gauge-studies/{study['code']}")
    reader = next(r["reader"] for r in finished["readers"] if r["name"] == "IM")
    without = lab.again(calibration)["arms"][0]["window"]
    assert finished["result"]["biases"][reader]["shown"] and finished["result"]["biases"][reader]["bias"] < -3
    corrected = lab.post(f"/api/gauge-studies/{study['code']}/corrections", {"reader": reader}, 201)
    (correction,) = corrected["corrections"]
    window = lab.again(calibration)["arms"][0]["window"]
    (notice,) = [w for w in window["warnings"] if w["code"] == "bias-corrected"]
    assert "IM" in notice["message"] and study["code"] in notice["message"]
    # IM reads edges as grown too little: without that, nominal size needs less light.
    assert window["size_true_s"] < without["size_true_s"]
    lab.post(f"/api/reader-corrections/{correction['id']}/end")
    assert lab.again(calibration)["arms"][0]["window"]["size_true_s"] == without["size_true_s"]


@pytest.mark.long
def test_a_bias_that_is_not_shown_is_not_corrected(lab, coupons):
    _, codes = coupons
    study = planned(lab, codes)
    read_all(lab, study, biases=dict.fromkeys(READERS, 0.0), noise_um=4.0)
    finished = lab.get(f"/api/gauge-studies/{study['code']}")
    reader = next(i for i, bias in enumerate(finished["result"]["biases"]) if not bias["shown"])
    error = lab.post(f"/api/gauge-studies/{study['code']}/corrections", {"reader": reader}, 409)["error"]
    assert "does not show a bias" in error["message"]


def test_the_last_reading_can_be_made_again_and_stays_on_record(lab, coupons):
    _, codes = coupons
    study = planned(lab, codes)
    turn = turn_of(lab, study, "RB")
    body = {"outer_mm": turn["outer"]["size_mm"], "inner_mm": turn["inner"]["size_mm"]}
    lab.post(f"/api/gauge-turns/{turn['turn_id']}/reading", body, 201)
    again = lab.post(f"/api/gauge-studies/{study['code']}/undo", {"reader": "me"})["turn"]
    assert again["turn_id"] == turn["turn_id"] and not again["can_undo"]
    assert lab.get(f"/api/gauge-studies/{study['code']}")["done"] == 0


@pytest.mark.long
def test_the_picture_reader_takes_its_turn_by_scans(lab, coupons):
    _, codes = coupons
    study = planned(lab, codes[:2], technicians=["IM"], with_picture_reader=True)
    lab.initials = "IM"
    place = f"/api/gauge-studies/{study['code']}/next?reader=picture"
    turn = lab.get(place)["turn"]
    exposure_s = lab.get(f"/api/coupons/{turn['coupon']}")["exposure_s"]
    scan = picture(printed(exposure_s), turn["coupon"], SCAN)

    def give(content, expected, query="?dots_per_inch=600"):
        answer = lab.client.post(
            f"/api/gauge-turns/{turn['turn_id']}/picture{query}",
            data={"picture": (io.BytesIO(content), "scan.jpg")},
            headers={"Setback-Technician": "IM"},
        )
        assert answer.status_code == expected, answer.get_data(as_text=True)[:300]
        return answer.get_json()

    assert "known resolution" in give(scan, 422, "")["error"]["fields"]["picture"]
    other = next(code for code in codes if code != turn["coupon"])
    assert "not" in give(picture(printed(2.0), other, SCAN), 422)["error"]["fields"]["picture"]
    give(scan, 201)
    assert lab.get(place)["turn"]["place"] == 2
    assert "was read already" in give(scan, 409)["error"]["message"]


class TestRefused:
    @pytest.mark.parametrize(
        ("changes", "field", "words"),
        [
            ({"coupons": []}, "coupons", "two coupons or more"),
            ({"coupons": ["999Z", "998Z"]}, "coupons", "no coupon"),
            ({"technicians": ["IM"]}, "technicians", "two readers or more"),
            ({"technicians": ["IM", "IM"]}, "technicians", "twice"),
            ({"technicians": ["IM", "ZZ"]}, "technicians", "not a technician"),
            ({"repeats": 1}, "repeats", "2"),
        ],
    )
    def test_a_plan_that_tells_nothing(self, lab, coupons, changes, field, words):
        _, codes = coupons
        body = {"measure": "edges", "coupons": codes, "technicians": ["IM", "RB"], **changes}
        assert words in lab.post("/api/gauge-studies", body, 422)["error"]["fields"][field]

    def test_a_coupon_chosen_twice_or_not_printed(self, lab, coupons):
        calibration, codes = coupons
        (waiting,) = lab.plan(calibration, [4.0])
        body = {"measure": "edges", "technicians": ["IM", "RB"]}
        for chosen, words in ((codes[:2] + codes[:1], "twice"), ([codes[0], waiting], "not printed")):
            error = lab.post("/api/gauge-studies", {**body, "coupons": chosen}, 422)["error"]
            assert words in error["fields"]["coupons"]

    def test_somebody_elses_turn_a_missing_value_and_a_slip_of_units(self, lab, coupons):
        _, codes = coupons
        study = planned(lab, codes)
        turn = turn_of(lab, study, "RB")
        place = f"/api/gauge-turns/{turn['turn_id']}/reading"
        assert "Measure it" in lab.post(place, {"outer_mm": 7.0}, 422)["error"]["fields"]["inner_mm"]
        slip = lab.post(place, {"outer_mm": 70.0, "inner_mm": 7.0}, 422)["error"]["fields"]["outer_mm"]
        assert "ten times" in slip
        lab.initials = "TK"
        assert "turn of RB" in lab.post(place, {"outer_mm": 7.0, "inner_mm": 7.0}, 409)["error"]["message"]
        lab.initials = "IM"
        assert lab.get(f"/api/gauge-studies/{study['code']}")["done"] == 0

    def test_a_withdrawn_study_is_read_no_more(self, lab, coupons):
        _, codes = coupons
        study = planned(lab, codes)
        lab.post(f"/api/gauge-studies/{study['code']}/withdraw", {"reason": "wrong coupons"})
        assert "withdrawn" in lab.get(f"/api/gauge-studies/{study['code']}/next", 409)["error"]["message"]
        assert (
            "withdrawn already"
            in lab.post(f"/api/gauge-studies/{study['code']}/withdraw", {"reason": "once more"}, 409)["error"][
                "message"
            ]
        )
