"""Where the ends of a virtual lab's lanes truly lie, found by printing only the features that count, over and over."""

from __future__ import annotations

import math
from dataclasses import replace
from functools import lru_cache

import numpy as np
from scipy.optimize import minimize
from scipy.special import expit, logit

from setback.core.reading.size import growth_um
from setback.coupon import KINDS
from setback.simulate import hidden
from setback.simulate.printed import print_coupon, size_true_s
from setback.simulate.reader import read
from tests.simulate.test_hidden import evidence

PRINTS = 40
"""At each of the exposures round an end."""
ROUND = (0.85, 0.9, 0.94, 0.97, 1.0, 1.03, 1.07, 1.12, 1.2)
DRAWN = {
    "walls": KINDS["flat"](0.035, 0.35),
    "slots": KINDS["flat"](0.035, 0.35),
    "tips": KINDS["support"](0.035, 0.35),
}
FEATURE = {"walls": "wall", "slots": "slot", "tips": "tip"}


@lru_cache(maxsize=32)
def only(lane: str, required_mm: float):
    """The coupon of a lane with nothing on it but the features of the size nearest to the required one."""
    coupon = DRAWN[lane]
    sizes = {f.size_mm for f in coupon.features if f.kind == FEATURE[lane]}
    nearest = min(sizes, key=lambda size: abs(size - required_mm))
    return replace(
        coupon, features=tuple(f for f in coupon.features if f.kind == FEATURE[lane] and f.size_mm == nearest)
    )


def formed(lane, required_mm, machine, material, exposure_s, prints, seed) -> tuple[int, int]:
    """How many of the required features are read as formed, and of how many."""
    coupon, count, of = only(lane, required_mm), 0, 0
    for number in range(prints):
        made = print_coupon(coupon, machine, material, hidden.Conditions(exposure_s), seed + number)
        seen = read(made, seed + number)
        count, of = count + sum(s.state == "formed" for s in seen), of + len(seen)
    return count, of


def true_end_s(lane, required_mm, probability, machine, material, near_s) -> float:
    """Exposure at which features of the required size reach a probability of being read as formed."""
    rising = lane != "slots"
    low, high = near_s / 4, near_s * 4
    for step in range(9):
        middle = math.sqrt(low * high)
        count, of = formed(lane, required_mm, machine, material, middle, 6, 50_000 + 100 * step)
        enough = count / of >= 0.5
        low, high = (low, middle) if enough is rising else (middle, high)
    centre = math.sqrt(low * high)
    exposures = [centre * k for k in ROUND]
    counts = np.array(
        [formed(lane, required_mm, machine, material, t, PRINTS, 90_000 + 1000 * i) for i, t in enumerate(exposures)]
    )
    x = np.log(np.array(exposures) / centre)

    def cost(beta):
        p = np.clip(expit(beta[0] + beta[1] * x), 1e-9, 1 - 1e-9)
        return -float(np.sum(counts[:, 0] * np.log(p) + (counts[:, 1] - counts[:, 0]) * np.log(1 - p)))

    start = [0.0, 30.0 if rising else -30.0]
    beta = minimize(cost, start, method="Nelder-Mead", options={"maxiter": 2000}).x
    return float(centre * math.exp((logit(probability) - beta[0]) / beta[1]))


def grown_um(machine, material, exposure_s: float, seed: int) -> float | None:
    """Mean growth of the flat coupon's bars and notches over many prints, µm; None where they wash away."""
    coupon = replace(DRAWN["walls"], features=tuple(f for f in DRAWN["walls"].features if f.kind in ("outer", "inner")))
    grown = []
    for number in range(PRINTS):
        made = print_coupon(coupon, machine, material, hidden.Conditions(exposure_s), seed + number)
        one = growth_um(evidence(made, seed + number).evidence)
        if one is None or any(o.size_mm is None for o in made.outcomes):
            return None
        grown.append(one)
    return float(np.mean(grown))


def true_growth_s(wanted_um: float, machine, material, near_s: float) -> float | None:
    """Exposure at which bars and notches grow by this much in the mean; None where they wash away before."""
    exposures = [near_s * k for k in (0.9, 0.95, 1.0, 1.05, 1.1)]
    grown = [grown_um(machine, material, t, 20_000 + 100 * i) for i, t in enumerate(exposures)]
    if any(g is None for g in grown):
        return None
    # Straight in ln t over so short a way.
    slope, at = np.polyfit(np.log(exposures), np.array(grown, dtype=float), 1)
    return float(np.exp((wanted_um - at) / slope))


def true_lanes(machine, material, limits: dict[str, float]) -> dict[str, dict[str, float | None]]:
    """Ends of every limited lane by name, as labs of another physics carry them in labs.json."""
    usual, tolerance = hidden.Conditions(1.0), limits["growth_tol_um"] / 1000
    nominal = size_true_s(machine, material, usual)
    ends = {}
    for side, growth in (("lower", -tolerance), ("upper", tolerance)):
        near_s = size_true_s(machine, material, usual, growth_mm=growth)
        ends[f"{side}_s"] = true_growth_s(1000 * growth, machine, material, near_s)
    lanes: dict[str, dict[str, float | None]] = {"size": ends}
    for lane, side, required in (("walls", "lower", 0.9), ("slots", "upper", 0.9), ("tips", "lower", 0.95)):
        size_mm = limits[f"{lane}_size_mm"]
        lanes[lane] = {f"{side}_s": true_end_s(lane, size_mm, required, machine, material, nominal)}
    return lanes
