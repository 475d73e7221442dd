"""An effect that each unit of the evidence has of its own, taken out at fixed nodes: mostly small and normal, now and then far off."""

from __future__ import annotations

from typing import Any

import numpy as np
from scipy.special import roots_hermitenorm

Array = np.ndarray[Any, np.dtype[np.float64]]

WIDE, WIDE_SHARE = (-0.45, -0.15, 0.15, 0.45), 0.04
_PLACES, _SHARES = roots_hermitenorm(5)
NODES: Array = np.concatenate([_PLACES, np.zeros(len(WIDE))])
"""Places of the effect in units of its usual spread; zero for the far ones, whose places are in :data:`FIXED`."""
FIXED: Array = np.concatenate([np.zeros(len(_PLACES)), np.array(WIDE)])
NODE_LOG: Array = np.log(
    np.concatenate([(1 - WIDE_SHARE) * _SHARES / _SHARES.sum(), np.full(len(WIDE), WIDE_SHARE / len(WIDE))])
)
IS_WIDE = np.concatenate([np.zeros(len(_PLACES), bool), np.ones(len(WIDE), bool)])


def over_effects(per_node: Array) -> Array:
    """ln likelihood with the effects taken out: from (nodes, n, units) to (n, units)."""
    mixed = per_node + NODE_LOG[:, None, None]
    top = mixed.max(axis=0)
    mixed -= top
    np.exp(mixed, out=mixed)
    return np.asarray(top + np.log(mixed.sum(axis=0)))
