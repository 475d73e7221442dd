"""Faults planted in simulated shops: the true cause is near the top, and what is called likely is true about as often."""

import pytest

from setback.core.trace.contract import TraceInput
from setback.core.trace.model import trace
from tests.core.statistics.coverage import Coverage
from tests.core.trace.planted import PHYSICAL, TOLD, plant
from tests.length import FULL

pytestmark = pytest.mark.long

RUNS = 2000 if FULL else 60


@pytest.mark.honesty
def test_the_true_cause_of_a_planted_fault_is_among_the_first_three():
    among_three, first, likely = (
        Coverage("true cause among the first three, planted faults"),
        Coverage("true cause first, planted faults"),
        Coverage("cause stated at 60 to 80 %, planted faults"),
    )
    for seed in range(RUNS):
        planted = plant(seed)
        result = trace(TraceInput.model_validate({"symptoms": planted.symptoms, "record": planted.record}))
        order = [cause.key for cause in result.causes]
        among_three.count(planted.truth in order[:3])
        first.count(planted.truth == order[0])
        for cause in result.causes:
            if 0.6 <= cause.probability <= 0.8:
                likely.count(cause.key == planted.truth)
    print(f"\n{among_three}\n{first}\n{likely}")
    assert among_three.least(0.8)
    # Few are stated so in the short form: there it only must not be far off.
    assert (0.5 <= likely.share <= 0.9) if FULL else likely.share >= 0.5


def test_every_kind_of_fault_is_planted_and_known():
    truths = {plant(seed).truth for seed in range(150)}
    assert len(truths) >= 22 and truths <= {*PHYSICAL, *TOLD}
