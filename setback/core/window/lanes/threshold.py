"""Lanes of graded features that form, or stay open, past a threshold of light: walls, slots, tips, the excess-light tip.

Ordinal thresholds with normal noise and a lapse of one in a hundred. A feature of size s is whole when d·x passes θ + σ·noise (d = +1 for
walls and tips, −1 for slots), in part when it passes θ − Δ, else not there. θ falls with size. With u = ln(size / required):

* walls: θ = a + k·(e^(−1.5u) − 1)/1.5 + c·u²
* tips: θ = a + k·(e^(−2u) − 1) + c·u², σ² = 0.03² + (ρ·θ′/2)²; in part counts as not held
* slots: θ = a − (s_r/2λ)·g + c·g², g = (s − s_r)/s_r, σ² = σ₀² + (0.006·θ′)²

The bend c is middle + scale·sinh(z) with z standard normal: near what a blurred edge gives, and now and then far from it.

The end of the lane is where the required size reaches the required probability. Source: cumulative probit model (McCullagh 1980) with
the size term that a blurred edge gives; priors as in docs/methods.md.
"""

from __future__ import annotations

import math
from bisect import bisect_left
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Annotated

import numpy as np
from pydantic import Field
from scipy.special import ndtr, ndtri

from ...contract import Contract, Millimetres, Notice, Probability
from ...reading.evidence import Graded
from ...statistics.normal import share_below
from ...statistics.posterior import Array, Floats, Posterior, Prior, posterior
from .base import (
    LN_TAU,
    OVER,
    RIGHT,
    UNDER,
    Evidence,
    Found,
    Ints,
    Lane,
    LaneFit,
    Light,
    LimitField,
    Side,
    Verdict,
    effects_without,
    light_of,
    node_shifts,
    share_in_words,
    size_in_words,
)
from .seen import Kind, Seen, bracket, censored, not_monotone, told, wrong_direction

LAPSE = 0.01
SLOT_WIDTH_SD = 0.006
"""How much slots of one size differ in width, as a share of it. Wider than that, the ends of sharp slots come out low: by 4 % at 0.010 on the virtual
printer; at this, ends are within 2 % there and on labs of another physics."""
OWN_SIZE_SD, OWN_SCALE_SD = 0.04, 0.04
"""Of coupons of a workshop's own: how much each size may be off, and how much all of them together, as shares. Nobody measured them."""
PLACE_SD = 0.9
"""Prior standard deviation of a, about the middle of the bracket or the ladder."""


@dataclass(frozen=True)
class Shape:
    """How the threshold of one kind of feature falls with its size, and how much it scatters.

    ``names`` after the place a; ``theta`` (a, k, c, u) → threshold; ``slope`` its derivative; ``scatter`` (own, slope) → σ.
    """

    sign: int
    widest_u: float
    relative: bool
    ln_k: Callable[[float], tuple[float, float]]
    c: tuple[float, float]
    """Middle and scale of the bend. Normal priors wide enough for labs that bend otherwise moved the ends of all others by 4 %."""
    own: tuple[float, float]
    ln_gap: tuple[float, float] | None
    kappa: tuple[float, float]
    theta: Callable[[Array, Array, Array, Array], Array]
    slope: Callable[[Array, Array, Array], Array]
    scatter: Callable[[Array, Array], Array]


def _walls_theta(a: Array, k: Array, c: Array, u: Array) -> Array:
    return np.asarray(a + k * (np.exp(-1.5 * u) - 1) / 1.5 + c * u * u)


def _walls_slope(k: Array, c: Array, u: Array) -> Array:
    return np.asarray(-k * np.exp(-1.5 * u) + 2 * c * u)


def _tips_theta(a: Array, k: Array, c: Array, u: Array) -> Array:
    return np.asarray(a + k * (np.exp(-2 * u) - 1) + c * u * u)


def _tips_slope(k: Array, c: Array, u: Array) -> Array:
    return np.asarray(-2 * k * np.exp(-2 * u) + 2 * c * u)


def _slots_theta(a: Array, k: Array, c: Array, g: Array) -> Array:
    return np.asarray(a - k * g + c * g * g)


def _slots_slope(k: Array, c: Array, g: Array) -> Array:
    return np.asarray(-k + 2 * c * g)


WALLS_SHAPE = Shape(
    sign=1,
    widest_u=0.6,
    relative=False,
    ln_k=lambda _: (math.log(0.38), 0.6),
    c=(0.0, 0.2),
    own=(math.log(0.03), 0.5),
    ln_gap=(math.log(0.06), 0.7),
    kappa=(0.025, 0.012),
    theta=_walls_theta,
    slope=_walls_slope,
    scatter=lambda own, slope: np.asarray(np.exp(own) + 0 * slope),
)
TIPS_SHAPE = Shape(
    sign=1,
    widest_u=0.6,
    relative=False,
    ln_k=lambda _: (math.log(0.65), 0.6),
    c=(0.0, 0.25),
    own=(math.log(0.08), 0.5),
    ln_gap=None,
    kappa=(0.035, 0.015),
    theta=_tips_theta,
    slope=_tips_slope,
    scatter=lambda own, slope: np.asarray(np.sqrt(0.03**2 + (np.exp(own) * slope / 2) ** 2)),
)
SLOTS_SHAPE = Shape(
    # k is half the required width in units of the blur length λ, ln λ ~ N(ln 50 µm, 0.4²).
    sign=-1,
    widest_u=0.45,
    relative=True,
    ln_k=lambda required_mm: (math.log(required_mm / 2 / 0.05), 0.4),
    c=(1.0, 1.0),
    own=(math.log(0.03), 0.6),
    ln_gap=(math.log(0.12), 0.9),
    kappa=(0.015, 0.015),
    theta=_slots_theta,
    slope=_slots_slope,
    scatter=lambda own, slope: np.asarray(np.sqrt(np.exp(2 * own) + (SLOT_WIDTH_SD * slope) ** 2)),
)

WALLS = Kind("walls", "wall", "standing", 1, lambda c: c.walls)
SLOTS = Kind("slots", "slot", "open", -1, lambda c: c.slots)
TIPS = Kind("tips", "tip", "held", 1, lambda c: c.tips)


@dataclass(frozen=True)
class Rows:
    """Features near the required size, one row for each coupon, size and outcome; arrays of shape (rows,).

    Features whole come first, those there in part next, those not there last.
    """

    light: Light
    coupon: Ints
    size: Ints
    """Which of ``sizes`` a row is of."""
    count: Array
    own: Array
    """1 where a feature is on a coupon of the workshop's own, else 0."""
    partly: slice
    """The rows of features that are there in part."""
    sizes: Array
    """Every u there is, ascending."""
    features: Ints
    """How many features of each of the sizes the first coupon that has it carries."""

    @property
    def own_share(self) -> float:
        """Share of the features that are on coupons of the workshop's own."""
        return float((self.count * self.own).sum() / self.count.sum())

    @cached_property
    def to_coupons(self) -> Floats:
        """How many features each row adds to each coupon: (rows, coupons)."""
        return np.asarray(self.of_coupon.T * self.count[:, None], dtype=np.float32)

    @cached_property
    def of_coupon(self) -> Array:
        """1 where a row is of a coupon: (coupons, rows). By this product values of coupons come to rows, five times as fast as by an index."""
        return np.asarray(np.arange(self.coupon.max() + 1)[:, None] == self.coupon, dtype=float)

    @cached_property
    def of_size(self) -> Array:
        """1 where a row is of a size: (sizes, rows)."""
        return np.asarray(np.arange(len(self.sizes))[:, None] == self.size, dtype=float)

    @cached_property
    def sign(self) -> Array:
        """1 where a feature is at least in part there, else −1."""
        return np.where(np.arange(len(self.count)) < self.partly.stop, 1.0, -1.0)

    @cached_property
    def whole_sign(self) -> Array:
        """1 where a feature is whole, else −1."""
        return np.where(np.arange(len(self.count)) < self.partly.start, 1.0, -1.0)

    @cached_property
    def passes_gap(self) -> Array:
        """1 where the chance of an outcome is counted from θ − Δ, 0 where from θ."""
        return np.asarray(self.whole_sign < 0, dtype=float)


Parts = tuple[Array, Array, Array, Array, Array | None, Array, Array]


@dataclass(frozen=True)
class Threshold:
    """The model of one lane: its rows, its shape, and what its points mean."""

    shape: Shape
    required_mm: float
    rows: Rows
    prior: Prior
    has_temperature: bool

    def split(self, points: Array) -> Parts:
        """a, k, c, own scatter, gap, τ and κ, each of shape (n, 1)."""
        columns = iter(points.T[:, :, None])
        a, k = next(columns), np.exp(next(columns))
        c = self.shape.c[0] + self.shape.c[1] * np.sinh(next(columns))
        scatter, tau = next(columns), np.exp(next(columns))
        gap = np.exp(next(columns)) if self.shape.ln_gap else None
        kappa = next(columns) if self.has_temperature else np.zeros_like(a)
        return a, k, c, scatter, gap, tau, kappa

    def rough(self, points: Array) -> Array:
        """ln likelihood with δ folded into the scatter; points (n, dimensions) → (n,)."""
        _, k, c, _, gap, tau, _ = parts = self.split(points)
        unknown = self.shape.kappa[0] * 3.0 * self.rows.light.unknown[self.rows.coupon]
        z, sigma = self._in_sigmas(parts, tau**2 + unknown**2)
        chances = self._log_chances(z, None if gap is None else gap / sigma)
        return np.asarray(chances @ self.rows.count + self._falls(k, c))

    def by_node(self, points: Array) -> Array:
        """ln likelihood of every coupon at every node of δ: (nodes, n, coupons)."""
        _, _, _, _, gap, tau, _ = parts = self.split(points)
        z, sigma = self._in_sigmas(parts, 0.0)
        shifts = self.shape.sign * node_shifts(tau[:, 0], self.shape.kappa[0], self.rows.light)
        per_row = shifts.astype(np.float32) @ self.rows.of_coupon.astype(np.float32)
        per_row /= sigma.astype(np.float32)
        chances = self._log_chances(z, None if gap is None else gap / sigma, per_row)
        return np.asarray(chances @ self.rows.to_coupons, dtype=float)

    def _in_sigmas(self, parts: Parts, more: Array | float) -> tuple[Array, Array]:
        """How far the light of every row is past θ, in units of σ, and σ with ``more`` variance: (n, rows) each."""
        a, k, c, scatter, _, _, kappa = parts
        rows, light = self.rows, self.rows.light
        slope = self.shape.slope(k, c, rows.sizes)
        variance = self.shape.scatter(scatter, slope) ** 2 @ rows.of_size + more
        if rows.own.any():
            variance += rows.own * (OWN_SIZE_SD * slope @ rows.of_size) ** 2
        sigma = np.sqrt(variance)
        x = self.shape.sign * (light.ln_s + kappa * light.warmer_c)
        passed = x @ rows.of_coupon - self.shape.theta(a, k, c, rows.sizes) @ rows.of_size
        return passed / sigma, sigma

    def penalty(self, points: Array) -> Array:
        """ln of how likely a shape is before anything is seen, beyond its prior: (n,)."""
        _, k, c, *_ = self.split(points)
        return self._falls(k, c)

    def end(self, points: Array, probability: float) -> Array:
        """x at which the required size reaches a probability, on its own side: (n,)."""
        return self.end_of(points, self.required_mm, probability)

    def end_of(self, points: Array, size_mm: float, probability: float) -> Array:
        """x at which features of a size reach a probability, on their own side: (n,)."""
        a, k, c, scatter, *_ = self.split(points)
        u = np.array([_relative(size_mm, self.required_mm, self.shape.relative)])
        sigma = self.shape.scatter(scatter, self.shape.slope(k, c, u))
        passed = self.shape.theta(a, k, c, u) + sigma * ndtri(probability)
        if share := self.rows.own_share:
            # All sizes of a coupon may be off together: the same for every point, in an order of its own.
            scores = np.random.default_rng(len(a)).permutation(ndtri((np.arange(len(a)) + 0.5) / len(a)))
            passed = passed + share * OWN_SCALE_SD * self.shape.slope(k, c, u) * scores[:, None]
        return np.asarray(self.shape.sign * passed[:, 0])

    def chances(self, points: Array, sizes_mm: Sequence[float], x: Array) -> Array:
        """Chance that features of each size are whole at exposures x (m,): (m, n, sizes), with the coupon's own δ in its scatter."""
        a, k, c, scatter, _, tau, _ = self.split(points)
        u = np.array([_relative(size, self.required_mm, self.shape.relative) for size in sizes_mm])
        sigma = np.sqrt(self.shape.scatter(scatter, self.shape.slope(k, c, u)) ** 2 + tau**2)
        z = (self.shape.sign * x[:, None, None] - self.shape.theta(a, k, c, u)) / sigma
        return (1 - LAPSE) * share_below(z.astype(np.float32)).astype(float)

    def _log_chances(self, z: Array, gap: Array | None, shifts: Floats | None = None) -> Floats:
        """ln chance of the outcome of each row.

        Parameters
        ----------
        z, gap : arrays (n, rows)
            In units of σ; no gap: in part counts as not there.
        shifts : array (nodes, n, rows), optional
            What every node adds to z.

        Returns
        -------
        array (n, rows), or (nodes, n, rows) with shifts
            In single precision: plenty for a chance, and twice as fast.
        """
        rows, third, no_lapse = self.rows, LAPSE / 3, 1 - LAPSE

        def share(passed: Array, sign: Array, at: slice) -> Floats:
            """Share of features that pass, or do not where the sign is −1."""
            passed = (sign[at] * passed[:, at]).astype(np.float32)
            if shifts is None:
                return share_below(passed)
            return share_below(sign[at].astype(np.float32) * shifts[..., at] + passed)

        every = slice(None)
        if gap is None:
            chances, lapsed = share(z, rows.whole_sign, every), 1.5 * third
        else:
            chances, lapsed = share(z + rows.passes_gap * gap, rows.sign, every), third
            if rows.partly.start < rows.partly.stop:
                chances[..., rows.partly] -= share(z, rows.sign, rows.partly)
        chances *= no_lapse
        chances += lapsed
        return np.log(chances, out=chances)

    def imagined(self, points: Array, x: float, truth: int, delta: float, uniforms: Array) -> Array:
        """ln likelihood of a coupon at x as it would come out were one point the truth; sizes and counts as on the coupons so far."""
        sizes, counts = self.rows.sizes, self.rows.features

        def chances(at: Array, light: float, more: Array | float) -> tuple[Array, Array]:
            """Chances of whole, and of whole or partly there, for every size."""
            a, k, c, scatter, gap, tau, _ = self.split(at)
            sigma = np.sqrt(self.shape.scatter(scatter, self.shape.slope(k, c, sizes)) ** 2 + more * tau**2)
            z = (self.shape.sign * light - self.shape.theta(a, k, c, sizes)) / sigma
            whole = (1 - LAPSE) * ndtr(z) + LAPSE / 3
            in_part = whole if gap is None else (1 - LAPSE) * ndtr(z + gap / sigma) + 2 * LAPSE / 3
            return whole, in_part

        whole, in_part = (column[0] for column in chances(points[truth : truth + 1], x + delta, 0.0))
        drawn = np.resize(uniforms, (int(counts.max()), len(sizes)))
        counted = np.arange(int(counts.max()))[:, None] < counts
        n_whole = ((drawn < whole) & counted).sum(axis=0)
        n_part = ((drawn >= whole) & (drawn < in_part) & counted).sum(axis=0)
        n_none = counts - n_whole - n_part
        p_whole, p_there = chances(points, x, 1.0)
        part = np.log(np.maximum(p_there - p_whole, LAPSE / 3))
        return np.asarray((n_whole * np.log(p_whole) + n_part * part + n_none * np.log(1.0001 - p_there)).sum(axis=1))

    def _falls(self, k: Array, c: Array) -> Array:
        """Soft penalty where the threshold would rise with size, at both ends of the sizes looked at."""
        edges = np.array([-self.shape.widest_u, self.shape.widest_u])
        rising = np.maximum(self.shape.slope(k, c, edges) + 0.02, 0)
        return np.asarray((-0.5 * (rising / 0.05) ** 2).sum(axis=1))


class WallLimits(Contract):
    """The thinnest wall that must stand."""

    walls_size_mm: Millimetres | None = Field(None, description="Thinnest wall the parts need, mm")
    walls_probability: Probability = Field(0.9, description="Share of such walls that must stand")


class SlotLimits(Contract):
    """The narrowest slot that must stay open."""

    slots_size_mm: Millimetres | None = Field(None, description="Narrowest slot the parts need, mm")
    slots_probability: Probability = Field(0.9, description="Share of such slots that must be open")


class TipLimits(Contract):
    """The support tip that must hold."""

    tips_size_mm: Millimetres | None = Field(None, description="Support tip the parts are printed on, mm")
    tips_probability: Probability = Field(0.95, description="Probability that the tip holds")
    tips_per_part: Annotated[int, Field(ge=1, le=100_000)] | None = Field(
        None, description="When given, the probability is for all tips of a part together"
    )


class FailTipLimits(Contract):
    """The tip that must let go."""

    fail_tip_size_mm: Millimetres | None = Field(None, description="Tip that should be too thin to hold, mm")
    fail_tip_probability: Probability = Field(0.1, description="Largest probability that it holds")


def walls_lane(evidence: Evidence) -> LaneFit | None:
    """Least light at which the required wall stands."""
    limits = evidence.of(WallLimits)
    return threshold_lane(evidence, WALLS, WALLS_SHAPE, limits.walls_size_mm, limits.walls_probability, "lower")


def slots_lane(evidence: Evidence) -> LaneFit | None:
    """Most light at which the required slot stays open."""
    limits = evidence.of(SlotLimits)
    return threshold_lane(evidence, SLOTS, SLOTS_SHAPE, limits.slots_size_mm, limits.slots_probability, "upper")


def tips_lane(evidence: Evidence) -> LaneFit | None:
    """Least light at which the wanted support tip holds, or all tips of a part together."""
    limits = evidence.of(TipLimits)
    together = limits.tips_per_part or 1
    probability = limits.tips_probability ** (1 / together)
    return threshold_lane(evidence, TIPS, TIPS_SHAPE, limits.tips_size_mm, probability, "lower", together)


def fail_tip_lane(evidence: Evidence) -> LaneFit | None:
    """Most light at which a tip that should be too thin still lets go; off unless a size is given."""
    limits = evidence.of(FailTipLimits)
    return threshold_lane(
        evidence, TIPS, TIPS_SHAPE, limits.fail_tip_size_mm, limits.fail_tip_probability, "upper", name="fail-tip"
    )


def threshold_lane(
    evidence: Evidence,
    kind: Kind,
    shape: Shape,
    required_mm: float | None,
    probability: float,
    side: Side,
    together: int = 1,
    name: str | None = None,
) -> LaneFit | None:
    """The lane of one kind of feature.

    Parameters
    ----------
    required_mm : float or None
        None: no limit, no lane.
    probability : float
        Of one feature, that it is whole.
    side : lower or upper
        Which end of the exposures the criterion sets.
    together : int
        How many must hold in one part, for the prediction of a part.
    """
    name = name or kind.name
    readings = kind.seen(evidence)
    if required_mm is None or not readings:
        return None
    notices = not_monotone(kind, readings)
    around = bracket(kind, readings, required_mm)
    if len({s.exposure_s for s in readings}) < 2:
        return LaneFit(name, bracket_s=told(around), notices=[*notices, _too_few(name)])
    if wrong_direction(kind, readings):
        return LaneFit(name, bracket_s=told(around), notices=[*notices, _wrong(kind, name)], wrong_direction=True)
    if censored(readings):
        notices.append(_censored(kind, name))
    rows = _rows(evidence, kind, shape, required_mm)
    if rows is None:
        return LaneFit(name, bracket_s=told(around), notices=[*notices, _no_size_near(kind, name, required_mm)])
    model = Threshold(shape, required_mm, rows, _prior(shape, required_mm, rows, around), rows.light.knows_temperature)
    believed = posterior(model.prior, model.rough, model.by_node, model.penalty)
    end = Found(side, model.end(believed.points, probability), believed.weights, _both_sides(around, rows.light, name))
    if rows.own_share:
        end = _as_wide_as_ours(end, model, probability)
    return LaneFit(
        name,
        light=rows.light,
        posterior=believed,
        lower=end if side == "lower" else None,
        upper=end if side == "upper" else None,
        bracket_s=told(around),
        notices=notices,
        curves=_curves(model, believed, readings, together),
        effects=effects_without(believed),
        imagined=lambda x, truth, delta, uniforms: model.imagined(believed.points, x, truth, delta, uniforms),
    )


def _as_wide_as_ours(end: Found, model: Threshold, probability: float) -> Found:
    """An end of a workshop's own coupons with an interval no narrower than the same readings on Setback's coupons would have."""
    as_our_coupons = replace(model, rows=replace(model.rows, own=np.zeros_like(model.rows.own)))
    believed = posterior(as_our_coupons.prior, as_our_coupons.rough, as_our_coupons.by_node, as_our_coupons.penalty)
    low, high = Found(end.side, as_our_coupons.end(believed.points, probability), believed.weights).interval
    widen = (high - low) / max(end.interval[1] - end.interval[0], 1e-9)
    return end if widen <= 1 else replace(end, x=end.median + widen * (end.x - end.median))


def _curves(
    model: Threshold, believed: Posterior, readings: Sequence[Seen], together: int
) -> dict[str, Callable[[Array], Array]]:
    sizes = sorted({s.size_mm for s in readings})
    points = believed.thinned

    def required(x: Array) -> Array:
        """Chance that the required size is whole: (m, n)."""
        return model.chances(points, [model.required_mm], x)[:, :, 0]

    def part(x: Array) -> Array:
        """Chance that all required features of a part are whole: (m, n)."""
        return np.asarray(required(x) ** together)

    def expected(x: Array) -> Array:
        """How many of the sizes read are expected to be whole: (m, n)."""
        return np.asarray(model.chances(points, sizes, x).sum(axis=2))

    return {"required": required, "part": part, "expected": expected, "of": lambda x: np.full((len(x), 1), len(sizes))}


def _rows(evidence: Evidence, kind: Kind, shape: Shape, required_mm: float) -> Rows | None:
    """Features near the required size; None when there is none."""
    near = []
    features: dict[float, int] = {}
    for place, read in enumerate(evidence.coupons):
        for feature in kind.read(read):
            u = _relative(feature.size_mm, required_mm, shape.relative)
            if abs(math.log(feature.size_mm / required_mm)) < shape.widest_u:
                features.setdefault(u, feature.of)
                none = feature.of - feature.whole - feature.partial
                counts = enumerate((feature.whole, feature.partial, none))
                near += [(outcome, place, u, count, read.own) for outcome, count in counts if count]
    if not near:
        return None
    near.sort()
    places = sorted({row[1] for row in near})
    sizes = sorted(features)
    coupon = np.array([places.index(row[1]) for row in near], dtype=np.int64)
    size = np.array([sizes.index(row[2]) for row in near], dtype=np.int64)
    count, own = (np.array([row[i] for row in near], dtype=float) for i in (3, 4))
    outcomes = [row[0] for row in near]
    partly = slice(bisect_left(outcomes, 1), bisect_left(outcomes, 2))
    of_size = np.array([features[u] for u in sizes])
    return Rows(light_of(evidence, places), coupon, size, count, own, partly, np.array(sizes), of_size)


def _prior(shape: Shape, required_mm: float, rows: Rows, around: tuple[float | None, float | None] | None) -> Prior:
    bounds = [math.log(t) for t in (around or ()) if t is not None]
    middle = sum(bounds) / len(bounds) if bounds else (rows.light.low_x + rows.light.high_x) / 2
    means = [shape.sign * middle, shape.ln_k(required_mm)[0], 0.0, shape.own[0], LN_TAU[0]]
    sds = [PLACE_SD, shape.ln_k(required_mm)[1], 1.0, shape.own[1], LN_TAU[1]]
    for more in (shape.ln_gap, shape.kappa if rows.light.knows_temperature else None):
        if more is not None:
            means.append(more[0])
            sds.append(more[1])
    return Prior(np.array(means), np.array(sds))


def _relative(size_mm: float, required_mm: float, relative: bool) -> float:
    return (size_mm - required_mm) / required_mm if relative else math.log(size_mm / required_mm)


def _both_sides(around: tuple[float | None, float | None] | None, light: Light, name: str) -> bool:
    """Evidence on both sides: read off the bracket; where readings contradict the order, the ladder of the lane must do."""
    if around is not None:
        return None not in around
    return light.high_x > light.low_x


def _too_few(name: str) -> Notice:
    return Notice(code="too-few", message=f"The {name} lane needs readings at two exposures or more.")


def _no_size_near(kind: Kind, name: str, required_mm: float) -> Notice:
    message = f"No {kind.noun} near {required_mm:g} mm was read, so nothing is known of the {name} lane."
    return Notice(code="too-few", message=message)


def _censored(kind: Kind, name: str) -> Notice:
    message = f"The {kind.noun}s read the same at every exposure: the {name} lane knows only its bracket."
    return Notice(code="censored", message=message)


def _wrong(kind: Kind, name: str) -> Notice:
    message = f"fewer are {kind.formed_word}" if kind.sign > 0 else f"more are {kind.formed_word}"
    return Notice(
        code="wrong-direction",
        message=f"{name.capitalize()}: {message} with more light. Were two coupons swapped? The lane is left out; the window is "
        "provisional.",
    )


def _judged(features: Sequence[Graded], required_mm: float | None, fault: Verdict) -> Verdict | None:
    """``fault`` when any feature of the required size or larger is not whole; None when none was read."""
    needed = [f for f in features if required_mm is not None and f.size_mm >= required_mm - 1e-9]
    if not needed:
        return None
    return RIGHT if all(f.all_whole for f in needed) else fault


def _tips_in_words(limits: TipLimits) -> str:
    together = f"{limits.tips_per_part} " if limits.tips_per_part else ""
    return f"{size_in_words(limits.tips_size_mm)}, {together}hold {share_in_words(limits.tips_probability)}"


THIN_WALLS = Lane(
    "walls",
    "Thin walls",
    lambda limits: f"{size_in_words(limits.walls_size_mm)}, {share_in_words(limits.walls_probability)} stand",
    walls_lane,
    limited=lambda limits: limits.walls_size_mm is not None,
    fields=(
        LimitField("walls_size_mm", "Thinnest wall", "mm", "size", "wall"),
        LimitField("walls_probability", "Share that must stand", "%", "share", empty=0),
    ),
    judge=lambda coupon, limits: _judged(coupon.walls, limits.walls_size_mm, UNDER),
    coupon="flat",
)
THIN_SLOTS = Lane(
    "slots",
    "Thin slots",
    lambda limits: f"{size_in_words(limits.slots_size_mm)}, {share_in_words(limits.slots_probability)} open",
    slots_lane,
    limited=lambda limits: limits.slots_size_mm is not None,
    fields=(
        LimitField("slots_size_mm", "Narrowest slot", "mm", "size", "slot"),
        LimitField("slots_probability", "Share that must be open", "%", "share", empty=0),
    ),
    judge=lambda coupon, limits: _judged(coupon.slots, limits.slots_size_mm, OVER),
    coupon="flat",
)
SUPPORT_TIPS = Lane(
    "tips",
    "Support tips",
    _tips_in_words,
    tips_lane,
    limited=lambda limits: limits.tips_size_mm is not None,
    fields=(
        LimitField("tips_size_mm", "Support tip", "mm", "size", "tip"),
        LimitField("tips_probability", "Share that must hold", "%", "share", empty=0),
        LimitField("tips_per_part", "Tips per part", hint="If all must hold together"),
    ),
    judge=lambda coupon, limits: _judged(coupon.tips, limits.tips_size_mm, UNDER),
    coupon="support",
)
FAIL_TIPS = Lane(
    "fail-tip",
    "Tips that fail",
    lambda limits: f"{size_in_words(limits.fail_tip_size_mm)} lets go",
    fail_tip_lane,
    limited=lambda limits: limits.fail_tip_size_mm is not None,
    fields=(LimitField("fail_tip_size_mm", "Excess-light check: tip that must let go", "mm", "size", "tip"),),
    coupon="support",
)
