"""Counts how often what is said of simulated samples holds, and prints it as rows of the tables in docs/honesty.md."""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy.optimize import brentq
from scipy.special import gamma, ndtri

from setback.core.statistics.tolerance import SHARE

Sampler = Callable[[np.random.Generator, int], np.ndarray]


@dataclass
class Coverage:
    """How often an answer was given, and how often it held."""

    case: str
    runs: int = 0
    answered: int = 0
    held: int = 0

    def count(self, held: bool | None) -> None:
        """One run; None: no answer was given."""
        self.runs += 1
        if held is not None:
            self.answered += 1
            self.held += bool(held)

    @property
    def share(self) -> float:
        return self.held / self.answered if self.answered else math.nan

    def least(self, wanted: float) -> bool:
        """Whether the true share may be as high as wanted: within three standard errors of this many runs."""
        return self.share >= wanted - 3 * math.sqrt(wanted * (1 - wanted) / max(self.answered, 1))

    def most(self, allowed: float) -> bool:
        """Whether the true share may be as low as allowed."""
        return self.share <= allowed + 3 * math.sqrt(allowed * (1 - allowed) / max(self.answered, 1))

    def __str__(self) -> str:
        share = f"{100 * self.share:.1f} %" if self.answered else "none given"
        return f"| {self.case} | {share} | {self.answered} of {self.runs} |"


def of_parts(distribution: str, cv: float) -> tuple[Sampler, float]:
    """Parts of one distribution with mean about 1, and the value that nine in ten of them reach."""
    if distribution == "normal":
        return lambda rng, n: 1 + cv * rng.standard_normal(n), 1 + cv * float(ndtri(1 - SHARE))
    if distribution == "lognormal":
        sd = math.sqrt(math.log(1 + cv * cv))
        return lambda rng, n: np.exp(sd * rng.standard_normal(n)), math.exp(sd * float(ndtri(1 - SHARE)))
    shape = brentq(lambda k: math.sqrt(gamma(1 + 2 / k) / gamma(1 + 1 / k) ** 2 - 1) - cv, 0.8, 200)
    return lambda rng, n: rng.weibull(shape, n), (-math.log(SHARE)) ** (1 / shape)
