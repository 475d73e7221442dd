"""What a lane is: the exposures one criterion accepts, as weighted places of its ends, and what makes coupons differ.

All lanes share one axis: x, the natural logarithm of effective light in seconds at the reference temperature. A coupon's effective
light is x = ln t + κ·(T − T_ref) + δ, with κ per °C from the lane's prior and the evidence, and δ one for all features of the coupon:
0.96 of N(0, τ²) and 0.04 spread over ±0.15 and ±0.45 (mixed up, swapped, a dose that failed).
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Annotated, Any, Literal, TypeVar

import numpy as np
from pydantic import Field

from ...contract import Contract, Interval, Millimetres, Notice, Seconds
from ...reading.evidence import CouponEvidence
from ...statistics.effects import FIXED, NODES
from ...statistics.posterior import Array, Posterior
from ...statistics.quantiles import quantiles

Side = Literal["lower", "upper"]
OwnLimits = TypeVar("OwnLimits", bound=Contract)
Ints = np.ndarray[Any, np.dtype[np.int64]]

LN_TAU = (math.log(0.015), 0.5)
"""Mean and standard deviation of ln τ, τ the usual spread of ln light from coupon to coupon."""
UNKNOWN_C = 3.0
"""Standard deviation of a temperature nobody measured, °C from the reference."""


class CureCurve(Contract):
    """Working curve and how much deeper than the layer the light must at least cure."""

    penetration_depth_mm: Millimetres
    critical_exposure_s: Seconds
    layer_height_um: Annotated[float, Field(gt=0, le=1000)]
    min_overcure_um: Annotated[float, Field(ge=0, le=5000)]


@dataclass(frozen=True)
class Evidence:
    """Everything a lane may look at: the coupons of one arm that count, and the limits."""

    coupons: list[CouponEvidence]
    limits: Contract
    """Of all lanes; each asks for its own by :meth:`of`."""
    cure: CureCurve | None
    reproducibility_sd_um: float | None
    reference_c: float | None = None
    """Temperature that ends are for; None when no coupon was measured."""

    @property
    def exposures(self) -> list[float]:
        """Distinct exposures, low to high."""
        return sorted({coupon.exposure_s for coupon in self.coupons})

    def of(self, kind: type[OwnLimits]) -> OwnLimits:
        """The limits of one lane."""
        assert isinstance(self.limits, kind), f"Limits does not extend {kind.__name__}"
        return self.limits


@dataclass(frozen=True)
class Light:
    """Light of the coupons of one lane, arrays of shape (coupons,)."""

    places: Ints
    """Place of each coupon in ``Evidence.coupons``."""
    ln_s: Array
    warmer_c: Array
    """Degrees above the reference; 0 where nobody measured."""
    unknown: Array
    """1 where nobody measured although others did, else 0."""

    @property
    def knows_temperature(self) -> bool:
        """Whether the temperatures tell coupons apart."""
        return bool(np.any(self.warmer_c != 0) or np.any(self.unknown != 0))

    @property
    def low_x(self) -> float:
        """The least ln exposure of the lane's coupons."""
        return float(self.ln_s.min())

    @property
    def high_x(self) -> float:
        """The highest ln exposure of the lane's coupons."""
        return float(self.ln_s.max())


def light_of(evidence: Evidence, places: Sequence[int]) -> Light:
    """Light of some coupons, by their places."""
    coupons = [evidence.coupons[i] for i in places]
    reference = evidence.reference_c
    measured = [c.temp_c is not None and reference is not None for c in coupons]
    return Light(
        places=np.array(places, dtype=np.int64),
        ln_s=np.log([c.exposure_s for c in coupons]),
        warmer_c=np.array([c.temp_c - reference if k else 0.0 for c, k in zip(coupons, measured, strict=True)]),  # type: ignore[operator]
        unknown=np.array([0.0 if k or reference is None else 1.0 for k in measured]),
    )


@dataclass(frozen=True)
class Found:
    """What is believed of one end: places x of shape (n,) with the lane's weights."""

    side: Side
    x: Array
    weights: Array
    seen_beyond: bool = True
    """Whether there is evidence on both sides of the end."""

    @cached_property
    def median(self) -> float:
        """The median place of the end, ln s."""
        return quantiles(self.x, self.weights, (0.5,))[0]

    @cached_property
    def interval(self) -> tuple[float, float]:
        """The 95 % interval of the end, ln s."""
        low, high = quantiles(self.x, self.weights, (0.025, 0.975))
        return low, high

    def holds(self, x: Array) -> Array:
        """Chance that exposures x (m,) lie on the good side of the end; shape (m,)."""
        order = np.argsort(self.x, kind="stable")
        below = np.concatenate([[0.0], np.cumsum(self.weights[order])])
        # Between the points the chance goes over by a straight line, half a weight each side.
        # Sums of weights may pass 1 in the last digit.
        centres = np.minimum(below[:-1] + 0.5 * self.weights[order], 1.0)
        chance = np.interp(x, self.x[order], centres, left=0.0, right=1.0)
        return chance if self.side == "lower" else 1 - chance


Curve = Callable[[Array], Array]
"""From exposures x (m,) to values (m, n) at every point of a lane's posterior."""


Imagined = Callable[[float, int, float, Array], Array]
"""ln likelihood (n,) of a coupon that was never printed: at exposure x, were point number i the truth and δ its effect; chance comes from
uniform numbers (:data:`UNIFORMS`,)."""
UNIFORMS = 64


@dataclass(frozen=True)
class LaneFit:
    """A lane as it is believed, before anything is clipped to the ladder."""

    name: str
    light: Light | None = None
    posterior: Posterior | None = None
    lower: Found | None = None
    upper: Found | None = None
    mark: Found | None = None
    """Where the lane's value is met exactly, such as nominal size."""
    bracket_s: tuple[float | None, float | None] | None = None
    notices: list[Notice] = field(default_factory=list)
    wrong_direction: bool = False
    curves: dict[str, Curve] = field(default_factory=dict)
    effects: Array | None = None
    """ln chance of each coupon's reading at every node of δ, all other coupons known: (coupons, nodes)."""
    imagined: Imagined | None = None
    detail: dict[str, float | None] = field(default_factory=dict)

    @property
    def fitted(self) -> bool:
        """Whether any end is believed at all."""
        return self.lower is not None or self.upper is not None

    def ends(self) -> list[Found]:
        """The ends that there are, lower first."""
        return [end for end in (self.lower, self.upper) if end is not None]


def effects_without(believed: Posterior) -> Array:
    """Chance of each coupon's reading by node of δ, from what the other coupons say: (coupons, nodes), as logarithms."""
    per_node, per_coupon = believed.per_node, believed.per_coupon
    log_weights = np.log(believed.weights + 1e-300)[:, None] - per_coupon
    log_weights -= log_weights.max(axis=0)
    weights = np.exp(log_weights)
    weights /= weights.sum(axis=0)
    by_coupon = np.ascontiguousarray(per_node.transpose(2, 0, 1))
    top = by_coupon.max(axis=2, keepdims=True)
    chances = np.exp(by_coupon - top) @ weights.T[:, :, None]
    return np.asarray(top + np.log(chances + 1e-300))[:, :, 0]


def seconds(x: float) -> float:
    """e^x without overflow."""
    return math.exp(min(max(x, -700.0), 700.0))


def as_interval(ends: tuple[float, float] | None) -> Interval | None:
    """Ends in ln s as an interval in seconds."""
    return None if ends is None else (seconds(ends[0]), seconds(ends[1]))


def node_shifts(tau: Array, kappa_sd: float, light: Light) -> Array:
    """δ of every point and coupon at every node: (nodes, n, coupons). A temperature nobody measured widens τ."""
    spread = np.sqrt(tau[:, None] ** 2 + (kappa_sd * UNKNOWN_C * light.unknown[None, :]) ** 2)
    return np.asarray(spread * NODES[:, None, None] + FIXED[:, None, None])


THIN = "\u2009"
Verdict = frozenset[Literal["under", "over"]]
"""What a coupon says by one criterion: too little light, too much, both, or neither."""
RIGHT: Verdict = frozenset()
UNDER: Verdict = frozenset({"under"})
OVER: Verdict = frozenset({"over"})


@dataclass(frozen=True)
class LimitField:
    """How a limit is asked for: the field of the limits, its label, its unit, and what is typed or chosen."""

    key: str
    label: str
    unit: str = ""
    kind: Literal["number", "share", "size"] = "number"
    """A number; a share that is typed in percent; a size that the coupon has."""
    feature: str | None = None
    """Of a size: which features of the coupon have it."""
    hint: str = ""
    empty: float | None = None
    """What it means to leave it empty; None: nothing is asked for."""


@dataclass(frozen=True)
class Lane:
    """A criterion, all of it: its key and name, what it asks of the parts in words, its fit, and for one with a limit what calls for it,
    how the limit is asked for, how one coupon is judged by it, and the coupon that shows it."""

    key: str
    name: str
    needs: Callable[[Any], str]
    fit: Callable[[Evidence], LaneFit | None]
    limited: Callable[[Any], bool] = lambda _: False
    fields: tuple[LimitField, ...] = ()
    judge: Callable[[CouponEvidence, Any], Verdict | None] = lambda coupon, limits: None
    """None where nothing was read that it could be judged by."""
    coupon: str | None = None


def share_in_words(probability: float) -> str:
    """A share in percent."""
    return f"{round(100 * probability, 1):g}{THIN}%"


def size_in_words(size_mm: float | None) -> str:
    """A size with its unit."""
    return f"{round(size_mm or 0, 3):g}{THIN}mm"
