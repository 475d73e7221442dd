"""A second person's blind reading, and what is read besides counts and calipers."""

import pytest


@pytest.fixture
def read_coupon(lab):
    lab.post("/api/technicians", {"initials": "RB"}, 201)
    calibration = lab.calibration()
    (code,) = lab.series(calibration, [2.4])
    return calibration, code


def blind_of(lab, calibration, code):
    (card,) = [c for c in lab.again(calibration)["arms"][0]["coupons"] if c["code"] == code]
    return card["blind"]


class TestBlind:
    def test_another_technician_reads_without_seeing_and_disagreement_is_shown(self, lab, read_coupon):
        calibration, code = read_coupon
        asked = lab.post(f"/api/coupons/{code}/blind-readings", None, 201)
        (task,) = [t for t in lab.get("/api/board")["today"] if t["kind"] == "blind"]
        assert task["blind_id"] == asked["id"]
        seen = lab.get(f"/api/blind-readings/{asked['id']}")
        assert "reading" not in seen and "states" not in seen and seen["first_reader"] == "IM"
        first = lab.get(f"/api/coupons/{code}")["reading"]["features"]
        theirs = [{"key": f["feature_key"], "state": f["state"], "measured_mm": f["measured_mm"]} for f in first]
        wall = next(f for f in theirs if f["key"].startswith("wall") and f["state"] == "formed")
        wall["state"] = "absent"
        for f in theirs:
            if f["measured_mm"] is not None:
                f["measured_mm"] = round(f["measured_mm"] + 0.02, 3)
        bar = next(f for f in theirs if f["measured_mm"] is not None)
        bar["measured_mm"] = round(bar["measured_mm"] + 0.05, 3)
        lab.initials = "RB"
        made = lab.post(f"/api/blind-readings/{asked['id']}", {"features": theirs}, 201)
        assert {d["key"] for d in made["comparison"]["disagreements"]} == {wall["key"], bar["key"]}
        assert made["comparison"]["mean_difference_um"] > 20 and "disagree on 2" in made["comparison"]["summary"]
        (held,) = blind_of(lab, calibration, code)
        assert held["initials"] == "RB" and held["comparison"] == made["comparison"]
        assert not [t for t in lab.get("/api/board")["today"] if t["kind"] == "blind"]

    def test_the_first_reader_is_no_second_pair_of_eyes(self, lab, read_coupon):
        _, code = read_coupon
        asked = lab.post(f"/api/coupons/{code}/blind-readings", None, 201)
        body = {"features": lab.seen(code)}
        assert (
            "another technician"
            in lab.post(f"/api/blind-readings/{asked['id']}", body, 422)["error"]["fields"]["technician"]
        )
        lab.initials = "RB"
        lab.post(f"/api/blind-readings/{asked['id']}", body, 201)
        lab.post(f"/api/blind-readings/{asked['id']}", body, 409)

    def test_the_evidence_stays_the_first_reading_until_somebody_corrects_it(self, lab, read_coupon):
        calibration, code = read_coupon
        before = lab.again(calibration)["arms"][0]["window"]
        asked = lab.post(f"/api/coupons/{code}/blind-readings", None, 201)
        lab.post(f"/api/coupons/{code}/blind-readings", None, 409)
        lab.initials = "RB"
        lab.post(f"/api/blind-readings/{asked['id']}", {"features": lab.seen(code, 4.0)}, 201)
        assert lab.again(calibration)["arms"][0]["window"] == before
        lab.post(f"/api/blind-readings/{asked['id']}/withdraw")
        assert blind_of(lab, calibration, code) == []

    def test_a_coupon_without_a_reading_has_nothing_to_compare(self, lab):
        calibration = lab.calibration()
        (code,) = lab.plan(calibration, [2.4])
        lab.print(code)
        lab.post(f"/api/coupons/{code}/blind-readings", None, 409)


class TestMarks:
    def read(self, lab, calibration, exposure_s, pair, step, legible):
        (code,) = lab.plan(calibration, [exposure_s])
        lab.print(code)
        seen = [f for f in lab.seen(code) if not f["key"].startswith(("vernier", "taper", "legible"))]
        more = [{"key": f"vernier-{pair}", "state": "formed"}, {"key": f"taper-{step}", "state": "formed"}]
        more += [{"key": f"legible-{i}", "state": "formed" if i <= legible else "absent"} for i in range(1, 5)]
        lab.read(code, seen + more)

    def test_vernier_taper_plug_and_code_become_marks_on_the_axis(self, lab):
        calibration = lab.calibration()
        self.read(lab, calibration, 2.0, 3, 9, 3)
        self.read(lab, calibration, 2.6, 2, 8, 4)
        self.read(lab, calibration, 3.4, 1, 7, 2)
        marks = {m["key"]: m for m in lab.again(calibration)["arms"][0]["marks"]}
        # Step 9 is drawn without play: edges that have not grown stop it there.
        assert marks["taper"]["exposure_s"] == pytest.approx(2.0, rel=0.02)
        assert marks["legible"]["exposure_s"] == pytest.approx(2.6) and "0.65 mm" in marks["legible"]["meaning"]

    def test_only_one_pair_can_just_touch(self, lab):
        calibration = lab.calibration()
        (code,) = lab.plan(calibration, [2.4])
        lab.print(code)
        two = [{"key": "vernier-2", "state": "formed"}, {"key": "vernier-3", "state": "formed"}]
        assert "features.1.state" in lab.read(code, two, 422)["error"]["fields"]
        steps = [{"key": "taper-2", "state": "formed"}, {"key": "taper-3", "state": "formed"}]
        assert "plug stopped" in lab.read(code, steps, 422)["error"]["fields"]["features.1.state"]
        missing = lab.read(code, [{"key": "taper-2", "state": "absent"}], 422)
        assert "plug stopped" in missing["error"]["fields"]["features.0.state"]
