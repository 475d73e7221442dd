"""Depth, first layer and arms side by side, through the API."""

import math

import pytest

from setback.core.calculators import CALCULATORS


@pytest.fixture
def calibration(lab):
    return lab.calibration()


def test_squares_that_are_all_alike_are_kept_and_refused_in_a_sentence(lab):
    calibration = lab.calibration()
    for square, depth in zip(squares(lab, calibration, [2, 4, 8]), (0.20, 0.21, 0.20), strict=True):
        measure(lab, square, depth)
    held = lab.get(depth_url(calibration))
    assert [s["mean_mm"] for s in held["squares"]] == [0.20, 0.21, 0.20]
    assert held["curve"] is None and "cannot be told from all alike" in held["refused"]


def depth_url(calibration):
    return f"/api/calibrations/{calibration['id']}/depth"


def change_depth(lab, calibration, status=200, **settings):
    url = depth_url(calibration)
    return lab.put(url, {"version": lab.get(url)["version"], **settings}, status)


def squares(lab, calibration, times):
    return lab.post(f"/api/calibrations/{calibration['id']}/depth-squares", {"exposures_s": times}, 201)["squares"]


def measure(lab, square, *thicknesses, expected=201, **more):
    return lab.post(
        f"/api/depth-squares/{square['id']}/readings", {"thicknesses_mm": list(thicknesses), **more}, expected
    )


class TestDepth:
    def test_an_empty_stage_suggests_times_on_the_printers_step(self, lab, calibration):
        held = lab.get(depth_url(calibration))
        assert held["squares"] == [] and held["curve"] is None and held["refused"] is None
        assert held["suggested_s"] == sorted(held["suggested_s"]) and len(held["suggested_s"]) == 4

    def test_the_curve_is_the_calculators_own(self, lab, calibration):
        made = squares(lab, calibration, [3, 6, 12])
        for square, values in zip(made, ((0.15, 0.16), (0.24, 0.25, 0.24), (0.33,)), strict=True):
            measure(lab, square, *values)
        change_depth(lab, calibration, irradiance_mw_cm2=2.4)
        held = lab.get(depth_url(calibration))
        points = [{"exposure_s": s["exposure_s"], "depth_mm": s["mean_mm"]} for s in held["squares"]]
        given = {"points": points, "irradiance_mw_cm2": 2.4, "layer_heights_um": [50]}
        assert held["curve"] == CALCULATORS["working-curve"](given)
        assert held["squares"][1]["spread_um"] == pytest.approx(10)

    def test_one_square_and_falling_thickness_say_what_is_missing(self, lab, calibration):
        one, other = squares(lab, calibration, [3, 6])
        measure(lab, one, 0.3)
        assert "Two different times" in lab.get(depth_url(calibration))["refused"]
        measure(lab, other, 0.2)
        held = lab.get(depth_url(calibration))
        assert held["curve"] is None and "does not rise with time" in held["refused"]

    def test_micrometres_typed_as_millimetres_are_asked_back(self, lab, calibration):
        (square,) = squares(lab, calibration, [3])
        told = measure(lab, square, 0.2, 250, expected=422)["error"]
        assert "Was 250 µm (0.25 mm) meant?" in told["fields"]["thicknesses_mm.1"]
        assert told["suggest"] == {"thicknesses_mm.1": 0.25}

    def test_a_correction_supersedes_with_a_reason_and_never_silently(self, lab, calibration):
        (square,) = squares(lab, calibration, [3])
        first = measure(lab, square, 0.2)["squares"][0]["reading_id"]
        measure(lab, square, 0.21, expected=409)
        told = measure(lab, square, 0.21, supersedes_id=first, expected=422)
        assert "reason" in told["error"]["fields"]
        held = measure(lab, square, 0.21, supersedes_id=first, reason="calipers were not zeroed")
        assert held["squares"][0]["mean_mm"] == 0.21 and held["squares"][0]["earlier"] == 1

    def test_times_off_the_printers_step_name_the_nearest(self, lab, calibration):
        url = f"/api/calibrations/{calibration['id']}/depth-squares"
        told = lab.post(url, {"exposures_s": [3, 4.56]}, 422)["error"]
        assert "4.6 s is the nearest" in told["fields"]["exposures_s.1"]
        assert lab.get(depth_url(calibration))["squares"] == [], "nothing is half saved"

    def test_a_square_taken_out_can_come_back(self, lab, calibration):
        one, _ = squares(lab, calibration, [3, 6])
        assert len(lab.post(f"/api/depth-squares/{one['id']}/gone", {"reason": "torn"})["squares"]) == 1
        assert len(lab.post(f"/api/depth-squares/{one['id']}/found")["squares"]) == 2

    def test_a_least_overcure_makes_the_cure_lane_and_an_issued_set_keeps_it(self, lab):
        calibration = lab.decided()
        for square, depth in zip(squares(lab, calibration, [3, 6, 12]), (0.16, 0.25, 0.34), strict=True):
            measure(lab, square, depth)
        assert "cure" not in lab.again(calibration)["arms"][0]["window"]["lanes"]
        change_depth(lab, calibration, min_overcure_um=80)
        now = lab.again(calibration)
        lane = now["arms"][0]["window"]["lanes"]["cure"]
        curve = lab.get(depth_url(calibration))["curve"]
        assert lane["lower_s"] == pytest.approx(
            curve["critical_exposure_s"] * 2.718281828 ** (0.13 / curve["penetration_depth_mm"]), rel=1e-3
        )
        issue = {
            "version": now["version"],
            "arm_id": now["arms"][0]["id"],
            "policy": "centre",
            "reason": "parts carry load",
            "exposure_s": now["arms"][0]["window"]["policies"]["centre"],
        }
        code = lab.post(f"/api/calibrations/{calibration['id']}/issue", issue, 201)["code"]
        assert lab.get(f"/api/sets/{code}")["code"] == code
        change_depth(lab, calibration, min_overcure_um=None)
        assert "cure" not in lab.again(calibration)["arms"][0]["window"]["lanes"]

    def test_the_simulated_printer_measures_its_squares(self, lab):
        calibration = lab.calibration(lab.shelf(simulated=True))
        for square in squares(lab, calibration, [6, 12, 24]):
            seen = lab.post(f"/api/depth-squares/{square['id']}/virtual-reading")["thicknesses_mm"]
            assert seen == lab.post(f"/api/depth-squares/{square['id']}/virtual-reading")["thicknesses_mm"]
            measure(lab, square, *seen)
        curve = lab.get(depth_url(calibration))["curve"]
        assert 0.08 < curve["penetration_depth_mm"] < 0.16 and curve["character"] in ("opaque", "between")

    def test_a_closed_calibration_plans_nothing(self, lab, calibration):
        given = {"reason": "done with it", "version": calibration["version"]}
        lab.post(f"/api/calibrations/{calibration['id']}/close", given)
        lab.post(f"/api/calibrations/{calibration['id']}/depth-squares", {"exposures_s": [3]}, 409)


class TestFirstLayer:
    def url(self, calibration):
        return f"/api/calibrations/{calibration['id']}/base-tries"

    def test_tries_lead_to_the_base_exposure(self, lab, calibration):
        held = lab.get(f"/api/calibrations/{calibration['id']}/first-layer")
        assert held["advice"]["action"] == "try" and held["normal_from"] == "middle of the range"
        all_checked = ["level", "zero", "resin", "bubbles"]
        lab.post(self.url(calibration), {"base_exposure_s": 20, "rating": 1, "thickness_mm": 0.06}, 201)
        given = {"base_exposure_s": 20, "rating": 2, "thickness_mm": 0.06, "checked": all_checked}
        held = lab.post(self.url(calibration), given, 201)
        assert (held["advice"]["action"], held["advice"]["base_exposure_s"]) == ("raise", 26)
        held = lab.post(self.url(calibration), {"base_exposure_s": 26, "rating": 3, "thickness_mm": 0.055}, 201)
        assert held["advice"]["action"] == "done" and held["advice"]["z_offset_um"] == pytest.approx(5)
        assert [t["rating"] for t in held["tries"]] == [1, 2, 3] and held["tries"][0]["initials"] == "IM"

    @pytest.mark.parametrize(
        ("change", "field"),
        [
            ({"thickness_mm": None}, "thickness_mm"),
            ({"rating": 0}, "thickness_mm"),
            ({"thickness_mm": 55}, "thickness_mm"),
            ({"foot_mm": 10.2}, "above_mm"),
            ({"rating": 7}, "rating"),
            ({"checked": ["luck"]}, "checked.0"),
        ],
    )
    def test_what_makes_no_sense_is_said_at_its_field(self, lab, calibration, change, field):
        given = {"base_exposure_s": 20, "rating": 3, "thickness_mm": 0.06, **change}
        assert field in lab.post(self.url(calibration), given, 422)["error"]["fields"]

    def test_a_try_can_be_withdrawn_and_brought_back(self, lab, calibration):
        held = lab.post(self.url(calibration), {"base_exposure_s": 20, "rating": 4, "thickness_mm": 0.06}, 201)
        try_id = held["tries"][0]["id"]
        held = lab.post(f"/api/base-tries/{try_id}/withdraw", {"reason": "wrong plate"})
        assert held["tries"] == [] and held["advice"]["action"] == "try"
        lab.post(f"/api/base-tries/{try_id}/withdraw", {"reason": "wrong plate"}, 409)
        assert len(lab.post(f"/api/base-tries/{try_id}/restore")["tries"]) == 1

    def test_the_working_curve_feeds_the_multiple(self, lab, calibration):
        for square, depth in zip(squares(lab, calibration, [3, 6, 12]), (0.16, 0.25, 0.34), strict=True):
            measure(lab, square, depth)
        held = lab.get(f"/api/calibrations/{calibration['id']}/first-layer")
        assert held["normal_from"] == "working curve"
        suggested = lab.get(depth_url(calibration))["curve"]["layer_exposures"][0]["exposure_s"]
        assert held["normal_exposure_s"] == pytest.approx(suggested, abs=0.05)


class TestArms:
    def test_one_arm_says_what_is_missing(self, lab):
        calibration = lab.decided()
        held = lab.get(f"/api/calibrations/{calibration['id']}/arms")
        assert held["result"] is None and "Two arms" in held["refused"]

    def test_two_arms_are_compared_as_the_calculator_does(self, lab):
        calibration = lab.decided()
        settings = {"rest_before_s": 4}
        lab.post(f"/api/calibrations/{calibration['id']}/arms", {"name": "rest 4 s", "settings": settings}, 201)
        lab.series(lab.again(calibration), [1.8, 2.4, 3.2], arm=1)
        held = lab.get(f"/api/calibrations/{calibration['id']}/arms")
        assert held["differs"] == [{"arm": "rest 4 s", "settings": ["rest_before_s"]}]
        shift = held["result"]["shifts"][0]
        assert shift["seconds_per_layer_change"] == pytest.approx(3, abs=1.5)
        first, other = (arm["window"]["size_true_s"] for arm in lab.again(calibration)["arms"])
        assert shift["size_true_shift_pct"] == pytest.approx(100 * (other / first - 1), abs=0.01)


class TestWhatTheCurveAsksFor:
    """After the squares: a thicker layer for a clear resin, and a square nearer to the depth that is needed."""

    def measured(self, lab, thickness_of):
        calibration = lab.calibration()
        held = lab.post(f"/api/calibrations/{calibration['id']}/depth-squares", {"exposures_s": [3, 6, 12]}, 201)
        for square in held["squares"]:
            mm = round(thickness_of(square["exposure_s"]), 3)
            held = lab.post(f"/api/depth-squares/{square['id']}/readings", {"thicknesses_mm": [mm]}, 201)
        return held

    def test_a_clear_resin_is_shown_a_thicker_layer_and_blooms_less_in_it(self, lab):
        held = self.measured(lab, lambda t: 0.26 * math.log(t / 1.2))
        heights = {one["layer_height_um"]: one for one in held["curve"]["layer_exposures"]}
        assert held["curve"]["character"] == "clear" and held["thicker_um"] == 100
        assert heights[100]["z_bloom_accumulated_um"] < heights[50]["z_bloom_accumulated_um"]

    def test_an_opaque_one_is_not(self, lab):
        held = self.measured(lab, lambda t: 0.11 * math.log(t / 1.2))
        assert held["curve"]["character"] == "opaque" and held["thicker_um"] is None
        assert [one["layer_height_um"] for one in held["curve"]["layer_exposures"]] == [50]

    def test_a_depth_no_square_reached_names_the_time_that_would(self, lab):
        held = self.measured(lab, lambda t: 0.26 * math.log(t / 1.2))
        own = next(one for one in held["curve"]["layer_exposures"] if one["layer_height_um"] == 50)
        assert own["extrapolated"] and held["suggested_s"] == [pytest.approx(own["exposure_s"], abs=0.05)]

    def test_a_square_on_its_way_is_waited_for(self, lab):
        held = self.measured(lab, lambda t: 0.26 * math.log(t / 1.2))
        url = f"/api/calibrations/{held['calibration_id']}/depth-squares"
        assert lab.post(url, {"exposures_s": held["suggested_s"]}, 201)["suggested_s"] == []
