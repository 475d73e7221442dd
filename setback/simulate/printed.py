"""Print a coupon virtually: from its masks to what became of every feature."""

from __future__ import annotations

import json
import math
import random
from dataclasses import dataclass, field, replace
from functools import lru_cache
from typing import Any

import numpy as np
from scipy.fft import irfftn, next_fast_len, rfftn
from scipy.ndimage import map_coordinates, uniform_filter

from ..coupon.description import Coupon, Feature, Shape
from ..coupon.masks import layer_mask
from . import physics
from .hidden import Conditions, Machine, Material, Spread

Field = np.ndarray[Any, np.dtype[Any]]
Line = np.ndarray[Any, np.dtype[Any]]

GRAIN = 0.012
"""The same from one feature to the next: uneven resin, dust, the last of the stirring."""
PEEL_CHANCE = 0.07
"""Standard deviation of ln peel force at one tip."""
SLACK = 0.02
"""Share by which light varies along a feature."""
LOAD_MM2 = 5.44
SLIDES_MM = 0.02
"""Room between a gauge piece and its notch at which it slides; as much overlap holds it fast."""
WASHED_MM = -0.5
"""Growth that says the piece is not there at all."""
STROKE, COUNTER = 0.13, 0.22
"""Stroke of a character, and the smallest opening it encloses, as a share of its height."""
RIM_MM = 0.25


@dataclass(frozen=True)
class Outcome:
    """What became of a feature: how much of it is there, and what size it really has."""

    key: str
    kind: str
    share: float | None = None
    """Part of a wall that stands, of a slot that is open; 1 or 0 for a tip."""
    size_mm: float | None = None
    """Distance between the faces of a bar, a notch or under a bridge."""
    foot_mm: float = 0.0
    """How far the foot of a bar or the rim of a notch stands out beyond each face."""
    along: tuple[bool, ...] = ()
    """Of a wall or a slot: where along it, from its upper to its lower end, it stands or is open."""


@dataclass(frozen=True)
class Printed:
    """A coupon as the virtual printer made it; hidden until somebody looks."""

    coupon: Coupon
    machine: Machine
    material: Material
    conditions: Conditions
    flicker: float
    outcomes: tuple[Outcome, ...]
    thickness_mm: float | None = None
    """Of a depth square."""

    def share(self, key: str) -> float | None:
        return next((o.share for o in self.outcomes if o.key == key), None)


def print_coupon(coupon: Coupon, machine: Machine, material: Material, conditions: Conditions, seed: int) -> Printed:
    """Expose, cure and peel a coupon.

    Parameters
    ----------
    coupon : Coupon
        As planned; its masks are made at the machine's pixel.
    machine, material
        The hidden truth.
    conditions : Conditions
        Exposure, rest, lift, temperature, place and age.
    seed : int
        The same seed gives the same print.
    """
    chance = random.Random(seed)
    flicker = math.exp(chance.gauss(0, machine.dose_sd))
    press = _Press(coupon, machine, material, conditions, flicker, chance)
    outcomes = tuple(press.outcome(feature) for feature in coupon.features)
    thickness = None
    if coupon.kind == "depth":
        light = physics.light(machine, conditions) * flicker
        dose = conditions.exposure_s * light / physics.critical_s(material, conditions.temp_c)
        thickness = physics.cure_depth_mm(material, math.log(max(dose, 1.0)))
    return Printed(coupon, machine, material, conditions, flicker, outcomes, thickness)


def size_true_s(
    machine: Machine, material: Material, conditions: Conditions, later_layers: float = 10, growth_mm: float = 0.0
) -> float:
    """Exposure at which the edges of a long bar grow by ``growth_mm``, found on the blurred mask itself; at 0 it is as wide as its mask.

    The bar is printed over and over at other exposures; nothing is read from a stored answer.
    """
    pixel = machine.pixel_mm / 4
    width = 40 * machine.pixel_mm
    blur = physics.blur_mm(machine, material, conditions)
    cells = math.ceil((width / 2 + 8 * (blur + material.scatter_mm)) / pixel)
    across = (np.arange(-cells, cells) + 0.5) * pixel
    shares = spread((np.abs(across) < width / 2).astype(np.float32), pixel, blur, material.scatter_mm, material.spread)

    def grown(exposure_s: float) -> float:
        need = physics.needed_share(machine, material, replace(conditions, exposure_s=exposure_s), later_layers)
        return _reach(across, shares, need) - width / 2 - growth_mm

    return physics.solved(grown, 0.01, 500)


def _reach(across: Line, shares: Line | Field, need: float) -> float:
    """How far out the profile stays at or above what is needed, between samples by a straight line."""
    start = int(np.searchsorted(across, 0.0))
    below = np.nonzero(shares[start:] < need)[0]
    if len(below) == 0:
        return float(across[-1])
    i = start + int(below[0])
    if i == start:
        return float(across[start])
    high, low = float(shares[i - 1]), float(shares[i])
    return float(across[i - 1]) + (high - need) / (high - low) * float(across[i] - across[i - 1])


def _partly(feature: Feature, whole: Line) -> Outcome:
    """A wall or a slot by where along it it is whole."""
    return Outcome(feature.key, feature.kind, share=float(np.mean(whole)), along=tuple(bool(one) for one in whole))


@dataclass(frozen=True)
class _Layer:
    """What a blurred layer depends on. Coupons of a kind with the same parameters differ in their lettering only."""

    kind: str
    parameters: str
    z_mm: float
    pixel_mm: float
    blur_mm: float
    scatter_mm: float
    kind_of_spread: Spread
    grey_px: int
    coupon: Coupon = field(compare=False)


@lru_cache(maxsize=16)
def _blurred(layer: _Layer) -> Field:
    """The mask of a layer, blurred: share of full light at each pixel."""
    mask = (layer_mask(layer.coupon, layer.z_mm, layer.pixel_mm) > 0).astype(np.float32)
    if layer.grey_px:
        mask = uniform_filter(mask, 2 * layer.grey_px + 1, mode="constant")
    return spread(mask, layer.pixel_mm, layer.blur_mm, layer.scatter_mm, layer.kind_of_spread)


def spread(mask: Field, cell_mm: float, blur_mm: float, scatter_mm: float, kind: Spread = "exponential") -> Field:
    """Light after blur and scatter, in one or two dimensions.

    Optics and motion spread like a Gaussian, exp(-s²k²/2) in the frequency domain. Scatter of length l leaves a tail that falls
    exponentially, 1/(1 + l²k²); or none, as wide a Gaussian, exp(-l²k²); or a heavy one that falls with the square of the
    distance, exp(-lk/2).
    """
    margin = round((8 if kind != "heavy" else 16) * (blur_mm + scatter_mm) / cell_mm)
    shape = [next_fast_len(n + margin, real=True) for n in mask.shape]
    waves = [2 * np.pi * np.fft.fftfreq(n, cell_mm) for n in shape[:-1]]
    waves.append(2 * np.pi * np.fft.rfftfreq(shape[-1], cell_mm))
    k2, passed = np.zeros(1, dtype=np.float32), np.ones(1, dtype=np.float32)
    along = -0.5 * blur_mm**2 - (scatter_mm**2 if kind == "gaussian" else 0.0)
    for axis, wave in enumerate(waves):
        squared = (wave.astype(np.float32) ** 2).reshape([-1 if i == axis else 1 for i in range(len(waves))])
        k2 = k2 + squared
        # A Gaussian is the product of what it is along each axis.
        passed = passed * np.exp(np.float32(along) * squared)
    if kind == "exponential":
        passed = passed / (1 + np.float32(scatter_mm**2) * k2)
    elif kind == "heavy":
        passed = passed * np.exp(-scatter_mm * np.sqrt(k2) / 2)
    light: Field = irfftn(rfftn(mask, shape) * passed, shape)
    return np.clip(light[tuple(slice(n) for n in mask.shape)], 0, 1).astype(np.float32)


class _Press:
    """One print while it happens."""

    def __init__(
        self,
        coupon: Coupon,
        machine: Machine,
        material: Material,
        conditions: Conditions,
        flicker: float,
        chance: random.Random,
    ) -> None:
        self.coupon, self.machine, self.material, self.conditions = coupon, machine, material, conditions
        self.flicker, self.chance = flicker, chance
        self.blur = round(physics.blur_mm(machine, material, conditions), 5)
        self.shapes = {s.feature: s for s in coupon.shapes if s.feature and s.role in ("solid", "gap")}
        self._grown: float | None = None

    def outcome(self, feature: Feature) -> Outcome:
        makers = {
            "wall": self._wall,
            "slot": self._slot,
            "tip": self._tip,
            "z-gap": self._bridge,
            "vernier": self._vernier,
            "fit": self._fit,
            "taper": self._taper,
            "legible": self._legible,
        }.get(feature.kind)
        return makers(feature) if makers else self._bar(feature)

    def growth(self) -> float:
        """Growth per edge of the coupon's first bar, mm; far below zero where the bar washed away."""
        if self._grown is None:
            bar = next(f for f in self.coupon.features if f.kind == "outer")
            size_mm = self._bar(bar).size_mm
            self._grown = (size_mm - bar.size_mm * (1 - self.material.shrinkage)) / 2 if size_mm is not None else -1.0
        return self._grown

    def later(self, z_mm: float) -> float:
        if self.coupon.kind == "strip":
            return 0.0
        return max((self.coupon.thickness_mm - z_mm) / self.conditions.layer_mm, 0.0)

    def light_at(self, x_mm: float) -> float:
        """Light at a place of the coupon relative to its middle, with this print's flicker."""
        return self.flicker * (1 + self.machine.tilt * (x_mm / self.coupon.width_mm - 0.5))

    def shares(self, z_mm: float, xs: Line, ys: Line) -> Line:
        """Share of full light at places of the layer at a height."""
        pixel = self.machine.pixel_mm
        layer = _Layer(
            self.coupon.kind,
            json.dumps(self.coupon.parameters, sort_keys=True),
            z_mm,
            pixel,
            self.blur,
            self.material.scatter_mm,
            self.material.spread,
            self.conditions.grey_px,
            self.coupon,
        )
        at = np.array([ys / pixel - 0.5, xs / pixel - 0.5])
        light: Field = map_coordinates(_blurred(layer), at, order=1, mode="constant")
        return light.astype(np.float64)

    def overcure(self, share: float, z_mm: float, x_mm: float) -> float:
        return physics.overcure_mm(
            self.machine, self.material, self.conditions, share, self.later(z_mm), self.light_at(x_mm)
        )

    def needed(self, z_mm: float, x_mm: float) -> float:
        need = physics.needed_share(self.machine, self.material, self.conditions, self.later(z_mm))
        return need / self.light_at(x_mm)

    def firm(self, z_mm: float, x_mm: float) -> float:
        """Share of full light at which a wall or a bar survives the peel and the wash."""
        share = physics.firm_share(self.machine, self.material, self.conditions, self.later(z_mm))
        return share / self.light_at(x_mm)

    def grain(self) -> float:
        return math.exp(self.chance.gauss(0, GRAIN))

    def slack(self, count: int) -> Line:
        """How light varies from place to place along a feature."""
        return np.exp([self.chance.gauss(0, SLACK) for _ in range(count)])

    def _middle(self, shape: Shape) -> tuple[float, float, float, float, float]:
        """Left, top, right, bottom and mid-height of an upright feature."""
        xs, ys = [x for x, _ in shape.points], [y for _, y in shape.points]
        return min(xs), min(ys), max(xs), max(ys), round((shape.low_mm + shape.high_mm) / 2, 4)

    def _wall(self, feature: Feature) -> Outcome:
        """A wall stands where its middle is cured beyond its layer by more than the peel takes."""
        left, top, right, bottom, z = self._middle(self.shapes[feature.key])
        ys = np.linspace(top + 0.1 * (bottom - top), bottom - 0.1 * (bottom - top), 15)
        x = (left + right) / 2
        shares = self.shares(z, np.full_like(ys, x), ys) * self.grain() * self.slack(len(ys))
        return _partly(feature, shares >= self.firm(z, x))

    def _slot(self, feature: Feature) -> Outcome:
        """A slot is open where the dark strip left between its grown faces is wide enough to drain."""
        left, top, right, bottom, z = self._middle(self.shapes[feature.key])
        least = self.material.drain_mm * physics.viscosity(self.material, self.conditions.temp_c) ** 0.25
        ys = np.linspace(top + 0.15 * (bottom - top), bottom - 0.15 * (bottom - top), 9)
        x = (left + right) / 2
        across = np.linspace(0, right - left, 120)
        shares = self.shares(z, *np.meshgrid(x + across, ys))
        needed = self.needed(z, x) / self.grain() * self.slack(len(ys))
        widths = [2 * _reach(across, -line, -need) for line, need in zip(shares, needed, strict=True)]
        return _partly(feature, np.array(widths) >= least)

    def _tip(self, feature: Feature) -> Outcome:
        """A tip holds with a chance that rises with its cure and section and falls with the peel of its load."""
        strut = next(s for s in self.coupon.shapes if s.feature == feature.key and s.top is not None)
        z = round(strut.high_mm - self.conditions.layer_mm / 2, 4)
        tip = np.array(strut.section(z)).mean(axis=0)
        share = float(self.shares(z, tip[:1], tip[1:])[0]) * self.grain()
        over = self.overcure(share, z, float(tip[0]))
        load = next(s for s in self.coupon.shapes if s.feature == feature.key and s.top is None)
        area = load.volume_mm3 / (load.high_mm - load.low_mm) / LOAD_MM2
        strength = (feature.size_mm / 0.43) ** 2 * max(over, 1e-6) / 0.1
        pull = self.material.peel * physics.peel_force(self.machine, self.material, self.conditions, area)
        holds = math.log(strength) + self.chance.gauss(0, PEEL_CHANCE) > math.log(pull)
        return Outcome(feature.key, feature.kind, share=1.0 if holds else 0.0)

    def _bridge(self, feature: Feature) -> Outcome:
        """Light that goes on through a bridge's first layer cures resin under it."""
        shape = self.shapes[feature.key]
        x = feature.hit[0] + feature.hit[2] / 2
        over = self.overcure(1.0, shape.low_mm, x) * self.grain()
        return Outcome(feature.key, feature.kind, size_mm=max(feature.size_mm - max(over, 0.0), 0.0))

    def _vernier(self, feature: Feature) -> Outcome:
        """What is left of the drawn gap between two bars' ends, each grown by one edge."""
        return Outcome(feature.key, feature.kind, size_mm=feature.size_mm - 2 * self.growth())

    def _taper(self, feature: Feature) -> Outcome:
        """What is left of a step's drawn play in the channel, each of four faces grown by one edge; none where the plug washed away."""
        if self.growth() < WASHED_MM:
            return Outcome(feature.key, feature.kind)
        return Outcome(feature.key, feature.kind, size_mm=feature.size_mm - 4 * self.growth())

    def _fit(self, feature: Feature) -> Outcome:
        """The piece and its notch, drawn a pixel apart at each side, close in by two edges each."""
        if self.growth() < WASHED_MM:
            return Outcome(feature.key, feature.kind)
        room = 2 * self.machine.pixel_mm - 4 * self.growth()
        return Outcome(feature.key, feature.kind, share=1.0 if room > SLIDES_MM else 0.6 if room > -SLIDES_MM else 0.0)

    def _legible(self, feature: Feature) -> Outcome:
        """Characters are read while their strokes hold and what they enclose stays open."""
        stroke = STROKE * feature.size_mm + 2 * self.growth()
        inside = COUNTER * feature.size_mm - 2 * self.growth()
        least = min(stroke, inside) / (2 * self.machine.pixel_mm)
        return Outcome(feature.key, feature.kind, share=1.0 if least > 1 else 0.5 if least > 0.7 else 0.0)

    def _bar(self, feature: Feature) -> Outcome:
        """Faces of a bar or a notch: where the blurred edge is just cured, along five lines to both sides.

        Without enough cure the bar, or the rim around the notch, washes away and nothing can be measured.
        """
        left, top, right, bottom, z = self._middle(self.shapes[feature.key])
        sign = 1 if feature.kind == "outer" else -1
        x, y = (left + right) / 2, (top + bottom) / 2
        body = np.array([x if sign > 0 else left - RIM_MM]), np.array([y])
        if self.shares(z, *body)[0] < self.firm(z, float(body[0][0])):
            return Outcome(feature.key, feature.kind)
        along_x = feature.axis != "y"
        (low, high), (start, end) = ((left, right), (top, bottom)) if along_x else ((top, bottom), (left, right))
        size = high - low
        across = np.linspace(size / 2 - 0.3, size / 2 + 0.4, 160)
        lines = np.linspace(start + 0.3 * (end - start), end - 0.3 * (end - start), 5)
        reaches = []
        for side in (1, -1):
            at, line = np.meshgrid((low + high) / 2 + side * across, lines)
            shares = self.shares(z, at, line) if along_x else self.shares(z, line, at)
            place = (low if side < 0 else high) if along_x else x
            reaches += [_reach(across, sign * row, sign * self.needed(z, place)) for row in shares]
        grown = 2 * sum(reaches) / len(reaches) - size
        return Outcome(
            feature.key,
            feature.kind,
            size_mm=max(size * (1 - self.material.shrinkage) + grown, 0.0),
            foot_mm=physics.foot_mm(self.material, self.conditions),
        )
