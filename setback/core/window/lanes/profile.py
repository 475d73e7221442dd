"""Lanes read off a curve of light: size (edge growth) and z (clearance lost under bridges).

Size: the edge of the image is blurred; the resin sets where the light passes a share f = ½·e^(−(x − x₀)) of the full light, so growth is
λ·[w·q_L(1 − f) + (1 − w)·q_N(1 − f)] with the quantiles of a unit Laplace and a unit normal. Bars wash away below x₀ − ln 2 + e^m.
Z: loss = limit + S·(d + q·d²) with d = x − end; S is the penetration depth where a working curve is on file.
Priors as in docs/methods.md; errors are Student's t with four degrees of freedom, so that one bad coupon pulls little.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Annotated

import numpy as np
from pydantic import Field
from scipy.special import ndtr, ndtri

from ...contract import Contract, Notice
from ...reading.evidence import Block, CouponEvidence
from ...reading.size import CouponGrowth, bloom_um, growth_of_coupons, growth_um
from ...statistics.normal import share_below
from ...statistics.posterior import Array, Posterior, Prior, posterior
from .base import (
    LN_TAU,
    OVER,
    RIGHT,
    THIN,
    UNDER,
    Evidence,
    Found,
    Lane,
    LaneFit,
    Light,
    LimitField,
    Verdict,
    effects_without,
    light_of,
    node_shifts,
)

T_DEGREES = 4.0
BEYOND_X = 3.0
"""Ends are looked for within this many ln units of nominal size."""
KAPPA = (0.025, 0.012)
WASH_SD = 0.05
"""How sharply bars go over from standing to washed away, in ln light."""
LEAST_EXPOSURES = 3
"""Exposures measured before an end counts as found: two leave nothing to judge a curve by."""
_MOST_STEPS, _NEAR_ENOUGH = 12, 1e-6
OWN_LENGTH_SD_UM = 25.0
"""Of the edge growth of a coupon of the workshop's own: nobody measured what its file draws."""


class SizeLimits(Contract):
    """How true to size edges must be."""

    growth_target_um: float = Field(0, ge=-1000, le=1000, description="Wanted edge growth per edge, µm")
    growth_tol_um: Annotated[float, Field(gt=0, le=1000)] | None = Field(
        None, description="Allowed departure of edge growth from the target, µm"
    )


class BloomLimits(Contract):
    """How much clearance bridges may lose."""

    z_bloom_max_um: Annotated[float, Field(gt=0, le=5000)] | None = Field(
        None, description="Largest clearance a bridge may lose, µm"
    )


def blurred_edge_um(z: Array, lam: Array, share: Array) -> Array:
    """Growth per edge at z = x − x₀ (any shape), µm; minus infinity where nothing sets."""
    f = 0.5 * np.exp(-z)
    inside = (1 - f).clip(1e-12, 1 - 1e-12)
    laplace = np.where(inside < 0.5, np.log(2 * inside), z)
    return np.asarray(lam * (share * laplace + (1 - share) * ndtri(inside)))


def edge_slope_um(z: Array, lam: Array, share: Array) -> Array:
    """Growth per edge by ln light at z (any shape), µm: the derivative of :func:`blurred_edge_um`; 0 where nothing sets."""
    f = 0.5 * np.exp(-z)
    inside = (1 - f).clip(1e-12, 1 - 1e-12)
    laplace = np.where(inside < 0.5, f / inside, 1.0)
    normal = f * math.sqrt(2 * math.pi) * np.exp(0.5 * ndtri(inside) ** 2)
    return np.where(f < 1, lam * (share * laplace + (1 - share) * normal), 0.0)


def edge_reaches(growth_um: Array, lam: Array, share: Array) -> Array:
    """z at which the edge has grown by each growth (k, 1) for every λ and share (n,): (k, n), by Newton's method.

    The curve is a mixture of two, each rising and bent downwards, whose z are known: from the lower of the two, where the mixture has not yet
    grown so much, every step comes nearer without passing the end.
    """
    wanted = growth_um / lam
    one_sided = np.where(wanted < 0, 1 - 0.5 * np.exp(np.minimum(wanted, 0)), 0.5 * np.exp(-np.maximum(wanted, 0)))
    z = -np.log(2 * np.maximum(one_sided, ndtr(-wanted)))
    for _ in range(_MOST_STEPS):
        from_z = z.clip(-math.log(2) + 1e-9, BEYOND_X)
        z = from_z + (growth_um - blurred_edge_um(from_z, lam, share)) / edge_slope_um(from_z, lam, share)
        z = z.clip(-math.log(2) + 1e-9, BEYOND_X)
        if np.abs(z - from_z).max() < _NEAR_ENOUGH:
            break
    return np.asarray(z)


@dataclass(frozen=True)
class EdgeModel:
    """Growth of coupons, and bars that washed away, under the blurred edge."""

    light: Light
    growth_um: Array
    """Of each coupon that was measured, else 0."""
    se_um: Array
    measured: Array
    """1 where growth was measured."""
    washed: Array
    """Bars of each coupon that washed away."""
    stood: Array
    """Bars of each coupon that were there to be measured."""
    prior: Prior
    has_temperature: bool

    def split(self, points: Array) -> tuple[Array, Array, Array, Array, Array, Array, Array]:
        """x₀, λ, w, misfit, τ, e^m, κ: each (n, 1)."""
        columns = points.T[:, :, None]
        share = 1 / (1 + np.exp(-columns[2]))
        kappa = columns[6] if self.has_temperature else np.zeros_like(columns[0])
        return (
            columns[0],
            np.exp(columns[1]),
            share,
            np.exp(columns[3]),
            np.exp(columns[4]),
            np.exp(columns[5]),
            kappa,
        )

    def by_node(self, points: Array) -> Array:
        """ln likelihood of every coupon at every node of δ: (nodes, n, coupons)."""
        x0, lam, share, misfit, tau, wash, kappa = self.split(points)
        z = self.light.ln_s + kappa * self.light.warmer_c - x0 + node_shifts(tau[:, 0], KAPPA[0], self.light)
        return self._ln(z, lam, share, misfit, wash, 0.0)

    def rough(self, points: Array) -> Array:
        """ln likelihood with δ folded into the error by the slope of the curve: (n,)."""
        x0, lam, share, misfit, tau, wash, kappa = self.split(points)
        z = self.light.ln_s + kappa * self.light.warmer_c - x0
        spread = np.minimum(edge_slope_um(z, lam, share), 400) * np.sqrt(
            tau**2 + (KAPPA[0] * 3 * self.light.unknown) ** 2
        )
        return np.asarray(self._ln(z, lam, share, misfit, wash, spread**2).sum(axis=1))

    def imagined(self, points: Array, x: float, truth: int, delta: float, uniforms: Array) -> Array:
        """ln likelihood of a coupon at x as it would come out were one point the truth."""
        x0, lam, share, misfit, tau, _, _ = (column[:, 0] for column in self.split(points))
        se = float(np.median(self.se_um))
        sd = math.hypot(se, misfit[truth])
        growth = blurred_edge_um(np.array([x + delta - x0[truth]]), lam[truth], share[truth])[0] + sd * float(
            ndtri(uniforms[-1])
        )
        z = x - x0
        variance = se**2 + misfit**2 + (np.minimum(edge_slope_um(z, lam, share), 400) * tau) ** 2
        off = (growth - np.maximum(blurred_edge_um(z, lam, share), -400)) ** 2 / variance
        return np.asarray(-0.5 * np.log(variance) - 0.5 * (T_DEGREES + 1) * np.log1p(off / T_DEGREES))

    def _ln(self, z: Array, lam: Array, share: Array, misfit: Array, wash: Array, more: Array | float) -> Array:
        variance = self.se_um**2 + misfit**2 + more
        off = (self.growth_um - np.maximum(blurred_edge_um(z, lam, share), -400)) ** 2 / variance
        fitted = -0.5 * np.log(variance) - 0.5 * (T_DEGREES + 1) * np.log1p(off / T_DEGREES)
        washed = 0.98 * share_below(((wash - math.log(2) - z) / WASH_SD).astype(np.float32)) + 0.01
        bars = self.washed * np.log(washed) + self.stood * np.log1p(-washed) * 0.5
        return np.asarray(self.measured * fitted + bars)


def size_lane(evidence: Evidence) -> LaneFit | None:
    """Exposures at which edge growth stays within target ± tolerance; its mark is nominal size."""
    limits = evidence.of(SizeLimits)
    tolerance = limits.growth_tol_um
    places = [i for i, coupon in enumerate(evidence.coupons) if coupon.blocks]
    if tolerance is None or not places:
        return None
    read = growth_of_coupons([evidence.coupons[i].blocks for i in places])
    detail = {"scale_error_pct": 100 * (read.scale - 1) if read.scale_identified else None}
    light = light_of(evidence, places)
    if len(set(light.ln_s.tolist())) < 2:
        return LaneFit("size", notices=[_too_few("size")], detail=detail)
    growths = [(x, g.growth_um) for x, g in zip(light.ln_s, read.coupons, strict=True) if g.growth_um is not None]
    if _falls(growths):
        return LaneFit(
            "size", notices=[_wrong("Size: edges grow less with more light.")], wrong_direction=True, detail=detail
        )
    if len({x for x, _ in growths}) < 2:
        return LaneFit("size", notices=[_too_few("size")], detail=detail)
    notices = []
    if not read.scale_identified:
        notices.append(
            Notice(code="scale-not-identified", message="Shrinkage cannot be told from growth: measure a notch too.")
        )
    coupons = [evidence.coupons[i] for i in places]
    widened = [
        replace(g, se_um=math.hypot(g.se_um, OWN_LENGTH_SD_UM)) if coupon.own else g
        for coupon, g in zip(coupons, read.coupons, strict=True)
    ]
    model = _edge_model(light, widened, [evidence.coupons[i].blocks for i in places], growths)
    believed = posterior(model.prior, model.rough, model.by_node)
    x0, lam, share, *_ = model.split(believed.points)
    lam, share = lam[:, 0], share[:, 0]
    target = limits.growth_target_um
    blur = _gauge_blur(evidence, believed)

    wanted_um = np.array([[target - tolerance], [target], [target + tolerance]])
    reached = edge_reaches(wanted_um, lam, share)
    lower_x, mark_x, upper_x = x0[:, 0] + reached + blur(reached, lam, share)

    # A bar that washed away was thinner than any that could be measured.
    below = bool(np.any((model.washed > 0) & (light.ln_s < min(x for x, _ in growths))))

    def both(growth_um: float) -> bool:
        """Whether bars were measured on both sides of a growth."""
        values = [g for _, g in growths]
        places = len({x for x, _ in growths}) + below
        return places >= LEAST_EXPOSURES and (below or min(values) < growth_um) and growth_um < max(values)

    thin = model.split(believed.thinned)

    def growth(x: Array) -> Array:
        """Growth at exposures x, µm: (m, n)."""
        return blurred_edge_um(x[:, None] - thin[0][:, 0], thin[1][:, 0], thin[2][:, 0])

    return LaneFit(
        "size",
        light=light,
        posterior=believed,
        lower=Found("lower", lower_x, believed.weights, both(target - tolerance)),
        upper=Found("upper", upper_x, believed.weights, both(target + tolerance)),
        mark=Found("lower", mark_x, believed.weights, both(target)),
        notices=notices,
        curves={"growth": growth},
        effects=effects_without(believed),
        imagined=lambda x, truth, delta, uniforms: model.imagined(believed.points, x, truth, delta, uniforms),
        detail=detail,
    )


def _edge_model(
    light: Light, growths: list[CouponGrowth], blocks: list[list[Block]], measured: list[tuple[float, float]]
) -> EdgeModel:
    nearest = min(measured, key=lambda pair: abs(pair[1]))
    means = [nearest[0] - nearest[1] / 50, math.log(50), 0.0, math.log(1.8), LN_TAU[0], math.log(0.4)]
    sds = [0.6, 0.5, 1.5, 0.7, LN_TAU[1], 0.5]
    if light.knows_temperature:
        means.append(KAPPA[0])
        sds.append(KAPPA[1])
    outer = [[b for b in of_coupon if b.kind == "outer"] for of_coupon in blocks]
    return EdgeModel(
        light=light,
        growth_um=np.array([g.growth_um or 0.0 for g in growths]),
        se_um=np.array([g.se_um for g in growths]),
        measured=np.array([0.0 if g.growth_um is None else 1.0 for g in growths]),
        washed=np.array([float(sum(b.measured_mm is None for b in bars)) for bars in outer]),
        stood=np.array([float(sum(b.measured_mm is not None for b in bars)) for bars in outer]),
        prior=Prior(np.array(means), np.array(sds)),
        has_temperature=light.knows_temperature,
    )


def _gauge_blur(evidence: Evidence, believed: Posterior):  # type: ignore[no-untyped-def]
    """Readers who differ move the ends: (reproducibility / slope) on every point, at fixed normal places."""
    sd = evidence.reproducibility_sd_um or 0.0
    normal = ndtri((np.arange(len(believed.weights)) * 0.6180339887498949 + 0.5) % 1.0 * 0.999998 + 1e-6)

    def blur(z: Array, lam: Array, share: Array) -> Array:
        """Spread of x that calipers of this reproducibility leave at each z (k, n)."""
        if not sd:
            return np.zeros_like(z)
        return np.asarray(sd / np.maximum(edge_slope_um(z, lam, share), 1.0) * normal)

    return blur


@dataclass(frozen=True)
class BridgeModel:
    """Clearance lost under bridges of coupons, as it grows with light beyond the limit."""

    light: Light
    loss_um: Array
    se_um: Array
    limit_um: float
    prior: Prior
    has_temperature: bool

    def split(self, points: Array) -> tuple[Array, Array, Array, Array, Array, Array]:
        """end, S, q, misfit, τ, κ: each (n, 1)."""
        columns = points.T[:, :, None]
        kappa = columns[5] if self.has_temperature else np.zeros_like(columns[0])
        return columns[0], np.exp(columns[1]), columns[2], np.exp(columns[3]), np.exp(columns[4]), kappa

    def by_node(self, points: Array) -> Array:
        """ln likelihood of every coupon at every node of δ: (nodes, n, coupons)."""
        end, reach, bend, misfit, tau, kappa = self.split(points)
        d = self.light.ln_s + kappa * self.light.warmer_c - end + node_shifts(tau[:, 0], KAPPA[0], self.light)
        return self._ln(d, reach, bend, misfit, 0.0)

    def rough(self, points: Array) -> Array:
        """ln likelihood with δ folded into the scatter: (n, dimensions) → (n,)."""
        end, reach, bend, misfit, tau, kappa = self.split(points)
        d = self.light.ln_s + kappa * self.light.warmer_c - end
        spread = reach * np.sqrt(tau**2 + (KAPPA[0] * 3 * self.light.unknown) ** 2)
        return np.asarray(self._ln(d, reach, bend, misfit, spread**2).sum(axis=1))

    def loss(self, points: Array, x: Array) -> Array:
        """Loss at exposures x (m,): (m, n), µm."""
        end, reach, bend, *_ = self.split(points)
        d = x[:, None] - end[:, 0]
        return np.asarray(np.maximum(self.limit_um + reach[:, 0] * (d + bend[:, 0] * d * d), 0.0))

    def imagined(self, points: Array, x: float, truth: int, delta: float, uniforms: Array) -> Array:
        """ln likelihood of a coupon at x as it would come out were one point the truth."""
        _, reach, _, misfit, tau, _ = (column[:, 0] for column in self.split(points))
        se = float(np.median(self.se_um))
        losses = self.loss(points, np.array([x]))[0]
        loss_read = self.loss(points, np.array([x + delta]))[0][truth] + math.hypot(se, misfit[truth]) * float(
            ndtri(uniforms[-2])
        )
        variance = se**2 + misfit**2 + (reach * tau) ** 2
        off = (loss_read - losses) ** 2 / variance
        return np.asarray(-0.5 * np.log(variance) - 0.5 * (T_DEGREES + 1) * np.log1p(off / T_DEGREES))

    def _ln(self, d: Array, reach: Array, bend: Array, misfit: Array, more: Array | float) -> Array:
        variance = self.se_um**2 + misfit**2 + more
        # Clearance cannot be won: below nothing lost the curve is flat.
        fitted = np.maximum(self.limit_um + reach * (d + bend * d * d), 0.0)
        off = (self.loss_um - fitted) ** 2 / variance
        return np.asarray(-0.5 * np.log(variance) - 0.5 * (T_DEGREES + 1) * np.log1p(off / T_DEGREES))


def z_lane(evidence: Evidence) -> LaneFit | None:
    """Exposures at which bridges keep their clearance: an upper end."""
    limit = evidence.of(BloomLimits).z_bloom_max_um
    places = [i for i, coupon in enumerate(evidence.coupons) if coupon.z_gaps]
    if limit is None or not places:
        return None
    light = light_of(evidence, places)
    if len(set(light.ln_s.tolist())) < 2:
        return LaneFit("z", notices=[_too_few("z")])
    losses = [[1000 * (g.nominal_mm - g.measured_mm) for g in evidence.coupons[i].z_gaps] for i in places]
    means = np.array([math.fsum(values) / len(values) for values in losses])
    if _falls(list(zip(light.ln_s.tolist(), means.tolist(), strict=True))):
        return LaneFit("z", notices=[_wrong("Z: bridges lose less clearance with more light.")], wrong_direction=True)
    apart = [v - m for values, m in zip(losses, means, strict=True) for v in values]
    degrees = len(apart) - len(losses)
    scatter = math.sqrt((math.fsum(a * a for a in apart) + 4 * 12.0**2) / (degrees + 4))
    reach = (math.log(1000 * evidence.cure.penetration_depth_mm), 0.15) if evidence.cure else (math.log(155), 0.4)
    nearest = min(range(len(means)), key=lambda i: abs(means[i] - limit))
    prior_mean = [
        light.ln_s[nearest] + (limit - means[nearest]) / math.exp(reach[0]),
        reach[0],
        0.0,
        math.log(5.0),
        LN_TAU[0],
    ]
    prior_sd = [0.7, reach[1], 0.12, 0.7, LN_TAU[1]]
    if light.knows_temperature:
        prior_mean.append(KAPPA[0])
        prior_sd.append(KAPPA[1])
    model = BridgeModel(
        light=light,
        loss_um=means,
        se_um=np.array([scatter / math.sqrt(len(values)) for values in losses]),
        limit_um=limit,
        prior=Prior(np.array(prior_mean, dtype=float), np.array(prior_sd)),
        has_temperature=light.knows_temperature,
    )
    believed = posterior(model.prior, model.rough, model.by_node)
    both = bool(means.min() < limit < means.max())
    return LaneFit(
        "z",
        light=light,
        posterior=believed,
        upper=Found("upper", believed.points[:, 0], believed.weights, both),
        curves={"bloom": lambda x: model.loss(believed.thinned, x)},
        effects=effects_without(believed),
        imagined=lambda x, truth, delta, uniforms: model.imagined(believed.points, x, truth, delta, uniforms),
    )


def _falls(points: list[tuple[float, float]]) -> bool:
    """The value falls with light over all, by least squares; all alike is no direction."""
    if len({x for x, _ in points}) < 2:
        return False
    middle = math.fsum(x for x, _ in points) / len(points)
    return math.fsum((x - middle) * y for x, y in points) < -1e-9


def _too_few(name: str) -> Notice:
    return Notice(code="too-few", message=f"The {name} lane needs readings at two exposures or more.")


def _wrong(message: str) -> Notice:
    return Notice(
        code="wrong-direction",
        message=f"{message} Were two coupons swapped? The lane is left out; the window is provisional.",
    )


# Readings resolve a hundredth of a micrometre at best: sums of caliper values must not tip a verdict.
_SLACK_UM = 1e-6


def _within(limits: SizeLimits) -> str:
    target = f"{limits.growth_target_um:g} " if limits.growth_target_um else ""
    return f"within {target}±{limits.growth_tol_um:g}{THIN}µm"


def _judge_size(coupon: CouponEvidence, limits: SizeLimits) -> Verdict | None:
    """Growth below target − tolerance, or a bar washed away: under; growth above: over."""
    growth, washed = growth_um(coupon), any(block.state == "washed" for block in coupon.blocks)
    if limits.growth_tol_um is None or (growth is None and not washed):
        return None
    off = 0.0 if growth is None else growth - limits.growth_target_um
    under = washed or off < -limits.growth_tol_um - _SLACK_UM
    return (UNDER if under else RIGHT) | (OVER if off > limits.growth_tol_um + _SLACK_UM else RIGHT)


def _judge_bloom(coupon: CouponEvidence, limits: BloomLimits) -> Verdict | None:
    bloom = bloom_um(coupon)
    if limits.z_bloom_max_um is None or bloom is None:
        return None
    return OVER if bloom > limits.z_bloom_max_um + _SLACK_UM else RIGHT


SIZE = Lane(
    "size",
    "Size",
    _within,
    size_lane,
    limited=lambda limits: limits.growth_tol_um is not None,
    fields=(
        LimitField("growth_tol_um", "Edges within ±", "µm"),
        LimitField("growth_target_um", "Aiming for an edge growth of", "µm", empty=0),
    ),
    judge=_judge_size,
    coupon="flat",
)
BLOOM = Lane(
    "z",
    "Z bloom",
    lambda limits: f"at most {limits.z_bloom_max_um:g}{THIN}µm",
    z_lane,
    limited=lambda limits: limits.z_bloom_max_um is not None,
    fields=(LimitField("z_bloom_max_um", "Z loss under bridges", "µm", hint="At most; empty: not checked"),),
    judge=_judge_bloom,
    coupon="z-bridge",
)
