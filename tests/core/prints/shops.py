"""Simulated shops that print parts: a hidden exposure where parts begin to lack light, another where they have too much."""

import math
from dataclasses import dataclass

import numpy as np
from scipy.special import expit

from setback.core.prints.outcomes import FailedParts, PrintOutcome

SETTINGS = (2, 3, 4)
PARTS = (1, 2, 4, 6, 9, 12, 16)


@dataclass(frozen=True)
class Shop:
    """What is true of a shop and nobody there knows."""

    lacks_s: float
    exceeds_s: float
    scale: float
    per_c: float
    spread: float
    """Standard deviation of the logarithm of light from print to print."""
    fails_otherwise: float = 0.03

    def whole(self, exposure_s: float, temp_c: float) -> float:
        """Share of whole parts among those that do not fail for another reason, over the spread of prints."""
        z, weight = np.polynomial.hermite_e.hermegauss(25)
        x = math.log(exposure_s) + self.per_c * (temp_c - 23) + self.spread * z
        return float((self._not_under(x) * self._not_over(x)) @ weight / weight.sum())

    def _not_under(self, x):
        return expit((x - math.log(self.lacks_s)) / self.scale)

    def _not_over(self, x):
        return expit((math.log(self.exceeds_s) - x) / self.scale)

    def printed(self, rng, exposure_s: float, temp_c: float, parts: int, **more) -> PrintOutcome:
        """One print as it comes out."""
        x = math.log(exposure_s) + self.per_c * (temp_c - 23) + self.spread * rng.standard_normal()
        under = int(rng.binomial(parts, 1 - self._not_under(x)))
        over = int(rng.binomial(parts - under, 1 - self._not_over(x)))
        other = int(rng.binomial(parts - under - over, self.fails_otherwise))
        return PrintOutcome(
            exposure_s=exposure_s,
            temp_c=round(temp_c, 1),
            parts=parts,
            whole=parts - under - over - other,
            failed=FailedParts(under=under, over=over, other=other),
            **more,
        )


def a_shop(rng, has_over: bool) -> Shop:
    """Any shop: its resin, how sharp its limits are, how steady its printer."""
    lacks = rng.uniform(1.5, 3)
    return Shop(
        lacks_s=lacks,
        exceeds_s=lacks * math.exp(rng.uniform(0.5, 1)) if has_over else 1e6,
        scale=rng.uniform(0.06, 0.18),
        per_c=rng.uniform(0.008, 0.025),
        spread=rng.uniform(0.02, 0.06),
    )


def a_log(rng, shop: Shop, prints: int) -> list[PrintOutcome]:
    """Its prints: a few settings, as somebody raises the exposure, at the temperatures of the room."""
    width = math.log(shop.exceeds_s / shop.lacks_s) + 0.1 if shop.exceeds_s < 1e5 else 0.5
    settings = {round(shop.lacks_s * math.exp(rng.uniform(0.05, width)), 1) for _ in range(rng.choice(SETTINGS))}
    while len(settings) < 2:
        settings.add(round(shop.lacks_s * math.exp(rng.uniform(0.05, width)), 1))
    log = []
    for number in range(prints):
        exposure = (
            sorted(settings)[number % len(settings)] if number < len(settings) else float(rng.choice(sorted(settings)))
        )
        log.append(
            shop.printed(
                rng,
                exposure,
                rng.normal(23, 2.5),
                int(rng.choice(PARTS)),
                place=str(rng.choice(["centre", "corner"])),
            )
        )
    return log
