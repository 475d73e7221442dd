"""Small rules of the job: checks before a print, confirmation, slips of the unit, remedies, fairness, digits, words."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from setback.core.calibrate.confirm import FINDINGS, PLACES, confirmed
from setback.core.calibrate.preparation import CHECKS, missing
from setback.core.contract import Problem
from setback.core.printing.plausible import check_layer_height, check_range
from setback.core.qualify.verdict import Requirement
from setback.core.qualify.words import asked
from setback.core.statistics.figures import decimals, shown
from setback.core.testing.concerns import Standing, concerns
from setback.core.window.remedies import remedies, thicker_um


class TestPreparation:
    @pytest.mark.parametrize("occasion", sorted(CHECKS))
    def test_what_was_not_ticked_is_missing(self, occasion):
        keys = [check.key for check in CHECKS[occasion]]
        assert [check.key for check in missing(occasion, [])] == keys
        assert missing(occasion, keys) == []
        assert [check.key for check in missing(occasion, keys[1:])] == keys[:1]

    def test_protection_comes_first_with_its_caution(self):
        assert all(checks[0].key == "protection" for checks in CHECKS.values())
        assert "sensitises" in CHECKS["campaign"][0].caution


class TestConfirming:
    def test_both_places_at_the_same_exposure(self):
        assert not confirmed([], 2.6)
        assert not confirmed([("centre", 2.6)], 2.6)
        assert not confirmed([("centre", 2.6), ("worst place", 2.7)], 2.6)
        assert confirmed([("centre", 2.6), ("worst place", 2.6)], 2.6)
        assert confirmed([(place, 0.1 + 0.2) for place in PLACES], 0.3)

    def test_only_two_findings_blame_the_exposure(self):
        blamed = [f.key for f in FINDINGS.values() if "Go back to Refine" in f.advice]
        assert blamed == ["too-little", "too-much"]


class TestSlips:
    @given(st.floats(5, 200))
    def test_a_layer_height_in_use_passes(self, height):
        check_layer_height(height)

    @pytest.mark.parametrize(
        ("given_um", "meant"),
        [(500, 50), (50_000, 50), (1000, 100), (0.05, 50), (4.99, 49.9), (0.9, None), (0.3, None), (900_000, None)],
    )
    def test_another_asks_what_was_meant(self, given_um, meant):
        with pytest.raises(Problem) as caught:
            check_layer_height(given_um)
        assert caught.value.suggest.get("layer_height_um") == meant
        assert "layer_height_um" in caught.value.fields

    @pytest.mark.parametrize(("low", "high", "said"), [(3, 2, "below"), (0.2, 20, "decimal point")])
    def test_a_range_upside_down_or_far_too_wide(self, low, high, said):
        with pytest.raises(Problem) as caught:
            check_range(low, high)
        assert said in caught.value.fields["high_s"]

    def test_a_single_exposure_is_a_range(self):
        check_range(2.4, 2.4)


class TestRemedies:
    def test_the_cheapest_stand_first_and_always(self):
        for pair in (("walls", "slots"), ("tips", "z"), ("size", "size")):
            assert [r.code for r in remedies(*pair)][:3] == ["rest", "warm", "slow"]

    @pytest.mark.parametrize(
        ("pair", "code", "there"),
        [
            (("tips", "slots"), "tips", True),
            (("walls", "slots"), "tips", False),
            (("walls", "z"), "layer", True),
            (("walls", "slots"), "layer", False),
            (("walls", "slots"), "tolerance", True),
            (("tips", "cure"), "tolerance", False),
        ],
    )
    def test_others_only_where_they_can_help(self, pair, code, there):
        assert (code in [r.code for r in remedies(*pair)]) is there

    def test_a_thicker_layer_halves_the_layers(self):
        assert thicker_um(50) == 100


class TestFairness:
    def group(self, name="A", **more):
        return Standing(**{"name": name, "material_id": name, "printed": True, "set_code": f"S-{name}", **more})

    def codes(self, *groups):
        return {one.code: one.must_confirm for one in concerns(groups)}

    def test_each_on_its_own_set_is_fair(self):
        assert self.codes(self.group("A"), self.group("B")) == {}

    def test_what_was_not_printed_needs_no_set(self):
        assert self.codes(self.group("A"), self.group("Sheet", printed=False, set_code=None)) == {}

    @pytest.mark.parametrize(
        ("more", "code", "confirm"),
        [
            ({"set_code": None}, "no-set", True),
            ({"own_set": False}, "borrowed-set", True),
            ({"set_state": "lapsed"}, "lapsed-set", True),
            ({"set_state": "due"}, "due-set", False),
        ],
    )
    def test_what_is_unfair_is_named_with_its_group(self, more, code, confirm):
        (one,) = concerns([self.group("A"), self.group("B", **more)])
        assert (one.code, one.must_confirm, one.groups) == (code, confirm, ["B"])

    def test_cures_that_differ_matter_between_materials_and_less_on_their_own_routes(self):
        a, b = self.group("A", cure_min=6), self.group("B", cure_min=12)
        assert self.codes(a, b) == {"mixed-cure": False}
        assert self.codes(a, self.group("B", cure_min=12, own_route=False)) == {"mixed-cure": True}
        assert self.codes(a, self.group("A2", material_id="A", cure_min=12)) == {}


class TestDigits:
    @pytest.mark.parametrize(
        ("value", "uncertainty", "text"),
        [
            (91.23, 4.0, "91"),
            (91.23, 0.4, "91.2"),
            (91.23, 0.14, "91.23"),
            (2.345, None, "2.35"),
            (234.5, None, "234"),
            (0.0, None, "0"),
            (91.23, math.inf, "91.2"),
        ],
    )
    def test_no_more_than_the_evidence_has(self, value, uncertainty, text):
        assert shown(value, uncertainty) == text

    @given(st.floats(1e-3, 1e4), st.floats(1e-4, 1e3))
    def test_rounding_never_hides_more_than_the_uncertainty(self, value, uncertainty):
        assert (
            abs(float(shown(value, uncertainty)) - value) <= max(uncertainty, 0.5) and decimals(value, uncertainty) >= 0
        )


class TestWordsOfARequirement:
    def ask(self, unit="mm", **more):
        return asked(Requirement(**{"property": "drop.height", "at": "least", "limit": 1.5, **more}), unit)

    @pytest.mark.parametrize(
        ("more", "words"),
        [
            ({}, "≥ 1.5 mm at the mean"),
            ({"basis": "bound", "at": "most"}, "≤ 1.5 mm at the tolerance bound"),
            ({"basis": "every"}, "≥ 1.5 mm for every specimen"),
            ({"margin_pct": 10}, "≥ 1.5 mm at the mean, with 10 % margin"),
            ({"property": "set.tip"}, "≥ 1.5 mm"),
            ({"property": "set.cost", "amount": 12}, "≥ 1.5 mm, for 12 ml"),
            (
                {
                    "property": "flexing.cycles",
                    "conditions": [
                        {"key": "soak_h", "value": 24},
                        {"key": "temp_c", "value": 10},
                        {"key": "soak", "value": "sea water"},
                    ],
                },
                "≥ 1.5 mm at the mean; soaked for 24 h, temperature of the specimen 10 °C, soaked in sea water",
            ),
            (
                {"conditions": [{"key": "of_the_future", "value": 2.5}]},
                "≥ 1.5 mm at the mean; of the future 2.5",
            ),
        ],
    )
    def test_says_all_that_is_asked(self, more, words):
        assert self.ask(**more) == words

    def test_a_count_has_no_unit(self):
        assert self.ask(unit="", limit=300) == "≥ 300 at the mean"
