"""What becomes of a coupon's features at an exposure: a small model of light, cure and peel.

A mask edge is blurred by a Gaussian of width ``spread_mm`` (pixel, scatter, resin still moving). Resin cures
as deep as ``Dp ln(dose / tc)`` (Jacobs' equation), so an edge lies where the blurred dose just cures one layer:
growth rises with exposure and is zero where the half-lit edge cures, at twice the dose a layer needs. Walls
stand when the dose at their middle cures deep enough to bind; slots stay open while what is left of them can
drain; tips hold while their cured strength beats the peel.
"""

from __future__ import annotations

import math
import random
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

from scipy.special import erf, ndtri


class Drawn(Protocol):
    """A feature as the coupon's plan states it."""

    @property
    def key(self) -> str: ...
    @property
    def kind(self) -> str: ...
    @property
    def size_mm(self) -> float: ...
    @property
    def side(self) -> str | None: ...


@dataclass(frozen=True)
class Truth:
    """The hidden truth of one material on one printer at 25 °C."""

    critical_exposure_s: float
    penetration_depth_mm: float = 0.13
    spread_mm: float = 0.06
    bind_mm: float = 0.055
    drain_mm: float = 0.27
    peel: float = 0.69
    shrinkage: float = 0.002
    right_light: float = 1.0
    """Light on the right half of the plate relative to the left."""

    def edge_exposure_s(self, layer_mm: float, temp_c: float) -> float:
        """Exposure at which full light just cures one layer; warm resin needs 2.5 % less per °C."""
        critical = self.critical_exposure_s * math.exp(-0.025 * (temp_c - 25))
        return critical * math.exp(layer_mm / self.penetration_depth_mm)


@dataclass(frozen=True)
class Seen:
    """One feature as a person with calipers would note it."""

    key: str
    state: str | None
    measured_mm: float | None


def expose(
    features: Sequence[Drawn], exposure_s: float, truth: Truth, layer_mm: float, temp_c: float, noise: random.Random,
    reader_bias_mm: float = 0.0,
) -> list[Seen]:  # fmt: skip
    """Print and read a coupon: what stands, what is open, what the calipers say (to 0.01 mm)."""
    edge = truth.edge_exposure_s(layer_mm, temp_c)
    depth = truth.penetration_depth_mm
    seen = []
    for feature in features:
        light = exposure_s * (truth.right_light if feature.side == "right" else 1.0) / edge
        growth = _growth(truth.spread_mm, light)
        size = feature.size_mm
        if feature.kind in ("outer", "inner"):
            sign = 1 if feature.kind == "outer" else -1
            measured = size * (1 - truth.shrinkage) + sign * 2 * growth + noise.gauss(reader_bias_mm, 0.006)
            seen.append(Seen(feature.key, None, round(measured, 2)))
            continue
        middle = float(erf(size / (2 * math.sqrt(2) * truth.spread_mm)))
        if feature.kind == "wall":
            cured = depth * math.log(max(light * middle, 1e-9)) + noise.gauss(0, 0.004)
            formed = cured >= truth.bind_mm
        elif feature.kind == "slot":
            left = size - 2 * growth + noise.gauss(0, 0.012)
            formed = left >= truth.drain_mm * size / (size + 0.06) and light * (1 - middle) < 1
        else:
            spot = 1 - math.exp(-(size**2) / (8 * truth.spread_mm**2))
            over = depth * math.log(max(light * spot, 1e-9))
            strength = (size / 0.43) ** 2 * max(over, 1e-6) / 0.1
            formed = math.log(strength) + noise.gauss(0, 0.07) > math.log(truth.peel)
        seen.append(Seen(feature.key, "formed" if formed else "absent", None))
    return seen


def _growth(spread_mm: float, light: float) -> float:
    """Where the blurred edge just cures one layer, mm outside the drawn edge; ``light`` in units of that dose."""
    share = min(max(1 - 1 / max(light, 1e-9), 0.02), 0.98)
    return spread_mm * float(ndtri(share))
