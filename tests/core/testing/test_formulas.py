"""Strength formulas by hand, and each method's own arithmetic over them."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from setback.core.contract import Problem
from setback.core.testing.formulas import StrengthInput, newtons, strength
from setback.core.testing.methods import METHODS, checked_row
from setback.core.testing.methods.method import Field, _problem, mean_of


def found(method: str, setup: dict, *rows: dict):
    return METHODS[method].calculate(setup, rows)


def codes(made) -> set[str]:
    return {notice.code for notice in made.warnings if notice}


class TestByHand:
    def test_a_bar_clamped_at_one_end(self):
        """10 N on 50 mm, 10 × 4 mm: 6·10·50/(10·16) = 18.75 MPa; with 5 mm of path E = 4·10·50³/(10·64·5) = 1562.5 MPa."""
        bar = {"method": "cantilever-bend", "force_n": 10, "arm_mm": 50, "width_mm": 10, "height_mm": 4}
        made = strength(StrengthInput(**bar, deflection_mm=5))
        assert made.stress_mpa == pytest.approx(18.75) and made.modulus_mpa == pytest.approx(1562.5)
        assert strength(StrengthInput(**bar)).modulus_mpa is None and codes(made) == set()

    def test_a_stubby_bar_and_a_far_bent_one_are_said(self):
        bar = {"method": "cantilever-bend", "force_n": 10, "width_mm": 10, "height_mm": 4}
        assert codes(strength(StrengthInput(**bar, arm_mm=20))) == {"stubby"}
        assert codes(strength(StrengthInput(**bar, arm_mm=50, deflection_mm=6))) == {"large-deflection"}

    def test_a_bar_on_two_supports(self):
        """100 N over 60 mm, 10 × 4 mm: 3·100·60/(2·10·16) = 56.25 MPa; 30 N/mm: 60³·30/(4·10·64) = 2531.25 MPa."""
        made = strength(
            StrengthInput(method="three-point-bend", force_n=100, span_mm=60, width_mm=10, height_mm=4, slope_n_mm=30)
        )
        assert made.stress_mpa == pytest.approx(56.25) and made.modulus_mpa == pytest.approx(2531.25)

    def test_two_legs_of_a_loop_share_the_force(self):
        one = strength(StrengthInput(method="tensile", force_n=120, width_mm=4, thickness_mm=2))
        two = strength(StrengthInput(method="tensile", force_n=120, width_mm=4, thickness_mm=2, legs=2))
        assert one.stress_mpa == pytest.approx(15) and two.stress_mpa == pytest.approx(7.5)

    def test_a_stiffness_is_load_by_path(self):
        assert strength(StrengthInput(method="stiffness", load_n=8, deflection_mm=4)).stiffness_n_mm == 2

    def test_a_luggage_scale_in_kilograms_of_force(self):
        assert newtons(None, 2.0) == pytest.approx(19.6133) and newtons(5.0, None) == 5.0

    def test_a_pendulum_without_loss(self):
        """0.5 kg on 0.3 m from 90° to 60°: the loss is nothing, m·g·r·(cos 60° − cos 90°) = 0.7355 J."""
        made = strength(
            StrengthInput(
                method="pendulum-impact",
                pendulum_kg=0.5,
                radius_m=0.3,
                release_deg=90,
                free_rise_deg=90,
                rise_deg=60,
                width_mm=10,
                net_depth_mm=8,
            )
        )
        assert made.loss_j == pytest.approx(0) and made.absorbed_j == pytest.approx(0.735499, rel=1e-5)
        assert made.per_area_kj_m2 == pytest.approx(
            1000 * 0.735499 / 80, rel=1e-5
        ) and made.per_width_j_m == pytest.approx(73.5499, rel=1e-5)

    @pytest.mark.parametrize(("rise", "hammer"), [(88, "a lighter hammer"), (20, "a heavier hammer")])
    def test_energy_outside_what_can_be_trusted_names_the_other_hammer(self, rise, hammer):
        made = strength(
            StrengthInput(
                method="pendulum-impact",
                pendulum_kg=0.5,
                radius_m=0.3,
                release_deg=90,
                free_rise_deg=89,
                rise_deg=rise,
                width_mm=10,
                net_depth_mm=8,
            )
        )
        assert hammer in made.warnings[0].message

    @pytest.mark.parametrize(
        ("changes", "field"), [({"free_rise_deg": 95}, "free_rise_deg"), ({"rise_deg": 88}, "rise_deg")]
    )
    def test_a_hammer_does_not_rise_by_itself(self, changes, field):
        swing = {
            "pendulum_kg": 0.5,
            "radius_m": 0.3,
            "release_deg": 90,
            "free_rise_deg": 85,
            "rise_deg": 60,
            "width_mm": 10,
            "net_depth_mm": 8,
        }
        with pytest.raises(Problem) as caught:
            strength(StrengthInput(method="pendulum-impact", **(swing | changes)))
        assert field in caught.value.fields

    @pytest.mark.parametrize(
        ("given", "fields"),
        [
            ({"method": "tensile", "width_mm": 4}, {"force_n", "thickness_mm"}),
            ({"method": "tensile", "force_n": 1, "force_kgf": 1, "width_mm": 4, "thickness_mm": 2}, {"force_kgf"}),
            ({"method": "tensile", "force_n": 1, "width_mm": 4, "thickness_mm": 2, "arm_mm": 50}, {"arm_mm"}),
            ({"method": "stiffness", "deflection_mm": 4}, {"load_n"}),
        ],
    )
    def test_what_is_missing_double_or_of_another_method_is_named(self, given, fields):
        with pytest.raises(Problem) as caught:
            strength(StrengthInput(**given))
        assert set(caught.value.fields) == fields

    @given(force=st.floats(0.1, 1e4), scale=st.floats(0.1, 10))
    def test_a_bar_scaled_in_all_its_lengths_bears_the_square_of_the_force(self, force, scale):
        bar = {"arm_mm": 50, "width_mm": 10, "height_mm": 4}
        small = strength(StrengthInput(method="cantilever-bend", force_n=force, **bar))
        large = strength(
            StrengthInput(method="cantilever-bend", force_n=force * scale**2, **{k: v * scale for k, v in bar.items()})
        )
        assert large.stress_mpa == pytest.approx(small.stress_mpa)


class TestMethods:
    BEND = {"width_mm": 10, "height_mm": 4, "force_n": 10, "broke": True}

    def test_what_did_not_break_is_a_load_survived(self):
        made = found("cantilever-bend", {"arm_mm": 50}, self.BEND | {"broke": False, "deflection_mm": 5})
        assert dict(made.unbroken) == {"strength": pytest.approx(18.75)} and dict(made.values) == {
            "modulus": pytest.approx(1562.5)
        }

    def test_a_break_outside_the_gauge_section_is_kept_and_flagged(self):
        made = found("cantilever-bend", {"arm_mm": 50}, self.BEND | {"outside": True})
        assert made.values["strength"] == pytest.approx(18.75) and [n.code for n in made.notices] == ["outside-gauge"]

    def test_a_flexed_specimen_still_whole_counts_as_survived(self):
        assert dict(found("flexing", {}, {"cycles": 500, "broke": False, "set_deg": 3}).unbroken) == {"cycles": 500}
        assert dict(found("flexing", {}, {"cycles": 97, "broke": True}).values) == {"cycles": 97}

    def test_sizes_are_held_against_the_drawing(self):
        setup = {"nominal_x_mm": 70, "nominal_y_mm": 10, "nominal_z_mm": 4}
        made = found("size", setup, {"x_mm": 69.86, "y_mm": 9.98, "z_mm": 4.05})
        assert made.values["off"] == pytest.approx(140) and made.values["shrinkage"] == pytest.approx(0.2)
        assert found("size", setup, {"x_mm": 69.86, "y_mm": 9.98}).values["off"] == pytest.approx(140)

    def test_a_core_is_held_against_its_skin(self):
        made = found("hardness-core", {}, {"skin": [80, 82, 78], "core": [60]})
        assert dict(made.values) == {"skin": 80, "core": 60, "reached": pytest.approx(75)}

    def test_fits_give_the_widest_press_and_the_narrowest_slide(self):
        keys = [f.key for f in METHODS["fit"].reads]
        rated = dict(zip(keys, ["will not go", "press", "press", "slide", "slide", "loose"], strict=True))
        made = found("fit", {}, rated)
        assert dict(made.values) == {"press": 0.15, "slide": 0.2} and not made.notices
        none = dict.fromkeys(keys, "loose")
        assert dict(found("fit", {}, none).values) == {}

    def test_a_wider_gap_that_fits_tighter_is_asked_about(self):
        keys = [f.key for f in METHODS["fit"].reads]
        rated = dict(zip(keys, ["press", "slide", "press", "loose", "loose", "loose"], strict=True))
        assert [n.code for n in found("fit", {}, rated).notices] == ["order"]

    def test_tack_is_a_rating(self):
        assert dict(found("tack", {}, {"tack": 2}).values) == {"tack": 2}

    def test_what_cannot_be_typed_is_said_in_words(self):
        bend = METHODS["cantilever-bend"]
        with pytest.raises(Problem) as caught:
            checked_row(bend, {"width_mm": 10, "height_mm": "four", "force_n": -1, "broke": "yes"})
        assert set(caught.value.fields) == {"height_mm", "force_n", "broke"}


class TestFields:
    @pytest.mark.parametrize(
        ("field", "value", "said"),
        [
            (Field("a", "A", kind="yes"), 1, "Say yes or no."),
            (Field("a", "A", kind="choice", choices=("dry", "wet")), "damp", "One of: dry, wet."),
            (Field("a", "A", kind="count", high=10), 2.5, "Give a whole number."),
            (Field("a", "A", "mm", low=1, high=5), 7, "Between 1 and 5 mm."),
            (Field("a", "A"), math.nan, "Give a number."),
            (Field("a", "A"), True, "Give a number."),
            (Field("a", "A", kind="numbers", high=9), [3, 12], "Between 0 and 9."),
            (Field("a", "A", kind="rating", high=3), 3, None),
            (Field("a", "A", kind="numbers"), [1, 2.5], None),
            (Field("a", "A", kind="yes"), False, None),
        ],
    )
    def test_a_value_is_checked_by_its_kind(self, field, value, said):
        assert _problem(field, value) == said

    def test_several_readings_are_one_mean(self):
        assert (
            mean_of({"skin": [80, 82]}, "skin") == 81
            and mean_of({"skin": 80}, "skin") == 80
            and mean_of({}, "skin") is None
        )
