"""Ladder, verdict, print time and size."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from setback.core.calculators import CALCULATORS, run_text
from setback.core.contract import Problem
from setback.core.reading.size import implausible_reading

ladder, verdict, timing, size = (
    CALCULATORS[name] for name in ("exposure-ladder", "coupon-verdict", "print-time", "size-fit")
)


class TestLadder:
    def test_duplicates_are_dropped_and_said(self):
        made = ladder({"low_s": 1, "high_s": 1.2, "count": 9, "exposure_step_s": 0.1})
        assert made["exposures_s"] == [1.0, 1.1, 1.2]
        assert made["warnings"][0]["code"] == "duplicates-dropped"

    def test_rounds_half_up(self):
        assert ladder({"low_s": 1.25, "high_s": 1.25, "count": 1, "exposure_step_s": 0.1})["exposures_s"] == [1.3]

    @pytest.mark.parametrize(("low", "high", "field"), [(3, 2, "high_s"), (0.01, 2, "low_s")])
    def test_refuses(self, low, high, field):
        with pytest.raises(Problem) as caught:
            ladder({"low_s": low, "high_s": high, "count": 3, "exposure_step_s": 0.1})
        assert field in caught.value.fields

    @given(st.floats(0.5, 5), st.floats(1.01, 8), st.integers(1, 12), st.sampled_from([0.05, 0.1, 0.5]))
    def test_is_sorted_distinct_and_within_a_step_of_its_range(self, low, ratio, count, step):
        made = ladder({"low_s": low, "high_s": low * ratio, "count": count, "exposure_step_s": step})["exposures_s"]
        assert made == sorted(set(made))
        assert made[0] >= low - step and made[-1] <= low * ratio + step


class TestVerdict:
    def ask(self, coupon, **limits):
        return verdict({"coupon": {"exposure_s": 2, **coupon}, "limits": limits})

    def test_thinner_than_required_does_not_count(self):
        walls = [{"size_mm": 0.1, "standing": 0}, {"size_mm": 0.2, "standing": 1}]
        assert self.ask({"walls": walls}, walls_size_mm=0.2)["verdict"] == "ok"
        assert self.ask({"walls": walls}, walls_size_mm=0.1)["verdict"] == "under"

    def test_bloom_counts_as_over(self):
        gaps = [{"nominal_mm": 1, "measured_mm": 0.8}]
        assert self.ask({"z_gaps": gaps}, z_bloom_max_um=150)["over"] == ["z"]

    def test_nothing_to_judge_is_no_verdict(self):
        told = self.ask({"walls": [{"size_mm": 0.2, "standing": 1}]}, growth_tol_um=40)
        assert told["verdict"] is None and told["judged"] == []

    def test_growth_exactly_at_the_limit_is_within(self):
        blocks = [
            {"kind": "outer", "nominal_mm": 7, "measured_mm": 6.91},
            {"kind": "inner", "nominal_mm": 7, "measured_mm": 7.09},
        ]
        assert self.ask({"blocks": blocks}, growth_tol_um=45)["verdict"] == "ok"

    def test_uncured_is_provisional(self):
        walls = [{"size_mm": 0.2, "standing": 1}]
        assert "provisional" in [
            w["code"] for w in self.ask({"walls": walls, "uncured": True}, walls_size_mm=0.2)["warnings"]
        ]


class TestPrintTime:
    BASE = {
        "layers": 60,
        "base_layers": 4,
        "transition_layers": 3,
        "exposure_s": 2.2,
        "base_exposure_s": 24,
        "rest_before_s": 5,
        "lift_mm": 6,
        "lift_mm_min": 60,
        "retract_mm_min": 150,
    }

    def test_a_delay_that_includes_motion_leaves_what_is_over(self):
        plain = timing(self.BASE | {"rest_before_s": 0})
        left = timing(self.BASE | {"rest_before_s": 10, "delay_includes_motion": True})
        assert left["rest_before_s"] == pytest.approx(10 - 8.4)
        assert left["total_s"] == pytest.approx(plain["total_s"] + 60 * 1.6)

    def test_a_delay_shorter_than_the_motion_is_said(self):
        told = timing(self.BASE | {"delay_includes_motion": True})
        assert told["rest_before_s"] == 0 and told["warnings"][0]["code"] == "no-rest"

    def test_more_base_layers_than_layers(self):
        with pytest.raises(Problem) as caught:
            timing(self.BASE | {"layers": 5})
        assert "at least 7" in caught.value.fields["layers"].lower()

    def test_budgets_a_ladder(self):
        told = timing(self.BASE | {"exposures_s": [2, 3], "volume_ml": 1.5})
        assert told["ladder_total_s"] == pytest.approx(sum(step["total_s"] for step in told["ladder"]))
        assert told["ladder_volume_ml"] == 3.0
        # Only the 53 normal layers and the share of the three transition layers change with exposure.
        assert told["ladder"][1]["total_s"] - told["ladder"][0]["total_s"] == pytest.approx(53 + 1.5)


class TestSize:
    def bars(self, scale, growth, axis=None, error=0.0):
        more = {"axis": axis} if axis else {}
        return [
            {"kind": k, "nominal_mm": n, "measured_mm": n * scale + s * 2 * growth + error, **more}
            for n in (5, 9)
            for k, s in (("outer", 1), ("inner", -1))
        ]

    @given(st.floats(0.99, 1.01), st.floats(-0.08, 0.08))
    def test_recovers_scale_and_growth(self, scale, growth):
        told = size({"features": self.bars(scale, growth)})
        assert told["scale_error_pct"] == pytest.approx(100 * (scale - 1), abs=1e-6)
        assert told["edge_growth_um"] == pytest.approx(1000 * growth, abs=1e-6)
        assert told["compensation"]["per_edge_um"] == pytest.approx(-1000 * growth, abs=1e-6)
        assert told["compensation"]["scale"] == pytest.approx(1 / scale)

    def test_axes_apart(self):
        told = size({"features": self.bars(1, 0.02, "x") + self.bars(1, 0.05, "y")})
        assert told["growth_x_minus_y_um"] == pytest.approx(-30)

    def test_no_spread_left_means_no_interval(self):
        told = size({"features": [{"kind": "outer", "nominal_mm": 5, "measured_mm": 5.02}]})
        assert told["edge_growth_ci_um"] is None and told["scale_error_pct"] is None
        assert {w["code"] for w in told["warnings"]} == {"scale-not-identified", "no-spread"}

    @pytest.mark.parametrize(
        ("nominal", "measured", "word"),
        [(7, 7020, "µm"), (7, 70.2, "ten times"), (7, 0.276, "inches"), (7, 12, "too far")],
    )
    def test_slips_are_recognised(self, nominal, measured, word):
        assert word in implausible_reading(nominal, measured)

    def test_growth_of_a_thin_bar_is_no_slip(self):
        assert implausible_reading(0.6, 0.72) is None

    def test_a_slip_is_refused_at_its_field(self):
        with pytest.raises(Problem) as caught:
            size({"features": [{"kind": "outer", "nominal_mm": 7, "measured_mm": 7020}]})
        assert "features.0.measured_mm" in caught.value.fields


def test_json_with_nan_is_refused_in_our_words():
    with pytest.raises(Problem) as caught:
        run_text("exposure-ladder", '{"low_s": NaN, "high_s": 3, "count": 3, "exposure_step_s": 0.1}')
    assert "number" in caught.value.fields["low_s"]
    assert not math.isnan(ladder({"low_s": 1, "high_s": 3, "count": 2, "exposure_step_s": 0.1})["exposures_s"][0])
