"""Gauge studies: components against a hand computation, planted biases found, bad input told at its place."""

import numpy as np
import pytest

from setback.core.contract import Problem
from setback.core.reading.gauge_study import GaugeStudyInput, gauge_study


def study(seed, *, people=3, coupons=8, repeats=2, biases=(0.0, 0.0, 0.0), within=1.0, taste=0.0):
    """Readings with planted biases, and the coupons' true values."""
    chance = np.random.default_rng(seed)
    truth = chance.normal(0, 10, coupons)
    own = chance.normal(0, taste, (people, coupons)) if taste else np.zeros((people, coupons))
    noise = chance.normal(0, within, (people, coupons, repeats))
    readings = truth[None, :, None] + np.array(biases)[:people, None, None] + own[..., None] + noise
    return readings.tolist(), truth.tolist()


def result(readings, **more):
    return gauge_study(GaugeStudyInput(readings=readings, **more))


def test_components_come_back():
    readings, _ = study(1, coupons=60, repeats=4, within=2.0, taste=1.0)
    found = result(readings)
    assert found.repeatability_sd == pytest.approx(2.0, rel=0.1)
    assert found.reproducibility_sd == pytest.approx(1.0, rel=0.35)
    assert found.part_sd == pytest.approx(10, rel=0.25)
    assert found.repeatability_ci[0] < 2.0 < found.repeatability_ci[1]
    assert found.gauge_ci[0] < found.gauge_sd < found.gauge_ci[1]


def test_a_planted_bias_lies_within_its_interval_in_nearly_all_studies():
    planted = (4.0, -1.0, 0.0)
    inside, against_all = 0, 0
    for seed in range(200):
        readings, truth = study(seed, biases=planted, taste=0.5)
        for bias, one in zip(planted, result(readings, reference=truth).biases, strict=True):
            inside += one.bias_ci[0] <= bias <= one.bias_ci[1]
        for bias, one in zip(planted, result(readings).biases, strict=True):
            against_all += one.bias_ci[0] <= bias - 1.0 <= one.bias_ci[1]
    assert 0.92 <= inside / 600 <= 0.98
    assert 0.92 <= against_all / 600 <= 0.99


def test_without_a_difference_between_people_nothing_is_below_nothing():
    readings, _ = study(3, within=1.0)
    found = result(readings, technicians=["IM", "RB", "TO"], tolerance=12)
    assert found.reproducibility_sd >= 0 and not any(one.shown for one in found.biases)
    assert [one.technician for one in found.biases] == ["IM", "RB", "TO"]
    assert found.tolerance_pct == pytest.approx(600 * found.gauge_sd / 12)
    assert "tolerance-too-narrow" in {w.code for w in found.warnings}


def test_what_leans_on_too_little_is_said():
    readings, _ = study(4, people=2, coupons=3, biases=(0, 30, 0))
    codes = {w.code for w in result(readings).warnings}
    assert {"two-technicians", "few-coupons", "gauge-too-wide"} <= codes
    same = [[[5, 5], [5, 5]], [[5, 5], [5, 5]]]
    assert result(same).gauge_sd == 0 and result(same).gauge_pct == 0


@pytest.mark.parametrize(
    ("change", "field"),
    [
        ({"readings": [[[1, 2], [3, 4]], [[1, 2], [3, 4], [5, 6]]]}, "readings.1"),
        ({"readings": [[[1, 2], [3, 4]], [[1, 2], [3, 4, 5]]]}, "readings.1.1"),
        ({"technicians": ["IM"]}, "technicians"),
        ({"reference": [1.0, 2.0, 3.0]}, "reference"),
    ],
)
def test_uneven_studies_are_refused_at_their_place(change, field):
    request = {"readings": [[[1, 2], [3, 4]], [[1, 2], [3, 4]]], **change}
    with pytest.raises(Problem) as problem:
        gauge_study(GaugeStudyInput.model_validate(request))
    assert field in problem.value.fields
