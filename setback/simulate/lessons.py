"""Coupons to learn on: hidden ones to practise with, and plain ones that show what too little and too much light look like.

Everything is printed by the virtual printer and taken by the virtual camera. The truth of a coupon is what became of its features, told as
a person with perfect eyes would tell it.
"""

from __future__ import annotations

import math
import random
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Literal

from ..core.reading.picture.laid import laid_straight
from ..core.reading.tally import FeatureState
from ..coupon import NEWEST, Coupon, drawn
from ..coupon.lettering import embossed
from .camera import Placed, Shot, corners_px, photograph
from .hidden import Conditions, Machine, Material, material
from .printed import Printed, print_coupon, size_true_s

PIXEL_MM, FLOOR_MM = 0.035, 0.35
STEP_S = 0.05
RIGHT_UM = 10.0
"""Growth per edge within which a coupon counts as rightly exposed."""
LESS = 0.5
LEAST_S, MOST_S = 0.2, 60.0
Call = Literal["under", "right", "over"]
RESINS = (
    ("opaque", (122, 126, 134)),
    ("opaque", (206, 204, 196)),
    ("tinted", (150, 120, 108)),
    ("clear", (196, 202, 200)),
)


@dataclass(frozen=True)
class Level:
    """How hard practice is."""

    off: tuple[float, float]
    """How far from right the first coupon lies, in ln exposure."""
    resins: int
    """Of ``RESINS``, how many from the first."""


LEVELS = {1: Level((0.25, 0.5), 1), 2: Level((0.12, 0.35), 3), 3: Level((0.06, 0.25), 4)}


OFF: dict[str, dict[Call, float]] = {
    "flat": {"under": -0.22, "right": 0.0, "over": 0.55},
    "support": {"under": -0.35, "right": 0.12, "over": 0.8},
}
"""How far off the exposures of example pictures are, in ln exposure: so far that each part shows it."""


@dataclass(frozen=True)
class Lesson:
    """What a round of practice hides: the resin, and the exposure that is right for it."""

    level: int
    seed: int
    resin: Material
    right_s: float
    first_s: float


@dataclass(frozen=True)
class Shown:
    """A coupon that is shown: its straight picture, and what is true of it."""

    picture: bytes
    growth_um: float | None
    """Of an edge; none where the coupon has no bar."""
    call: Call
    states: dict[str, FeatureState]


@lru_cache(maxsize=8)
def lesson(level: int, seed: int) -> Lesson:
    """A round of a level; the same seed gives the same one."""
    chance = random.Random(f"lesson {level} {seed}")
    how = LEVELS[level]
    opacity, tint = RESINS[chance.randrange(how.resins)]
    resin = replace(material(seed, "basic", opacity, (1.6, 3.2)), tint=tint)
    right_s = size_true_s(Machine(PIXEL_MM), resin, Conditions(2.0))
    # Too little light loses bars sooner than too much closes slots.
    first_s = right_s * math.exp(chance.choice((-LESS, 1)) * chance.uniform(*how.off))
    return Lesson(level, seed, resin, right_s, on_step(first_s))


def on_step(exposure_s: float) -> float:
    """The nearest exposure this printer sets, s."""
    return round(min(max(round(exposure_s / STEP_S) * STEP_S, LEAST_S), MOST_S), 4)


def coupon_of(about: Lesson, place: int, exposure_s: float) -> Shown:
    """The coupon of a round at a place, printed at an exposure and photographed as its level does.

    Takes a second or two.
    """
    seed = about.seed * 16 + place
    printed = print_coupon(drawing(), Machine(PIXEL_MM), about.resin, Conditions(exposure_s), seed)
    return _shown(printed, f"{100 + seed % 900}", seed, _shot(about.level, seed))


def example(kind: str, call: Call) -> Shown:
    """A plain coupon that got too little, the right, or too much light; of each kind the same for ever."""
    off, seed = OFF[kind][call], 3
    resin = replace(material(seed, "basic", RESINS[0][0], (1.6, 3.2)), tint=RESINS[0][1])
    exposure_s = on_step(size_true_s(Machine(PIXEL_MM), resin, Conditions(2.0)) * math.exp(off))
    printed = print_coupon(drawing(kind), Machine(PIXEL_MM), resin, Conditions(exposure_s), seed)
    return replace(_shown(printed, "100", seed, _shot(1, seed)), call=call)


def drawing(kind: str = "flat") -> Coupon:
    """The coupon that is learnt on, in its newest design."""
    newest = {"design": NEWEST[kind]} if kind in NEWEST else {}
    return drawn(kind, {"pixel_mm": PIXEL_MM, "floor_mm": FLOOR_MM, **newest})


def _shot(level: int, seed: int) -> Shot:
    chance = random.Random(f"shot {level} {seed}")
    plain = Shot(px_per_mm=26, tilt_deg=chance.uniform(0, 2), lamp_deg=chance.uniform(200, 260), quality=90)
    if level == 1:
        return plain
    everyday = replace(
        plain,
        tilt_deg=chance.uniform(0, 7),
        tilt_to_deg=chance.uniform(0, 360),
        uneven=chance.uniform(0.1, 0.4),
        dust=12,
    )
    if level == 2:
        return everyday
    return replace(
        everyday,
        tilt_deg=chance.uniform(2, 12),
        shadow=chance.uniform(0, 0.35),
        defocus_mm=chance.uniform(0.015, 0.03),
        warmth=chance.uniform(-0.6, 0.6),
        fingerprints=chance.randrange(2),
    )


def _shown(printed: Printed, code: str, seed: int, shot: Shot) -> Shown:
    lettered = embossed(printed.coupon, code, f"{printed.conditions.exposure_s:.3g}s")
    content = photograph(printed, lettered, seed, shot)
    corners = corners_px(Placed(printed, lettered), shot, content)
    picture = laid_straight(content, corners, printed.coupon.width_mm, printed.coupon.height_mm)
    growth_um = _growth_um(printed)
    return Shown(picture, growth_um, call_of(growth_um or 0.0), true_states(printed))


def _growth_um(printed: Printed) -> float | None:
    """Growth per edge of the first bar; far below nothing where it washed away."""
    bar = next((o for o in printed.outcomes if o.kind == "outer"), None)
    if bar is None:
        return None
    drawn_mm = next(f.size_mm for f in printed.coupon.features if f.key == bar.key)
    return -1000.0 if bar.size_mm is None else 500 * (bar.size_mm - drawn_mm * (1 - printed.material.shrinkage))


def call_of(growth_um: float) -> Call:
    """Under, right or over, by the growth of an edge."""
    return "under" if growth_um < -RIGHT_UM else "over" if growth_um > RIGHT_UM else "right"


def true_states(printed: Printed) -> dict[str, FeatureState]:
    """Walls, slots and tips as perfect eyes would tell them, and where the taper plug stopped and the vernier touches."""
    states: dict[str, FeatureState] = {}
    for outcome in printed.outcomes:
        if outcome.kind in ("wall", "slot", "tip") and outcome.share is not None:
            states[outcome.key] = "formed" if outcome.share >= 0.9 else "partial" if outcome.share > 0.3 else "absent"
    for kind in ("taper", "vernier"):
        touching = [o for o in printed.outcomes if o.kind == kind and o.size_mm is not None and o.size_mm <= 0]
        if touching:
            states[touching[0].key] = "formed"
    return states
