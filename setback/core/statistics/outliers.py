"""Values that stand apart from their sample: flagged, never left out.

Methods: Grubbs' two-sided test at 5 % (F. E. Grubbs, Technometrics 11 (1969) 1-21), and for several at once the
generalised extreme studentised deviate (B. Rosner, Technometrics 25 (1983) 165-172).
"""

from __future__ import annotations

import math

from scipy.special import stdtrit

SIGNIFICANCE = 0.05
TOGETHER = 0.04
"""Level of each test for several at once: so one clean sample in twenty is called contaminated, whatever its size."""
LEAST_N = 3
MOST_SHARE = 0.2


def grubbs_limit(n: int, significance: float = SIGNIFICANCE) -> float:
    """Two-sided critical value of Grubbs' statistic."""
    t = float(stdtrit(n - 2, 1 - significance / (2 * n)))
    return (n - 1) / math.sqrt(n) * math.sqrt(t * t / (n - 2 + t * t))


def stands_apart(values: list[float]) -> int | None:
    """Place of the one value that stands apart by Grubbs' test, or None."""
    furthest = _furthest(values, list(range(len(values))))
    if furthest is None:
        return None
    place, statistic = furthest
    return place if statistic > grubbs_limit(len(values)) else None


def all_apart(values: list[float]) -> list[int]:
    """Places of all values that stand apart together: up to a fifth of the sample, one at least may be told."""
    left, gone, apart = list(range(len(values))), [], 0
    for _ in range(max(1, int(MOST_SHARE * len(values)))):
        furthest = _furthest(values, left)
        if furthest is None:
            break
        place, statistic = furthest
        limit = grubbs_limit(len(left), TOGETHER)
        left.remove(place)
        gone.append(place)
        if statistic > limit:
            apart = len(gone)
    return sorted(gone[:apart])


def _furthest(values: list[float], places: list[int]) -> tuple[int, float] | None:
    """The value furthest from the mean of those at these places, and how many standard deviations that is."""
    n = len(places)
    if n < LEAST_N:
        return None
    mean = math.fsum(values[i] for i in places) / n
    sd = math.sqrt(math.fsum((values[i] - mean) ** 2 for i in places) / (n - 1))
    if sd <= 1e-12 * max(abs(mean), 1e-300):
        return None
    far = max(places, key=lambda i: abs(values[i] - mean))
    return far, abs(values[far] - mean) / sd
