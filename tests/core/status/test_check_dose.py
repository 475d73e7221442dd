"""A check coupon's dose, and the window it may leave."""

import math

import pytest

from setback.core.status.check_dose import Dose, beyond_window, dose_seen
from setback.core.window.contract import Prediction

SLOPE = 80.0


def predicted(half_um: float | None = 8.0, slope: float = SLOPE):
    """Growth of ``slope`` µm per ln t, zero at 3 s."""
    said = []
    for t in (2.0, 2.5, 3.0, 3.5, 4.0):
        growth = slope * math.log(t / 3)
        said.append(
            Prediction(
                exposure_s=t,
                growth_um=growth,
                growth_ci_um=None if half_um is None else (growth - half_um, growth + half_um),
                bloom_um=None,
                tip_probability=None,
                part_probability=None,
                walls_standing=None,
                walls_of=None,
                slots_open=None,
                slots_of=None,
                margin_lower_pct=None,
                margin_upper_pct=None,
                extrapolated=False,
            )
        )
    return said


@pytest.mark.parametrize("ratio", [0.6, 0.9, 1.0, 1.2, 1.6])
def test_the_dose_is_told_from_the_growth_it_makes(ratio):
    grown = SLOPE * math.log(3.0 * ratio / 3)
    assert dose_seen(grown, 3.0, predicted()).off_pct == pytest.approx(100 * (ratio - 1))


def test_its_uncertainty_is_that_of_the_prediction_and_is_not_even_in_percent():
    dose = dose_seen(0.0, 3.0, predicted(half_um=8.0))
    assert dose.off_ci_pct == pytest.approx((100 * math.expm1(-0.1), 100 * math.expm1(0.1)))
    assert -dose.off_ci_pct[0] < dose.off_ci_pct[1]


@pytest.mark.parametrize("predictions", [[], predicted()[:1], predicted(slope=-80.0), predicted(slope=0.0)])
def test_nothing_is_said_where_growth_does_not_rise_with_light(predictions):
    assert dose_seen(10.0, 3.0, predictions) is None


@pytest.mark.parametrize(
    ("off", "ci", "side"),
    [
        (60.0, (45.0, 76.0), "over"),
        (60.0, (20.0, 100.0), None),  # Its uncertainty reaches back into the window: one coupon cannot tell.
        (-40.0, (-46.0, -33.0), "under"),
        (-40.0, (-46.0, -20.0), None),
        (10.0, (0.0, 20.0), None),
        (60.0, None, "over"),
    ],
)
def test_the_window_is_left_only_when_the_whole_uncertainty_lies_beyond(off, ci, side):
    assert beyond_window(Dose(off_pct=off, off_ci_pct=ci), 3.0, 2.2, 4.1) == side


def test_an_end_nothing_is_known_of_is_never_left():
    far = Dose(off_pct=300.0, off_ci_pct=(280.0, 320.0))
    assert beyond_window(far, 3.0, 2.2, None) is None
    assert beyond_window(far, 3.0, None, 4.1) == "over"
