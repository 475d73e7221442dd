"""Simulated shops in which one thing is wrong: what is seen follows from the virtual printer where it can print the fault, the record
from the shop's own habits. Nothing here reads the knowledge of the trace."""

from __future__ import annotations

import math
import random
from dataclasses import dataclass, replace
from functools import lru_cache

from setback.coupon import KINDS
from setback.simulate import physics
from setback.simulate.hidden import Conditions, Machine, Material
from setback.simulate.printed import Printed, print_coupon, size_true_s

PIXEL_MM, FLOOR_MM = 0.035, 0.4
FLAT, SUPPORT = KINDS["flat"](PIXEL_MM, FLOOR_MM), KINDS["support"](PIXEL_MM, FLOOR_MM)
PROVEN_MM, THIN_MM = 0.40, 0.30
"""Tips that were shown to hold, and those that somebody took instead."""
SUDDEN = {
    "cold-resin",
    "hot-resin",
    "plate-level",
    "pieces-on-film",
    "not-stirred",
    "vat-low",
    "wrong-resin",
    "plate-grip",
}
NEVER_RIGHT = {"too-little-exposure", "too-much-exposure", "base-low", "base-high", "fast-lift"}
NEW_PART = {"thin-tips", "orientation", "faulty-file"}


@dataclass(frozen=True)
class Planted:
    """What a person sees and what is on record, with what was really wrong."""

    symptoms: list[str]
    record: dict[str, float | str]
    truth: str


@dataclass(frozen=True)
class _Shop:
    machine: Machine
    material: Material
    usual: Conditions

    @property
    def window(self) -> tuple[float, float]:
        """About what coupons would have shown."""
        return 0.82 * self.usual.exposure_s, 1.25 * self.usual.exposure_s


def _shop(chance: random.Random) -> _Shop:
    machine = Machine(light=chance.uniform(0.8, 1.1), settle_s=chance.uniform(0.5, 1.0))
    material = Material(
        chance.uniform(0.9, 1.4), viscosity=chance.choice([1.0, 1.3, 1.9]), bind_mm=chance.uniform(0.045, 0.055)
    )
    usual = Conditions(exposure_s=1.0, temp_c=24.0, rest_s=1.5)
    return _Shop(machine, material, replace(usual, exposure_s=1.12 * size_true_s(machine, material, usual)))


def plant(seed: int) -> Planted:
    """One failure of one shop; somebody who sees nothing does not ask why it failed."""
    chance = random.Random(f"planted {seed}")
    symptoms: list[str] = []
    while not symptoms:
        truth = chance.choice([*PHYSICAL, *TOLD])
        record = _habits(chance, truth)
        if truth in PHYSICAL:
            symptoms = _printed(chance, _shop(chance), truth, record)
        else:
            symptoms = [sign for sign, often in TOLD[truth].items() if chance.random() < often]
            _on_record(chance, truth, record)
    return Planted(symptoms, {key: value for key, value in record.items() if value is not None}, truth)


def _habits(chance: random.Random, truth: str) -> dict[str, float | str | None]:
    """What any shop would have on record around a print; each thing noted as often as people note it."""

    def noted(often: float, value: float | str) -> float | str | None:
        return value if chance.random() < often else None

    whole = 0 if truth in NEVER_RIGHT else min(int(chance.expovariate(1 / 7)), 20)
    return {
        "below_band_c": noted(0.8, max(chance.gauss(-2, 2), 0.0)),
        "above_band_c": noted(0.8, max(chance.gauss(-3, 2), 0.0)),
        "window_place": noted(0.7, min(max(chance.gauss(0.5, 0.2), 0.05), 0.95)),
        "settings": "trial" if truth in NEVER_RIGHT and chance.random() < 0.7 else "issued",
        "base_rated": noted(0.9, "no" if truth in ("base-low", "base-high") else chance.choice(["yes", "yes", "no"])),
        "rest_s": noted(0.9, chance.choice([1.0, 1.5, 2.0])),
        "tip_share": noted(0.3, 1.0),
        "new_part": "yes" if chance.random() < (0.8 if truth in NEW_PART else 0.3) else "no",
        "whole_before": float(whole if truth in SUDDEN or chance.random() < 0.7 else whole // 3),
        "screen_hours": noted(0.8, chance.uniform(0, 450)),
        "film_prints": noted(0.6, float(int(chance.expovariate(1 / 60)))),
        "level_prints": noted(0.6, float(1 + int(chance.expovariate(1 / 12)))),
        "lot_changed": noted(0.8, "yes" if chance.random() < 0.06 else "no"),
        "past_best": noted(0.7, "yes" if chance.random() < 0.03 else "no"),
        "shaken": noted(0.7, "no" if chance.random() < 0.15 else "yes"),
        "stood_h": noted(0.5, chance.expovariate(1 / 7)),
        "vat_days": noted(0.5, chance.expovariate(1 / 3)),
        "vat_mixed": noted(0.6, "no"),
        "vat_fill": noted(0.5, "enough"),
        "pieces_before": noted(0.9, "searched for" if chance.random() < 0.1 else "none"),
        "failed_place": noted(0.4, chance.choice(["everywhere", "scattered"])),
        "opacity": noted(0.9, chance.choice(["opaque", "opaque", "tinted"])),
        "bath_share": noted(0.3, chance.uniform(0, 0.9)),
        "cure_share": noted(0.3, chance.uniform(0.9, 1.1)),
        "dried": noted(0.3, "as planned"),
        "light_off_pct": noted(0.3, chance.gauss(0, 2)),
    }


@lru_cache(maxsize=64)
def _sound(shop: _Shop) -> tuple[Printed, Printed]:
    return _both(shop, shop.usual, 1)


def _both(shop: _Shop, conditions: Conditions, seed: int) -> tuple[Printed, Printed]:
    return (
        print_coupon(FLAT, shop.machine, shop.material, conditions, seed),
        print_coupon(SUPPORT, shop.machine, shop.material, conditions, seed + 1),
    )


def _share(printed: Printed, kind: str, least_mm: float = 0.0, most_mm: float = 9.0) -> float:
    """Mean share of the features of a kind that are there, of sizes in a range."""
    sizes = {f.key: f.size_mm for f in printed.coupon.features}
    shares = [o.share or 0.0 for o in printed.outcomes if o.kind == kind and least_mm <= sizes[o.key] <= most_mm]
    return sum(shares) / max(len(shares), 1)


def _printed(chance: random.Random, shop: _Shop, truth: str, record: dict[str, float | str | None]) -> list[str]:
    """The fault printed: what is missing, torn or grown against a sound print of the same shop."""
    conditions, machine, material = PHYSICAL[truth](chance, shop, record)
    faulty = replace(shop, machine=machine, material=material)
    flat, support = _both(faulty, conditions, chance.randrange(10**6))
    sound_flat, sound_support = _sound(shop)
    thin = truth == "thin-tips"
    tips = _share(sound_support, "tip", PROVEN_MM) - (
        _share(support, "tip", 0, THIN_MM) if thin else _share(support, "tip", PROVEN_MM)
    )
    walls = _share(sound_flat, "wall") - _share(flat, "wall")
    slots = _share(sound_flat, "slot") - _share(flat, "slot")
    signs = {
        "supports-torn": tips > 0.25 and chance.random() < 0.9,
        "parts-in-vat": tips > 0.6 and chance.random() < 0.7,
        "details-missing": walls > 0.12 and chance.random() < 0.85,
        "details-soft": walls > 0.05 and chance.random() < 0.4,
        "details-grown-shut": slots > 0.08 and chance.random() < 0.9,
        "parts-stuck": truth == "too-much-exposure" and chance.random() < 0.4,
        # The first layers of cold resin let go more often than coupons of a few layers show.
        "nothing-on-plate": truth == "cold-resin" and chance.random() < 0.45,
        "one-side-missing": truth == "light-uneven" and walls > 0.02 and chance.random() < 0.7,
        "same-mark": truth == "film-worn" and chance.random() < 0.5,
        "warped": truth == "orientation" and chance.random() < 0.3,
        "layers-split": truth in ("orientation", "fast-lift") and tips > 0.25 and chance.random() < 0.35,
    }
    return [sign for sign, is_seen in signs.items() if is_seen]


def _cold(chance: random.Random, shop: _Shop, record: dict[str, float | str | None]):
    colder = chance.uniform(6, 15)
    record["below_band_c"] = colder - 3 if chance.random() < 0.8 else None
    return replace(shop.usual, temp_c=shop.usual.temp_c - colder), shop.machine, shop.material


def _hot(chance: random.Random, shop: _Shop, record: dict[str, float | str | None]):
    warmer = chance.uniform(9, 18)
    record["above_band_c"] = warmer - 3 if chance.random() < 0.8 else None
    return replace(shop.usual, temp_c=shop.usual.temp_c + warmer), shop.machine, shop.material


def _dosed(low: float, high: float):
    def planted(chance: random.Random, shop: _Shop, record: dict[str, float | str | None]):
        exposure_s = chance.uniform(low, high) * shop.usual.exposure_s
        lower, upper = shop.window
        place = math.log(exposure_s / lower) / math.log(upper / lower)
        record["window_place"] = place if chance.random() < 0.6 else None
        return replace(shop.usual, exposure_s=exposure_s), shop.machine, shop.material

    return planted


def _faded(chance: random.Random, shop: _Shop, record: dict[str, float | str | None]):
    hours = chance.uniform(1200, 3500)
    faded = replace(shop.usual, screen_hours=hours)
    record["screen_hours"] = hours if chance.random() < 0.9 else None
    off_pct = 100 * (physics.light(shop.machine, faded) / physics.light(shop.machine, shop.usual) - 1)
    record["light_off_pct"] = off_pct + chance.gauss(0, 2) if chance.random() < 0.3 else None
    return faded, shop.machine, shop.material


def _film(chance: random.Random, shop: _Shop, record: dict[str, float | str | None]):
    prints = int(chance.uniform(1500, 6000))
    record["film_prints"] = float(prints) if chance.random() < 0.8 else None
    return replace(shop.usual, film_prints=prints), shop.machine, shop.material


def _fast(chance: random.Random, shop: _Shop, record: dict[str, float | str | None]):
    record["rest_s"] = 0.0
    lift = chance.uniform(250, 500)
    return replace(shop.usual, rest_s=0.0, lift_mm_min=lift), shop.machine, shop.material


def _thin(chance: random.Random, shop: _Shop, record: dict[str, float | str | None]):
    record["tip_share"] = round(THIN_MM / PROVEN_MM, 2) - 0.1 if chance.random() < 0.7 else None
    return shop.usual, shop.machine, shop.material


def _suction(chance: random.Random, shop: _Shop, record: dict[str, float | str | None]):
    return replace(shop.usual, cup_mm2=chance.uniform(60, 400)), shop.machine, shop.material


def _uneven(chance: random.Random, shop: _Shop, record: dict[str, float | str | None]):
    record["failed_place"] = "one side" if chance.random() < 0.6 else None
    return shop.usual, replace(shop.machine, tilt=-chance.uniform(0.25, 0.5)), shop.material


def _lot(chance: random.Random, shop: _Shop, record: dict[str, float | str | None]):
    record["lot_changed"] = "yes" if chance.random() < 0.9 else None
    record["whole_before"] = 0.0 if chance.random() < 0.6 else 1.0
    factor = chance.choice([chance.uniform(0.55, 0.7), chance.uniform(1.4, 1.8)])
    return shop.usual, shop.machine, replace(shop.material, critical_s=shop.material.critical_s * factor)


PHYSICAL = {
    "cold-resin": _cold,
    "hot-resin": _hot,
    "too-little-exposure": _dosed(0.5, 0.75),
    "too-much-exposure": _dosed(1.5, 2.2),
    "screen-faded": _faded,
    "film-worn": _film,
    "fast-lift": _fast,
    "thin-tips": _thin,
    "orientation": _suction,
    "light-uneven": _uneven,
    "new-lot": _lot,
}
TOLD: dict[str, dict[str, float]] = {
    "plate-level": {"nothing-on-plate": 0.5, "one-side-missing": 0.6, "thick-first-layers": 0.2},
    "plate-grip": {"nothing-on-plate": 0.8, "warped": 0.2, "blobs-on-film": 0.2},
    "base-low": {"nothing-on-plate": 0.8, "blobs-on-film": 0.3, "warped": 0.15},
    "base-high": {"parts-stuck": 0.8, "thick-first-layers": 0.6},
    "pieces-on-film": {"blobs-on-film": 0.6, "same-mark": 0.4, "one-side-missing": 0.3, "nothing-on-plate": 0.15},
    "screen-spot": {"same-mark": 0.9, "details-missing": 0.15},
    "not-stirred": {"details-soft": 0.4, "white-patches": 0.35, "supports-torn": 0.25, "details-missing": 0.25},
    "vat-low": {"layers-split": 0.5, "parts-in-vat": 0.3, "details-missing": 0.3, "one-side-missing": 0.25},
    "wrong-resin": {"tacky": 0.4, "brittle": 0.3, "parts-in-vat": 0.3, "warped": 0.15},
    "spent-bath": {"tacky": 0.85, "white-patches": 0.2},
    "cured-wet": {"white-patches": 0.9, "tacky": 0.2},
    "cured-too-little": {"tacky": 0.8, "warped": 0.15},
    "cured-too-long": {"brittle": 0.85, "warped": 0.35},
    "z-play": {"layers-shifted": 0.85, "layers-split": 0.3},
    "faulty-file": {"layers-shifted": 0.35, "details-missing": 0.45, "layers-split": 0.3},
}
"""What is seen of faults the virtual printer cannot print."""


def _on_record(chance: random.Random, truth: str, record: dict[str, float | str | None]) -> None:
    """What such a fault leaves on record, where somebody notes it."""
    leaves: dict[str, tuple[str, float | str, float]] = {
        "plate-level": ("level_prints", 0.0, 0.5),
        "pieces-on-film": ("pieces_before", chance.choice(["not searched for", "searched for"]), 0.7),
        "screen-spot": ("failed_place", "one spot", 0.6),
        "not-stirred": ("stood_h", chance.uniform(20, 70), 0.7),
        "vat-low": ("vat_fill", "low", 0.6),
        "wrong-resin": ("vat_mixed", "yes", 0.6),
        "spent-bath": ("bath_share", chance.uniform(0.9, 2.0), 0.6),
        "cured-wet": ("dried", "less", 0.6),
        "cured-too-little": ("cure_share", chance.uniform(0.3, 0.7), 0.6),
        "cured-too-long": ("cure_share", chance.uniform(1.5, 3.0), 0.6),
    }
    if truth in leaves:
        key, value, often = leaves[truth]
        record[key] = value if chance.random() < often else None
    if truth == "plate-level" and chance.random() < 0.4:
        record["failed_place"] = "one side"
    if truth == "not-stirred":
        record["shaken"] = "no" if chance.random() < 0.6 else None
