"""Strength: published tables, units, and what is refused."""

import math

import pytest
from hypothesis import given as drawn
from hypothesis import strategies as st

from setback.core.contract import Problem
from setback.core.statistics.compare import Candidate, CompareInput, compare, holm
from setback.core.statistics.outliers import grubbs_limit
from setback.core.statistics.sample_size import SampleSizeInput, per_group, power, sample_size, usual_difference_pct
from setback.core.statistics.staircase import StaircaseInput, drop_staircase
from setback.core.statistics.summary import SummaryInput, sample_summary
from setback.core.statistics.tolerance import tolerance_factor
from setback.core.testing.formulas import StrengthInput, strength
from setback.core.testing.index import PropertyIndexInput, property_index
from setback.core.testing.post_cure import PostCureInput, hardness_at, post_cure

size = st.floats(0.5, 200)
force = st.floats(0.1, 5000)
FORCES = ("force_n", "force_kgf")


def summary(values, unbroken=()):
    return sample_summary(SummaryInput(values=list(values), unbroken=list(unbroken)))


def codes(result):
    return {w.code for w in result.warnings}


class TestPublished:
    # One-sided factors for 90 % of a normal population with 95 % confidence: Hahn and Meeker, Statistical Intervals,
    # table A.12b; the same in Natrella, Experimental Statistics (NBS Handbook 91), table A-7.
    @pytest.mark.parametrize(
        ("n", "factor"),
        [
            (3, 6.155),
            (4, 4.162),
            (5, 3.407),
            (6, 3.006),
            (8, 2.582),
            (10, 2.355),
            (15, 2.068),
            (20, 1.926),
            (30, 1.777),
        ],
    )
    def test_tolerance_factors(self, n, factor):
        assert tolerance_factor(n) == pytest.approx(factor, abs=0.0015)

    # Two-sided 5 %: Grubbs and Beck, Technometrics 14 (1972) 847, table 1 at the 2.5 % one-sided level.
    @pytest.mark.parametrize(
        ("n", "limit"),
        [(3, 1.155), (4, 1.481), (5, 1.715), (6, 1.887), (7, 2.020), (8, 2.126), (10, 2.290), (15, 2.549), (20, 2.709)],
    )
    def test_grubbs_critical_values(self, n, limit):
        assert grubbs_limit(n) == pytest.approx(limit, abs=0.001)

    # Cohen, Statistical Power Analysis, table 2.4.1: two-sided 5 %, power 0.80.
    @pytest.mark.parametrize(("effect", "n"), [(0.5, 64), (0.8, 26), (1.0, 17)])
    def test_sample_sizes(self, effect, n):
        assert sample_size(SampleSizeInput(cv_pct=10, detect_pct=10 * effect)).n_per_group == n
        assert power(effect, n) >= 0.8 > power(effect, n - 1)

    @drawn(cv=st.floats(0.5, 400))
    def test_the_usual_difference_is_the_least_round_one_that_a_dozen_specimens_see(self, cv):
        wanted = usual_difference_pct(cv)
        assert wanted >= 15 and wanted % 5 == 0
        assert per_group(wanted / cv, 0.8) <= 12
        if wanted > 15:
            assert per_group((wanted - 5) / cv, 0.8) > 12

    def test_the_up_and_down_example_by_hand(self):
        """Dixon and Mood's sums by hand: six breaks from h0 = 1.2 in steps of 0.1 give N = 6, A = 7, B = 11."""
        heights = [1.3, 1.2, 1.3, 1.4, 1.3, 1.2, 1.1, 1.2, 1.3, 1.2, 1.3, 1.4]
        broke = [1, 0, 0, 1, 1, 1, 0, 0, 1, 0, 0, 1]
        drops = [{"height_m": h, "broke": bool(b)} for h, b in zip(heights, broke, strict=True)]
        made = drop_staircase(StaircaseInput(step_m=0.1, mass_kg=0.1, outcomes=drops))
        assert (made.counted, made.counted_n) == ("breaks", 6)
        assert made.median_height_m == pytest.approx(1.2 + 0.1 * (7 / 6 - 0.5))
        assert made.sd_m == pytest.approx(1.62 * 0.1 * ((6 * 11 - 7**2) / 6**2 + 0.029))


class TestUnits:
    @drawn(force, size, size, size)
    def test_newtons_and_kilograms_agree(self, f, arm, b, h):
        shape = {"method": "cantilever-bend", "arm_mm": arm, "width_mm": b, "height_mm": h}
        in_n = strength(StrengthInput(force_n=f * 9.80665, **shape))
        in_kgf = strength(StrengthInput(force_kgf=f, **shape))
        assert in_n.stress_mpa == pytest.approx(in_kgf.stress_mpa, rel=1e-9)

    @drawn(force, size, size, st.floats(0.1, 10))
    def test_stress_goes_with_force_and_against_area(self, f, b, h, k):
        base = {"method": "tensile", "width_mm": b, "thickness_mm": h}
        one = strength(StrengthInput(force_n=f, **base)).stress_mpa
        assert strength(StrengthInput(force_n=f * k, **base)).stress_mpa == pytest.approx(k * one, rel=1e-9)
        assert strength(StrengthInput(force_n=f, legs=2, **base)).stress_mpa == pytest.approx(one / 2, rel=1e-9)

    @drawn(st.floats(20, 170), st.floats(0.05, 1), st.floats(0.2, 1))
    def test_a_pendulum_absorbs_less_the_higher_it_rises(self, release, low, high):
        free = release * 0.99
        rises = sorted((free * low * high, free * high))
        made = [
            strength(
                StrengthInput(
                    method="pendulum-impact",
                    pendulum_kg=1,
                    radius_m=0.3,
                    release_deg=release,
                    rise_deg=rise,
                    free_rise_deg=free,
                    width_mm=8,
                    net_depth_mm=6,
                )
            ).absorbed_j
            for rise in rises
        ]
        assert made[0] >= made[1] - 1e-12 and min(made) >= 0

    def test_an_empty_swing_absorbs_nothing(self):
        made = strength(
            StrengthInput(
                method="pendulum-impact",
                pendulum_kg=1,
                radius_m=0.3,
                release_deg=120,
                rise_deg=118,
                free_rise_deg=118,
                width_mm=8,
                net_depth_mm=6,
            )
        )
        assert made.absorbed_j == pytest.approx(0, abs=1e-12) and "energy-range" in codes(made)


class TestRefused:
    @pytest.mark.parametrize(
        ("given", "field"),
        [
            ({"method": "tensile", "force_n": 10, "width_mm": 4}, "thickness_mm"),
            ({"method": "tensile", "width_mm": 4, "thickness_mm": 2}, "force_n"),
            ({"method": "tensile", "force_n": 1, "force_kgf": 1, "width_mm": 4, "thickness_mm": 2}, "force_kgf"),
            ({"method": "tensile", "force_n": 1, "width_mm": 4, "thickness_mm": 2, "arm_mm": 3}, "arm_mm"),
        ],
    )
    def test_what_is_missing_or_foreign_is_named(self, given, field):
        with pytest.raises(Problem) as caught:
            strength(StrengthInput(**given))
        assert field in caught.value.fields

    def test_a_rise_above_the_free_swing(self):
        given = {"method": "pendulum-impact", "pendulum_kg": 1, "radius_m": 0.3, "width_mm": 8, "net_depth_mm": 6}
        with pytest.raises(Problem) as caught:
            strength(StrengthInput(release_deg=120, rise_deg=119, free_rise_deg=118, **given))
        assert "rise_deg" in caught.value.fields
        with pytest.raises(Problem) as caught:
            strength(StrengthInput(release_deg=120, rise_deg=100, free_rise_deg=121, **given))
        assert "free_rise_deg" in caught.value.fields

    def test_a_staircase_that_jumps(self):
        drops = [{"height_m": 1.0, "broke": True}, {"height_m": 0.8, "broke": False}]
        with pytest.raises(Problem) as caught:
            drop_staircase(StaircaseInput(step_m=0.1, mass_kg=0.1, outcomes=drops))
        assert caught.value.fields == {"outcomes.1.height_m": "One step from the drop before: 0.9 m was due."}

    def test_a_difference_that_drowns(self):
        with pytest.raises(Problem):
            sample_size(SampleSizeInput(cv_pct=500, detect_pct=1))

    def test_an_index_of_nothing_or_less(self):
        with pytest.raises(Problem) as caught:
            property_index(
                PropertyIndexInput(
                    criteria=[{"name": "tack", "weight": 1, "better": "lower", "value": 0, "baseline": 1}]
                )
            )
        assert "criteria.0.value" in caught.value.fields

    def test_hardness_that_falls(self):
        with pytest.raises(Problem):
            post_cure(PostCureInput(points=[{"minutes": m, "hardness": 80 - m} for m in (0, 2, 5, 9)]))


class TestSummary:
    def test_two_specimens_have_no_bound_and_it_says_why(self):
        made = summary([50, 60])
        assert made.tolerance_lower is None and "too-few" in codes(made) and made.mean_ci is not None

    def test_one_specimen_has_no_spread(self):
        made = summary([50])
        assert made.sd is None and made.mean == 50 and "single" in codes(made)

    def test_all_alike_bound_nothing(self):
        assert summary([50, 50, 50]).tolerance_lower is None

    def test_an_outlier_is_flagged_and_kept(self):
        made = summary([50, 51, 49, 50, 52, 80])
        assert made.outlier_index == 5 and made.n == 6 and made.mean == pytest.approx(55.33, abs=0.01)

    @drawn(st.lists(st.floats(10, 100), min_size=3, max_size=12), st.floats(0.1, 50))
    def test_it_scales_with_the_unit(self, values, k):
        one, other = summary(values), summary([k * v for v in values])
        assert other.mean == pytest.approx(k * one.mean, rel=1e-9)
        if one.tolerance_lower is not None and other.tolerance_lower is not None:
            assert other.tolerance_lower == pytest.approx(k * one.tolerance_lower, rel=1e-5, abs=1e-6 * k)

    def test_unbroken_loads_lift_the_mean(self):
        alone, lifted = summary([40, 44, 42, 46]), summary([40, 44, 42, 46], [50, 50])
        assert lifted.mean > alone.mean and lifted.tolerance_lower is None
        assert lifted.mean_ci[0] < lifted.mean < lifted.mean_ci[1]

    def test_one_break_among_survivors_tells_no_mean(self):
        assert summary([40], [50, 50]).mean is None

    def test_nothing(self):
        with pytest.raises(Problem):
            summary([])


class TestCompare:
    def test_several_candidates_pay_for_being_several(self):
        assert holm([0.01, 0.04, 0.03]) == pytest.approx([0.03, 0.06, 0.06])
        base = [50, 51, 49, 52, 50.5]
        alone = compare(CompareInput(baseline=base, candidate=[52, 53, 51.5, 52.5, 53]))
        among = compare(
            CompareInput(baseline=base, candidates=[Candidate(name=n, values=[52, 53, 51.5, 52.5, 53]) for n in "abc"])
        )
        assert among.candidates[0].p_holm > alone.p_value and among.difference is None

    def test_what_is_not_shown_says_how_many_more(self):
        made = compare(CompareInput(baseline=[50, 55, 45, 52], candidate=[53, 58, 48, 54])).candidates[0]
        assert not made.shown and 5 < made.more_needed < 60
        small = compare(CompareInput(baseline=[50, 55, 45, 52], candidate=[50.1, 55, 45, 52.1])).candidates[0]
        assert small.more_needed is None

    @drawn(st.lists(st.floats(20, 80), min_size=3, max_size=8), st.lists(st.floats(20, 80), min_size=3, max_size=8))
    def test_turned_round_it_changes_sign(self, a, b):
        if max(a) - min(a) < 1e-3 or max(b) - min(b) < 1e-3:
            return
        one = compare(CompareInput(baseline=a, candidate=b))
        other = compare(CompareInput(baseline=b, candidate=a))
        assert one.difference == pytest.approx(-other.difference, abs=1e-9)
        assert one.p_value == pytest.approx(other.p_value, rel=1e-6, abs=1e-12)

    def test_no_spread_at_all(self):
        with pytest.raises(Problem):
            compare(CompareInput(baseline=[5, 5, 5], candidate=[6, 6, 6]))


class TestStaircase:
    def test_one_outcome_gives_no_estimate_and_the_next_height(self):
        made = drop_staircase(StaircaseInput(step_m=0.1, mass_kg=0.1, outcomes=[{"height_m": 0.6, "broke": False}]))
        assert (
            made.median_height_m is None and made.next_height_m == pytest.approx(0.7) and "one-outcome" in codes(made)
        )

    def test_both_ways_of_counting_agree_with_the_logit(self):
        heights, broke = [0.6, 0.7, 0.8, 0.7, 0.8, 0.9, 0.8, 0.7, 0.8, 0.7], [0, 0, 1, 0, 0, 1, 1, 0, 1, 0]
        drops = [{"height_m": h, "broke": bool(b)} for h, b in zip(heights, broke, strict=True)]
        made = drop_staircase(StaircaseInput(step_m=0.1, mass_kg=0.5, outcomes=drops))
        assert made.median_ci_m[0] < made.median_height_m < made.median_ci_m[1]
        assert made.logit_median_ci_m is None  # too narrow below twenty drops
        assert made.median_energy_j == pytest.approx(0.5 * 9.80665 * made.median_height_m)


class TestIndexAndCure:
    def test_ranking_turns_where_it_is_said_to(self):
        def ranked(weight):
            return property_index(
                PropertyIndexInput(
                    criteria=[
                        {"name": "strength", "weight": 1, "better": "higher", "baseline": 50},
                        {"name": "impact", "weight": weight, "better": "higher", "baseline": 1},
                    ],
                    candidates=[{"name": "stiff", "values": [80, 0.8]}, {"name": "soft", "values": [45, 2.0]}],
                )
            )

        first = ranked(0.2)
        turn = next(f for f in first.flips if f.criterion == "impact")
        assert first.ranking[0].name == "stiff" and turn.to == "soft"
        assert ranked(turn.at_weight * 0.98).ranking[0].name == "stiff"
        assert ranked(turn.at_weight * 1.02).ranking[0].name == "soft"

    def test_the_cure_curve_is_found_in_noise_and_says_when_it_guesses(self):
        points = [{"minutes": m, "hardness": 82 - 30 * math.exp(-m / 4)} for m in (0, 1, 2, 4, 8, 12)]
        made = post_cure(PostCureInput(points=points))
        assert made.time_constant_min == pytest.approx(4, rel=1e-4)
        short = post_cure(PostCureInput(points=points[:4]))
        assert "extrapolated" in codes(short)


@drawn(st.floats(20, 60), st.floats(5, 40), st.floats(1, 30))
def test_a_drawn_curve_begins_and_ends_where_the_fit_says_and_passes_the_wanted_share(first, gain, tau):
    minutes = [0, 0.5 * tau, tau, 2 * tau, 4 * tau]
    points = [{"minutes": m, "hardness": first + gain * (1 - math.exp(-m / tau))} for m in minutes]
    made = post_cure(PostCureInput(points=points))
    assert hardness_at(made, 0) == pytest.approx(made.initial_hardness)
    assert hardness_at(made, 1000 * tau) == pytest.approx(made.final_hardness)
    wanted = made.initial_hardness + 0.95 * (made.final_hardness - made.initial_hardness)
    assert hardness_at(made, made.minutes_to_fraction) == pytest.approx(wanted)
