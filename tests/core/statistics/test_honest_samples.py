"""What summaries and comparisons promise, counted on samples whose truth is known; in full under ``make honesty``."""

import math

import numpy as np
import pytest
from scipy.special import ndtri

from setback.core.statistics.compare import Candidate, CompareInput, compare
from setback.core.statistics.prints import PrintSpread, by_print, pooled_spread, relative_spread, seen_difference_pct
from setback.core.statistics.staircase import StaircaseInput, drop_staircase
from setback.core.statistics.summary import SummaryInput, sample_summary
from tests.length import FULL

from .coverage import Coverage, of_parts

RUNS = 2000 if FULL else 100
COVERS, FALSE = 0.92, 0.06


def printed(rng: np.random.Generator, prints: int, each: int, share: float) -> tuple[list[float], list[str]]:
    """Specimens of several prints; ``share`` of their variance lies between prints. Mean 10, standard deviation 1."""
    values, names = [], []
    for number in range(prints):
        shift = math.sqrt(share) * rng.standard_normal()
        values += (10 + shift + math.sqrt(1 - share) * rng.standard_normal(each)).tolist()
        names += [f"J-{number}"] * each
    return values, names


@pytest.mark.honesty
@pytest.mark.parametrize(("prints", "each"), [(2, 6), (3, 4), (4, 3), (6, 2), (4, 1)])
@pytest.mark.parametrize("share", [0.0, 0.3, 0.7])
def test_mean_and_bound_over_prints(prints, each, share):
    rng = np.random.default_rng(1)
    mean, bound = Coverage(f"mean, {prints} prints of {each}, {share:.0%} between"), Coverage("bound of the same")
    for _ in range(RUNS):
        values, names = printed(rng, prints, each, share)
        found = sample_summary(SummaryInput(values=values, print=names, positive=True))
        mean.count(found.mean_ci and found.mean_ci[0] <= 10 <= found.mean_ci[1])
        bound.count(None if found.bound_lower is None else found.bound_lower <= 10 + ndtri(0.1))
    print(f"\n{mean}\n{bound}")
    assert mean.answered == RUNS and mean.least(COVERS)
    assert bound.answered == (RUNS if prints >= 4 else 0)
    assert prints < 4 or bound.least(COVERS)


@pytest.mark.honesty
@pytest.mark.parametrize("degrees", [6, 20])
def test_a_bound_from_two_prints_and_a_spread_that_is_known(degrees):
    rng = np.random.default_rng(2)
    counted = Coverage(f"bound, 2 prints of 5, spread between prints known with {degrees} degrees")
    for _ in range(RUNS):
        values, names = printed(rng, 2, 5, 0.4)
        spread = PrintSpread(sd=math.sqrt(0.4 * rng.chisquare(degrees) / degrees), degrees=degrees)
        found = sample_summary(SummaryInput(values=values, print=names, print_spread=spread))
        counted.count(None if found.bound_lower is None else found.bound_lower <= 10 + ndtri(0.1))
    print(f"\n{counted}")
    assert counted.answered == RUNS and counted.least(COVERS)


@pytest.mark.honesty
@pytest.mark.parametrize("distribution", ["normal", "lognormal", "weibull"])
@pytest.mark.parametrize(("n", "cv"), [(5, 0.1), (10, 0.05), (20, 0.2), (40, 0.1)])
def test_bounds_of_three_distributions(distribution, n, cv):
    rng = np.random.default_rng(3)
    draw, reached = of_parts(distribution, cv)
    counted = Coverage(f"lower bound, {distribution}, n = {n}, {cv:.0%} scatter")
    for _ in range(RUNS):
        found = sample_summary(SummaryInput(values=draw(rng, n).tolist(), positive=True))
        counted.count(found.bound_lower <= reached)
    print(f"\n{counted}")
    assert counted.least(COVERS)


@pytest.mark.honesty
@pytest.mark.parametrize(("n", "unbroken"), [(5, 0.6), (8, 0.4), (12, 0.2), (12, 0.6)])
def test_the_mean_where_some_did_not_break(n, unbroken):
    rng = np.random.default_rng(4)
    taken_to = 10 + float(ndtri(1 - unbroken))
    counted = Coverage(f"mean, n = {n}, {unbroken:.0%} unbroken")
    while counted.runs < RUNS // 2:
        strengths = 10 + rng.standard_normal(n)
        broke = strengths[strengths < taken_to].tolist()
        if len(broke) < 2 or len(broke) == n:
            continue
        found = sample_summary(SummaryInput(values=broke, unbroken=[taken_to] * (n - len(broke))))
        counted.count(found.mean_ci and found.mean_ci[0] <= 10 <= found.mean_ci[1])
    print(f"\n{counted}")
    assert counted.least(COVERS)


@pytest.mark.honesty
@pytest.mark.parametrize(("groups", "prints"), [(2, 2), (2, 4), (4, 2), (2, 3)])
@pytest.mark.parametrize("share", [0.0, 0.4, 0.8])
def test_false_differences_between_groups_of_prints(groups, prints, share):
    rng = np.random.default_rng(5)
    counted = Coverage(f"false difference, {groups} groups of {prints} prints, {share:.0%} between")
    for _ in range(RUNS):
        samples = [printed(rng, prints, 3, share) for _ in range(groups)]
        found = compare(
            CompareInput(
                baseline=samples[0][0],
                baseline_print=samples[0][1],
                candidates=[
                    Candidate(name=str(i), values=values, print=names) for i, (values, names) in enumerate(samples[1:])
                ],
            )
        )
        counted.count(any(one.shown for one in found.candidates))
    print(f"\n{counted}")
    assert counted.most(FALSE)


@pytest.mark.honesty
@pytest.mark.parametrize("prints", [2, 4])
@pytest.mark.parametrize("spread", [0.5, 1.0, 2.0])
def test_false_differences_to_something_bought_in(prints, spread):
    """The reference has no prints: its specimens are independent, with a spread of their own."""
    rng = np.random.default_rng(8)
    counted = Coverage(f"false difference to a sheet of spread {spread}, two groups of {prints} prints")
    for _ in range(RUNS):
        samples = [printed(rng, prints, 3, 0.5) for _ in range(2)]
        found = compare(
            CompareInput(
                baseline=(10 + spread * rng.standard_normal(6)).tolist(),
                candidates=[
                    Candidate(name=str(i), values=values, print=names) for i, (values, names) in enumerate(samples)
                ],
            )
        )
        counted.count(any(one.shown for one in found.candidates))
    print(f"\n{counted}")
    assert counted.most(FALSE)


@pytest.mark.honesty
@pytest.mark.parametrize("prints", [2, 3])
def test_a_bound_by_the_spread_of_earlier_tests(prints):
    """Materials of other strength, with the same share of spread: what they tell is a share of the mean."""
    rng = np.random.default_rng(9)
    mean, bound = Coverage(f"mean, {prints} prints and a method's history"), Coverage("bound of the same")
    for _ in range(RUNS):
        earlier = []
        for level in (4.0, 7.0, 15.0):
            values, names = printed(rng, 4, 3, 0.4)
            earlier.append(relative_spread(by_print([level * v / 10 for v in values], names)))
        values, names = printed(rng, prints, 4, 0.4)
        spread = pooled_spread(earlier).of(sum(values) / len(values))
        found = sample_summary(SummaryInput(values=values, print=names, print_spread=spread))
        mean.count(found.mean_ci and found.mean_ci[0] <= 10 <= found.mean_ci[1])
        bound.count(None if found.bound_lower is None else found.bound_lower <= 10 + ndtri(0.1))
    print(f"\n{mean}\n{bound}")
    assert mean.answered == bound.answered == RUNS
    assert mean.least(COVERS) and bound.least(COVERS)


def test_a_plan_over_prints_sees_what_it_says():
    """Four times in five, with the spread that earlier tests told."""
    rng = np.random.default_rng(10)
    earlier = [relative_spread(by_print(*printed(rng, 30, 4, 0.4))) for _ in range(2)]
    spread, runs = pooled_spread(earlier), 400
    percent = seen_difference_pct(spread, 4, 12, 2)
    known, seen = spread.of(10.0), 0
    for _ in range(runs):
        (first, names), (other, others) = printed(rng, 4, 3, 0.4), printed(rng, 4, 3, 0.4)
        found = compare(
            CompareInput(
                baseline=first,
                baseline_print=names,
                candidate=[v + percent / 10 for v in other],
                candidate_print=others,
                print_spread=known,
            )
        )
        seen += found.candidates[0].shown
    assert 0.72 <= seen / runs <= 0.88


def test_a_group_of_one_print_tells_nothing_of_the_spread():
    one = relative_spread(by_print([9.0, 10.0, 11.0], ["J-1"] * 3))
    assert one.degrees == 0 and one.of(10.0) is None and seen_difference_pct(one, 2, 6, 2) is None
    two = relative_spread(by_print([9.0, 10.0, 11.0, 12.0], ["J-1", "J-1", "J-2", "J-2"]))
    assert pooled_spread([one, two]).without(two) == one


def test_one_print_of_each_group_never_shows_a_difference():
    rng = np.random.default_rng(6)
    for _ in range(50):
        (first, names), (other, others) = printed(rng, 1, 6, 0.9), printed(rng, 1, 6, 0.9)
        found = compare(
            CompareInput(baseline=first, baseline_print=names, candidate=[v + 5 for v in other], candidate_print=others)
        )
        assert not found.candidates[0].shown and found.about == "these prints"
        assert "one-print" in {one.code for one in found.warnings}


@pytest.mark.honesty
@pytest.mark.parametrize("n", [8, 15, 30])
def test_bad_parts_among_good_ones_are_told_with_both_answers(n):
    """One part in ten is at 0.6: the bound misses then, and says so in most of these samples."""
    rng = np.random.default_rng(7)
    told = Coverage(f"bad parts told, n = {n}")
    for _ in range(RUNS):
        values = 10 + 0.5 * rng.standard_normal(n)
        bad = rng.random(n) < 0.1
        values[bad] = 6 + 0.5 * rng.standard_normal(bad.sum())
        if not 0 < bad.sum() <= max(1, n // 5):
            continue
        found = sample_summary(SummaryInput(values=values.tolist(), positive=True))
        is_told = "outlier" in {one.code for one in found.warnings}
        told.count(is_told)
        if is_told and found.without_outliers is not None:
            assert found.without_outliers.n < n and found.without_outliers.bound_lower > found.bound_lower
    print(f"\n{told}")
    assert told.least(0.7)


@pytest.mark.parametrize("n", [5, 12, 30])
def test_a_clean_sample_is_seldom_called_contaminated(n):
    rng = np.random.default_rng(8)
    counted = Coverage(f"clean sample called contaminated, n = {n}")
    for _ in range(RUNS):
        found = sample_summary(SummaryInput(values=rng.standard_normal(n).tolist()))
        counted.count(found.without_outliers is not None)
    print(f"\n{counted}")
    assert counted.most(0.06)


def test_with_equal_numbers_it_is_the_analysis_of_variance():
    """Against SciPy's one-way analysis of variance: the mean square between prints carries the interval."""
    from scipy.stats import f_oneway, t

    values, names = printed(np.random.default_rng(9), 4, 5, 0.5)
    groups = [values[i : i + 5] for i in range(0, 20, 5)]
    found = sample_summary(SummaryInput(values=values, print=names))
    within = np.mean([np.var(group, ddof=1) for group in groups])
    mean_square = f_oneway(*groups).statistic * within
    half = t.ppf(0.975, 3) * math.sqrt(mean_square / 20)
    assert found.mean_ci == pytest.approx((np.mean(values) - half, np.mean(values) + half))
    assert found.prints == 4 and found.about == "parts"


def test_names_of_prints_and_their_order_do_not_matter():
    values, names = printed(np.random.default_rng(10), 4, 3, 0.5)
    order = [7, 0, 11, 4, 2, 9, 1, 3, 10, 5, 8, 6]
    renamed = dict(zip(sorted(set(names)), "dcba", strict=True))
    one = sample_summary(SummaryInput(values=values, print=names))
    other = sample_summary(SummaryInput(values=[values[i] for i in order], print=[renamed[names[i]] for i in order]))
    assert one.mean_ci == pytest.approx(other.mean_ci) and one.bound_lower == pytest.approx(other.bound_lower)


@pytest.mark.parametrize("prints", [["J-1"], ["J-1"] * 4])
def test_a_print_is_given_for_each_value_or_for_none(prints):
    from setback.core.contract import Problem

    with pytest.raises(Problem) as refused:
        sample_summary(SummaryInput(values=[10.0, 11.0, 12.0], print=prints))
    assert "print of each" in refused.value.fields["print"]


def test_one_print_speaks_of_that_print():
    found = sample_summary(SummaryInput(values=[10.0, 11.0, 12.5, 9.8], print=["J-1"] * 4))
    assert found.about == "this print" and found.prints == 1
    assert "one-print" in {one.code for one in found.warnings}


def test_what_can_only_be_positive_has_no_bound_below_zero():
    found = sample_summary(SummaryInput(values=[1.0, 5.0, 0.2, 9.0], positive=True))
    assert found.tolerance_lower < 0 <= found.bound_lower


@pytest.mark.honesty
@pytest.mark.parametrize("drops", [6, 10, 16])
@pytest.mark.parametrize(("spread", "start"), [(0.5, 0), (1.0, 4), (2.0, 0), (2.0, -4)])
def test_few_drops_leave_the_median_as_open_as_it_is(drops, spread, start):
    """``spread`` of the breaking heights and ``start`` away from their median, both in steps."""
    rng = np.random.default_rng(11)
    median_held = Coverage(f"median, {drops} drops, spread of {spread:g} steps, start {start:+d} steps off")
    sd_held = Coverage("spread of the same")
    for _ in range(RUNS // 2):
        median = 20 + rng.uniform(-0.5, 0.5)
        height, outcomes = 20.0 + start, []
        for _ in range(drops):
            broke = bool(median + spread * rng.standard_normal() < height)
            outcomes.append({"height_m": height, "broke": broke})
            height += -1 if broke else 1
        found = drop_staircase(StaircaseInput(step_m=1, mass_kg=1, outcomes=outcomes))
        median_held.count(found.median_ci_m and found.median_ci_m[0] <= median <= found.median_ci_m[1])
        sd_held.count(found.sd_ci_m and found.sd_ci_m[0] <= spread <= found.sd_ci_m[1])
    print(f"\n{median_held}\n{sd_held}")
    assert median_held.least(COVERS) and sd_held.least(COVERS)


def test_a_start_far_off_is_noticed():
    outcomes = [{"height_m": 1 + 0.1 * i, "broke": i == 5} for i in range(6)]
    far = drop_staircase(StaircaseInput(step_m=0.1, mass_kg=0.1, outcomes=outcomes))
    near = drop_staircase(StaircaseInput(step_m=0.1, mass_kg=0.1, outcomes=outcomes[3:]))
    assert "start-far" in {one.code for one in far.warnings}
    assert "start-far" not in {one.code for one in near.warnings}
