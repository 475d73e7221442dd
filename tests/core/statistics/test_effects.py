"""Effects taken out at nodes, and quantiles of sorted rows, against SciPy and NumPy."""

import numpy as np
import pytest
from scipy.special import logsumexp

from setback.core.statistics.effects import NODE_LOG, over_effects
from setback.core.statistics.quantiles import quantile_of_sorted


def test_an_effect_is_taken_out_by_the_shares_of_its_nodes():
    per_node = np.random.default_rng(1).normal(-400, 30, (len(NODE_LOG), 5, 3))
    assert over_effects(per_node) == pytest.approx(logsumexp(per_node + NODE_LOG[:, None, None], axis=0))
    assert np.exp(NODE_LOG).sum() == pytest.approx(1)


@pytest.mark.parametrize("share", [0.0, 0.025, 0.5, 0.975, 1.0])
def test_a_quantile_of_sorted_rows_is_the_usual_one(share):
    rows = np.sort(np.random.default_rng(2).normal(size=(4, 128)), axis=1)
    assert quantile_of_sorted(rows, share) == pytest.approx(np.quantile(rows, share, axis=1))
