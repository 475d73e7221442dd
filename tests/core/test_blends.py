"""Blends: recipes and their rules, topping up, series, and the ledger of a vat."""

import math

import pytest
from hypothesis import given as drawn
from hypothesis import strategies as st
from pydantic import ValidationError

from setback.core.blends.blend import BlendInput, blend
from setback.core.blends.guess import PouredInput, after_the_fact
from setback.core.blends.response import BlendResponseInput, blend_response
from setback.core.blends.rules import shipped
from setback.core.blends.top_up import TopUpInput, top_up
from setback.core.blends.vat import IN, Entry, by_component, distance, fractions, replay
from setback.core.contract import Problem

SLATE = {
    "material": "Slate 2",
    "penetration_depth_mm": 0.12,
    "critical_exposure_s": 0.8,
    "density_g_ml": 1.1,
    "price_per_l": 22,
    "viscosity_mpa_s": 200,
    "family": "basic",
    "wash_class": "solvent",
    "chemistry": "acrylate",
    "maker": "A",
}
KELP = {
    "material": "Kelpflex",
    "penetration_depth_mm": 0.2,
    "critical_exposure_s": 1.6,
    "density_g_ml": 1.05,
    "price_per_l": 70,
    "viscosity_mpa_s": 900,
    "family": "flexible",
    "wash_class": "solvent",
    "chemistry": "acrylate",
    "maker": "A",
}


def recipe(*parts, **more):
    return blend(BlendInput(parts=[dict(p, fraction=f) for p, f in parts], **more))


def keys(found):
    return {f.key for f in found}


class TestRecipe:
    def test_of_one_material_is_that_material(self):
        made = recipe((SLATE, 1.0), batch_ml=500)
        assert made.critical_exposure_s == pytest.approx(0.8) and made.price_per_l == 22 and made.findings == []
        assert made.pours[0].mass_g == pytest.approx(550)

    @drawn(st.floats(0.01, 0.99))
    def test_a_mixture_lies_between_its_parts(self, f):
        made = recipe((SLATE, f), (KELP, 1 - f))
        assert 0.12 < made.penetration_depth_mm < 0.2 and 200 < made.viscosity_mpa_s < 900
        assert 0.8 < made.critical_exposure_s < 1.6 and 22 < made.price_per_l < 70

    @drawn(st.floats(0.01, 0.99))
    def test_by_mass_and_by_volume_are_the_same_mixture(self, f):
        by_volume = recipe((SLATE, f), (KELP, 1 - f), batch_ml=100)
        masses = [p.mass_fraction for p in by_volume.pours]
        by_mass = recipe((SLATE, masses[0]), (KELP, 1 - masses[0]), by="mass", batch_ml=100)
        assert by_mass.pours[0].volume_fraction == pytest.approx(f, rel=1e-6)
        assert sum(p.volume_ml for p in by_mass.pours) == pytest.approx(100)

    def test_fractions_that_do_not_sum_to_one(self):
        with pytest.raises(Problem) as caught:
            recipe((SLATE, 0.5), (KELP, 0.4))
        assert caught.value.fields["parts"] == "Fractions sum to 90 %, not to 100 %."

    def test_mass_needs_a_density_and_volume_does_not(self):
        bare = {"material": "Hullform"}
        with pytest.raises(Problem) as caught:
            recipe((SLATE, 0.5), (bare, 0.5), by="mass")
        assert "parts.1.density_g_ml" in caught.value.fields
        made = recipe((SLATE, 0.5), (bare, 0.5), batch_ml=100)
        assert made.pours[1].volume_ml == 50 and made.pours[1].mass_g is None and made.critical_exposure_s is None

    def test_dye_says_what_it_does_only_where_that_was_measured(self):
        dye = {"material": "Rust dye", "is_dye": True}
        unknown = recipe((SLATE, 0.99), (dye, 0.01))
        assert unknown.critical_exposure_s is None and "dye-unknown" in {w.code for w in unknown.warnings}
        known = recipe((SLATE, 0.99), (dict(dye, ln_exposure_per_percent=0.3), 0.01))
        assert known.critical_exposure_s == pytest.approx(0.8 * math.exp(0.3))


class TestRules:
    def test_every_rule_that_ships_can_be_met_and_says_why(self):
        water = dict(KELP, material="Rinsewell", wash_class="water", family="basic")
        epoxy = dict(KELP, material="Casting", chemistry="epoxy-hybrid", family="castable", maker="B")
        clear = dict(KELP, material="Tideglass", family="clear", chemistry="unknown")
        rigid = dict(KELP, material="Ironwrack", family="rigid")
        dye = {"material": "dye", "is_dye": True}
        met = set()
        for parts in (
            [(SLATE, 0.5), (water, 0.5)],
            [(SLATE, 0.5), (epoxy, 0.5)],
            [(KELP, 0.5), (epoxy, 0.5)],
            [(SLATE, 0.5), (clear, 0.5)],
            [(rigid, 0.8), (KELP, 0.2)],
            [(SLATE, 0.98), (dye, 0.02)],
        ):
            met |= keys(recipe(*parts).findings)
        assert met == {rule.key for rule in shipped()}

    def test_the_worst_comes_first(self):
        water = dict(KELP, wash_class="water", maker="B")
        found = recipe((SLATE, 0.9), (water, 0.1)).findings
        assert found[0].severity == "forbid" and "loses its water wash" in found[0].message

    def test_nothing_is_said_of_what_is_not_in_it(self):
        assert recipe((SLATE, 1.0), (dict(KELP, wash_class="water"), 0.0)).findings == []


class TestTopUp:
    @drawn(st.floats(0, 300), st.floats(0.02, 0.98), st.floats(0.02, 0.98), st.floats(50, 400))
    def test_it_reaches_the_recipe_exactly_with_the_least_drained(self, volume, held, wanted, final):
        given = {
            "vat_volume_ml": volume,
            "vat_fractions": {"a": held, "b": 1 - held},
            "target_fractions": {"a": wanted, "b": 1 - wanted},
            "final_volume_ml": final,
        }
        made = top_up(TopUpInput(**given))
        for name, share, want in (("a", held, wanted), ("b", 1 - held, 1 - wanted)):
            assert share * made.heel_ml + made.pours_ml[name] == pytest.approx(want * final, rel=1e-6, abs=1e-6)
        assert all(v >= 0 for v in made.pours_ml.values()) and 0 <= made.drain_ml <= max(volume, 0) + 1e-9
        if made.drain_ml > 1e-6:
            assert min(made.pours_ml.values()) == pytest.approx(0, abs=1e-6)

    def test_what_does_not_belong_is_drained_to_the_last_drop(self):
        made = top_up(
            TopUpInput(vat_volume_ml=100, vat_fractions={"x": 1}, target_fractions={"a": 1}, final_volume_ml=200)
        )
        assert made.drain_ml == 100 and "empty" in {w.code for w in made.warnings}


class TestSeries:
    POINTS = [
        {"fraction": f, "values": {"impact": 1.2 + 8 * f - 6 * f * f + d, "growth": 20 + 100 * f}}
        for f, d in ((0, 0.01), (0.05, -0.01), (0.1, 0.01), (0.2, -0.01), (0.3, 0.0))
    ]

    def test_the_window_of_fractions_moves_with_the_brief(self):
        wide = blend_response(
            BlendResponseInput(points=self.POINTS, constraints=[{"property": "impact", "min": 1.8}], max_fraction=0.3)
        )
        strict = blend_response(
            BlendResponseInput(points=self.POINTS, constraints=[{"property": "impact", "min": 2.4}], max_fraction=0.3)
        )
        assert wide.feasible[0][0] < strict.feasible[0][0] and wide.best_fraction is not None

    def test_none_is_said(self):
        made = blend_response(BlendResponseInput(points=self.POINTS, constraints=[{"property": "impact", "min": 90}]))
        assert made.feasible == [] and made.best_fraction is None and "none" in {w.code for w in made.warnings}

    def test_two_points_give_a_line_and_no_band(self):
        made = blend_response(
            BlendResponseInput(points=self.POINTS[:2], constraints=[{"property": "growth", "max": 40}])
        )
        assert made.degree == 1 and {"no-band", "linear"} <= {w.code for w in made.warnings}

    def test_a_limit_of_nothing(self):
        with pytest.raises(Problem):
            blend_response(BlendResponseInput(points=self.POINTS, constraints=[{"property": "growth", "max": 0}]))


class TestAfterTheFact:
    def test_next_to_nothing_is_not_poured(self):
        with pytest.raises(ValidationError):
            PouredInput(poured_ml=5e-324, poured_doubt_ml=1, into_ml=200, into_doubt_ml=1)

    def test_the_uncertainty_of_both_pours_counts(self):
        made = after_the_fact(PouredInput(poured_ml=40, poured_doubt_ml=10, into_ml=200, into_doubt_ml=20))
        assert made.fraction == pytest.approx(1 / 6) and made.fraction_ci[0] == pytest.approx(0.129, abs=0.003)
        assert made.matters is None and made.warnings[0].code == "effect-unknown"

    def test_whether_it_matters_is_held_against_the_window(self):
        given = {
            "poured_ml": 40,
            "poured_doubt_ml": 10,
            "into_ml": 200,
            "into_doubt_ml": 20,
            "ln_exposure_per_fraction": 0.7,
        }
        assert not after_the_fact(PouredInput(**given, latitude_pct=40)).matters
        assert after_the_fact(PouredInput(**given, latitude_pct=5)).matters


entries = st.lists(
    st.tuples(st.sampled_from(["pour", "feed", "print", "drain", "stir", "empty"]), st.floats(0, 120), st.floats(0, 1)),
    max_size=25,
)


def ledger(rows):
    return [
        Entry(
            str(i),
            kind,
            f"2026-01-{i + 1:02d}T08:00:00Z",
            volume,
            {("a", "1"): share, ("b", "1"): 1 - share} if kind in IN else {},
        )
        for i, (kind, volume, share) in enumerate(rows)
    ]


class TestVat:
    @drawn(entries)
    def test_volume_of_every_component_is_conserved(self, rows):
        states, _ = replay(ledger(rows), 1e9)
        came = {"a": 0.0, "b": 0.0}
        for (kind, volume, share), state in zip(rows, states, strict=True):
            if kind in IN:
                came["a"] += share * volume
                came["b"] += (1 - share) * volume
            here, gone = by_component(state.contents), by_component(state.gone_ml)
            for name in came:
                assert here.get(name, 0) + gone.get(name, 0) == pytest.approx(came[name], rel=1e-6, abs=1e-5)
            assert state.volume_ml >= 0

    def test_a_late_entry_re_derives_what_follows(self):
        rows = ledger([("pour", 200, 1.0), ("print", 50, 0), ("pour", 50, 0.0)])
        before, _ = replay(rows, 300)
        late = Entry("late", "print", "2026-01-01T12:00:00Z", 100.0)
        after, _ = replay([*rows, late], 300)
        assert before[-1].volume_ml == 200 and after[-1].volume_ml == 100
        assert fractions(after[-1].contents) == pytest.approx({"a": 0.5, "b": 0.5})

    def test_what_cannot_have_been_is_named(self):
        _, over = replay(ledger([("pour", 200, 1.0), ("pour", 200, 1.0)]), 300)
        _, under = replay(ledger([("pour", 20, 1.0), ("print", 50, 0)]), 300)
        assert [o.entry_id for o in over] == ["1"] and "400 ml in a vat of 300 ml" in over[0].message
        assert "50 ml were taken out of 20 ml" in under[0].message

    def test_mixtures_are_as_far_apart_as_their_worst_component(self):
        assert distance({"a": 1.0}, {"a": 0.9, "b": 0.1}) == pytest.approx(0.1)
        assert distance({"a": 1.0}, {"b": 1.0}) == 1 and distance({}, {}) == 0
